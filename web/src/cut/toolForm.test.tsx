// @vitest-environment jsdom
/** Figures of a tool that were typed are kept, by the button or by leaving; what is no figure is not. */
import { fireEvent, render, screen } from "@testing-library/react";
import { describe, expect, it, vi } from "vitest";
import type { Tool } from "../api/client";
import { ToolForm } from "./ToolForm";

const KISS = { role: "kiss-cut", number: 1, force_gf: 90, speed_mm_s: null, passes: 1 } as unknown as Tool;
const form = () => {
  const keep = vi.fn();
  const { unmount } = render(<ToolForm tool={KISS} onKeep={keep} />);
  const type = (text: string) =>
    fireEvent.change(screen.getByLabelText("Force, gf for kiss-cut"), { target: { value: text } });
  return { keep, unmount, type };
};

describe("a tool's figures", () => {
  it("are kept when one leaves without pressing", () => {
    const { keep, unmount, type } = form();
    type("110");
    unmount();
    expect(keep).toHaveBeenCalledExactlyOnceWith({ ...KISS, force_gf: 110 });
  });

  it("are kept once where they were pressed, and not at all where nothing was typed", () => {
    const pressed = form();
    pressed.type("120");
    fireEvent.click(screen.getByRole("button", { name: "Keep" }));
    pressed.unmount();
    expect(pressed.keep).toHaveBeenCalledTimes(1);
    const plain = form();
    plain.unmount();
    expect(plain.keep).not.toHaveBeenCalled();
  });
});
