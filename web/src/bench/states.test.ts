import { describe, expect, it } from "vitest";
import type { Release } from "../api/client";
import { aSheet } from "../testing/bench";
import { machineOf, stateOf } from "./states";

const made = (values: Partial<Release>) =>
  ({
    makes: "both",
    rip_state: "waiting",
    dry: false,
    dry_at: null,
    sides: ["front"],
    loaded: [],
    cut: [],
    ...values,
  }) as unknown as Release;

describe("a released sheet", () => {
  const done = { rip_state: "done" } as const;
  it.each([
    [{}, "waits for the printer", "rip"],
    [{ rip_state: "refused" } as const, "refused by the RIP", "rip"],
    [{ rip_state: "failed" } as const, "the print failed", "rip"],
    [{ rip_state: "cancelled" } as const, "cancelled", "rip"],
    [{ rip_state: "printing" } as const, "is being printed", "rip"],
    [{ ...done, sheet: aSheet({ waits_for: "laminating" }) }, "to be laminated", "rip"],
    [{ ...done, dry: true, sheet: aSheet({ refused: "no" }) }, "its cut cannot follow its print", "cutter"],
    [{ ...done }, "printed, drying", "rip"],
    [{ ...done, dry: true }, "dry, waits for the cutter", "cutter"],
    [{ ...done, dry: true, loaded: ["front"] }, "on the cutter", "cutter"],
    [{ ...done, dry: true, loaded: ["front"], cut: ["front"] }, "cut", "cutter"],
    [
      { ...done, dry: true, sides: ["front", "back"], cut: ["front"] },
      "front cut, the other side waits",
      "cutter",
    ],
    [{ makes: "cut" } as const, "waits for the cutter", "cutter"],
    [{ makes: "print", ...done, dry: true, sides: [] } as const, "printed and dry", "rip"],
  ])("%o %s, at the %s", (values, words, machine) => {
    expect(stateOf(made(values as Partial<Release>))).toBe(words);
    expect(machineOf(made(values as Partial<Release>))).toBe(machine);
  });

  it("says until when it dries", () => {
    expect(stateOf(made({ ...done, dry_at: "2026-11-30T14:20:00Z" }))).toMatch(
      /^printed, dries until 30\.11\.2026/,
    );
  });
});
