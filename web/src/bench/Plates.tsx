/** What the RIP has: the sheet as it was handed over, all plates together as they print, and each by itself. */
import { Stack, Typography } from "@mui/material";
import { useState } from "react";
import type { Release } from "../api/client";
import { Stage } from "../stage/Stage";
import { RoleSign } from "../stage/RoleLine";
import { ChoiceRow } from "../ui/ChoiceRow";
import { MONO } from "../ui/theme";
import { lyingSize, printedOf, SheetImage } from "./OnBed";
import { bench as say } from "../texts/bench";

const SHEET = say.theSheet;
const TOGETHER = say.allPlatesTogether;

/** A sheet on the stage, by one of its pictures. */
export function SheetPicture({ made, of, label }: { made: Release; of: string; label: string }) {
  const [width = 1, length = 1] = of.startsWith("printed") ? lyingSize(made) : made.sheet_mm;
  return (
    <Stage bounds={[0, 0, width, length]} label={label}>
      {() => (
        <>
          <rect width={width} height={length} fill="#fff" />
          <SheetImage made={made} of={of} />
        </>
      )}
    </Stage>
  );
}

/** The address of the sheet as it was handed over: another file has another one, so that browsers may keep it. */
export const sheetOf = (made: Release) =>
  `sheet?of=${made.files.find((file) => file.name.endsWith("-print.pdf"))?.sha256.slice(0, 12) ?? ""}`;

export function Plates({ made }: { made: Release }) {
  const [shown, setShown] = useState(made.picture ? TOGETHER : (made.plates[0]?.ink ?? SHEET));
  const plate = made.plates.find((one) => one.ink === shown);
  const of = plate
    ? `plates/${plate.sha256}`
    : shown === TOGETHER && made.picture
      ? printedOf(made)
      : sheetOf(made);
  return (
    <Stack direction="row" sx={{ flex: 1, minHeight: 0 }}>
      <SheetPicture made={made} of={of} label={plate ? say.plate(plate.ink) : shown} />
      <Stack
        spacing={0.5}
        sx={{ width: 300, p: 1, bgcolor: "background.paper", overflowY: "auto" }}
        aria-label={say.platesLabel}
        role="list"
      >
        <div role="listitem">
          <ChoiceRow chosen={shown === SHEET} onChoose={() => setShown(SHEET)} name={say.theSheet2}>
            {say.asItWasHandedTo}
          </ChoiceRow>
        </div>
        {made.picture && (
          <div role="listitem">
            <ChoiceRow
              chosen={shown === TOGETHER}
              onChoose={() => setShown(TOGETHER)}
              name={say.allPlatesTogether2}
            >
              {say.asItCameOutOf}
            </ChoiceRow>
          </div>
        )}
        {made.ink_order.length > 0 && (
          <Typography variant="body2" sx={{ px: 1, pt: 1 }}>
            {say.laidDownInThisOrder(made.ink_order.join(", "))}
          </Typography>
        )}
        {made.plates.map((one) => (
          <div key={one.ink} role="listitem">
            <ChoiceRow
              data-plate={one.ink}
              chosen={shown === one.ink}
              onChoose={() => setShown(one.ink)}
              name={
                <Stack direction="row">
                  <span style={{ fontFamily: MONO, flex: 1 }}>{one.ink}</span>
                  {one.role && <RoleSign role={one.role} />}
                </Stack>
              }
            >
              {one.prints ? say.printsCovers((one.coverage * 100).toFixed(2)) : say.goesToTheCutterDoes}
            </ChoiceRow>
          </div>
        ))}
      </Stack>
    </Stack>
  );
}
