/** Test cuts on the sheet that lies there: the figure, how deep it went, and what that corrects on the Shelf. */
import { Row } from "../ui/Row";
import { Button, Link, Stack, Typography } from "@mui/material";
import { Failure } from "../help/Failure";
import { useFigure } from "../api/benchChanges";
import { useTestCut } from "../api/shelfChanges";
import type { Bed, Release, TestCut } from "../api/client";
import { RoleSign } from "../stage/RoleLine";
import { lookOf } from "../ui/roles";
import { SEEN_WORDS, seenOf } from "../ui/seen";
import { bench as say } from "../texts/bench";

interface Props {
  made: Release;
  bed: Bed;
  /** Hears of a figure that was cut: it is shown where it stands. */
  onCut: (cut: TestCut) => void;
}

export function TestCuts({ made, bed, onCut }: Props) {
  const roles = bed.roles;
  if (!roles.length) return null;
  return (
    <Stack spacing={1}>
      <Typography variant="h2">{say.testCut}</Typography>
      {roles.map((role) => (
        <Tested key={role} made={made} bed={bed} role={role} onCut={onCut} />
      ))}
    </Stack>
  );
}

function Tested({ made, bed, role, onCut }: Props & { role: TestCut["role"] }) {
  const cut = useFigure(made.id, bed.side);
  const told = useTestCut();
  const found = cut.data;
  const words = lookOf(role).words;
  const cutIt = () => cut.mutate(role, { onSuccess: onCut });
  const correct = (seen: TestCut["seen"]) =>
    found &&
    told.mutate(
      { release: made.id, side: bed.side, role, version: found.version, seen },
      { onSuccess: () => seen !== "right" && cutIt() },
    );
  return (
    <Stack spacing={0.5} data-test-cut={role}>
      <Row spacing={1}>
        <RoleSign role={role} />
        <Button size="small" disabled={cut.isPending} onClick={cutIt}>
          {found ? say.cutTheFigureAgain : say.cutTheFigureOfThe(words)}
        </Button>
        <Link href={`/api/bench/${made.id}/test-cut/${role}?side=${bed.side}`} variant="body2">
          {say.itsFile}
        </Link>
      </Row>
      <Failure of={cut.error} />
      {found && (
        <>
          <Weeded found={found} />
          <Typography variant="body2">
            {found.tool.force_gf === null ? say.theMachinesOwnForce : `${found.tool.force_gf} gf`}:{" "}
            {SEEN_WORDS[found.seen]}
          </Typography>
          {found.own ? (
            <Typography variant="body2" color="text.secondary">
              {say.setForThisJobAlone}
            </Typography>
          ) : (
            <Stack direction="row" useFlexGap spacing={0.5} sx={{ flexWrap: "wrap" }}>
              {seenOf(role).map(([seen, label]) => (
                <Button
                  key={seen}
                  size="small"
                  variant={seen === found.seen ? "contained" : "outlined"}
                  disabled={told.isPending}
                  aria-label={say.theWas(words, label.toLowerCase())}
                  onClick={() => correct(seen)}
                >
                  {label}
                </Button>
              ))}
            </Stack>
          )}
          <Failure of={told.error} />
          {told.isSuccess && (
            <Typography variant="body2" color="text.secondary">
              {say.keptOnTheShelfThis}
            </Typography>
          )}
        </>
      )}
    </Stack>
  );
}

/** The figure after weeding, and the material cut open at it, as deep as the blade went. */
function Weeded({ found }: { found: TestCut }) {
  const whole = found.strata.reduce((sum, one) => sum + one.thickness_um, 0);
  const behind = found.role === "back-cut";
  const [x = 0, y = 0] = found.at;
  const high = 62;
  const depth = (um: number) => (um / whole) * high;
  const strata = found.strata.map((one, i) => ({
    ...one,
    from: found.strata.slice(0, i).reduce((sum, other) => sum + other.thickness_um, 0),
  }));
  return (
    <svg
      width="100%"
      viewBox="0 0 340 78"
      role="img"
      aria-label={say.cutMDeepMAre(found.reached_um.toFixed(0), found.wanted_um.toFixed(0))}
    >
      <g transform={`matrix(7.6 0 0 -7.6 ${8 - x * 7.6} ${69 + y * 7.6})`}>
        <path
          d={found.path}
          fill={found.seen === "too-shallow" ? "#fff" : "#E4DDCF"}
          stroke="#222"
          strokeWidth={1.2}
          strokeDasharray={found.seen === "too-shallow" ? "3 2" : undefined}
          vectorEffect="non-scaling-stroke"
        />
      </g>
      <g transform="translate(150 8)">
        {strata.map((one) => (
          <g key={one.from}>
            <rect
              y={depth(one.from)}
              width={110}
              height={depth(one.thickness_um)}
              fill={one.part === "carrier" ? "#CFC8BC" : one.part === "adhesive" ? "#D6D6D6" : "#fff"}
              stroke="#777"
              strokeWidth={0.6}
            />
            <text x={116} y={depth(one.from + one.thickness_um / 2) + 4} fontSize={11} fill="#333">
              {one.kind}
            </text>
          </g>
        ))}
        <path
          d={`M50 ${behind ? high : 0}L55 ${behind ? high - depth(found.reached_um) : depth(found.reached_um)}L60 ${behind ? high : 0}Z`}
          fill={lookOf(found.role).colour}
        />
      </g>
    </svg>
  );
}
