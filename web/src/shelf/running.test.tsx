// @vitest-environment jsdom
/** What runs: who works, what other code finds, what waits, what was set aside. */
import { screen, within } from "@testing-library/react";
import { describe, expect, it } from "vitest";
import type { RunningShown } from "../api/client";
import { answer } from "../testing/server";
import { show } from "../testing/show";
import { RunningPart } from "./RunningPart";

const SHOWN: RunningShown = {
  version: "aaaa",
  broker: true,
  queue: [
    { weight: "small", waiting: 25, running: 5, oldest_s: 75 },
    { weight: "usual", waiting: 0, running: 0, oldest_s: 0 },
    { weight: "large", waiting: 1, running: 1, oldest_s: 4 },
  ],
  workers: [
    {
      name: "w1@north",
      machine: "north",
      remote: true,
      version: "aaaa",
      same: true,
      slots: 2,
      weights: ["small", "usual", "large"],
      doing: [{ what: "job:look", job_id: null, job: "", seconds: 3 }],
      seen: "2026-12-01T06:00:00Z",
    },
    {
      name: "w2@south",
      machine: "south",
      remote: true,
      version: "bbbb",
      same: false,
      slots: 1,
      weights: ["small"],
      doing: [],
      seen: "2026-12-01T06:00:00Z",
    },
  ],
  work: [{ what: "take-in", job_id: 7, job: "Wader trail", seconds: 61 }],
  aside: [],
  steps: [
    { step: "job:look", count: 30, failed: 0, mean_s: 0.314, p95_s: 0.5 },
    { step: "job:new", count: 1, failed: 1, mean_s: 300, p95_s: null },
  ],
  store: { files: 30, bytes: 2_500_000_000, free_bytes: null },
};
const table = async (name: string) => within(await screen.findByRole("table", { name }));

describe("what runs", () => {
  it("shows who works and at what, and warns of other code", async () => {
    answer({ "GET /api/running": SHOWN });
    show(<RunningPart />);
    const workers = await table("Workers");
    expect(workers.getByRole("row", { name: /w1@north.*2.*everything.*aaaa.*checking, 3 s/ })).toBeTruthy();
    expect(workers.getByRole("row", { name: /w2@south.*1.*small.*bbbb.*nothing/ })).toBeTruthy();
    expect(screen.getByRole("alert").textContent).toMatch(/w2@south: bbbb: other code than the server's/);
    expect((await table("What waits")).getByRole("row", { name: /small.*25.*5.*1 min 15 s/ })).toBeTruthy();
    expect((await table("Under way")).getByRole("link", { name: "Wader trail" }).getAttribute("href")).toBe(
      "/jobs/7",
    );
    const steps = await table("How long steps take");
    expect(steps.getByRole("row", { name: /checking.*30.*0.31 s.*0.50 s/ })).toBeTruthy();
    expect(steps.getByRole("row", { name: /job:new.*longer than 2 min/ })).toBeTruthy();
    expect(screen.getByText("30 files, 2.5 GB")).toBeTruthy();
    expect(screen.queryByRole("table", { name: "Set aside" })).toBeNull();
  });

  it("says what to start where nobody works, and what was set aside and why", async () => {
    const aside = [
      {
        work_id: 3,
        job_id: 9,
        job: "Tide clock",
        kind: "take-in" as const,
        error: "It was set aside.",
        when: "2026-12-01T06:00:00Z",
      },
    ];
    answer({ "GET /api/running": { ...SHOWN, workers: [], aside } });
    show(<RunningPart />);
    expect((await screen.findByRole("alert")).textContent).toMatch(/Start one: .\/horismos work --broker/);
    const row = (await table("Set aside")).getByRole("row", { name: /Tide clock.*taking in.*set aside/ });
    expect(within(row).getByRole("link").getAttribute("href")).toBe("/jobs/9");
  });
});
