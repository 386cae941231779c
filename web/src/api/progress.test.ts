import { QueryClient, QueryObserver } from "@tanstack/react-query";
import { describe, expect, it } from "vitest";
import type { Work } from "./client";
import { ended, isRunning, missed, missedSheets } from "./progress";
import { refresh } from "./queries";

const work = (id: number, state: Work["state"] = "running", job = id * 10): Work => ({
  id,
  job_id: job,
  kind: "analyse",
  state,
  share: 0.5,
  what: "reading",
  error: "",
  code: "",
  job_version: 1,
  result: null,
});

describe("progress", () => {
  it("counts waiting work as running, and what ended as not", () => {
    expect(isRunning(work(1, "waiting"))).toBe(true);
    expect(isRunning(work(1))).toBe(true);
    expect(isRunning(work(1, "done"))).toBe(false);
    expect(isRunning(work(1, "cancelled"))).toBe(false);
    expect(isRunning(null)).toBe(false);
  });

  it("tells what has ended since the last look, and only that", () => {
    expect(ended([work(1), work(2)], [work(2), work(3)]).map((one) => one.id)).toEqual([1]);
    expect(ended([], [work(1)])).toEqual([]);
  });

  it("finds jobs whose work began and ended between two looks", () => {
    const known = [
      { id: 10, work: work(1) },
      { id: 20, work: work(2, "waiting") },
      { id: 30, work: work(3, "failed") },
      { id: 40, work: null },
      { id: 50 },
    ];
    expect(missed(known, [work(1)])).toEqual([20]);
    expect(missed(known, [])).toEqual([10, 20]);
  });
});

describe("refresh", () => {
  it("does not believe an answer that was asked for before the change", async () => {
    const client = new QueryClient();
    const answer: ((said: string) => void)[] = [];
    const query = { queryKey: ["jobs"], queryFn: () => new Promise<string>((give) => answer.push(give)) };
    const watch = new QueryObserver(client, query).subscribe(() => undefined);
    const again = refresh(client, query);
    await expect.poll(() => answer.length).toBe(2);
    answer[1]?.("after the change");
    await again;
    answer[0]?.("before the change");
    await new Promise((go) => setTimeout(go));
    expect(client.getQueryData(["jobs"])).toBe("after the change");
    watch();
  });
});

describe("a sheet that jobs share", () => {
  const waiting = { id: 3, busy: true, current: false };

  it("is asked for anew where its work was never seen to run, and left alone while it runs", () => {
    expect(missedSheets([waiting, { id: 4, busy: false, current: true }], [])).toEqual([3]);
    expect(missedSheets([waiting], [{ ...work(1), shared: 3 }])).toEqual([]);
    expect(missedSheets([{ id: 5, busy: false, current: false }], [{ ...work(1), shared: 3 }])).toEqual([5]);
  });
});
