/** What the simulated RIP does to a sheet, as people set it there: copies, scale, mirror, turn, place. */
import { Button, FormControlLabel, MenuItem, Stack, Switch, TextField, Typography } from "@mui/material";
import { useState } from "react";
import type { RipReport } from "../api/client";
import { CountField, LengthField } from "../ui/LengthField";
import { Row } from "../ui/Row";
import { queues as say } from "../texts/queues";

const TURNS = [0, 90, 180, 270] as const;

interface Props {
  report: RipReport | null;
  onChange: (report: RipReport | null) => void;
}

type Did = { [name in keyof RipReport]-?: NonNullable<RipReport[name]> };
const PLAIN: Did = { copies: 1, gap_mm: 0, turn_deg: 0, scale: 1, mirrored: false, moved_mm: [0, 0] };

export function RipDoes({ report, onChange }: Props) {
  const [open, setOpen] = useState(report !== null);
  if (!open)
    return (
      <Row spacing={1}>
        <Typography variant="body2">{say.ripDoesNothing}</Typography>
        <Button onClick={() => setOpen(true)}>{say.ripDoes}</Button>
      </Row>
    );
  const now = { ...PLAIN, ...report } as Did;
  const set = (values: Partial<RipReport>) => onChange({ ...now, ...values });
  const [across = 1, along = 1] = typeof now.scale === "number" ? [now.scale, now.scale] : now.scale;
  const [x = 0, y = 0] = now.moved_mm;
  const scaled = (a: number, b: number) => set({ scale: a === b ? a : [a, b] });
  return (
    <Stack spacing={1} role="group" aria-label={say.ripDoes}>
      <Typography variant="h2">{say.ripDoes}</Typography>
      <Row spacing={1}>
        <CountField
          label={say.copies}
          value={now.copies}
          onChange={(copies) => set({ copies: copies ?? 1 })}
        />
        <LengthField label={say.between} value={now.gap_mm} onChange={(mm) => set({ gap_mm: mm ?? 0 })} />
      </Row>
      <Row spacing={1}>
        <CountField
          label={say.scaleAcross}
          value={Math.round(across * 1e4) / 100}
          onChange={(percent) => scaled((percent ?? 100) / 100, along)}
        />
        <CountField
          label={say.scaleAlong}
          value={Math.round(along * 1e4) / 100}
          onChange={(percent) => scaled(across, (percent ?? 100) / 100)}
        />
      </Row>
      <TextField
        select
        label={say.turn}
        value={now.turn_deg}
        onChange={(event) =>
          set({ turn_deg: TURNS.find((turn) => turn === Number(event.target.value)) ?? 0 })
        }
      >
        {TURNS.map((turn) => (
          <MenuItem key={turn} value={turn}>
            {turn}°
          </MenuItem>
        ))}
      </TextField>
      <Row spacing={1}>
        <LengthField label={say.movedAcross} value={x} onChange={(mm) => set({ moved_mm: [mm ?? 0, y] })} />
        <LengthField label={say.movedAlong} value={y} onChange={(mm) => set({ moved_mm: [x, mm ?? 0] })} />
      </Row>
      <FormControlLabel
        control={<Switch size="small" checked={now.mirrored} onChange={(_, on) => set({ mirrored: on })} />}
        label={say.mirrored}
      />
    </Stack>
  );
}
