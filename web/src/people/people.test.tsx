// @vitest-environment jsdom
import { screen, within } from "@testing-library/react";
import { describe, expect, it } from "vitest";
import { answer, asked, Refusal } from "../testing/server";
import { show } from "../testing/show";
import { PeoplePart } from "../shelf/PeoplePart";
import { Password } from "./Password";

const HERE = {
  id: 1,
  address: "10.0.0.5",
  browser: "Mozilla/5.0 (X11; Linux x86_64) Gecko/20100101 Firefox/140.0",
  began: "2026-11-29T08:00:00Z",
  seen: "2026-11-29T08:10:00Z",
  this: true,
};
const THERE = { ...HERE, id: 7, address: "10.0.0.9", this: false };

describe("the people of the Shelf", () => {
  it("are listed with their rights, and who asks is marked", async () => {
    const one = { name: "ada", rights: ["see", "waive"], browsers: 2, seen: HERE.seen };
    answer({
      "GET /api/me": { name: "ada", rights: ["see", "waive"], unit: "mm", second_step: false },
      "GET /api/people": [one, { name: "ben", rights: [], browsers: 0, seen: null }],
      "GET /api/me/log-ins": [HERE],
    });
    show(<PeoplePart />);
    const cells = async (name: RegExp) =>
      within(await screen.findByRole("row", { name }))
        .getAllByRole("cell")
        .map((cell) => cell.textContent);
    const ada = await cells(/ada \(you\)/);
    expect(ada.slice(0, 2)).toEqual(["ada (you)", "sees, lets stops pass"]);
    expect(await cells(/ben/)).toEqual(["ben", "nothing yet", "not logged in"]);
  });
});

describe("one's own account", () => {
  it("lists where one is logged in, and ends what is elsewhere", async () => {
    answer({ "GET /api/me/log-ins": [HERE, THERE], "DELETE /api/me/log-ins/7": [HERE] });
    const person = show(<Password onClose={() => undefined} />);
    const list = await screen.findByRole("region", { name: "where you are logged in" });
    expect(await within(list).findByText(/^Here, since/)).toBeTruthy();
    expect(within(list).getByText(/Firefox at 10\.0\.0\.9, since/)).toBeTruthy();
    answer({ "GET /api/me/log-ins": [HERE] });
    await person.click(within(list).getByRole("button", { name: /end the log-in at 10\.0\.0\.9/ }));
    await screen.findByText(/^Here, since/);
    expect(asked.some((one) => one.to === "DELETE /api/me/log-ins/7")).toBe(true);
    expect(within(list).queryByText(/10\.0\.0\.9/)).toBeNull();
  });

  it("says why a log-in could not be ended", async () => {
    answer({
      "GET /api/me/log-ins": [HERE, THERE],
      "DELETE /api/me/log-ins/7": new Refusal(404, "You are not logged in there."),
    });
    const person = show(<Password onClose={() => undefined} />);
    await person.click(await screen.findByRole("button", { name: /end the log-in/ }));
    expect((await screen.findByRole("alert")).textContent).toContain("not logged in there");
  });

  it("changes the password only when both new ones are alike", async () => {
    answer({ "GET /api/me/log-ins": [HERE], "POST /api/me/password": { name: "ada" } });
    const person = show(<Password onClose={() => undefined} />);
    await person.type(screen.getByLabelText("Present password"), "one");
    await person.type(screen.getByLabelText("New password"), "a spell of weather");
    await person.type(screen.getByLabelText("New password once more"), "a spell of wether");
    expect(screen.getByText("The two differ.")).toBeTruthy();
    expect(screen.getByRole<HTMLButtonElement>("button", { name: "Change it" }).disabled).toBe(true);
    await person.clear(screen.getByLabelText("New password once more"));
    await person.type(screen.getByLabelText("New password once more"), "a spell of weather");
    await person.click(screen.getByRole("button", { name: "Change it" }));
    expect(await screen.findByText(/Your password is changed/)).toBeTruthy();
    expect(asked.find((one) => one.to === "POST /api/me/password")?.body).toEqual({
      present: "one",
      new: "a spell of weather",
    });
  });
});
