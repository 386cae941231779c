/** Before each test file: addresses without a host are the shop's, and nothing goes out to a network. */
import { afterEach, beforeEach } from "vitest";
import { forget, answerTo } from "./server";

const Plain = globalThis.Request;
globalThis.Request = class extends Plain {
  constructor(input: RequestInfo | URL, init?: RequestInit) {
    super(typeof input === "string" ? new URL(input, "http://shop/") : input, init);
  }
};
globalThis.fetch = (input, init) => answerTo(new Request(input, init));
// Pictures that are drawn on a canvas are looked at in a browser, not here.
if (typeof window !== "undefined") {
  Element.prototype.scrollIntoView = () => undefined;
  Element.prototype.setPointerCapture = () => undefined;
  HTMLCanvasElement.prototype.getContext = () => null;
  // Names and roles do not hang on style sheets here; working these out for each element takes most of the time.
  window.getComputedStyle = (element) => (element as HTMLElement).style;
  window.ResizeObserver = class {
    observe() {}
    unobserve() {}
    disconnect() {}
  };
}

beforeEach(async () => {
  forget();
  // What is waited for comes late on a busy machine.
  if (typeof window !== "undefined")
    (await import("@testing-library/react")).configure({ asyncUtilTimeout: 20_000, defaultHidden: true });
});
afterEach(async () => {
  if (typeof window !== "undefined") (await import("@testing-library/react")).cleanup();
});
