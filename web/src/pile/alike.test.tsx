// @vitest-environment jsdom
/** What several files ask alike: who is meant, what is done, and what is left out. */
import { screen, waitFor } from "@testing-library/react";
import { describe, expect, it } from "vitest";
import type { Alike as Group, AskedAlike, Right } from "../api/client";
import { answer, asked } from "../testing/server";
import { show } from "../testing/show";
import { AskedAlike as OnDesk } from "../desk/AskedAlike";
import { Alike } from "./Alike";
import { filesOf } from "./Answering";

const RIGHTS: Right[] = ["see", "take-in", "work"];
const one = (job_id: number, values: Partial<AskedAlike> = {}): AskedAlike => ({
  job_id,
  version: 1,
  revision: 1,
  name: `seal ${job_id}`,
  customer: "Dune Press",
  key: `k${job_id}`,
  message: "“Kiss-Cut” is not “Kiss Cut”.",
  offers: [{ kind: "rename", label: "Rename to Kiss Cut", says: "Writes “Kiss Cut”." }],
  art_sha256: "a".repeat(64),
  ...values,
});
const group = (values: Partial<Group> = {}): Group => ({
  key: "stop:ink.near-name",
  id: "ink.near-name",
  title: "The name of a line",
  severity: "stop",
  files: 3,
  asked: [one(1), one(2), one(3)],
  mends: [{ kind: "rename", label: "Rename to Kiss Cut", each: false, count: 3 }],
  choices: [],
  ...values,
});
const serve = (shown: Group, more: Parameters<typeof answer>[0] = {}) =>
  answer({ "GET /api/alike": [shown], "GET /api/alike/group": shown, ...more });
const sent = (to: string) => asked.find((each) => each.to === to)?.body;

describe("files that ask alike", () => {
  it("are put on the Desk in a line, the first three groups by name", async () => {
    answer({
      "GET /api/alike": ["a", "b", "c", "d"].map((key) => ({ ...group(), key, title: `Title ${key}` })),
    });
    show(<OnDesk held={false} />);
    expect(await screen.findByRole("link", { name: "3 files: Title a" })).toHaveProperty(
      "search",
      "?group=a",
    );
    expect(screen.getByRole("link", { name: "1 more" })).toBeTruthy();
    expect(screen.queryByRole("link", { name: "3 files: Title d" })).toBeNull();
  });

  it("are all given the mend by one press, but for those that are left out", async () => {
    serve(group(), {
      "POST /api/alike/mend": { done: 1, refused: [{ job_id: 3, why: "It was changed." }] },
    });
    const person = show(<Alike />, [], "/alike", RIGHTS);
    await person.click(await screen.findByRole("checkbox", { name: "choose seal 2" }));
    expect(screen.getByText("2 of 3 chosen")).toBeTruthy();
    await person.click(screen.getByRole("button", { name: "Rename to Kiss Cut · 2" }));
    await waitFor(() =>
      expect(sent("POST /api/alike/mend")).toEqual({
        files: [
          { job_id: 1, version: 1, revision: 1, keys: ["k1"] },
          { job_id: 3, version: 1, revision: 1, keys: ["k3"] },
        ],
        kind: "rename",
        label: "Rename to Kiss Cut",
      }),
    );
    expect((await screen.findByRole("alert")).textContent).toContain(
      "seal 3 was left as it is: It was changed.",
    );
  });

  it("say once what is the same for all, and by themselves what differs", async () => {
    serve(group({ asked: [one(1), one(2, { message: "Another." })] }));
    show(<Alike />, [], "/alike", RIGHTS);
    expect(await screen.findByText("Another.")).toBeTruthy();
    expect(screen.queryByText("Writes “Kiss Cut”.")).toBeNull();
  });

  it("may stand for a reason that a person gives; stops only where that is a right", async () => {
    const look = group({ severity: "look", mends: [], key: "look:edge.border" });
    serve(look, { "POST /api/alike/accept": { done: 3, refused: [] } });
    const person = show(<Alike />, [], "/alike", RIGHTS);
    await person.type(await screen.findByLabelText("Why all of these may stand"), "as agreed");
    await person.click(screen.getByRole("button", { name: "Accept 3" }));
    await waitFor(() => expect(sent("POST /api/alike/accept")).toMatchObject({ reason: "as agreed" }));
  });

  it("are stops that only who may lets pass", async () => {
    serve(group());
    show(<Alike />, [], "/alike", RIGHTS);
    expect(await screen.findByRole("button", { name: "Rename to Kiss Cut · 3" })).toBeTruthy();
    expect(screen.queryByLabelText("Why all of these may stand")).toBeNull();
  });

  it("are answered alike: a unit for all of them", async () => {
    const unit = group({
      id: "unit",
      severity: null,
      title: "In which unit is it drawn?",
      mends: [],
      asked: [one(1, { key: "" }), one(2, { key: "" })],
      choices: [{ key: "cm", words: "cm", said: "", sample: "" }],
    });
    serve(unit, { "POST /api/alike/answer": { done: 2, refused: [] } });
    const person = show(<Alike />, [], "/alike", RIGHTS);
    const go = await screen.findByRole("button", { name: "Go on with 2 files" });
    expect(go).toHaveProperty("disabled", true);
    await person.click(screen.getByLabelText("One unit is one"));
    await person.click(await screen.findByRole("option", { name: "cm" }));
    await person.click(go);
    await waitFor(() =>
      expect(sent("POST /api/alike/answer")).toMatchObject({ answers: { unit: "cm", each_page: false } }),
    );
  });

  it("of several pages become jobs each", async () => {
    const pages = group({
      id: "pages",
      severity: null,
      mends: [],
      asked: [one(1, { key: "" }), one(2, { key: "" })],
      choices: ["1", "2"].map((key) => ({ key, words: key, said: "", sample: "" })),
    });
    serve(pages, { "POST /api/alike/answer": { done: 2, refused: [] } });
    const person = show(<Alike />, [], "/alike", RIGHTS);
    await person.click(await screen.findByRole("button", { name: "Each page is a job" }));
    await waitFor(() =>
      expect(sent("POST /api/alike/answer")).toMatchObject({ answers: { pages: [1, 2], each_page: true } }),
    );
  });

  it("in which nothing is cut are given lines by a preset, or printed only", async () => {
    const none = group({ id: "line.none", severity: "look", mends: [], key: "look:line.none" });
    serve(none, {
      "GET /api/shelf/things": { things: [{ id: "round", title: "Round it", retired: false }] },
      "POST /api/alike/lines": { done: 3, refused: [] },
      "POST /api/alike/printed": { done: 3, refused: [] },
    });
    const person = show(<Alike />, [], "/alike", RIGHTS);
    await person.click(await screen.findByRole("button", { name: "Make lines · 3" }));
    await waitFor(() => expect(sent("POST /api/alike/lines")).toMatchObject({ preset: "round" }));
    await person.click(screen.getByRole("button", { name: "Printed only · 3" }));
    await waitFor(() => expect(sent("POST /api/alike/printed")).toBeTruthy());
  });

  it("are none where no question is shared", async () => {
    answer({ "GET /api/alike": [] });
    show(<Alike />, [], "/alike", RIGHTS);
    expect(await screen.findByText(/No question is shared by several files now/)).toBeTruthy();
  });

  it("are named once each, with all that is meant of them", () => {
    expect(filesOf([one(1), one(1, { key: "other" }), one(2, { key: "" })])).toEqual([
      { job_id: 1, version: 1, revision: 1, keys: ["k1", "other"] },
      { job_id: 2, version: 1, revision: 1, keys: [] },
    ]);
  });
});
