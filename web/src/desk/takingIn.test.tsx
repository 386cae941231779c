// @vitest-environment jsdom
/** Files on their way in: one after the other, each with its progress, each stopped, refused or known by itself. */
import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { act, renderHook, screen } from "@testing-library/react";
import type { ReactNode } from "react";
import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";
import { show } from "../testing/show";
import { Arrivals } from "./Arrivals";
import { filesOf, useTakingIn, type Arrival } from "./takingIn";

/** Stands in for the browser's requests with progress: each is answered by hand. */
class Sent {
  static all: Sent[] = [];
  upload: { onprogress: ((event: unknown) => void) | null } = { onprogress: null };
  onload: (() => void) | null = null;
  onerror: (() => void) | null = null;
  onabort: (() => void) | null = null;
  status = 0;
  responseText = "";
  form: FormData | null = null;
  open() {}
  setRequestHeader() {}
  send(form: FormData) {
    this.form = form;
    Sent.all.push(this);
  }
  abort() {
    this.onabort?.();
  }
  answered(status: number, body: unknown) {
    this.status = status;
    this.responseText = typeof body === "string" ? body : JSON.stringify(body);
    this.onload?.();
  }
}

beforeEach(() => {
  Sent.all = [];
  vi.stubGlobal("XMLHttpRequest", Sent);
});
afterEach(() => vi.unstubAllGlobals());

const file = (name: string) => new File(["%PDF-1.4"], name, { type: "application/pdf" });
const soon = () => act(async () => new Promise((done) => setTimeout(done, 0)));
const taken = (id: number, name = "seals", known = false) => ({ job: { id, name }, known });

function arriving(onAlone = vi.fn()) {
  const client = new QueryClient();
  const wrapper = ({ children }: { children: ReactNode }) => (
    <QueryClientProvider client={client}>{children}</QueryClientProvider>
  );
  const { result, unmount } = renderHook(() => useTakingIn(onAlone), { wrapper });
  return {
    held: result,
    unmount,
    onAlone,
    states: () => result.current.arrivals.map((one) => [one.name, one.state]),
    add: async (...names: string[]) => {
      act(() => result.current.add(names.map(file), "Dune Press"));
      await soon();
    },
  };
}

describe("files that come in", () => {
  it("are sent one after the other, for the customer whose they are", async () => {
    const { add, states } = arriving();
    await add("one.pdf", "two.pdf");
    expect(Sent.all).toHaveLength(1);
    expect(Sent.all[0]?.form?.get("customer")).toBe("Dune Press");
    expect(states()).toEqual([
      ["one.pdf", "sending"],
      ["two.pdf", "waiting"],
    ]);
    act(() => Sent.all[0]?.answered(200, taken(1)));
    await soon();
    expect(states()).toEqual([
      ["one.pdf", "taken"],
      ["two.pdf", "sending"],
    ]);
  });

  it("say how far they are", async () => {
    const { add, held } = arriving();
    await add("one.pdf");
    act(() => Sent.all[0]?.upload.onprogress?.({ lengthComputable: true, loaded: 30, total: 120 }));
    expect(held.current.arrivals[0]?.share).toBe(0.25);
  });

  it("open by themselves where there is but one, and not among several", async () => {
    const alone = arriving();
    await alone.add("one.pdf");
    act(() => Sent.all[0]?.answered(200, taken(7)));
    await soon();
    expect(alone.onAlone).toHaveBeenCalledWith(7);
    const several = arriving();
    await several.add("a.pdf", "b.pdf");
    act(() => Sent.all.at(-1)?.answered(200, taken(8)));
    await soon();
    expect(several.onAlone).not.toHaveBeenCalled();
  });

  it("do not open for somebody who has gone elsewhere meanwhile", async () => {
    const { add, onAlone, unmount } = arriving();
    await add("one.pdf");
    unmount();
    Sent.all[0]?.answered(200, taken(7));
    await soon();
    expect(onAlone).not.toHaveBeenCalled();
  });

  it("are refused in the server's words, and the next one goes on", async () => {
    const { add, held, states } = arriving();
    await add("text.doc", "two.pdf");
    act(() => Sent.all[0]?.answered(400, { message: "text.doc is no artwork. Send a PDF." }));
    await soon();
    expect(held.current.arrivals[0]?.said).toBe("text.doc is no artwork. Send a PDF.");
    expect(states()[1]).toEqual(["two.pdf", "sending"]);
  });

  it.each([
    ["an answer that is none", (sent: Sent) => sent.answered(502, "<html>Bad gateway"), "answered 502"],
    ["no answer", (sent: Sent) => sent.onerror?.(), "cannot be reached"],
  ])("say so where there is %s", async (_, happens, words) => {
    const { add, held } = arriving();
    await add("one.pdf");
    act(() => happens(Sent.all[0] as Sent));
    await soon();
    expect(held.current.arrivals[0]?.state).toBe("refused");
    expect(held.current.arrivals[0]?.said).toContain(words);
  });

  it("are stopped on their way, or before their turn comes", async () => {
    const { add, held, states } = arriving();
    await add("one.pdf", "two.pdf");
    const [one, two] = held.current.arrivals as [Arrival, Arrival];
    act(() => held.current.stop(two.key));
    act(() => held.current.stop(one.key));
    await soon();
    expect(states()).toEqual([
      ["one.pdf", "stopped"],
      ["two.pdf", "stopped"],
    ]);
    expect(Sent.all, "the second was never sent").toHaveLength(1);
  });

  it("that are here already are named, and taken in again when that is wanted", async () => {
    const { add, held, states, onAlone } = arriving();
    await add("one.pdf");
    act(() => Sent.all[0]?.answered(200, taken(3, "Old seals", true)));
    await soon();
    expect(states()).toEqual([["one.pdf", "known"]]);
    expect(onAlone).not.toHaveBeenCalled();
    act(() => held.current.again(held.current.arrivals[0] as Arrival));
    await soon();
    expect(Sent.all[1]?.form?.get("again")).toBe("true");
    act(() => Sent.all[1]?.answered(200, taken(9)));
    await soon();
    expect(onAlone).toHaveBeenCalledWith(9);
  });
});

describe("a drop", () => {
  const leaf = (name: string) => ({
    isFile: true,
    isDirectory: false,
    name,
    file: (give: (made: File) => void) => give(file(name)),
  });
  const folder = (name: string, ...inner: object[]) => ({
    isFile: false,
    isDirectory: true,
    name,
    createReader: () => {
      const batches = [inner, []];
      return { readEntries: (give: (found: object[]) => void) => give(batches.shift() ?? []) };
    },
  });
  const dropped = (...entries: object[]) =>
    ({
      items: entries.map((entry) => ({ webkitGetAsEntry: () => entry })),
      files: [file("plain.pdf")],
    }) as unknown as DataTransfer;

  it("of files is these files", async () => {
    expect((await filesOf(dropped(leaf("plain.pdf")))).map((one) => one.name)).toEqual(["plain.pdf"]);
  });

  it("of a folder is all that lies in it, in folders in it too, but nothing hidden", async () => {
    const found = await filesOf(
      dropped(folder("job", leaf("a.pdf"), leaf(".DS_Store"), folder("more", leaf("b.svg"))), leaf("c.png")),
    );
    expect(found.map((one) => one.name)).toEqual(["a.pdf", "b.svg", "c.png"]);
  });
});

describe("the list of what comes in", () => {
  const arrival = (values: Partial<Arrival>): Arrival => ({
    key: 1,
    name: "seals.pdf",
    file: file("seals.pdf"),
    customer: "",
    state: "waiting",
    share: 0,
    said: "",
    ...values,
  });
  const listed = (...arrivals: Arrival[]) => {
    const calls = { onStop: vi.fn(), onAgain: vi.fn(), onClear: vi.fn() };
    return { person: show(<Arrivals arrivals={arrivals} {...calls} />), ...calls };
  };

  it("is not there where all has been taken in", () => {
    listed(arrival({ state: "taken" }));
    expect(screen.queryByRole("list")).toBeNull();
  });

  it("shows what is sent, what waits, and stops either", async () => {
    const { person, onStop } = listed(
      arrival({ state: "sending", share: 0.4 }),
      arrival({ key: 2, name: "two.pdf" }),
    );
    expect(screen.getByLabelText("sending seals.pdf").getAttribute("aria-valuenow")).toBe("40");
    expect(screen.getByText("waits its turn")).toBeTruthy();
    await person.click(screen.getAllByRole("button", { name: "Stop" })[1] as Element);
    expect(onStop).toHaveBeenCalledWith(2);
  });

  it("counts those that wait where they are many, so that what came in stays in view, and stops all of them", async () => {
    const more = [2, 3, 4].map((key) => arrival({ key, name: `${key}.pdf` }));
    const { person, onStop } = listed(arrival({ state: "taken" }), ...more);
    expect(screen.getByRole("status").textContent).toBe("3 files wait their turn; 1 of 4 are sent.");
    expect(screen.queryByText("2.pdf")).toBeNull();
    await person.click(screen.getByRole("button", { name: "Stop these" }));
    expect(onStop.mock.calls.map(([key]) => key as number)).toEqual([2, 3, 4]);
  });

  it("says why something was refused, and puts it away", async () => {
    const { person, onClear } = listed(arrival({ state: "refused", said: "No artwork." }));
    expect(screen.getByRole("alert").textContent).toBe("No artwork.");
    await person.click(screen.getByRole("button", { name: "put away seals.pdf" }));
    expect(onClear).toHaveBeenCalledWith(1);
  });

  it("leads to the job that a file is already, or takes it in again", async () => {
    const { person, onAgain } = listed(arrival({ state: "known", said: "Old seals", job: 3 }));
    expect(screen.getByText(/here already, in the job “Old seals”/)).toBeTruthy();
    expect(screen.getByRole("link", { name: "Open that job" })).toHaveProperty("pathname", "/jobs/3");
    await person.click(screen.getByRole("button", { name: "Take in again" }));
    expect(onAgain).toHaveBeenCalledOnce();
  });
});
