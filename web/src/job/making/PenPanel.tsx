/** The pen: what is said of the line that it draws, and places that are typed. */
import { Box as Area, Button, Stack, TextField, Typography } from "@mui/material";
import { useState } from "react";
import type { Point } from "../../stage/geometry";
import { understood, type Unit } from "../../ui/lengths";
import { useUnit } from "../../ui/unit";
import { place as placeWords } from "../../ui/words";
import type { usePen } from "./usePen";
import { making as say } from "../../texts/making";

/** Two lengths that were typed with a space or a semicolon between them. */
function placed(text: string, unit: Unit): Point | null {
  const both = text.trim().split(text.includes(";") ? ";" : /\s+/);
  const [x, y, ...more] = both.map((one) => understood(one, unit));
  return x?.state === "length" && y?.state === "length" && !more.length ? [x.mm, y.mm] : null;
}

export function PenPanel({ pen, onLeave }: { pen: ReturnType<typeof usePen>; onLeave: () => void }) {
  const [at, setAt] = useState("");
  const unit = useUnit();
  const place = placed(at, unit);
  const last = pen.points[pen.points.length - 1]?.at;
  return (
    <Area role="group" aria-label={say.thePenLabel}>
      <Typography variant="body2" data-testid="pen">
        {pen.points.length === 0
          ? say.pressWhereTheLineBegins
          : say.placedTheLastAt(pen.points.length, last ? placeWords(last) : "")}
      </Typography>
      <Stack direction="row" useFlexGap spacing={0.5} sx={{ flexWrap: "wrap", alignItems: "center" }}>
        <TextField
          label={say.placeXYIn(unit)}
          value={at}
          onChange={(e) => setAt(e.target.value)}
          onKeyDown={(e) => {
            if (e.key === "Enter" && place) {
              pen.add(place);
              setAt("");
            }
          }}
          sx={{ width: 150 }}
        />
        <Button disabled={!pen.points.length} onClick={pen.back}>
          {say.takeTheLastBack}
        </Button>
        <Button disabled={pen.points.length < 2} variant="outlined" onClick={() => pen.done(false)}>
          {say.endItOpen}
        </Button>
        <Button disabled={pen.points.length < 3} variant="contained" onClick={() => pen.done(true)}>
          {say.closeIt}
        </Button>
        <Button
          onClick={() => {
            pen.clear();
            onLeave();
          }}
        >
          {say.putThePenAway}
        </Button>
      </Stack>
    </Area>
  );
}
