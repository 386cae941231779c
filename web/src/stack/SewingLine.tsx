/** One kind of stitches as a sentence. */
import { limits } from "../ui/limits";
import { IconButton, Stack, Typography } from "@mui/material";
import type { SewingWanted } from "../api/client";
import { Amount, Choice } from "../ui/fields";
import { LEAST_WIDE_MM, KIND_WORDS, runs } from "./wanted";
import { stack as say } from "../texts/stack";

interface Props {
  of: string;
  number: number;
  count: number;
  sewing: SewingWanted;
  onChange: (next: Partial<SewingWanted>) => void;
  onMove: (by: number) => void;
  onRemove: () => void;
}

export function SewingLine({ of, number, count, sewing, onChange, onMove, onRemove }: Props) {
  const words = KIND_WORDS[sewing.kind];
  const named = (what: string) => say.ofTheOf(what, words, of);
  return (
    <Stack
      direction="row"
      data-sewing={sewing.kind}
      sx={{ alignItems: "flex-start", pl: 1, borderLeft: "2px solid #BBB", mb: 0.5 }}
    >
      <Typography component="div" variant="body2" sx={{ flex: 1, lineHeight: 1.9 }}>
        <b>{words[0]?.toUpperCase() + words.slice(1)}</b>{" "}
        {!runs(sewing.kind) && (
          <>
            <Amount
              label={named("width")}
              value={sewing.width_mm}
              {...limits.sewing.width_mm}
              least={LEAST_WIDE_MM}
              onChange={(width_mm) => onChange({ width_mm: width_mm ?? sewing.width_mm })}
            />
            {say.wide}
          </>
        )}
        {runs(sewing.kind) ? say.stitchesOf : "every"}{" "}
        <Amount
          label={named("spacing")}
          value={sewing.spacing_mm}
          {...limits.sewing.spacing_mm}
          step={0.1}
          onChange={(spacing_mm) => onChange({ spacing_mm: spacing_mm ?? sewing.spacing_mm })}
        />
        ,{" "}
        <Amount
          label={named("inset")}
          value={sewing.inset_mm}
          {...limits.sewing.inset_mm}
          onChange={(inset_mm) => onChange({ inset_mm: inset_mm ?? sewing.inset_mm })}
        />
        {say.insideTheEdge}
        {!runs(sewing.kind) && (
          <>
            {say.corners}
            <Choice
              label={named("corners")}
              value={sewing.corners ?? "edge"}
              options={[
                ["edge", say.asTheEdge],
                ["round", "capped"],
                ["mitre", "mitred"],
              ]}
              onChange={(next) => onChange({ corners: next === "edge" ? null : next })}
            />
          </>
        )}
        {sewing.kind === "satin" && (
          <>
            {say.underlay}
            <Choice
              label={named("underlay")}
              value={sewing.underlay}
              options={[
                ["none", "none"],
                ["centre", say.aRunInTheMiddle],
                ["zigzag", say.aZigzag],
              ]}
              onChange={(underlay) => onChange({ underlay })}
            />
          </>
        )}
      </Typography>
      <IconButton
        size="small"
        aria-label={say.ofEarlier(words, of)}
        disabled={!number}
        onClick={() => onMove(-1)}
      >
        ↑
      </IconButton>
      <IconButton
        size="small"
        aria-label={say.ofLater(words, of)}
        disabled={number === count - 1}
        onClick={() => onMove(1)}
      >
        ↓
      </IconButton>
      <IconButton size="small" aria-label={say.leaveTheOfOut(words, of)} onClick={onRemove}>
        ×
      </IconButton>
    </Stack>
  );
}
