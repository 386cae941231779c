// @vitest-environment jsdom
/** Corrected files, files that look like one, jobs that are ordered again, letters and proofs. */
import { fireEvent, screen, waitFor } from "@testing-library/react";
import { describe, expect, it, vi } from "vitest";
import type { Corrected as Shown, Job, Letter, Right } from "../api/client";
import { answer, asked } from "../testing/server";
import { show } from "../testing/show";
import { aFinding, aJob, aWork } from "../testing/values";
import { AgainOf } from "./AgainOf";
import { Corrected } from "./Corrected";
import { DropOver } from "./DropOver";
import { LetterDialog } from "./findings/LetterDialog";
import { LettersPart, ProofPart } from "./letters/LettersPart";
import { LooksLike } from "./LooksLike";

const RIGHTS: Right[] = ["see", "take-in", "work", "release"];
const sent = (to: string) => asked.find((each) => each.to === to)?.body;
const over = (values: Partial<Shown> = {}): Shown => ({
  before: 1,
  now: 3,
  file: "seal.pdf",
  changes: [
    { kind: "art", words: "The art differs in 1 place", where: [[1, 2, 3, 4]] },
    { kind: "inks", words: "New ink “Magenta”", where: [] },
  ],
  error: "",
  redo: [],
  ...values,
});
const step = (label: string) => ({
  kind: "assign-role",
  settings: {},
  label,
  says: "",
  safe: false,
  then: [],
});

function corrected(shown: Shown, onChoose = vi.fn()) {
  const job = aJob({ corrected: shown });
  const person = show(
    <Corrected job={job} corrected={shown} busy={false} chosen={null} onChoose={onChoose} />,
    [],
    "/jobs/7/check",
    RIGHTS,
  );
  return { person, onChoose };
}

describe("a corrected file", () => {
  it("lists what changed, and leads to the places of it", async () => {
    const { person, onChoose } = corrected(over());
    expect(screen.getByText("2 changes since seal.pdf:")).toBeTruthy();
    expect(screen.queryByRole("button", { name: "New ink “Magenta”" })).toBeNull();
    await person.click(screen.getByRole("button", { name: "The art differs in 1 place" }));
    expect(onChoose).toHaveBeenCalledWith(expect.objectContaining({ where: [[1, 2, 3, 4]] }));
  });

  it.each([
    [over({ changes: [] }), /nothing in it has changed/],
    [over({ changes: null, error: "It is too large." }), /could not be compared .*It is too large\./],
  ])("says so where there is no list %#", (shown, words) => {
    corrected(shown);
    expect(screen.getByText(words)).toBeTruthy();
  });

  it("is laid over the old one on the stage, and taken off it", async () => {
    const { person } = corrected(over());
    const both = screen.getByRole("button", { name: "Lay both over each other" });
    await person.click(both);
    expect(both.getAttribute("aria-pressed")).toBe("true");
    await person.click(both);
    expect(both.getAttribute("aria-pressed")).toBe("false");
  });

  it("is given again what was done by hand, one step or all that are left", async () => {
    answer({ "POST /api/jobs/7/redo": aWork(), "GET /api/jobs/7": aJob() });
    const redo = ["A", "B", "C"].map((label) => ({ mend: step(label), done: label === "A" }));
    const { person } = corrected(over({ redo }));
    expect(screen.getByText("done")).toBeTruthy();
    await person.click(screen.getByRole("button", { name: "do again: B" }));
    await waitFor(() => expect(sent("POST /api/jobs/7/redo")).toMatchObject({ steps: [1] }));
    await person.click(screen.getByRole("button", { name: "Do all 2 again" }));
    await waitFor(() => expect(asked.at(-1)?.to ?? "").toBeTruthy());
    await waitFor(() =>
      expect(asked.filter((one) => one.to === "POST /api/jobs/7/redo").at(-1)?.body).toMatchObject({
        steps: [1, 2],
      }),
    );
  });
});

describe("a file that looks like another job's", () => {
  it("is laid over it, or a job of its own, as a person says", async () => {
    answer({ "POST /api/jobs/7/like": aJob({ like: null }) });
    const person = show(<LooksLike job={aJob({ like: { id: 3, name: "Old seals" } })} />, [], "/", RIGHTS);
    expect(screen.getByText(/corrected file of “Old seals”/)).toBeTruthy();
    await person.click(screen.getByRole("button", { name: "let Round seals be a job of its own" }));
    await waitFor(() => expect(sent("POST /api/jobs/7/like")).toEqual({ version: 3, take: false }));
  });

  it("is not asked of those who may not take files in", () => {
    show(<LooksLike job={aJob({ like: { id: 3, name: "Old seals" } })} />, [], "/", ["see"]);
    expect(screen.queryByRole("button")).toBeNull();
  });

  it("dropped on a job it is that job's", async () => {
    answer({ "POST /api/jobs/7/file": aWork(), "GET /api/jobs/7": aJob() });
    show(
      <DropOver job={aJob()}>
        <p>stage</p>
      </DropOver>,
      [],
      "/",
      RIGHTS,
    );
    const files = [new File(["%PDF"], "seal-2.pdf")];
    const stage = screen.getByText("stage");
    fireEvent.dragOver(stage, { dataTransfer: { types: ["Files"], files } });
    expect(screen.getByText(/taken as the corrected file of this job/)).toBeTruthy();
    fireEvent.drop(stage, { dataTransfer: { types: ["Files"], files } });
    await waitFor(() => expect(asked.some((one) => one.to === "POST /api/jobs/7/file")).toBe(true));
    expect(screen.queryByText(/taken as the corrected file/)).toBeNull();
  });
});

describe("a job that is ordered again", () => {
  const again = (values: Partial<NonNullable<Job["again"]>> = {}) =>
    show(
      <AgainOf
        job={aJob({
          again: {
            job_id: 3,
            name: "Old seals",
            quantity: 24,
            released: "2026-11-03T10:00:00Z",
            newer: [],
            gone: [],
            ...values,
          },
        })}
      />,
    );
  it("says that nothing has changed since", () => {
    again();
    expect(screen.getByTestId("again").textContent).toContain("Nothing on the Shelf has changed since.");
  });
  it("names what is newer, and what is gone", () => {
    again({
      newer: [{ kind: "tool", one: "tool setting", id: "t", title: "Kiss on film", kept: 1, now: 2 }],
      gone: ["“White film” is used up: say what is loaded now."],
    });
    const words = screen.getByTestId("again").textContent;
    expect(words).toContain("tool setting Kiss on film (version 1, now 2)");
    expect(words).toContain("used up");
    expect(screen.getByRole("link", { name: "Kiss on film" })).toHaveProperty("pathname", "/shelf/tool/t");
  });
  it("says that it was never released where it was not", () => {
    again({ released: null });
    expect(screen.getByTestId("again").textContent).toContain("never released");
  });
});

const aLetter = (values: Partial<Letter> = {}): Letter => ({
  id: 5,
  job_id: 7,
  job_name: "Round seals",
  kind: "proof",
  to: "a@b.example",
  subject: "Proof",
  text: "",
  checks: [],
  files: ["proof.pdf"],
  who: "ada",
  sent: "2026-11-03T10:00:00Z",
  answer: "open",
  signed_by: "",
  signed_on: null,
  note: "",
  answered: null,
  holds: true,
  ...values,
});

describe("letters and proofs", () => {
  it("a proof that was sent is approved with a name and a date", async () => {
    answer({ "POST /api/letters/5/answer": aJob(), "GET /api/jobs/7": aJob() });
    const person = show(<ProofPart job={aJob({ letters: [aLetter()] })} />, [], "/", RIGHTS);
    expect(screen.getByRole("button", { name: "Approved" })).toHaveProperty("disabled", true);
    await person.type(screen.getByLabelText("Signed by"), "R. Marram");
    expect(screen.getByRole("button", { name: "Refused" })).toHaveProperty("disabled", true);
    await person.click(screen.getByRole("button", { name: "Approved" }));
    await waitFor(() =>
      expect(sent("POST /api/letters/5/answer")).toMatchObject({
        version: 3,
        answer: "approved",
        signed_by: "R. Marram",
      }),
    );
  });

  it("says where the check sheet asks for a proof, and where one holds", () => {
    show(<ProofPart job={aJob({ findings: [aFinding({ id: "file.proof" })] })} />, [], "/", RIGHTS);
    expect(screen.getByText("The check sheet asks for a signed proof before release.")).toBeTruthy();
  });

  it("a signed one goes for the artwork as it is", () => {
    const signed = aLetter({ answer: "approved", signed_by: "R. Marram", signed_on: "2026-11-05" });
    show(<ProofPart job={aJob({ letters: [signed] })} />, [], "/", RIGHTS);
    expect(screen.getByText(/^Signed by R\. Marram, 05\.11\.2026/)).toBeTruthy();
  });

  it("the reply to a letter is taken as a file of the job", () => {
    const letters = [aLetter({ kind: "points", checks: ["edge.bleed"] })];
    show(<LettersPart job={aJob({ letters })} />, [], "/", RIGHTS);
    expect(screen.getByText(/about edge\.bleed/)).toBeTruthy();
    expect(screen.getByLabelText("the file of their reply")).toBeTruthy();
  });

  it("a letter is sent as it was written, or as a person wrote it", async () => {
    answer({
      "POST /api/jobs/7/letter": { text: "Dear Dune Press" },
      "POST /api/jobs/7/letters": aJob(),
      "GET /api/jobs/7": aJob(),
    });
    const job = aJob({ findings: [aFinding({ severity: "stop" })], write_to: "a@b.example" });
    const person = show(<LetterDialog job={job} onClose={vi.fn()} />, [], "/", RIGHTS);
    const text = await screen.findByDisplayValue("Dear Dune Press");
    await person.type(text, "!");
    await person.click(screen.getByRole("button", { name: "Send" }));
    await waitFor(() =>
      expect(sent("POST /api/jobs/7/letters")).toMatchObject({
        to: "a@b.example",
        text: "Dear Dune Press!",
      }),
    );
    expect(await screen.findByText("It was sent to a@b.example.")).toBeTruthy();
  });
});
