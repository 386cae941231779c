// @vitest-environment jsdom
import { useQuery } from "@tanstack/react-query";
import { screen, waitFor } from "@testing-library/react";
import { describe, expect, it } from "vitest";
import { answer, asked } from "../testing/server";
import { show } from "../testing/show";
import { aJob, aWork } from "../testing/values";
import { useWatch } from "./progress";
import { queries } from "./queries";

function Watched() {
  useWatch();
  const job = useQuery(queries.job(7));
  return <p>{job.data?.name}</p>;
}

const asksOf = (to: string) => asked.filter((one) => one.to === to).length;

describe("what has ended", () => {
  it("is told by the server, also where it began and ended between two looks", async () => {
    const sinces: (string | null)[] = [];
    const looks = [
      [aWork({ id: 3, stamp: 3 })],
      [aWork({ id: 3, stamp: 4, state: "done" }), aWork({ id: 4, job_id: 7, stamp: 6, state: "failed" })],
      [],
    ];
    answer({
      "GET /api/works": (query: URLSearchParams) => {
        sinces.push(query.get("since"));
        return looks[Math.min(sinces.length - 1, 2)];
      },
      "GET /api/jobs/7": aJob({ name: "Seals" }),
    });
    show(<Watched />);
    expect(await screen.findByText("Seals")).toBeDefined();
    await waitFor(() => expect(sinces.length).toBeGreaterThanOrEqual(2));
    const before = asksOf("GET /api/jobs/7");
    await waitFor(() => expect(sinces.length).toBeGreaterThanOrEqual(3), { timeout: 6000 });
    expect(sinces.slice(0, 3)).toEqual(["0", "3", "6"]);
    expect(asksOf("GET /api/jobs/7")).toBeGreaterThanOrEqual(Math.max(before, 2));
  });

  it("before the first look is asked for only where it is still shown as running", async () => {
    answer({
      "GET /api/works": [aWork({ id: 2, stamp: 2, state: "done", job_id: 7 })],
      "GET /api/jobs/7": aJob({ name: "Seals", work: null }),
    });
    show(<Watched />);
    expect(await screen.findByText("Seals")).toBeDefined();
    await waitFor(() => expect(asksOf("GET /api/works")).toBeGreaterThanOrEqual(1));
    await new Promise((go) => setTimeout(go, 200));
    expect(asksOf("GET /api/jobs/7")).toBe(1);
  });
});
