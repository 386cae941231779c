/** The marks of a sheet before the cutter: the picture of each, what was found in it, how far off the fit has it. */
import { Box, Button, Stack, Typography } from "@mui/material";
import type { Bed, BedMark } from "../api/client";
import { bench as say } from "../texts/bench";

const PICTURE = 64;
const LOOK_PIXELS = 880;

interface Props {
  bed: Bed;
  chosen: number | null;
  onChoose: (mark: BedMark) => void;
  onLeaveOut: (mark: BedMark) => void;
}

export function Marks({ bed, chosen, onChoose, onLeaveOut }: Props) {
  const marks = bed.aligned?.marks ?? [];
  return (
    <Stack role="list" aria-label={say.marksLabel} spacing={0.5}>
      {marks.map((mark) => {
        const sight = bed.sights.find((one) => one.number === mark.number);
        return (
          <Stack
            key={mark.number}
            role="listitem"
            direction="row"
            spacing={1}
            data-mark={mark.number}
            sx={{ alignItems: "center", p: 0.5, bgcolor: mark.number === chosen ? "#DDE8E8" : "#F4F4F4" }}
          >
            <Sight bed={bed} sight={sight} number={mark.number} />
            <Box sx={{ flex: 1, minWidth: 0 }}>
              <Typography variant="subtitle2">{say.mark(mark.number, state(mark))}</Typography>
              <Typography variant="body2" color="text.secondary">
                {mark.residual_mm !== null
                  ? say.mmFromWhereTheFit(mark.residual_mm.toFixed(3))
                  : mark.why && mark.how !== "left out"
                    ? mark.why
                    : ""}
              </Typography>
            </Box>
            <Stack>
              <Button size="small" onClick={() => onChoose(mark)} aria-label={say.jogToMark(mark.number)}>
                {say.jogToIt}
              </Button>
              {!mark.place && mark.how !== "left out" && (
                <Button
                  size="small"
                  onClick={() => onLeaveOut(mark)}
                  aria-label={say.leaveMarkOut(mark.number)}
                >
                  {say.leaveOut}
                </Button>
              )}
            </Stack>
          </Stack>
        );
      })}
    </Stack>
  );
}

function state(mark: BedMark): string {
  if (mark.how === "camera") return "found";
  if (mark.how === "hand") return say.takenByHand;
  if (mark.how === "left out") return say.leftOut;
  return mark.why ? say.notFound : say.notLookedAtYet;
}

function Sight({ bed, sight, number }: { bed: Bed; sight?: Bed["sights"][number]; number: number }) {
  if (!sight) return <Box sx={{ width: PICTURE, height: PICTURE, bgcolor: "#DADADA" }} />;
  const k = PICTURE / LOOK_PIXELS;
  const [x = 0, y = 0] = sight.spot ?? [];
  return (
    <Box sx={{ width: PICTURE, height: PICTURE, position: "relative", flex: "none" }}>
      <img
        alt={say.whatTheCameraSawOf(number)}
        src={`/api/bench/${bed.release_id}/sights/${sight.sha256}`}
        width={PICTURE}
        height={PICTURE}
      />
      {sight.spot && (
        <svg width={PICTURE} height={PICTURE} style={{ position: "absolute", inset: 0 }} aria-hidden>
          <circle cx={x * k} cy={y * k} r={5} fill="none" stroke="#fff" strokeWidth={3} />
          <circle cx={x * k} cy={y * k} r={5} fill="none" stroke="#C4442A" strokeWidth={1.5} />
        </svg>
      )}
    </Box>
  );
}
