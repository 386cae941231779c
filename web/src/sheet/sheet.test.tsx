// @vitest-environment jsdom
/** The sheet: marks as a sentence, how far off cuts may land, nesting. */
import { screen, waitFor } from "@testing-library/react";
import { beforeEach, describe, expect, it, vi } from "vitest";
import { answer, asked, forget, Refusal } from "../testing/server";
import { show } from "../testing/show";
import { aJob, anOrder, aSheet, aWork } from "../testing/values";
import { MarksPart, type Marks } from "./MarksPart";
import { Expected, MisplacementMap } from "./Misplacement";
import { NestPart } from "./NestPart";
import type { Job } from "../api/client";
import { SheetView } from "./SheetView";
import { useJobTarget } from "./target";

beforeEach(forget);

describe("the marks", () => {
  const marks = (value: Marks) => {
    const calls = { onMarks: vi.fn(), onCode: vi.fn(), onMirror: vi.fn() };
    const person = show(
      <MarksPart marks={value} code mirror={false} inArt={[]} room={[36, 150, 900, 700]} {...calls} />,
    );
    const choose = async (label: string, words: string) => {
      await person.click(
        screen.getByLabelText(label).parentElement?.querySelector('[role="combobox"]') as Element,
      );
      await person.click(screen.getByRole("option", { name: words }));
    };
    return { person, choose, ...calls };
  };

  it("are so many at corners, or along both sides at a distance, and never both", async () => {
    const { person, choose, onMarks } = marks({ kind: "dot", count: 3 });
    await person.click(screen.getByRole("button", { name: "take four" }));
    expect(onMarks, "three prove nothing").toHaveBeenLastCalledWith({ kind: "dot" });
    await choose("how many marks", "along both sides, every");
    expect(onMarks).toHaveBeenLastCalledWith({ kind: "dot", every_mm: 500 });
    await choose("how many marks", "at two corners");
    expect(onMarks).toHaveBeenLastCalledWith({ kind: "dot", count: 2 });
    await choose("how many marks", "at four corners");
    expect(onMarks).toHaveBeenLastCalledWith({ kind: "dot" });
  });

  it("take a figure, and leave to the cutter what is emptied", async () => {
    const { person, onMarks } = marks({ distance_mm: 7 });
    const field = screen.getByLabelText("distance of marks, mm");
    await person.clear(field);
    await person.type(field, "4,5{Enter}");
    expect(onMarks).toHaveBeenLastCalledWith({ distance_mm: 4.5 });
    await person.clear(field);
    await person.tab();
    expect(onMarks).toHaveBeenLastCalledWith({});
  });

  it("stand on a rectangle that a hand draws, which begins as all that can be used", async () => {
    const { choose, onMarks } = marks({});
    await choose("marks round", "a rectangle that you draw");
    expect(onMarks).toHaveBeenLastCalledWith({ around: [36, 150, 900, 700] });
  });

  it("come with a code or without, and the other way round for behind glass", async () => {
    const { choose, onCode, onMirror } = marks({});
    await choose("code", "No code");
    expect(onCode).toHaveBeenCalledWith(false);
    await choose("printed", "the other way round, for behind glass");
    expect(onMirror).toHaveBeenCalledWith(true);
  });
});

describe("how far off cuts may land", () => {
  const found = {
    worst_mm: 0.62,
    mean_mm: 0.3,
    at: [90, 10],
    allowed_mm: 0.5,
    side_mm: 20,
    cells: [
      [10, 10, 0.2],
      [90, 10, 0.62],
    ],
  };

  it("stands beside what the edge can stand, and is shown on request", async () => {
    const onShow = vi.fn();
    const person = show(<Expected sheet={aSheet({ misplacement: found })} shown={false} onShow={onShow} />);
    expect(screen.getByRole("group").textContent).toContain("within 0.62 mm at the worst place");
    expect(screen.getByRole("group").textContent).toContain("the edge can stand 0.50 mm");
    await person.click(screen.getByRole("button", { name: "Show where" }));
    expect(onShow).toHaveBeenCalledWith(true);
  });

  it("says nothing of a sheet without marks", () => {
    show(<Expected sheet={aSheet()} shown={false} onShow={vi.fn()} />);
    expect(screen.queryByRole("group")).toBeNull();
  });

  it("is drawn stronger the further, in another colour where it is too far, with a ring at the worst place", () => {
    show(
      <svg>
        <MisplacementMap of={found} />
      </svg>,
    );
    const [near, far] = [...screen.getByTestId("misplacement").querySelectorAll("rect")];
    expect(near?.getAttribute("fill")).not.toBe(far?.getAttribute("fill"));
    expect(Number(near?.getAttribute("fill-opacity"))).toBeLessThan(
      Number(far?.getAttribute("fill-opacity")),
    );
    expect(screen.getByTestId("misplacement").querySelector("circle")?.getAttribute("cx")).toBe("90");
  });
});

describe("a sheet for behind glass", () => {
  it.each([
    [true, true, "matrix(-1 0 0 1 500 0)"],
    [true, false, null],
    [false, true, null],
  ])("mirrored %s, before the cutter %s", (mirrored, printed, transform) => {
    show(
      <svg>
        <SheetView arts={[]} sheet={aSheet({ mirrored, width_mm: 500 })} printed={printed} />
      </svg>,
    );
    expect(screen.getByTestId("sheet").getAttribute("transform")).toBe(transform);
  });
});

const Nesting = ({ job }: { job: Job }) => <NestPart target={useJobTarget(job)} />;

describe("nesting", () => {
  const many = { order: { ...anOrder(), quantity: 9 } };

  it("asks for it with turns, gap and time, and says what the server refuses", async () => {
    answer({ "POST /api/jobs/7/nest": new Refusal(409, "“Round seals” is being mended.") });
    const person = show(<Nesting job={aJob(many)} />);
    const seconds = screen.getByLabelText("seconds of nesting, s");
    await person.clear(seconds);
    await person.type(seconds, "30{Enter}");
    await person.click(screen.getByRole("button", { name: "Nest" }));
    await screen.findByText("“Round seals” is being mended.");
    expect(asked.at(-1)?.body).toEqual({ turn: "free", gap_mm: null, seconds: 30, version: 3 });
  });

  it("waits while the job is worked on, and is not there for a single copy", async () => {
    const running = aWork({ kind: "nest", state: "running" });
    show(<Nesting job={aJob({ ...many, work: running })} />, [running]);
    await waitFor(() =>
      expect(screen.getByRole<HTMLButtonElement>("button", { name: "Nest" }).disabled).toBe(true),
    );
  });

  it("can be asked for again where what was nested does not stand any more", () => {
    const error = "9 copies are placed, 5 are ordered. Lay them out again.";
    show(<Nesting job={aJob({ ...many, sheet: aSheet({ error, columns: 0 }) })} />);
    expect(screen.getByRole<HTMLButtonElement>("button", { name: "Nest" }).disabled).toBe(false);
  });
});
