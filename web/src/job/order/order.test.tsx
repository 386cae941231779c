// @vitest-environment jsdom
import { screen, waitFor, within } from "@testing-library/react";
import { describe, expect, it, vi } from "vitest";
import type { Job, Question } from "../../api/client";
import { answer, asked, Refusal } from "../../testing/server";
import { show } from "../../testing/show";
import { aJob, anOrder } from "../../testing/values";
import { OrderForm } from "./OrderForm";
import { Questions } from "./Questions";

const KEEP = "Keep the order and check again";
const sent = () => asked.find((one) => one.to === "PATCH /api/jobs/7")?.body as { order: Job["order"] };

function form(job = aJob()) {
  answer({
    "GET /api/shelf": {
      materials: [{ id: "film-1370", title: "White film" }],
      destinations: [{ id: "house", title: "House" }],
    },
    "PATCH /api/jobs/7": job,
  });
  const onDone = vi.fn();
  return { person: show(<OrderForm job={job} onDone={onDone} />), onDone };
}

describe("the order", () => {
  it("that was not touched is sent as it was: what nobody said stays unsaid", async () => {
    const { person, onDone } = form();
    await person.click(screen.getByRole("button", { name: KEEP }));
    await waitFor(() => expect(onDone).toHaveBeenCalled());
    expect(sent().order).toEqual(anOrder());
    expect(sent()).toMatchObject({ customer: "Dune Press", material: "film-1370", destination: "house" });
  });

  it("shows in grey what counts where nothing is said, and takes what is typed with a comma", async () => {
    const { person, onDone } = form();
    const bleed = screen.getByLabelText("Bleed, mm");
    expect(bleed).toHaveProperty("placeholder", "3");
    expect(bleed).toHaveProperty("value", "");
    await person.type(bleed, "3,0");
    await person.click(screen.getByRole("button", { name: KEEP }));
    await waitFor(() => expect(onDone).toHaveBeenCalled());
    expect(sent().order.bleed_mm).toBe(3);
  });

  it("does not lose what is no number: it says so, and keeps nothing before it is mended", async () => {
    const { person } = form();
    await person.type(screen.getByLabelText("Width, mm"), "o");
    expect(screen.getByRole("alert").textContent).toContain("“o” is no unit.");
    expect(screen.getByRole("button", { name: KEEP })).toHaveProperty("disabled", true);
    await person.keyboard("{Enter}");
    expect(sent()).toBeUndefined();
    await person.type(screen.getByLabelText("Width, mm"), "{Backspace}");
    expect(screen.queryByRole("alert")).toBeNull();
  });

  it("with no cut ticked says nothing about cuts", async () => {
    const { person, onDone } = form();
    await person.click(screen.getByLabelText("kiss cut"));
    await person.click(screen.getByRole("button", { name: KEEP }));
    await waitFor(() => expect(onDone).toHaveBeenCalled());
    expect(sent().order.roles).toBeNull();
  });

  it("that the server refuses stays as it was typed, with the reason", async () => {
    const { person, onDone } = form();
    answer({ "PATCH /api/jobs/7": new Refusal(400, "Order: quantity is 0. Give 1 to 1,000,000.") });
    await person.clear(screen.getByLabelText("Quantity"));
    await person.click(screen.getByRole("button", { name: KEEP }));
    expect(await screen.findByText(/quantity is 0/)).toBeTruthy();
    expect(onDone).not.toHaveBeenCalled();
    expect(sent().order.quantity).toBe(0);
  });
});

const question = (id: string, choices: Partial<Question["choices"][number]>[] = []): Question =>
  ({
    id,
    words: `About ${id}?`,
    extent: [],
    extent_in: "",
    choices: choices.map((choice) => ({ key: "", words: "", sample: "", said: "", ...choice })),
  }) as Question;
const answers = () => asked.find((one) => one.to === "POST /api/jobs/7/answers")?.body;

describe("what a file leaves open", () => {
  it("is said before it goes on, and what is missing is named", async () => {
    answer({ "POST /api/jobs/7/answers": {} });
    const job = aJob({ questions: [question("size"), question("password")] });
    const person = show(<Questions job={job} />);
    expect(screen.getByText(/Still to say: how large it is, the password\./)).toBeTruthy();
    await person.type(screen.getByLabelText("Width, mm"), "ninety");
    expect(screen.getByText(/Still to say: how large it is/)).toBeTruthy();
    await person.clear(screen.getByLabelText("Width, mm"));
    await person.type(screen.getByLabelText("Width, mm"), "90,5");
    await person.type(screen.getByLabelText("Password of the file"), "marram");
    await person.click(screen.getByRole("button", { name: "Go on with this" }));
    await waitFor(() =>
      expect(answers()).toEqual({ version: 3, each_page: false, width_mm: 90.5, password: "marram" }),
    );
  });

  it("asks which pages, and makes jobs or pieces of several", async () => {
    answer({ "POST /api/jobs/7/answers": {} });
    const pages = question("pages", [
      { key: "1", words: "Page 1" },
      { key: "2", words: "Page 2" },
    ]);
    const person = show(<Questions job={aJob({ questions: [pages] })} />);
    const boxes = screen.getAllByRole("checkbox");
    await person.click(boxes[1] as HTMLElement);
    expect(screen.getByRole("button", { name: "Take page 2" })).toBeTruthy();
    await person.click(screen.getByRole("button", { name: "All pages" }));
    expect(screen.getByRole("button", { name: "One job with 2 pieces" })).toBeTruthy();
    await person.click(screen.getByRole("button", { name: "Make 2 jobs, one a page" }));
    await waitFor(() => expect(answers()).toEqual({ version: 3, each_page: true, pages: [1, 2] }));
  });

  it("binds each pen or layer; what was said of it before counts", async () => {
    answer({ "POST /api/jobs/7/answers": {} });
    const binding = question("binding", [
      { key: "pen:1", words: "pen 1, 4 lines", said: "kiss-cut" },
      { key: "pen:2", words: "pen 2, 1 line" },
    ]);
    const person = show(<Questions job={aJob({ questions: [binding] })} />);
    expect(screen.getByText("Remembered for Dune Press.")).toBeTruthy();
    const go = screen.getByRole("button", { name: "Go on with this" });
    expect(go).toHaveProperty("disabled", true);
    await person.click(screen.getAllByRole("combobox")[1] as HTMLElement);
    await person.click(within(screen.getByRole("listbox")).getByText("left out"));
    await person.click(go);
    await waitFor(() =>
      expect(answers()).toEqual({ version: 3, each_page: false, binding: { "pen:2": "leave-out" } }),
    );
  });
});
