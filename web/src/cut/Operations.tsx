/** The operations in the order of cutting: moved up and down, switched on and off, each with its tool. */
import { Row } from "../ui/Row";
import { Box, Button, IconButton, Switch, Typography } from "@mui/material";
import type { Job, Tool } from "../api/client";
import { useJobChange } from "../api/changes";
import { RoleSign } from "../stage/RoleLine";
import { lookOf } from "../ui/roles";
import { metres, minutes } from "../ui/words";
import { ToolForm, toolWords } from "./ToolForm";
import { cut as say } from "../texts/cut";

type Cut = NonNullable<Job["cut"]>;
type Role = Cut["roles"][number];

/** A list with one of its members moved by a place. */
export function movedBy(roles: readonly Role[], role: Role, by: 1 | -1): Role[] {
  const from = roles.indexOf(role);
  const to = from + by;
  if (from < 0 || to < 0 || to >= roles.length) return [...roles];
  const out = roles.filter((one) => one !== role);
  out.splice(to, 0, role);
  return out;
}

/** What of a tool is the aligning figure's own. */
const figure = ({ number, force_gf, speed_mm_s, passes }: Tool) => ({ number, force_gf, speed_mm_s, passes });

/** What happens before an operation: a person does something, or the machine takes another tool by itself. */
export const pauseWords = (pause: Cut["pauses"][number], tool: number) =>
  pause.words ? say.pause(pause.words) : say.theMachineTakesToolBy(tool);

export function Operations({ job, cut }: { job: Job; cut: Cut }) {
  const change = useJobChange(job.id);
  const on = cut.roles.filter((role) => cut.operations.some((op) => op.role === role && !op.aligning));
  const off = cut.roles.filter((role) => !on.includes(role));
  return (
    <>
      {cut.operations.map((operation, i) => {
        const { role } = operation;
        const pause = cut.pauses.find((one) => one.before === i);
        return (
          <Box key={i} data-operation={operation.aligning ? "aligning" : role}>
            {pause && (
              <Typography
                variant="body2"
                data-pause={i}
                sx={{ mb: 1, pl: 1, borderLeft: pause.words ? "4px double #5A5A5A" : "4px solid #D0D0D0" }}
              >
                {pauseWords(pause, operation.tool.number)} ({minutes(pause.time_s)})
              </Typography>
            )}
            <Row spacing={1}>
              <Typography variant="subtitle1">{i + 1}.</Typography>
              <RoleSign role={role} />
              <Typography sx={{ fontWeight: 700, flex: 1 }}>
                {operation.aligning ? say.aligningFigure : lookOf(role).words}
              </Typography>
              <Typography variant="body2">{minutes(operation.time_s)}</Typography>
              {!operation.aligning && (
                <>
                  <IconButton
                    size="small"
                    aria-label={say.cutTheEarlier(lookOf(role).words)}
                    disabled={on.indexOf(role) === 0 || operation.mirrored}
                    onClick={() => change.mutate({ cut_order: movedBy(on, role, -1) })}
                  >
                    ↑
                  </IconButton>
                  <IconButton
                    size="small"
                    aria-label={say.cutTheLater(lookOf(role).words)}
                    disabled={on.indexOf(role) === on.length - 1 || operation.mirrored}
                    onClick={() => change.mutate({ cut_order: movedBy(on, role, 1) })}
                  >
                    ↓
                  </IconButton>
                  <Switch
                    size="small"
                    checked
                    slotProps={{ input: { "aria-label": say.cutThe(lookOf(role).words) } }}
                    onChange={() => change.mutate({ cut_only: on.filter((one) => one !== role) })}
                  />
                </>
              )}
            </Row>
            <Typography variant="body2" color="text.secondary">
              {toolWords(operation.tool)}
              {operation.mirrored ? say.fromBehindOnTheSheet : ""}
              {operation.aligning ? say.rightThroughSoThatIt : ""}
            </Typography>
            <Typography variant="body2" color="text.secondary">
              {say.contourCutTravel(
                operation.contours,
                metres(operation.cut_mm),
                metres(operation.travel_mm),
              )}
            </Typography>
            {job.own_tools.includes(role) && !operation.aligning && (
              <Typography variant="body2">{say.setForThisJobAlone}</Typography>
            )}
            <ToolForm
              key={JSON.stringify(operation.tool)}
              tool={operation.tool}
              failed={change.error}
              only={operation.aligning ? ["number", "force_gf", "speed_mm_s", "passes"] : undefined}
              onKeep={(tool) =>
                change.mutate(operation.aligning ? { aligning: figure(tool) } : { tools: [tool] })
              }
            />
          </Box>
        );
      })}
      {off.map((role) => (
        <Row key={role} spacing={1} data-off={role}>
          <RoleSign role={role} />
          <Typography sx={{ flex: 1 }} color="text.secondary">
            {say.notCut(lookOf(role).words)}
          </Typography>
          <Switch
            size="small"
            checked={false}
            slotProps={{ input: { "aria-label": say.cutThe(lookOf(role).words) } }}
            onChange={() => change.mutate({ cut_only: off.length === 1 ? null : [...on, role] })}
          />
        </Row>
      ))}
      {cut.said.length > 0 && (
        <Button size="small" onClick={() => change.mutate({ cut_order: [] })}>
          {say.cutInTheUsualOrder}
        </Button>
      )}
    </>
  );
}
