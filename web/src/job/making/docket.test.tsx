// @vitest-environment jsdom
/** The docket while lines are made: history, what is pending or refused, what is written, and the node that is chosen. */
import { act, renderHook, screen, waitFor } from "@testing-library/react";
import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import type { PropsWithChildren } from "react";
import { beforeEach, describe, expect, it, vi } from "vitest";
import type { Job, MadeLine, Making } from "../../api/client";
import { answer, asked, forget, Refusal } from "../../testing/server";
import { show } from "../../testing/show";
import { aFinding, aJob } from "../../testing/values";
import type { Make } from "./make";
import { MakingPart } from "./MakingPart";
import { NodeBar } from "./NodeBar";
import { useMaking } from "./useMaking";

const corner = (x: number, y: number) => [x, y, x, y, x, y, 1];

const aLine = (values: Partial<MadeLine> = {}): MadeLine => ({
  line: 0,
  role: "kiss-cut",
  inner: false,
  closed: true,
  path: "M0 0L10 0L10 10L0 10Z",
  cut: "",
  nodes: [corner(0, 0), corner(10, 0), corner(10, 10), corner(0, 10)],
  node_count: 4,
  length_mm: 40,
  area_mm2: 100,
  cuts: 0,
  ties: 0,
  holding: 0,
  ...values,
});

const aMaking = (values: Partial<Making> = {}): Making => ({
  source: "vector",
  why: "The art is vectors: 1 object.",
  words: "the kiss cut",
  lines: [aLine()],
  inner: [],
  outline: "",
  deviation_mm: 0.004,
  notes: [],
  refused: "",
  ...values,
});

const KISS: Make = { lines: [{ role: "kiss-cut", offset_mm: 2 }] };

beforeEach(forget);

describe("the node bar", () => {
  const bar = (lines: MadeLine[], chosen: { contour: number; node: number } | null) => {
    const [onChoose, onEdit] = [vi.fn(), vi.fn()];
    const person = show(<NodeBar lines={lines} chosen={chosen} onChoose={onChoose} onEdit={onEdit} />);
    return { person, onChoose, onEdit };
  };

  it("says which node is chosen and goes on over the ends of contours", async () => {
    const { person, onChoose } = bar([aLine(), aLine()], { contour: 0, node: 3 });
    expect(screen.getByTestId("node").textContent).toBe("node 4 of 8: 0.00, 10.00");
    await person.click(screen.getByRole("button", { name: "the next node" }));
    expect(onChoose).toHaveBeenLastCalledWith({ contour: 1, node: 0 });
    screen.getByRole("group", { name: "the node" }).focus();
    await person.keyboard(",");
    expect(onChoose).toHaveBeenLastCalledWith({ contour: 0, node: 2 });
  });

  it("moves by arrows, deletes by key, and leaves keys alone that belong to undo", async () => {
    const { person, onEdit } = bar([aLine()], { contour: 0, node: 2 });
    screen.getByRole("group", { name: "the node" }).focus();
    await person.keyboard("{ArrowUp}");
    expect(onEdit).toHaveBeenLastCalledWith({ do: "move", at: [10, 10], to: [10, 10.1] });
    await person.keyboard("{Delete}");
    expect(onEdit).toHaveBeenLastCalledWith({ do: "delete", at: [10, 10] });
    await person.keyboard("{Control>}{ArrowUp}{/Control}");
    expect(onEdit).toHaveBeenCalledTimes(2);
  });

  it("adds half way, makes curves of corners, opens closed lines and joins the ends of open ones", async () => {
    const { person, onEdit } = bar([aLine()], { contour: 0, node: 0 });
    for (const [name, edit] of [
      ["Add after it", { do: "add", at: [5, 0] }],
      ["Curve", { do: "curve", at: [0, 0] }],
      ["Open here", { do: "open", at: [0, 0] }],
      ["Take the contour away", { do: "take", at: [0, 0] }],
    ] as const) {
      await person.click(screen.getByRole("button", { name }));
      expect(onEdit).toHaveBeenLastCalledWith(edit);
    }
    expect(screen.queryByRole("button", { name: /^Join/ })).toBeNull();
  });

  it("joins an end to the nearest other end", async () => {
    const { person, onEdit } = bar(
      [aLine({ closed: false }), aLine({ closed: false, nodes: [corner(0, 12), corner(-9, 12)] })],
      { contour: 0, node: 3 },
    );
    await person.click(screen.getByRole("button", { name: "Join to the nearest end" }));
    expect(onEdit).toHaveBeenLastCalledWith({ do: "join", at: [0, 10], to: [0, 12] });
  });

  it("only counts where none is chosen", () => {
    bar([aLine()], null);
    expect(screen.getByTestId("node").textContent).toBe("4 nodes");
    expect(screen.queryByRole("button", { name: "Delete" })).toBeNull();
  });
});

describe("the docket", () => {
  const part = (values: Partial<Parameters<typeof MakingPart>[0]> = {}) => {
    const calls = { change: vi.fn(), undo: vi.fn(), redo: vi.fn(), leave: vi.fn(), onGo: vi.fn() };
    const person = show(
      <MakingPart
        job={aJob()}
        settled={KISS}
        full={aMaking()}
        pending={false}
        error=""
        findings={[]}
        canUndo
        canRedo={false}
        pointing="inner"
        onPointing={vi.fn()}
        edited={null}
        onEdited={vi.fn()}
        {...calls}
        {...values}
      />,
    );
    return { person, ...calls };
  };

  it("makes the lines by the mend of that name, for the page, and leaves when that is under way", async () => {
    answer({ "POST /api/jobs/7/mends": aJob(), "GET /api/recipes": { recipes: [] } });
    const { person, leave } = part();
    await person.click(screen.getByRole("button", { name: "Make 1 line" }));
    await waitFor(() => expect(leave).toHaveBeenCalled());
    const sent = asked.find((one) => one.to === "POST /api/jobs/7/mends");
    expect(JSON.stringify(sent?.body)).toContain(`"make":${JSON.stringify(KISS)}`);
  });

  it("says why nothing can be made, and then nothing can be pressed to make it", () => {
    part({ full: aMaking({ refused: "Nothing is left of any piece.", lines: [] }) });
    expect(screen.getByText("Nothing is left of any piece.")).toBeDefined();
    expect(screen.getByRole<HTMLButtonElement>("button", { name: "Make 1 line" }).disabled).toBe(true);
  });

  it("waits for the outline, and says what went wrong on the way", () => {
    part({ full: null, findings: null, error: "The shop does not answer." });
    expect(screen.getByText("The shop does not answer.")).toBeDefined();
    expect(screen.getByText("Checking…")).toBeDefined();
    expect(screen.getByRole<HTMLButtonElement>("button", { name: "Make 1 line" }).disabled).toBe(true);
  });

  it("shows what the check would say and goes there", async () => {
    const sharp = aFinding({ id: "line.sharp", key: "line.sharp", message: "One corner is sharp." });
    const { person, onGo } = part({ findings: [sharp] });
    await person.click(screen.getByText("One corner is sharp.", { exact: false }));
    expect(onGo).toHaveBeenCalledWith(sharp);
  });

  it("adds a perforation on the kiss cut itself, which follows it wherever it goes", async () => {
    const { person, change } = part();
    await person.click(screen.getByRole("button", { name: "Add a line…" }));
    await person.click(screen.getByRole("menuitem", { name: "A perforation on the kiss cut itself" }));
    const made = change.mock.calls[0]?.[0] as Make;
    expect(made.lines.map((line) => [line.role, line.offset_mm, line.along])).toEqual([
      ["kiss-cut", 2, undefined],
      ["perforation", 0, "kiss-cut"],
    ]);
  });

  it("lets the one proposed line be taken out, so that one can only draw", async () => {
    const { person, change, leave } = part();
    await person.click(screen.getByRole("button", { name: "take the kiss cut out" }));
    expect(change).toHaveBeenCalledWith({ lines: [] });
    expect(leave).not.toHaveBeenCalled();
  });

  it("asks whether lines of the same role that the file has stay or go", async () => {
    const seen = {
      ...aJob().seen,
      drawn: [{ role: "kiss-cut", ink: "Kiss Cut", path: "M0 0L9 0L9 9Z", hidden: false, made: false }],
    } as unknown as Job["seen"];
    const { person, change } = part({ job: { ...aJob(), seen } });
    await person.click(screen.getByRole("combobox", { name: "what the file has" }));
    await person.click(screen.getByRole("option", { name: "is replaced" }));
    expect(change).toHaveBeenCalledWith({ ...KISS, replaces: true });
  });

  it("hears Ctrl+Z but not while somebody types", async () => {
    const { person, undo, redo } = part();
    await person.keyboard("{Control>}z{/Control}");
    await person.keyboard("{Control>}{Shift>}z{/Shift}{/Control}");
    expect([undo.mock.calls.length, redo.mock.calls.length]).toEqual([1, 1]);
    await person.click(screen.getByLabelText("offset, mm"));
    await person.keyboard("{Control>}z{/Control}");
    expect(undo).toHaveBeenCalledTimes(1);
  });
});

describe("the history", () => {
  const begun = () => {
    const client = new QueryClient({ defaultOptions: { queries: { retry: false } } });
    const wrapper = ({ children }: PropsWithChildren) => (
      <QueryClientProvider client={client}>{children}</QueryClientProvider>
    );
    const hook = renderHook(() => useMaking(JOB, false), { wrapper });
    act(() => hook.result.current.begin(KISS));
    return hook;
  };
  const JOB = aJob();
  const by = (offset_mm: number): Make => ({ lines: [{ role: "kiss-cut", offset_mm }] });

  it("goes back and forth, and a change ends what was ahead", async () => {
    answer({ "POST /api/jobs/7/making": aMaking(), "POST /api/jobs/7/making/check": [] });
    const { result } = begun();
    act(() => result.current.change(by(3)));
    act(() => result.current.change(by(4)));
    act(() => result.current.undo());
    expect(result.current.make).toEqual(by(3));
    act(() => result.current.redo());
    expect(result.current.make).toEqual(by(4));
    act(() => result.current.undo());
    act(() => result.current.change(by(9)));
    expect(result.current.canRedo).toBe(false);
    act(() => result.current.undo());
    act(() => result.current.undo());
    expect([result.current.make, result.current.canUndo]).toEqual([KISS, false]);
    await waitFor(() => expect(result.current.full?.words).toBe("the kiss cut"));
  });

  it("is one step for a whole drag, and drafts are asked for on the way", async () => {
    answer({ "POST /api/jobs/7/making": aMaking(), "POST /api/jobs/7/making/check": [] });
    const { result } = begun();
    for (const mm of [2.5, 3, 3.5]) act(() => result.current.drag(by(mm)));
    expect([result.current.make, result.current.settled]).toEqual([by(3.5), KISS]);
    await waitFor(() =>
      expect(asked.some((one) => (one.body as { draft?: boolean } | null)?.draft === true)).toBe(true),
    );
    act(() => result.current.drop());
    expect(result.current.settled).toEqual(by(3.5));
    act(() => result.current.undo());
    expect(result.current.make).toEqual(KISS);
  });

  it("says what the server refuses, and leaving forgets it all", async () => {
    answer({ "POST /api/jobs/7/making": new Refusal(400, "Make: offset_mm is 5000.") });
    const { result } = begun();
    await waitFor(() => expect(result.current.error).toBe("Make: offset_mm is 5000."));
    act(() => result.current.leave());
    expect([result.current.make, result.current.error, result.current.canUndo]).toEqual([null, "", false]);
  });
});
