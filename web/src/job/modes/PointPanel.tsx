/** What lies at the place that was pointed at, the topmost first; the one that is chosen is framed on the stage. */
import { Box, Button, Typography } from "@mui/material";
import { Failure } from "../../help/Failure";
import { useMend } from "../../api/changes";
import type { Job, Thing } from "../../api/client";
import { useBusy } from "../../api/progress";
import { Told } from "./Told";
import { MendOffer } from "../mending/MendOffer";
import { GiveRole, givesRole, rolesToGive } from "./GiveRole";
import { modes as say } from "../../texts/modes";

interface Props {
  job: Job;
  things: Thing[];
  pressed: boolean;
  pending: boolean;
  error: string;
  looked: number;
  onLook: (index: number) => void;
}

export function PointPanel({ job, things, pressed, pending, error, looked, onLook }: Props) {
  const mend = useMend(job.id);
  const busy = useBusy(job);
  return (
    <Told title={say.whatLiesHere}>
      {!pressed && <Typography variant="body2">{say.pressAPlaceOnThe}</Typography>}
      {pressed && pending && <Typography variant="body2">{say.looking}</Typography>}
      {error && <Typography color="error">{error}</Typography>}
      <Failure of={mend.error} />
      {pressed && !pending && !error && !things.length && (
        <Typography variant="body2">{say.bareMediaNothingIsDrawn}</Typography>
      )}
      {things.map((thing, i) => (
        <Box key={i} sx={{ bgcolor: i === looked ? "#DDE8E8" : "#F4F4F4", p: 0.75 }}>
          <Button
            aria-pressed={i === looked}
            onClick={() => onLook(i)}
            sx={{ p: 0, textAlign: "left", justifyContent: "start", color: "text.primary", fontWeight: 400 }}
          >
            {thing.words}
          </Button>
          {i === looked && (
            <>
              {thing.alike && (
                <Typography variant="body2" color="text.secondary">
                  {thing.alike}
                </Typography>
              )}
              {rolesToGive(thing.mends).map(([words, mends]) => (
                <GiveRole
                  key={words}
                  words={words}
                  mends={mends}
                  busy={busy}
                  onMend={(one) => mend.mutate(one)}
                />
              ))}
              {thing.mends
                .filter((one) => !givesRole(one))
                .map((one) => (
                  <MendOffer
                    key={one.label + JSON.stringify(one.settings)}
                    mend={one}
                    busy={busy}
                    open
                    quiet
                    onMend={(chosen) => mend.mutate(chosen)}
                  />
                ))}
            </>
          )}
        </Box>
      ))}
    </Told>
  );
}
