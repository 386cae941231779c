/** What can be done with the copies that are chosen: turned, lined up, spread; kept or let go. */
import { Box, Button, Stack, Typography } from "@mui/material";
import { useState } from "react";
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
      {hand.clashes.size > 0 && (
        <Typography color="error" role="alert" variant="body2">
          {hand.clashes.size} copies lie too near to each other; they are red.
        </Typography>
      )}
      {error && <Typography color="error">{error.message}</Typography>}
      <Stack direction="row" spacing={1} sx={{ mt: 0.5 }}>
        <Button variant="contained" disabled={!hand.touched || pending} onClick={onKeep}>
          Keep them so
        </Button>
        <Button onClick={onLetGo}>Let go</Button>
      </Stack>
    </Box>
  );
}
