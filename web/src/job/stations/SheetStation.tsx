/** Sheet: the copies of one job on the media, and the sheets that it shares with others. */
import { limits } from "../../ui/limits";
import { Button, Stack, Typography } from "@mui/material";
import { Link } from "react-router";
import { Failure } from "../../help/Failure";
import { useBeginShared } from "../../api/sharedChanges";
import type { Job, JobChange } from "../../api/client";
import { SheetPanel } from "../../sheet/SheetPanel";
import { useJobTarget, useOpenShared } from "../../sheet/target";
import { Amount } from "../../ui/fields";
import { DestinationField } from "../order/DestinationField";
import { MaterialField } from "../order/MaterialField";
import { RepeatOrder } from "../order/RepeatOrder";
import { NotYet } from "./SheetStage";
import { stations as say } from "../../texts/stations";

export function SheetStation({ job }: { job: Job }) {
  const target = useJobTarget(job);
  const { run } = target.change;
  return (
    <SheetPanel
      target={target}
      label={say.sheet}
      material={job.material_id}
      fields={
        <>
          <Typography component="div" variant="body2">
            {say.copiesOrdered}
            <Amount
              label={say.copiesOrdered2}
              unit=""
              value={job.order.quantity}
              {...limits.order.quantity}
              step={1}
              onChange={(v) =>
                v && run({ order: { ...job.order, quantity: Math.round(v) } as JobChange["order"] })
              }
            />
          </Typography>
          <DestinationField value={job.destination} onChange={(destination) => run({ destination })} />
          <MaterialField value={job.material_id} onChange={(material) => run({ material, media: null })} />
        </>
      }
      waiting={<NotYet job={job} />}
      foot={
        <>
          <SharedPart job={job} />
          <RepeatOrder job={job} />
        </>
      }
    />
  );
}

/** The sheets that the job shares with others, and how it comes on one. */
function SharedPart({ job }: { job: Job }) {
  const begin = useBeginShared();
  const open = useOpenShared();
  return (
    <Stack spacing={0.5} role="group" aria-label={say.sheetsWithOtherJobs}>
      <Typography variant="h2">{say.withOtherJobs}</Typography>
      {job.shared_on.map((sheet) => (
        <Button key={sheet.id} component={Link} to={`/shared/${sheet.id}`} sx={{ justifyContent: "start" }}>
          {say.on(sheet.copies, sheet.name)}
        </Button>
      ))}
      <Button
        variant="outlined"
        disabled={begin.isPending || job.revision === 0}
        onClick={() => begin.mutate([job.id], { onSuccess: (sheet) => open(sheet.id) })}
      >
        {say.shareASheetWithOther}
      </Button>
      <Failure of={begin.error} />
    </Stack>
  );
}
