/** What is always done to a customer's files, what may be from now on, and what their layers and colours are. */
import { Button, Stack, Typography } from "@mui/material";
import { Link } from "react-router";
import type { Customer } from "../api/client";
import { useMay } from "../api/may";
import { useDropHabit, useLearn } from "../api/pileChanges";
import { Failure } from "../help/Failure";
import { Row, Spacer } from "../ui/Row";
import { customers as say } from "../texts/customers";

const labels = (mends: { label: string }[]) => mends.map((mend) => mend.label).join(", ");

export function Habits({ of }: { of: Customer }) {
  const drop = useDropHabit(of.name);
  const learn = useLearn(of.name);
  const may = useMay("edit-shelf");
  return (
    <Stack component="section" aria-label={say.habits} spacing={0.5}>
      <Typography variant="h2">{say.habits}</Typography>
      {of.habits.length === 0 && !of.learnt && <Typography variant="body2">{say.noHabits}</Typography>}
      {of.habits.map((one) => (
        <Row key={one.id} spacing={1}>
          <Typography variant="body2" sx={{ overflowWrap: "anywhere" }}>
            <Link to={`/shelf/${one.kind}/${one.id}`}>{one.title}</Link>
            {one.mends.length > 0 && `: ${labels(one.mends)}`}
          </Typography>
          <Spacer />
          {may && (
            <Button
              disabled={drop.isPending}
              aria-label={say.dropIt(one.title)}
              onClick={() => drop.mutate({ thing: one.id })}
            >
              {say.drop}
            </Button>
          )}
        </Row>
      ))}
      {of.learnt && (
        <Row spacing={1} data-testid="learnt">
          <Typography variant="body2">
            {say.alwaysFrom(labels(of.learnt.mends), of.learnt.jobs.join(", "))}
          </Typography>
          <Spacer />
          {may && (
            <>
              <Button variant="outlined" disabled={learn.isPending} onClick={() => learn.mutate(true)}>
                {say.always}
              </Button>
              <Button disabled={learn.isPending} onClick={() => learn.mutate(false)}>
                {say.never}
              </Button>
            </>
          )}
        </Row>
      )}
      {of.declined.length > 0 && (
        <Row spacing={1}>
          <Typography variant="body2" color="text.secondary">
            {say.declined(labels(of.declined))}
          </Typography>
          <Spacer />
          {may && (
            <Button disabled={drop.isPending} onClick={() => drop.mutate({ declined: true })}>
              {say.offerAgain}
            </Button>
          )}
        </Row>
      )}
      <Failure of={drop.error ?? learn.error} />
    </Stack>
  );
}

export function Bound({ of }: { of: Customer }) {
  const drop = useDropHabit(of.name);
  const may = useMay("edit-shelf");
  return (
    <Stack component="section" aria-label={say.bound} spacing={0.5}>
      <Typography variant="h2">{say.bound}</Typography>
      {of.bound.length === 0 && <Typography variant="body2">{say.nothingBound}</Typography>}
      {of.bound.map((one) => (
        <Row key={one.key + String(one.in_pdf)} spacing={1}>
          <Typography variant="mono" sx={{ overflowWrap: "anywhere" }}>
            {one.key}
          </Typography>
          <Typography variant="body2">
            {one.is_.replace("-", " ")} · {one.in_pdf ? say.inPdfs : say.inDrawings}
          </Typography>
          <Spacer />
          {may && (
            <Button
              disabled={drop.isPending}
              aria-label={say.dropIt(one.key)}
              onClick={() => drop.mutate({ key: one.key })}
            >
              {say.drop}
            </Button>
          )}
        </Row>
      ))}
      <Failure of={drop.error} />
    </Stack>
  );
}
