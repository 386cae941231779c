// @vitest-environment jsdom
/** Candidates have a picture and a button for each role; a file without a line is printed only, or gets lines. */
import { screen, waitFor, within } from "@testing-library/react";
import { beforeEach, describe, expect, it, vi } from "vitest";
import type { Mend } from "../../api/client";
import { answer, asked, forget } from "../../testing/server";
import { show } from "../../testing/show";
import { aFinding, aJob, anOrder } from "../../testing/values";
import { FindingCard } from "./FindingCard";

const RED = [1, 0, 0];
const mendTo = (role: string): Mend => ({
  kind: "assign-role",
  label: `Make the colour RGB 100, 0, 0 % the ${role}`,
  settings: { role, colour: RED },
  says: "",
  then: [],
  safe: false,
});
const none = aFinding({
  id: "line.none",
  key: "none",
  severity: "look",
  message: "Nothing here will be cut. Print only, or which cut?",
  candidates: [{ words: "the colour RGB 100, 0, 0 %", why: ["closed"], by: "colour", value: RED }],
  mends: [mendTo("kiss-cut"), mendTo("perforation")],
});

describe("a file without a line", () => {
  beforeEach(forget);
  const card = (onMend = vi.fn()) =>
    show(<FindingCard job={7} finding={none} chosen busy={false} onMend={onMend} />);

  it("shows each candidate with its picture, and makes it the role that is pressed", async () => {
    const mend = vi.fn();
    const person = card(mend);
    const row = screen.getByRole("group", { name: "the colour RGB 100, 0, 0 %" });
    expect(row.querySelector("img")?.getAttribute("src")).toBe("/api/jobs/7/evidence/none?candidate=0");
    expect(within(row).getAllByRole("button")).toHaveLength(2);
    expect(screen.getAllByRole("button", { name: /Make the colour/ })).toHaveLength(2);
    await person.click(within(row).getByRole("button", { name: /the perforation/ }));
    expect(mend).toHaveBeenCalledWith(mendTo("perforation"));
  });

  it("is printed only by one press, which the order then says", async () => {
    const job = aJob({ order: anOrder({ roles: null }) });
    answer({ "PATCH /api/jobs/7": job, "GET /api/jobs/7": job });
    const person = card();
    await waitFor(() =>
      expect(screen.getByRole<HTMLButtonElement>("button", { name: "Print only" }).disabled).toBe(false),
    );
    await person.click(screen.getByRole("button", { name: "Print only" }));
    await waitFor(() => expect(asked.some((one) => one.to === "PATCH /api/jobs/7")).toBe(true));
    const sent = asked.find((one) => one.to === "PATCH /api/jobs/7")?.body as { order: { roles: unknown } };
    expect(sent.order.roles).toEqual([]);
  });

  it("leads to where lines are made", () => {
    card();
    expect(screen.getByRole("link", { name: "Make lines" }).getAttribute("href")).toBe(
      "/jobs/7/lines?make=1",
    );
  });
});
