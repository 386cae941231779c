/** The simulated RIP: a print that waits for it, the one that it prints, and what came of it. */
import { Alert, Button, FormControlLabel, Radio, RadioGroup, Stack, Typography } from "@mui/material";
import { useState } from "react";
import { useRip } from "../api/benchChanges";
import type { Release, RipReport } from "../api/client";
import { useWorkOf } from "../api/progress";
import { Failure } from "../help/Failure";
import { WorkProgress } from "../ui/WorkProgress";
import { Plates, sheetOf, SheetPicture } from "./Plates";
import { RipDoes } from "./RipDoes";
import { bench as say } from "../texts/bench";
import { queues as queueWords } from "../texts/queues";

export function Rip({ made }: { made: Release }) {
  if (made.rip_state === "waiting") return <Waits made={made} />;
  if (made.rip_state === "printing") return <Prints made={made} />;
  if (made.rip_state !== "done")
    return (
      <Alert severity="error" sx={{ m: 3 }}>
        {made.rip_state === "refused"
          ? say.theRipRefusedTheFile(made.rip_refused)
          : `${made.rip_state === "failed" ? queueWords.printFailed : queueWords.cancelled}. ${made.rip_refused}`}
      </Alert>
    );
  return (
    <>
      <Reported made={made} />
      <Plates made={made} />
    </>
  );
}

const hours = (h: number) => (h < 1 ? `${h * 60} min` : `${h} h`);

/** Which hot folder it goes into, and what the RIP does to it; what was chosen the last time is offered first. */
function Waits({ made }: { made: Release }) {
  const rip = useRip();
  const [preset, setPreset] = useState(made.preset || made.usual_preset);
  const [report, setReport] = useState<RipReport | null>(null);
  return (
    <Stack direction="row" sx={{ flex: 1, minHeight: 0 }}>
      <SheetPicture made={made} of={sheetOf(made)} label={say.theSheet} />
      <Stack
        spacing={2}
        sx={{ width: 340, p: 2, alignItems: "flex-start", bgcolor: "background.paper", overflowY: "auto" }}
      >
        <Typography variant="h2">{say.itWaitsForThePrinter}</Typography>
        <Typography variant="body2">{say.chooseTheHotFolderThat}</Typography>
        <RadioGroup value={preset} onChange={(_, next) => setPreset(next)} aria-label={say.hotFolderLabel}>
          {made.presets.map((one) => (
            <FormControlLabel
              key={one.id}
              value={one.id}
              control={<Radio size="small" />}
              label={say.ppiPassesDryAfterBefore(
                one.title,
                one.profile,
                one.ppi,
                one.passes,
                hours(one.dry_h),
                hours(one.laminate_h),
              )}
            />
          ))}
        </RadioGroup>
        <RipDoes report={report} onChange={setReport} />
        <Button
          variant="contained"
          size="medium"
          disabled={rip.isPending || made.held}
          onClick={() => rip.mutate({ release: made.id, preset, report: report ?? {} })}
        >
          {say.printIt}
        </Button>
        <Failure of={rip.error} />
      </Stack>
    </Stack>
  );
}

/** How far the print is, on the sheet that it is of. */
function Prints({ made }: { made: Release }) {
  const work = useWorkOf({ id: made.job_id });
  return (
    <Stack direction="row" sx={{ flex: 1, minHeight: 0 }}>
      <SheetPicture made={made} of={sheetOf(made)} label={say.theSheet} />
      <Stack spacing={2} sx={{ width: 340, p: 2, bgcolor: "background.paper" }}>
        <Typography variant="h2">{say.itIsBeingPrinted}</Typography>
        <WorkProgress work={work?.kind === "rip" ? work : null} />
      </Stack>
    </Stack>
  );
}

/** What the RIP says that it has done, and what came of it for the cut. */
function Reported({ made }: { made: Release }) {
  const refused = made.sheet?.refused ?? "";
  const finds = made.sheet?.findings ?? [];
  if (!made.report.length) return null;
  return (
    <Alert
      severity={refused ? "error" : finds.length ? "warning" : "info"}
      sx={{ m: 1 }}
      data-testid="reported"
    >
      {queueWords.itReports(made.report.join(", "))} {refused || queueWords.cutFollows}
      {finds.length > 0 && ` ${queueWords.findsNow(finds.join(", "))}`}
    </Alert>
  );
}
