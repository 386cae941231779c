/** The inks over the stage: which plates are shown, how much of each lies under the pointer, the load. */
import { Row } from "../../ui/Row";
import { Box, Button, Checkbox, Stack, Typography } from "@mui/material";
import { useEffect, useRef, useState } from "react";
import type { Job } from "../../api/client";
import { inkAmounts } from "../../api/queries";
import type { Point } from "../../stage/geometry";
import { Panel } from "../../ui/Panel";
import { MONO, STOP } from "../../ui/theme";
import { modes as say } from "../../texts/modes";

const EVERY_MS = 60;
const percent = (tint: number | undefined) =>
  tint === undefined ? "" : `${Math.round((tint * 100) / 255)} %`;

type Plates = NonNullable<Job["plates"]>;

interface Props {
  job: Job;
  chosen: number[] | null;
  heat: boolean;
  onChoose: (inks: number[] | null) => void;
  onGo: (at: Point) => void;
  /** Where the panel listens for the pointer. */
  hear: (listener: ((at: Point | null) => void) | null) => void;
}

/** How much of each ink lies under the pointer, 0 to 255; empty where it is nowhere. */
function useAmounts(job: Job, hear: Props["hear"]) {
  const [amounts, setAmounts] = useState<number[]>([]);
  const asked = useRef(0);
  const plates = job.plates?.sha256;
  useEffect(() => {
    let timer = 0;
    hear((at) => {
      window.clearTimeout(timer);
      if (!at) return setAmounts([]);
      const mine = ++asked.current;
      timer = window.setTimeout(() => {
        void inkAmounts(job.id, at)
          .then((found) => {
            if (mine === asked.current) setAmounts(found);
          })
          .catch(() => setAmounts([]));
      }, EVERY_MS);
    });
    return () => {
      window.clearTimeout(timer);
      hear(null);
    };
  }, [hear, job.id, plates]);
  return amounts;
}

export function InkPanel({ job, chosen, heat, onChoose, onGo, hear }: Props) {
  const plates = job.plates;
  const amounts = useAmounts(job, hear);
  if (!plates)
    return (
      <Panel>
        <Typography variant="body2">
          {job.plates_error ? say.noPlates(job.plates_error) : say.thePlatesAreBeingMade}
        </Typography>
      </Panel>
    );
  const shown = chosen ?? plates.inks.map((_, i) => i);
  const alone = (i: number) => chosen?.length === 1 && chosen[0] === i;
  const turned = (i: number) =>
    shown.includes(i) ? shown.filter((n) => n !== i) : [...shown, i].sort((a, b) => a - b);
  return (
    <Panel>
      {plates.inks.map((ink, i) => (
        <InkRow
          key={ink.name}
          ink={ink}
          amount={amounts[i]}
          shown={heat ? null : shown.includes(i)}
          alone={alone(i)}
          onShow={() => onChoose(turned(i))}
          onAlone={() => onChoose(alone(i) ? null : [i])}
        />
      ))}
      <UnderPointer plates={plates} amounts={amounts} />
      {heat ? (
        <Load plates={plates} onGo={onGo} />
      ) : (
        <Button onClick={() => onChoose(null)} disabled={!chosen}>
          {say.allInks}
        </Button>
      )}
      <Typography variant="body2" color="text.secondary">
        {say.ppiPlates(plates.ppi.toFixed(0))}
      </Typography>
    </Panel>
  );
}

interface RowProps {
  ink: Plates["inks"][number];
  amount: number | undefined;
  /** Whether its plate is shown; null where that cannot be chosen. */
  shown: boolean | null;
  alone: boolean;
  onShow: () => void;
  onAlone: () => void;
}

function InkRow({ ink, amount, shown, alone, onShow, onAlone }: RowProps) {
  const fixed = shown === null;
  return (
    <Row spacing={0.5} data-ink={ink.name}>
      {!fixed && (
        <Checkbox
          size="small"
          sx={{ p: 0.25 }}
          checked={shown}
          slotProps={{ input: { "aria-label": say.show(ink.name) } }}
          onChange={onShow}
        />
      )}
      <Box sx={{ width: 14, height: 14, bgcolor: ink.colour, border: "1px solid #777", flex: "none" }} />
      <Box
        component="button"
        type="button"
        onClick={onAlone}
        title={say.thisInkAlone}
        disabled={fixed}
        sx={{
          border: 0,
          bgcolor: "transparent",
          font: "inherit",
          fontFamily: MONO,
          fontSize: 13,
          textAlign: "left",
          flex: 1,
          cursor: fixed ? "default" : "pointer",
          color: "inherit",
          p: 0,
          overflowWrap: "anywhere",
          fontWeight: alone ? 700 : 400,
        }}
      >
        {ink.name}
        {ink.prints ? "" : " (line)"}
      </Box>
      <Typography variant="body2" sx={{ fontFamily: MONO, width: 48, textAlign: "right" }}>
        {percent(amount)}
      </Typography>
    </Row>
  );
}

/** All inks that print, added up where the pointer is. */
function UnderPointer({ plates, amounts }: { plates: Plates; amounts: number[] }) {
  const printing = plates.inks.map((ink, i) => (ink.prints ? i : -1)).filter((i) => i >= 0);
  const total = amounts.length ? printing.reduce((sum, i) => sum + ((amounts[i] ?? 0) * 100) / 255, 0) : null;
  return (
    <Stack direction="row" sx={{ justifyContent: "space-between", borderTop: "1px solid #CFCFCF", pt: 0.5 }}>
      <Typography variant="body2">{say.underThePointer}</Typography>
      <Typography
        variant="body2"
        sx={{ fontFamily: MONO, color: total !== null && total > plates.load.limit ? STOP : undefined }}
        data-testid="load-here"
      >
        {total === null ? "–" : `${total.toFixed(0)} %`}
      </Typography>
    </Stack>
  );
}

/** The highest load of ink, and how much lies above the limit. */
function Load({ plates, onGo }: { plates: Plates; onGo: (at: Point) => void }) {
  return (
    <>
      <Typography variant="body2">
        {say.highestLoad}
        <b>{plates.load.highest.toFixed(0)} %</b>
        {say.limit(plates.load.limit.toFixed(0))}
        {plates.load.above_cm2 > 0 ? (
          <>
            ; <b style={{ color: STOP }}>{say.cmAboveIt(plates.load.above_cm2.toFixed(2))}</b>
          </>
        ) : (
          ""
        )}
      </Typography>
      <Box
        sx={{
          height: 12,
          background: `linear-gradient(90deg,#fff 0%,#dedede 25%,#a0a0a0 50%,#606060 65%,${STOP} 70%,${STOP} 100%)`,
          border: "1px solid #777",
        }}
        role="img"
        aria-label={say.fromWhiteNoInkTo}
      />
      <Button variant="outlined" onClick={() => onGo(plates.load.at_mm as Point)}>
        {say.goToTheHighest}
      </Button>
    </>
  );
}
