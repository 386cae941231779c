// @vitest-environment jsdom
/** A figure in a sentence takes any unit, says what it understood, and keeps what is wrong as it was typed. */
import { render, screen } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import { afterEach, describe, expect, it, vi } from "vitest";
import { Amount } from "./fields";
import { LengthField } from "./LengthField";

afterEach(() => localStorage.clear());
const field = (value: number | undefined = 2) => {
  const change = vi.fn();
  render(<Amount label="offset" value={value} least={-50} most={50} onChange={change} />);
  return { change, person: userEvent.setup(), box: screen.getByLabelText(/^offset/) };
};

describe("a figure in a sentence", () => {
  it("takes a length in any unit, and says what it understood while it is typed", async () => {
    const { change, person, box } = field();
    await person.clear(box);
    await person.type(box, "3/8 in");
    expect(screen.getByRole("status").textContent).toBe("= 9.525 mm");
    await person.keyboard("{Enter}");
    expect(change).toHaveBeenCalledExactlyOnceWith(9.525);
  });

  it("keeps what is wrong and says why; Escape brings back what was there", async () => {
    const { change, person, box } = field();
    await person.clear(box);
    await person.type(box, "5 furlongs");
    await person.tab();
    expect(box).toHaveProperty("value", "5 furlongs");
    expect(screen.getByRole("alert").textContent).toContain("“furlongs” is no unit");
    await person.click(box);
    await person.keyboard("{Escape}");
    expect(box).toHaveProperty("value", "2");
    expect(change).not.toHaveBeenCalled();
  });

  it("takes nothing back in silence: what is too much stays, with the most there can be", async () => {
    const { change, person, box } = field();
    await person.clear(box);
    await person.type(box, "4 in");
    await person.keyboard("{Enter}");
    expect(screen.getByRole("alert").textContent).toBe("At most 50 mm.");
    expect([box, change.mock.calls.length]).toEqual([expect.objectContaining({ value: "4 in" }), 0]);
  });

  it("is in inches for whoever sees inches, and goes up by a round step", async () => {
    localStorage.setItem("horismos-unit", "in");
    const { change, person, box } = field(3.175);
    expect(screen.getByLabelText("offset, in")).toHaveProperty("value", "0.125");
    await person.click(box);
    await person.keyboard("{ArrowUp}");
    expect(change).toHaveBeenCalledWith(Number((3.175 + 0.02 * 25.4).toFixed(4)));
  });
});

describe("a length in a form", () => {
  it("is heard in mm, whatever it was typed in, and as none where it is none", async () => {
    const heard: (number | null)[] = [];
    const person = userEvent.setup();
    render(<LengthField label="Width" value={null} onChange={(mm) => heard.push(mm)} />);
    await person.type(screen.getByLabelText("Width, mm"), "2 cm");
    expect(heard.at(-1)).toBe(20);
    expect(screen.getByText("= 20 mm")).toBeTruthy();
    await person.type(screen.getByLabelText("Width, mm"), "x");
    expect(heard.at(-1)).toBeNaN();
    expect(screen.getByRole("alert").textContent).toContain("“cmx” is no unit");
  });
});
