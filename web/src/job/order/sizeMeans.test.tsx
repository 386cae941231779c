// @vitest-environment jsdom
import { screen } from "@testing-library/react";
import { describe, expect, it } from "vitest";
import type { Question } from "../../api/client";
import { show } from "../../testing/show";
import { SizeMeans, sizeOf } from "./SizeMeans";

const asked = (extent: number[], extent_in: string): Question => ({
  id: "size",
  words: "How large is it?",
  choices: [],
  extent,
  extent_in,
});

describe("what a size means", () => {
  it("keeps the proportions, within both sides where both are said", () => {
    expect(sizeOf([300, 200], 150, null)).toEqual([150, 100]);
    expect(sizeOf([300, 200], null, 50)).toEqual([75, 50]);
    expect(sizeOf([300, 200], 150, 50)).toEqual([75, 50]);
    expect(sizeOf([300, 200], NaN, null)).toBeNull();
  });

  it("is pixels to the inch of a picture, and from where on that is sharp: a minute of arc", () => {
    show(<SizeMeans question={asked([2400, 1600], "px")} width={300} height={null} />);
    const words = screen.getByTestId("size-means").textContent;
    expect(words).toContain("300 × 200 mm, wider than high");
    expect(words).toContain("203 ppi: sharp to the eye from 430 mm on");
  });

  it("is per cent of a drawing in units", () => {
    show(<SizeMeans question={asked([30, 50], "units")} width={30} height={null} />);
    expect(screen.getByTestId("size-means").textContent).toContain(
      "30 × 50 units; at 96 of them to the inch that is 378 %",
    );
  });

  it("says how it lies while nothing is said", () => {
    show(<SizeMeans question={asked([30, 50], "units")} width={null} height={null} />);
    expect(screen.getByText(/higher than wide; it is not turned/)).toBeTruthy();
  });
});
