// @vitest-environment jsdom
import { screen } from "@testing-library/react";
import { describe, expect, it, vi } from "vitest";
import { show } from "../testing/show";
import { soon } from "./soon";

const NEVER = 1e6;

describe("a part that is fetched when it is shown", () => {
  it("shows that it is coming, and then itself, fetched once", async () => {
    const fetch = vi.fn(() => Promise.resolve(({ name }: { name: string }) => <p>Hello {name}</p>));
    const Part = soon(fetch, NEVER);
    expect(fetch).not.toHaveBeenCalled();
    show(
      <>
        <Part name="ada" />
        <Part name="ben" />
      </>,
    );
    expect(screen.getAllByRole("progressbar", { name: "loading" })).toHaveLength(2);
    expect(await screen.findByText("Hello ada")).toBeTruthy();
    expect(screen.getByText("Hello ben")).toBeTruthy();
    expect(fetch).toHaveBeenCalledTimes(1);
  });

  it("is fetched before it is wanted, and asked for again where that failed", async () => {
    const fetch = vi
      .fn<() => Promise<() => React.ReactNode>>()
      .mockRejectedValueOnce(new Error("The server is away."))
      .mockResolvedValue(() => <p>There it is</p>);
    const Part = soon(fetch, 0);
    await vi.waitFor(() => expect(fetch).toHaveBeenCalledTimes(1));
    await new Promise((done) => window.setTimeout(done, 20));
    show(<Part />);
    expect(await screen.findByText("There it is")).toBeTruthy();
    expect(fetch).toHaveBeenCalledTimes(2);
  });

  it("says so where it cannot be had, and offers to load the page again", async () => {
    const quiet = vi.spyOn(console, "error").mockImplementation(() => undefined);
    const Part = soon(() => Promise.reject<() => React.ReactNode>(new Error("gone")), NEVER);
    show(<Part />);
    expect((await screen.findByRole("alert")).textContent).toContain("could not be fetched");
    expect(screen.getByRole("button", { name: "Load it again" })).toBeTruthy();
    quiet.mockRestore();
  });
});
