/** The size of the outer cut, the art or the page, to be typed with its proportions locked; and the page fitted. */
import { Button, Stack, Typography } from "@mui/material";
import { useState } from "react";
import { Failure } from "../help/Failure";
import { useMend } from "../api/changes";
import { useBusy } from "../api/progress";
import type { Job } from "../api/client";
import { Amount, Choice } from "../ui/fields";
import { Panel } from "../ui/Panel";
import { common } from "../texts/common";
import { job as say } from "../texts/job";

/** As fine as a scale is told: a metre is right to a hundredth of a mm. */
const SAME = 1e-6;

interface Sized {
  what: string;
  width: number;
  height: number;
}

/** What has a size on a page, what is cut first. */
export function sizesOf(job: Job): Sized[] {
  const seen = job.seen;
  if (!seen) return [];
  const sizes = (seen.measured ?? []).map(({ what, box_mm: [x0 = 0, y0 = 0, x1 = 0, y1 = 0] }) => ({
    what,
    width: x1 - x0,
    height: y1 - y0,
  }));
  const [width = 0, height = 0] = seen.size_mm;
  return [...sizes, { what: "page", width, height }].filter((one) => one.width > 0 && one.height > 0);
}

export function SizePanel({ job, onClose }: { job: Job; onClose: () => void }) {
  const [chosen, setChosen] = useState<string | null>(null);
  const [ratio, setRatio] = useState(1);
  const mend = useMend(job.id);
  const busy = useBusy(job);
  const sizes = sizesOf(job);
  const of = sizes.find((one) => one.what === chosen) ?? sizes[0];
  if (!of) return null;
  const scales = Math.abs(ratio - 1) > SAME;
  const act = (kind: string, label: string, settings: Record<string, string | number>) =>
    mend.mutate({ kind, label, says: "", safe: false, settings }, { onSuccess: onClose });
  return (
    <Panel>
      <Stack spacing={1} role="group" aria-label={say.theSizeLabel}>
        <Typography variant="sentence">
          {say.the}
          <Choice
            label={say.whatIsMeasured}
            value={of.what}
            options={sizes.map((one) => [one.what, one.what] as const)}
            onChange={setChosen}
          />
          {say.isIt}
          <Amount
            label={say.width}
            least={0.1}
            most={100_000}
            value={of.width * ratio}
            onChange={(v) => v && setRatio(v / of.width)}
          />{" "}
          ×{" "}
          <Amount
            label={say.height}
            least={0.1}
            most={100_000}
            value={of.height * ratio}
            onChange={(v) => v && setRatio(v / of.height)}
          />
          ,{" "}
          <Amount
            label={say.percent}
            unit="%"
            least={1}
            most={10_000}
            step={1}
            value={ratio * 100}
            onChange={(v) => v && setRatio(v / 100)}
          />
          {say.ofWhatItIs}
        </Typography>
        <Typography variant="body2" color="text.secondary">
          {say.artAndLinesGrowAlike}
        </Typography>
        <Stack direction="row" useFlexGap spacing={0.5} sx={{ flexWrap: "wrap" }}>
          <Button
            variant="contained"
            disabled={busy || !scales}
            onClick={() => act("scale", say.scale, { ratio })}
          >
            {say.scale2(Number(ratio.toFixed(4)))}
          </Button>
          <Button
            variant="outlined"
            disabled={busy}
            onClick={() => act("fit-page", say.fitThePage, { to: "auto" })}
          >
            {say.fitThePageToThe}
          </Button>
          <Button onClick={onClose}>{common.leaveIt}</Button>
        </Stack>
        <Failure of={mend.error} />
      </Stack>
    </Panel>
  );
}
