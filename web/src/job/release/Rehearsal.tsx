/** The rehearsal: a job printed, loaded and cut so many times before a metre is spent; a figure, and the worst piece. */
import { Failure } from "../../help/Failure";
import { Alert, Box, Button, Stack, Typography } from "@mui/material";
import type { Job } from "../../api/client";
import { useRehearse } from "../../api/changes";
import { useBusy } from "../../api/progress";
import { Figure } from "../../ui/Docket";
import { mm } from "../../ui/words";
import { release as say } from "../../texts/release";

export const LOADS = 200;
type Found = NonNullable<Job["rehearsal"]>;

interface Props {
  found: Found | null;
  /** Whether there is a sheet that is cut, and nothing runs. */
  can: boolean;
  /** Why the shop makes a stop of what was found; empty where it does not. */
  stop: string;
  /** Where the print of the worst piece is. */
  picture: string;
  onRehearse: () => void;
  failed?: Error | null;
}

export function Rehearsal({ found, can, stop, picture, onRehearse, failed }: Props) {
  return (
    <Stack spacing={0.5} data-testid="rehearsal">
      <Typography variant="h2">{say.rehearsal}</Typography>
      {found ? (
        <Outcome found={found} stop={stop} picture={picture} />
      ) : (
        <Typography variant="body2" color="text.secondary">
          {say.printsLoadsAndCutsIt(LOADS)}
        </Typography>
      )}
      <Button variant="outlined" disabled={!can} onClick={onRehearse} sx={{ alignSelf: "flex-start" }}>
        {found ? say.rehearseLoadsAgain(LOADS) : say.rehearseLoads(LOADS)}
      </Button>
      <Failure of={failed} />
    </Stack>
  );
}

export function JobRehearsal({ job }: { job: Job }) {
  const rehearse = useRehearse(job.id);
  const busy = useBusy(job);
  const { sheet } = job;
  const cut = !!sheet && !sheet.error && sheet.makes !== "print" && !!job.cut?.operations.length;
  const card = job.findings.find((finding) => finding.id === "edge.rehearsed");
  return (
    <Rehearsal
      found={job.rehearsal}
      can={cut && !busy && !rehearse.isPending}
      stop={card?.severity === "stop" && !card.decision ? card.message : ""}
      picture={`/api/jobs/${job.id}/rehearsal/worst`}
      onRehearse={() => rehearse.mutate(undefined)}
      failed={rehearse.error}
    />
  );
}

function Outcome({ found, stop, picture }: Pick<Props, "stop" | "picture"> & { found: Found }) {
  const spoilt = found.bare + found.trimmed + found.loose + found.broken;
  const kinds: [string, number][] = [
    [say.withBareMediaAtThe, found.bare],
    [say.withArtTrimmed, found.trimmed],
    [say.cutIntoWhenAlreadyLoose, found.loose],
    [say.outOfTheirTiesToo, found.broken],
  ];
  return (
    <>
      <Typography sx={{ fontSize: 22, fontWeight: 700 }}>
        {spoilt === 0 ? say.noPieceSpoilt : say.ofPiecesSpoilt(spoilt, found.pieces)}
        {spoilt > 0 && ` (${found.percent} %)`}
        {found.missed > 0 && say.ofLoadsStopAtA(found.missed, found.loads)}
      </Typography>
      {stop && <Alert severity="error">{say.theShopDoesNotRelease(stop)}</Alert>}
      {kinds.map(
        ([words, count]) =>
          count > 0 && (
            <Figure key={words} words={words}>
              {count}
            </Figure>
          ),
      )}
      {found.pieces > 0 && (
        <>
          <Figure words={say.of100Pieces95Are}>{mm(found.p95_mm, 2)}</Figure>
          <Figure words={say.theWorstLiesOffBy}>{say.inLoad(mm(found.worst_mm, 2), found.worst_load)}</Figure>
        </>
      )}
      {found.worst && <Worst picture={picture} worst={found.worst} />}
      <Typography variant="body2" color="text.secondary">
        {say.pieceCutInLoad(found.pieces, found.loads - found.missed)}
      </Typography>
    </>
  );
}

/** A path through places along several contours: it is broken where it would go from one to another. */
export function partedPath(places: number[][]): string {
  let last = 0;
  return places
    .map(([x = 0, y = 0], i) => {
      const [px = x, py = y] = places[i - 1] ?? [];
      const step = Math.hypot(x - px, y - py);
      const parts = i === 0 || (step > 3 && step > 4 * last);
      if (!parts) last = step;
      return `${parts ? "M" : "L"}${x} ${y}`;
    })
    .join("");
}

/** The worst piece: its print, and over it the cut where it landed. */
function Worst({ picture, worst }: { picture: string; worst: NonNullable<Found["worst"]> }) {
  const [x0 = 0, y0 = 0, x1 = 1, y1 = 1] = worst.box;
  const [wide, high] = [x1 - x0, y1 - y0];
  const line = partedPath(worst.landed);
  return (
    <Box>
      <svg
        viewBox={`0 0 ${wide} ${high}`}
        width="100%"
        style={{ maxHeight: 300, background: "#E6E6E6" }}
        role="img"
        aria-label={say.theWorstPieceCopyAnd(worst.copy)}
      >
        {worst.sha256 && (
          <image
            href={`${picture}?of=${worst.sha256.slice(0, 12)}`}
            width={wide}
            height={high}
            preserveAspectRatio="none"
          />
        )}
        <g transform={`matrix(1 0 0 -1 ${-x0} ${y1})`} fill="none">
          <path d={line} stroke="#fff" strokeWidth={4} vectorEffect="non-scaling-stroke" />
          <path d={line} stroke="#222" strokeWidth={1.5} vectorEffect="non-scaling-stroke" />
        </g>
      </svg>
      <Typography variant="body2" color="text.secondary">
        {say.theWorstPieceCopyWith(worst.copy)}
      </Typography>
    </Box>
  );
}
