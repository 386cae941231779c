/** Before and after: two revisions over each other, parted by a divider that can be dragged or moved by keys. */
import { Box, Button, MenuItem, Stack, TextField } from "@mui/material";
import type { Job } from "../../api/client";
import { Art, artOf, Picture } from "../../stage/Art";
import { inView, type Box as Bounds, type View } from "../../stage/geometry";
import { modes as say } from "../../texts/modes";

interface Props {
  job: Job;
  before: number;
  after: number;
  /** The work that made what is looked at beforehand; it stands on the right then. */
  preview: number;
  /** Whether the difference itself is shown instead of the two. */
  apart: boolean;
  share: number;
  media: Bounds;
  view: View;
  size: [number, number];
}

/** The two pictures; the divider stands at a share of what is seen. */
export function ComparedArt({ job, before, after, preview, apart, share, media, view, size }: Props) {
  const [left, bottom, right, top] = inView(view, size);
  const at = left + (right - left) * share;
  const wide = (right - left) * 2;
  const sha = (number: number) => job.revisions.find((r) => r.number === number)?.sha256 ?? "";
  if (apart)
    return (
      <Picture
        href={`/api/jobs/${job.id}/apart?before=${before}&after=${preview ? 0 : after}&preview=${preview}&of=${sha(before).slice(0, 8)}${sha(after).slice(0, 8)}`}
        box={media}
      />
    );
  const clip = (id: string, x: number, width: number) => (
    <clipPath id={id}>
      <rect x={x} y={bottom - wide} width={width} height={top - bottom + 2 * wide} />
    </clipPath>
  );
  return (
    <g>
      {clip("before", at - wide, wide)}
      {clip("after", at, wide)}
      <g clipPath="url(#before)">
        <Art source={artOf(job.id, sha(before), "seen", before)} media={media} view={view} size={size} />
      </g>
      <g clipPath="url(#after)">
        <Art
          key={preview}
          source={artOf(job.id, preview ? `p${preview}` : sha(after), "seen", preview ? 0 : after, preview)}
          media={media}
          view={view}
          size={size}
        />
      </g>
    </g>
  );
}

interface BarProps {
  job: Job;
  before: number;
  after: number;
  preview: number;
  apart: boolean;
  share: number;
  onChange: (next: { before?: number; after?: number; share?: number; apart?: boolean }) => void;
}

export function CompareBar({ job, before, after, preview, apart, share, onChange }: BarProps) {
  const field = (label: string, value: number, key: "before" | "after") => (
    <TextField
      select
      label={label}
      value={value}
      onChange={(e) => onChange({ [key]: Number(e.target.value) })}
      sx={{ width: 190, bgcolor: "#fff" }}
    >
      {job.revisions.map((r) => (
        <MenuItem key={r.id} value={r.number}>
          {r.number}. {r.said || say.asItCame}
        </MenuItem>
      ))}
    </TextField>
  );
  return (
    <>
      <Stack
        direction="row"
        sx={{ position: "absolute", top: 12, left: 34, right: 12, justifyContent: "space-between" }}
      >
        {preview ? (
          <>
            <Side words={say.leftRevisionAsItIs(before)} />
            <Side words={say.rightAsItWouldBe} />
          </>
        ) : (
          <>
            {field(say.leftBefore, before, "before")}
            {field(say.rightAfter, after, "after")}
          </>
        )}
      </Stack>
      <Button
        variant={apart ? "contained" : "outlined"}
        aria-pressed={apart}
        onClick={() => onChange({ apart: !apart })}
        sx={{ position: "absolute", top: 58, left: 34, bgcolor: apart ? undefined : "#fff" }}
      >
        {apart ? say.bothAgain : say.onlyWhatDiffers}
      </Button>
      {!apart && (
        <Box
          role="slider"
          tabIndex={0}
          aria-label={say.dividerBetweenBeforeAndAfter}
          aria-valuemin={0}
          aria-valuemax={100}
          aria-valuenow={Math.round(share * 100)}
          onKeyDown={(event) => {
            const by = { ArrowLeft: -0.02, ArrowRight: 0.02 }[event.key];
            if (by) {
              event.stopPropagation();
              onChange({ share: Math.min(0.98, Math.max(0.02, share + by)) });
            }
          }}
          onPointerDown={(event) => event.currentTarget.setPointerCapture(event.pointerId)}
          onPointerMove={(event) => {
            const frame = event.currentTarget.parentElement?.parentElement?.getBoundingClientRect();
            if (event.buttons && frame)
              onChange({ share: Math.min(0.98, Math.max(0.02, (event.clientX - frame.left) / frame.width)) });
          }}
          sx={{
            position: "absolute",
            top: 0,
            bottom: 22,
            left: `calc(${share * 100}% - 8px)`,
            width: 16,
            cursor: "col-resize",
            background:
              "linear-gradient(90deg,transparent 6px,#fff 6px,#fff 7px,#1A1A1A 7px,#1A1A1A 9px,#fff 9px,#fff 10px,transparent 10px)",
          }}
        >
          <Box
            sx={{
              position: "absolute",
              top: "50%",
              left: -6,
              width: 28,
              height: 28,
              borderRadius: "50%",
              bgcolor: "#fff",
              border: "2px solid #1A1A1A",
              display: "grid",
              placeItems: "center",
              fontSize: 12,
            }}
          >
            ◂▸
          </Box>
        </Box>
      )}
    </>
  );
}

function Side({ words }: { words: string }) {
  return (
    <Box component="span" sx={{ bgcolor: "rgba(255,255,255,.95)", px: 1, py: 0.5, fontWeight: 700 }}>
      {words}
    </Box>
  );
}
