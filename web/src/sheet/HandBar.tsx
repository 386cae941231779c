/** What can be done with the copies that are chosen: turned, lined up, spread; kept or let go. */
import { Box, Button, Stack, Typography } from "@mui/material";
import { useState } from "react";
import { Failure } from "../help/Failure";
import { Amount } from "../ui/fields";
import { mm } from "../ui/words";
import type { Side } from "./hand";
import type { ByHand } from "./useByHand";
import { common } from "../texts/common";
import { sheet as say } from "../texts/sheet";

const SIDES: [Side, string, string][] = [
  ["left", say.left, say.leftEdgesInALine],
  ["middle", say.middle, say.middlesAboveEachOther],
  ["right", common.right, say.rightEdgesInALine],
  ["bottom", say.bottom, say.lowerEdgesInALine],
  ["centre", say.centre, say.middlesBesideEachOther],
  ["top", say.top, say.upperEdgesInALine],
];

/** The corners of the room, as they are seen on the stage. */
const CORNERS = [
  [say.upperLeft, false, true],
  [say.upperRight, true, true],
  [say.lowerLeft, false, false],
  [say.lowerRight, true, false],
] as const;

/** Where what is chosen lies, in figures from the lower left of the sheet; and into which corner it can go. */
function Place({ hand, box: [x0, y0, x1, y1] }: { hand: ByHand; box: [number, number, number, number] }) {
  const [rx0, ry0, rx1, ry1] = hand.room;
  return (
    <Typography variant="sentence" role="group" aria-label={say.placeLabel}>
      {say.itsLowerLeftLiesAt}
      <Amount
        label={say.x}
        value={Number(x0.toFixed(2))}
        least={-1e5}
        most={1e5}
        onChange={(mm) => mm !== undefined && hand.place(mm, y0)}
      />{" "}
      Y{" "}
      <Amount
        label={say.y}
        value={Number(y0.toFixed(2))}
        least={-1e5}
        most={1e6}
        onChange={(mm) => mm !== undefined && hand.place(x0, mm)}
      />
      {say.intoTheCorner}
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
    <Box role="group" aria-label={say.copiesByHand}>
      <Typography variant="body2">
        {say.dragToMoveArrowKeys(many ? say.copyChosen(many) : say.chooseACopyOnThe, mm(1, 0))}
      </Typography>
      <Stack direction="row" useFlexGap sx={{ flexWrap: "wrap", alignItems: "baseline", mt: 0.5 }}>
        <Button variant="outlined" disabled={!many} onClick={() => hand.turn(degrees)}>
          {say.turnBy}
        </Button>
        <Amount
          label={say.turnBy2}
          unit="°"
          value={degrees}
          least={-360}
          most={360}
          step={5}
          onChange={(v) => setDegrees(v ?? 90)}
        />
        <Button disabled={!hand.canGoBack} onClick={hand.back}>
          {say.stepBack}
        </Button>
      </Stack>
      <Stack direction="row" useFlexGap sx={{ flexWrap: "wrap" }} role="group" aria-label={say.lineUpLabel}>
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
          {say.equalGapsAcross}
        </Button>
        <Button disabled={many < 3} onClick={() => hand.spread(false)} sx={{ minWidth: 0, px: 0.75 }}>
          {say.equalGapsAlong}
        </Button>
      </Stack>
      {hand.box && <Place hand={hand} box={hand.box} />}
      {hand.clashes.size > 0 && (
        <Typography color="error" role="alert" variant="body2">
          {say.copiesLieTooNearTo(hand.clashes.size)}
        </Typography>
      )}
      <Failure of={error} />
      <Stack direction="row" spacing={1} sx={{ mt: 0.5 }}>
        <Button variant="contained" disabled={!hand.touched || pending} onClick={onKeep}>
          {say.keepThemSo}
        </Button>
        <Button onClick={onLetGo}>{say.letGo}</Button>
      </Stack>
    </Box>
  );
}
