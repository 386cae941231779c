/** What can be done with the copies that are chosen: turned, lined up, spread; kept or let go. */
import { Box, Button, Stack, Typography } from "@mui/material";
import { useState } from "react";
import { Failure } from "../help/Failure";
import { Amount } from "../ui/fields";
import { mm, plural } from "../ui/words";
import type { Side } from "./hand";
import type { ByHand } from "./useByHand";

const SIDES: [Side, string, string][] = [
  ["left", "Left", "left edges in a line"],
  ["middle", "Middle", "middles above each other"],
  ["right", "Right", "right edges in a line"],
  ["bottom", "Bottom", "lower edges in a line"],
  ["centre", "Centre", "middles beside each other"],
  ["top", "Top", "upper edges in a line"],
];

/** The corners of the room, as they are seen on the stage. */
const CORNERS = [
  ["Upper left", false, true],
  ["Upper right", true, true],
  ["Lower left", false, false],
  ["Lower right", true, false],
] as const;

/** Where what is chosen lies, in figures from the lower left of the sheet; and into which corner it can go. */
function Place({ hand, box: [x0, y0, x1, y1] }: { hand: ByHand; box: [number, number, number, number] }) {
  const [rx0, ry0, rx1, ry1] = hand.room;
  return (
    <Typography variant="sentence" role="group" aria-label="place">
      Its lower left lies at X{" "}
      <Amount
        label="X"
        value={Number(x0.toFixed(2))}
        least={-1e5}
        most={1e5}
        onChange={(mm) => mm !== undefined && hand.place(mm, y0)}
      />{" "}
      Y{" "}
      <Amount
        label="Y"
        value={Number(y0.toFixed(2))}
        least={-1e5}
        most={1e6}
        onChange={(mm) => mm !== undefined && hand.place(x0, mm)}
      />
      . Into the corner{" "}
      {CORNERS.map(([words, right, up]) => (
        <Button
          key={words}
          variant="outlined"
          sx={{ px: 0.75, py: 0, mr: 0.5 }}
          onClick={() => hand.place(right ? rx1 - (x1 - x0) : rx0, up ? ry1 - (y1 - y0) : ry0)}
        >
          {words}
        </Button>
      ))}
    </Typography>
  );
}

interface Props {
  hand: ByHand;
  pending: boolean;
  error: Error | null;
  onKeep: () => void;
  onLetGo: () => void;
}

export function HandBar({ hand, pending, error, onKeep, onLetGo }: Props) {
  const [degrees, setDegrees] = useState(90);
  const many = hand.chosen.size;
  return (
    <Box role="group" aria-label="copies by hand">
      <Typography variant="body2">
        {many ? `${plural(many, "copy", "copies")} chosen.` : "Choose a copy on the stage; Shift adds more."}{" "}
        Drag to move, arrow keys by {mm(1, 0)}, with Shift by ten times as much; r turns. Copies snap to
        others and to the gap; Alt moves freely.
      </Typography>
      <Stack direction="row" useFlexGap sx={{ flexWrap: "wrap", alignItems: "baseline", mt: 0.5 }}>
        <Button variant="outlined" disabled={!many} onClick={() => hand.turn(degrees)}>
          Turn by
        </Button>
        <Amount
          label="turn by"
          unit="°"
          value={degrees}
          least={-360}
          most={360}
          step={5}
          onChange={(v) => setDegrees(v ?? 90)}
        />
        <Button disabled={!hand.canGoBack} onClick={hand.back}>
          Step back
        </Button>
      </Stack>
      <Stack direction="row" useFlexGap sx={{ flexWrap: "wrap" }} role="group" aria-label="line up">
        {SIDES.map(([side, words, said]) => (
          <Button
            key={side}
            disabled={many < 2}
            onClick={() => hand.align(side)}
            aria-label={said}
            sx={{ minWidth: 0, px: 0.75 }}
          >
            {words}
          </Button>
        ))}
        <Button disabled={many < 3} onClick={() => hand.spread(true)} sx={{ minWidth: 0, px: 0.75 }}>
          Equal gaps across
        </Button>
        <Button disabled={many < 3} onClick={() => hand.spread(false)} sx={{ minWidth: 0, px: 0.75 }}>
          Equal gaps along
        </Button>
      </Stack>
      {hand.box && <Place hand={hand} box={hand.box} />}
      {hand.clashes.size > 0 && (
        <Typography color="error" role="alert" variant="body2">
          {hand.clashes.size} copies lie too near to each other; they are red.
        </Typography>
      )}
      <Failure of={error} />
      <Stack direction="row" spacing={1} sx={{ mt: 0.5 }}>
        <Button variant="contained" disabled={!hand.touched || pending} onClick={onKeep}>
          Keep them so
        </Button>
        <Button onClick={onLetGo}>Let go</Button>
      </Stack>
    </Box>
  );
}
