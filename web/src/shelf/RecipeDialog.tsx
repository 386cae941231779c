/** A recipe that is being written: its name, its steps with their settings, and what it is bound to. */
import { Row } from "../ui/Row";
import {
  Autocomplete,
  Box,
  Button,
  Dialog,
  DialogActions,
  DialogContent,
  DialogTitle,
  Stack,
  TextField,
  Typography,
} from "@mui/material";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { Failure } from "../help/Failure";
import { useSaveRecipe } from "../api/shelfChanges";
import type { Mend, MendKnown } from "../api/client";
import { queries } from "../api/queries";
import { SettingFields, sound } from "../job/mending/SettingFields";
import { common } from "../texts/common";
import { shelf as say } from "../texts/shelf";

export interface RecipeStart {
  name: string;
  steps: Pick<Mend, "kind" | "settings">[];
  customers?: string[];
  destinations?: string[];
  findings?: string[];
  materials?: string[];
}

interface Binding {
  customers: string[];
  destinations: string[];
  findings: string[];
  materials: string[];
}

type Step = Pick<Mend, "kind" | "settings"> & { key: number };

export function RecipeDialog({ start, onClose }: { start: RecipeStart; onClose: () => void }) {
  const shelf = useQuery(queries.recipes());
  const save = useSaveRecipe();
  const [name, setName] = useState(start.name);
  const [note, setNote] = useState("");
  const [bound, setBound] = useState<Binding>({
    customers: start.customers ?? [],
    destinations: start.destinations ?? [],
    findings: start.findings ?? [],
    materials: start.materials ?? [],
  });
  const [steps, setSteps] = useState<Step[]>(() =>
    start.steps.map(({ kind, settings }, key) => ({ kind, settings, key })),
  );
  const [next, setNext] = useState(start.steps.length);
  const mends = shelf.data?.mends ?? [];
  const known = (kind: string) => mends.find((one) => one.id === kind);
  const right =
    name.trim().length > 0 &&
    steps.length > 0 &&
    steps.every((step) => {
      const mend = known(step.kind);
      return !mend || sound(mend, step.settings);
    });
  const checks = [...new Set(mends.flatMap((one) => one.answers))].sort();
  const version = shelf.data?.recipes.find((one) => one.name === name.trim())?.version;
  return (
    <Dialog open onClose={onClose} maxWidth="md" fullWidth aria-labelledby="recipe">
      <DialogTitle id="recipe">{say.recipe}</DialogTitle>
      <DialogContent>
        <Stack spacing={1.5} sx={{ pt: 1 }}>
          <Stack direction="row" spacing={1}>
            <TextField
              label={say.name}
              value={name}
              onChange={(e) => setName(e.target.value)}
              fullWidth
              autoFocus
              helperText={version ? say.thereIsOneOfThis(version + 1) : " "}
            />
            <TextField
              label={say.whatWasChangedAndWhy}
              value={note}
              onChange={(e) => setNote(e.target.value)}
              fullWidth
            />
          </Stack>
          <Typography variant="body2" color="text.secondary">
            {say.offeredOnJobsWhereAll}
          </Typography>
          <BoundTo checks={checks} bound={bound} onBound={setBound} />
          <Typography variant="h2">{say.steps}</Typography>
          {!steps.length && <Typography variant="body2">{say.noneYetAddTheFirst}</Typography>}
          <Steps steps={steps} known={known} onSteps={setSteps} />
          <Autocomplete
            key={next}
            size="small"
            options={[...mends].sort((a, b) => a.title.localeCompare(b.title))}
            getOptionLabel={(one) => one.title}
            onChange={(_, one) => {
              if (!one) return;
              setSteps([...steps, { kind: one.id, settings: {}, key: next }]);
              setNext(next + 1);
            }}
            sx={{ width: 300 }}
            renderInput={(field) => <TextField {...field} label={say.addAStep} />}
          />
          <Failure of={save.error} />
          {shelf.data && !shelf.data.may_edit && (
            <Typography color="error">{say.youMayNotChangeThe}</Typography>
          )}
        </Stack>
      </DialogContent>
      <DialogActions>
        <Button onClick={onClose}>{common.leaveIt}</Button>
        <Button
          variant="contained"
          disabled={!right || save.isPending || !shelf.data?.may_edit}
          onClick={() =>
            save.mutate(
              {
                name: name.trim(),
                note,
                ...bound,
                steps: steps.map(({ kind, settings }) => ({ kind, settings })),
              },
              { onSuccess: onClose },
            )
          }
        >
          {say.keepItOnTheShelf}
        </Button>
      </DialogActions>
    </Dialog>
  );
}

interface StepsProps {
  steps: Step[];
  known: (kind: string) => MendKnown | undefined;
  onSteps: (steps: Step[]) => void;
}

/** The steps, one after the other, each with its settings. */
function Steps({ steps, known, onSteps }: StepsProps) {
  const move = (at: number, by: number) => {
    const out = [...steps];
    const [taken] = out.splice(at, 1);
    if (taken) out.splice(at + by, 0, taken);
    onSteps(out);
  };
  return (
    <Stack component="ol" spacing={1} sx={{ listStyle: "none", p: 0, m: 0 }} aria-label={say.stepsLabel}>
      {steps.map((step, i) => (
        <Box component="li" key={step.key} sx={{ bgcolor: "#F4F4F4", p: 1 }}>
          <Row>
            <Typography sx={{ fontWeight: 700, flex: 1 }}>
              {i + 1}. {known(step.kind)?.title ?? step.kind}
            </Typography>
            <Button disabled={i === 0} onClick={() => move(i, -1)} aria-label={say.stepEarlier(i + 1)}>
              {say.earlier}
            </Button>
            <Button
              disabled={i === steps.length - 1}
              onClick={() => move(i, 1)}
              aria-label={say.stepLater(i + 1)}
            >
              {say.later}
            </Button>
            <Button
              onClick={() => onSteps(steps.filter((one) => one.key !== step.key))}
              aria-label={say.takeStepOut(i + 1)}
            >
              {say.takeOut2}
            </Button>
          </Row>
          <Fields
            known={known(step.kind)}
            step={step}
            onChange={(settings) =>
              onSteps(steps.map((one) => (one.key === step.key ? { ...one, settings } : one)))
            }
          />
        </Box>
      ))}
    </Stack>
  );
}

/** What a recipe is bound to: it is offered where all of it fits. */
function BoundTo(props: { checks: string[]; bound: Binding; onBound: (bound: Binding) => void }) {
  const { checks, bound, onBound } = props;
  const things = useQuery(queries.shelf());
  const customers = useQuery(queries.customers());
  return (
    <>
      <Bound
        label={say.customers}
        options={customers.data ?? []}
        value={bound.customers}
        onChange={(customers) => onBound({ ...bound, customers })}
      />
      <Bound
        label={say.destinations}
        options={(things.data?.destinations ?? []).map((one) => one.id)}
        value={bound.destinations}
        onChange={(destinations) => onBound({ ...bound, destinations })}
      />
      <Bound
        label={say.materials}
        options={(things.data?.materials ?? []).map((one) => one.id)}
        value={bound.materials}
        onChange={(materials) => onBound({ ...bound, materials })}
      />
      <Bound
        label={say.kindsOfFindings}
        options={checks}
        value={bound.findings}
        onChange={(findings) => onBound({ ...bound, findings })}
      />
    </>
  );
}

function Fields({
  known,
  step,
  onChange,
}: {
  known: MendKnown | undefined;
  step: Step;
  onChange: (settings: Mend["settings"]) => void;
}) {
  if (!known?.settings.length) return null;
  return (
    <>
      <SettingFields known={known} settings={step.settings} onChange={onChange} />
      {!sound(known, step.settings) && (
        <Typography variant="body2" color="error">
          {say.somethingIsMissingOrOut}
        </Typography>
      )}
    </>
  );
}

function Bound({
  label,
  options,
  value,
  onChange,
}: {
  label: string;
  options: string[];
  value: string[];
  onChange: (next: string[]) => void;
}) {
  return (
    <Autocomplete
      multiple
      size="small"
      options={options}
      value={value}
      onChange={(_, next) => onChange(next)}
      renderInput={(field) => <TextField {...field} label={label} />}
    />
  );
}
