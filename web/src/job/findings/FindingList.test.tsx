// @vitest-environment jsdom
import { screen, waitFor, within } from "@testing-library/react";
import { describe, expect, it, vi } from "vitest";
import type { Finding, Job } from "../../api/client";
import { answer, asked, Refusal } from "../../testing/server";
import { show } from "../../testing/show";
import { aFinding, aJob, aWork } from "../../testing/values";
import { measure } from "./FindingCard";
import { FindingList } from "./FindingList";

const mend: Finding["mends"][number] = {
  kind: "rename",
  label: "Rename to Kiss Cut",
  says: "Writes “Kiss Cut”.",
  then: [],
  settings: { ink: "Kis Cut", to: "Kiss Cut" },
  safe: true,
};
const near = aFinding({ id: "ink.near-name", unit: "", measured: 1, mends: [mend] });
const look = aFinding({
  id: "ink.rgb",
  severity: "look",
  unit: "",
  measured: 2,
  count: 2,
  message: "2 images.",
});

function listed(job: Job, chosen: Finding | null = null, works = [] as Parameters<typeof show>[1]) {
  const onChoose = vi.fn();
  const person = show(
    <FindingList job={job} findings={job.findings} chosen={chosen} onChoose={onChoose} />,
    works,
  );
  return { person, onChoose };
}

describe("what was measured", () => {
  it("stands beside its limit, as a number of places, or as not measured", () => {
    expect(measure(aFinding())).toBe("1.19 mm, limit 3 mm");
    expect(measure(aFinding({ unit: "", count: 1 }))).toBe("1 place");
    expect(measure(aFinding({ unit: "", count: 12 }))).toBe("12 places");
    expect(measure(aFinding({ measured: null }))).toBe("not measured");
    expect(measure(aFinding({ measured: 0.123456, limit: 0.1, unit: "°" }))).toBe("0.12 °, limit 0.1 °");
  });
});

describe("the list of findings", () => {
  it("stands in groups, stops first", () => {
    listed(aJob({ findings: [look, near] }));
    const groups = screen.getAllByRole("region").map((group) => group.getAttribute("aria-label"));
    expect(groups).toEqual(["Stops", "To look at"]);
    expect(within(screen.getByRole("region", { name: "Stops" })).getByText("1 place")).toBeTruthy();
  });

  it("is chosen by pressing the card", async () => {
    const { person, onChoose } = listed(aJob({ findings: [near] }));
    await person.click(screen.getByText(near.message));
    expect(onChoose).toHaveBeenCalledWith(near.key);
  });

  it("sends a mend with its settings, and says why it was refused", async () => {
    answer({ "POST /api/jobs/7/mends": new Refusal(409, "“Round seals” is being mended. Wait.") });
    const { person } = listed(aJob({ findings: [near] }));
    await person.click(screen.getByRole("button", { name: "Rename to Kiss Cut" }));
    expect((await screen.findByRole("alert")).textContent).toContain("is being mended");
    const sent = asked.find((one) => one.to === "POST /api/jobs/7/mends");
    expect(sent?.body).toEqual({
      version: 3,
      revision: 1,
      then: [],
      kind: "rename",
      settings: { ink: "Kis Cut", to: "Kiss Cut" },
    });
  });

  it("says what a mend does where its card is chosen", () => {
    listed(aJob({ findings: [near] }), near);
    expect(screen.getByText("Writes “Kiss Cut”.")).toBeTruthy();
  });

  it("offers nothing to press while the job is worked on", () => {
    listed(aJob({ findings: [near] }), near, [aWork()]);
    expect(screen.getByRole("button", { name: "Rename to Kiss Cut" })).toHaveProperty("disabled", true);
  });

  it("goes on working while a draft of a check sheet is tried", () => {
    listed(aJob({ findings: [near] }), near, [aWork({ kind: "try-sheet" })]);
    expect(screen.getByRole("button", { name: "Rename to Kiss Cut" })).toHaveProperty("disabled", false);
  });
});

describe("decisions", () => {
  it("asks for a reason of three letters or more", async () => {
    answer({ "POST /api/jobs/7/decisions": aJob() });
    const { person } = listed(aJob({ findings: [look] }), look);
    const accept = screen.getByRole("button", { name: "Accept" });
    const reason = screen.getByLabelText("Why is this all right?");
    await person.type(reason, "  ok");
    expect(accept).toHaveProperty("disabled", true);
    await person.type(reason, ", seen");
    await person.keyboard("{Enter}");
    await waitFor(() => expect(asked.map((one) => one.to)).toContain("POST /api/jobs/7/decisions"));
    expect(asked.find((one) => one.to.endsWith("decisions"))?.body).toEqual({
      version: 3,
      key: look.key,
      reason: "  ok, seen",
    });
  });

  it("on a stop is for those who may, and on a note for nobody", () => {
    listed(aJob({ findings: [near] }), near);
    expect(screen.queryByLabelText("Why may this pass?")).toBeNull();
    listed(aJob({ id: 8, findings: [near], may_waive: true }), near);
    expect(screen.getByLabelText("Why may this pass?")).toBeTruthy();
    const note = aFinding({ severity: "note", message: "A note." });
    listed(aJob({ id: 9, findings: [note], may_waive: true }), note);
    expect(screen.getAllByLabelText(/Why/)).toHaveLength(1);
  });

  it("that was made is shown with who, when and why, and can be asked again", async () => {
    const decision = {
      verb: "accepted",
      who: "ada",
      when: "2027-01-02 10:00",
      reason: "The customer saw it.",
    };
    answer({ [`DELETE /api/jobs/7/decisions/${look.key}`]: aJob() });
    const { person } = listed(aJob({ findings: [{ ...look, decision }] }));
    const decided = screen.getByRole("region", { name: "Decided" });
    expect(decided.textContent).toContain("accepted by ada, 02.01.2027, 10:00: The customer saw it.");
    await person.click(within(decided).getByRole("button", { name: "Ask again" }));
    await waitFor(() => expect(asked[0]?.to).toBe(`DELETE /api/jobs/7/decisions/${look.key}`));
  });

  it("that was made on something else is told, and its reason offered again", () => {
    const before = { verb: "accepted", who: "ada", when: "2027-01-02 10:00", reason: "It is meant so." };
    listed(aJob({ findings: [{ ...look, before }] }), { ...look, before });
    expect(screen.getByText(/Asked again, since it has changed/).textContent).toContain("It is meant so.");
  });
});
