/** The same once more: a new job that begins with this one's artwork, lines and layout, and is gone to. */
import { Button, Typography } from "@mui/material";
import { useState } from "react";
import { useNavigate } from "react-router";
import { useRepeat } from "../../api/changes";
import type { Job } from "../../api/client";
import { Failure } from "../../help/Failure";
import { Amount } from "../../ui/fields";
import { limits } from "../../ui/limits";
import { stations as say } from "../../texts/stations";

export function RepeatOrder({ job }: { job: Job }) {
  const repeat = useRepeat(job.id);
  const go = useNavigate();
  const [quantity, setQuantity] = useState(job.order.quantity);
  return (
    <Typography component="div" variant="body2" role="group" aria-label={say.repeatOrderLabel}>
      <Button
        disabled={repeat.isPending || job.revision === 0}
        onClick={() => repeat.mutate(quantity, { onSuccess: (made) => go(`/jobs/${made.id}/sheet`) })}
        variant="outlined"
      >
        {say.orderAgain}
      </Button>{" "}
      <Amount
        label={say.copiesOrderedAgain}
        unit=""
        value={quantity}
        {...limits.order.quantity}
        step={1}
        onChange={(v) => setQuantity(Math.round(v ?? job.order.quantity))}
      />
      {say.copiesWithThisLayout}
      <Failure of={repeat.error} />
    </Typography>
  );
}
