/** The order as typed: size, quantity, cuts, edge; and where it goes. */
import {
  Alert,
  Button,
  Checkbox,
  FormControlLabel,
  MenuItem,
  Stack,
  TextField,
  Typography,
} from "@mui/material";
import { useState } from "react";
import type { Job, JobChange, Order } from "../../api/client";
import { useQuery } from "@tanstack/react-query";
import { useJobChange } from "../../api/changes";
import { queries } from "../../api/queries";
import { MaterialField } from "./MaterialField";
import { CUTS, lookOf } from "../../ui/roles";
import { typed } from "../../ui/words";

const NUMBERS = {
  width_mm: "Width, mm",
  height_mm: "Height, mm",
  quantity: "Quantity",
  bleed_mm: "Bleed, mm",
  border_mm: "Border, mm",
  tolerance_mm: "Cutter within, mm",
  viewing_distance_m: "Seen from, m",
  holes: "Holes a piece",
} as const;
type Field = keyof typeof NUMBERS;
const FIELDS = Object.keys(NUMBERS) as Field[];

/** What stands in the fields, as typed; what is no number stays there and is said to be none. */
const asTexts = (order: Order) =>
  Object.fromEntries(FIELDS.map((field) => [field, String(order[field] ?? "")])) as Record<Field, string>;
/** That no cut is ticked any more says nothing; only print only says that there is none. */
const ticked = (roles: Order["roles"]) => (roles?.length ? roles : null);
const isNone = (text: string) => Number.isNaN(typed(text));

export function OrderForm({ job, onDone }: { job: Job; onDone: () => void }) {
  const shelf = useQuery(queries.shelf());
  const change = useJobChange(job.id);
  const [order, setOrder] = useState<Order>(job.order);
  const [texts, setTexts] = useState(asTexts(job.order));
  const [customer, setCustomer] = useState(job.customer);
  const [material, setMaterial] = useState(job.material_id);
  const [destination, setDestination] = useState(job.destination);
  /** The job as the fields were filled from it; once somebody's change was told of, as it is now. */
  const [opened, setOpened] = useState<number | undefined>(job.version);
  const roles = order.roles ?? [];
  const printOnly = order.roles?.length === 0;
  const wrong = FIELDS.filter((field) => isNone(texts[field]));
  /** A figure that the order may leave open; what is wanted otherwise then stands there in grey. */
  const number = (field: Field, otherwise?: number) => (
    <TextField
      label={NUMBERS[field]}
      value={texts[field]}
      error={isNone(texts[field])}
      placeholder={otherwise === undefined ? undefined : String(otherwise)}
      onChange={(e) => setTexts({ ...texts, [field]: e.target.value })}
      slotProps={otherwise === undefined ? {} : { inputLabel: { shrink: true } }}
      sx={{ minWidth: 96 }}
    />
  );
  return (
    <Stack
      component="form"
      spacing={1.5}
      aria-label="order"
      onSubmit={(event) => {
        event.preventDefault();
        if (wrong.length) return;
        const numbers = Object.fromEntries(FIELDS.map((field) => [field, typed(texts[field])]));
        const quantity = typed(texts.quantity) ?? 0;
        change.mutate(
          {
            customer,
            material,
            destination,
            order: {
              ...order,
              ...numbers,
              quantity,
              roles: roles.length ? roles : printOnly ? [] : null,
            } as JobChange["order"],
            version: opened,
          },
          { onSuccess: onDone, onError: () => setOpened(undefined) },
        );
      }}
    >
      {job.intake.order_warnings.map((words) => (
        <Alert key={words} severity="warning">
          {words}
        </Alert>
      ))}
      {job.intake.order_said.length > 0 && (
        <Typography variant="body2" color="text.secondary">
          {job.intake.order_said.join(" ")}
        </Typography>
      )}
      <TextField label="Customer" value={customer} onChange={(e) => setCustomer(e.target.value)} />
      <Stack direction="row" spacing={1}>
        {number("width_mm")}
        {number("height_mm")}
        {number("quantity")}
      </Stack>
      <Stack>
        <Typography variant="body2" color="text.secondary">
          Cuts wanted (none ticked: not said)
        </Typography>
        <FormControlLabel
          sx={{ height: 28 }}
          label="none: print only"
          control={
            <Checkbox
              size="small"
              checked={printOnly}
              onChange={(e) => setOrder({ ...order, roles: e.target.checked ? [] : null })}
            />
          }
        />
        {CUTS.map((role) => (
          <FormControlLabel
            key={role}
            sx={{ height: 28 }}
            label={lookOf(role).words}
            control={
              <Checkbox
                size="small"
                checked={roles.includes(role)}
                onChange={(e) =>
                  setOrder({
                    ...order,
                    roles: ticked(e.target.checked ? [...roles, role] : roles.filter((r) => r !== role)),
                  })
                }
              />
            }
          />
        ))}
      </Stack>
      <Stack direction="row" spacing={1}>
        <TextField
          select
          fullWidth
          label="Edge"
          value={order.edge}
          onChange={(e) => setOrder({ ...order, edge: e.target.value })}
        >
          <MenuItem value="bleed">colour over the cut</MenuItem>
          <MenuItem value="border">blank border</MenuItem>
          <MenuItem value="either">either</MenuItem>
        </TextField>
        {number("bleed_mm", job.edge_wanted.bleed)}
      </Stack>
      <Stack direction="row" spacing={1}>
        {number("border_mm", job.edge_wanted.border)}
        {number("tolerance_mm", job.edge_wanted.tolerance)}
      </Stack>
      <Stack direction="row" spacing={1}>
        {number("viewing_distance_m")}
        {number("holes")}
        <TextField
          select
          label="White ink"
          value={order.white === null || order.white === undefined ? "material" : order.white ? "yes" : "no"}
          sx={{ minWidth: 120 }}
          onChange={(e) =>
            setOrder({ ...order, white: e.target.value === "material" ? null : e.target.value === "yes" })
          }
        >
          <MenuItem value="material">as the material needs</MenuItem>
          <MenuItem value="yes">yes</MenuItem>
          <MenuItem value="no">no</MenuItem>
        </TextField>
      </Stack>
      <MaterialField value={material} onChange={setMaterial} />
      <TextField
        select
        label="Destination"
        value={shelf.data ? destination : ""}
        onChange={(e) => setDestination(e.target.value)}
      >
        {(shelf.data?.destinations ?? []).map((d) => (
          <MenuItem key={d.id} value={d.id}>
            {d.title}
          </MenuItem>
        ))}
      </TextField>
      {wrong.map((field) => (
        <Typography key={field} color="error" role="alert">
          {NUMBERS[field]}: “{texts[field]}” is not a number.
        </Typography>
      ))}
      {change.isError && <Typography color="error">{change.error.message}</Typography>}
      <Button type="submit" variant="contained" disabled={change.isPending || wrong.length > 0}>
        Keep the order and check again
      </Button>
    </Stack>
  );
}
