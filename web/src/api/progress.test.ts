import { QueryClient, QueryObserver } from "@tanstack/react-query";
import { describe, expect, it } from "vitest";
import type { Work } from "./client";
import { isRunning, latestStamp, newsOf } from "./progress";
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
  stamp: id,
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

  it("tells what has begun and what has ended since a stamp, and only that", () => {
    const works = [work(1, "done"), work(2), work(3, "failed"), work(4)];
    const news = newsOf(works, 2);
    expect(news.begun.map((one) => one.id)).toEqual([4]);
    expect(news.ended.map((one) => one.id)).toEqual([3]);
    expect(latestStamp(works, 2)).toBe(4);
    expect(latestStamp([], 2)).toBe(2);
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
