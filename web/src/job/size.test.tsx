// @vitest-environment jsdom
/** The size is typed with its proportions locked, and the page fitted to what is on it. */
import { screen, waitFor } from "@testing-library/react";
import { beforeEach, describe, expect, it, vi } from "vitest";
import { answer, asked, forget } from "../testing/server";
import { show } from "../testing/show";
import { aJob } from "../testing/values";
import { SizePanel } from "./SizePanel";

describe("the size panel", () => {
  beforeEach(forget);
  const job = () => {
    const made = aJob();
    const [size_mm, measured] = [[60, 50], [{ what: "outer cut", box_mm: [0, 0, 50, 40] }]];
    return { ...made, seen: { ...made.seen, size_mm, measured } as unknown as typeof made.seen };
  };
  const sent = () => asked.find((one) => one.to === "POST /api/jobs/7/mends")?.body as { settings: unknown };

  it("keeps the proportions of what is measured, and scales by just that", async () => {
    answer({ "POST /api/jobs/7/mends": aJob() });
    const close = vi.fn();
    const person = show(<SizePanel job={job()} onClose={close} />);
    await person.clear(screen.getByLabelText("width, mm"));
    await person.type(screen.getByLabelText("width, mm"), "60{Enter}");
    expect(screen.getByLabelText<HTMLInputElement>("height, mm").value).toBe("48");
    expect(screen.getByLabelText<HTMLInputElement>("percent, %").value).toBe("120");
    await person.click(screen.getByRole("button", { name: "Scale × 1.2" }));
    await waitFor(() => expect(close).toHaveBeenCalled());
    expect(sent().settings).toEqual({ ratio: 1.2 });
  });

  it("has nothing to scale until something is typed, and fits the page at any time", async () => {
    answer({ "POST /api/jobs/7/mends": aJob() });
    const person = show(<SizePanel job={job()} onClose={vi.fn()} />);
    expect(screen.getByRole<HTMLButtonElement>("button", { name: "Scale × 1" }).disabled).toBe(true);
    await person.click(screen.getByRole("button", { name: "Fit the page to the art and lines" }));
    await waitFor(() => expect(sent().settings).toEqual({ to: "auto" }));
  });
});
