/** The order as typed: size, quantity, cuts, edge; and where it goes. */
import { Alert, Button, Stack, TextField, Typography } from "@mui/material";
import { useState } from "react";
import { Failure } from "../../help/Failure";
import type { Job, JobChange, Order } from "../../api/client";
import { useJobChange } from "../../api/changes";
import { CutsWanted, EdgeWanted, LaminateWanted, WhiteInk } from "./Wanted";
import { DestinationField } from "./DestinationField";
import { MaterialField } from "./MaterialField";
import { CountField, LengthField } from "../../ui/LengthField";
import { order as say } from "../../texts/order";

const LENGTHS = {
  width_mm: say.width,
  height_mm: say.height,
  bleed_mm: say.bleed,
  border_mm: say.border,
  tolerance_mm: say.cutterWithin,
} as const;
const COUNTS = { quantity: say.quantity, holes: say.holesAPiece } as const;
type Length = keyof typeof LENGTHS;
type Field = Length | keyof typeof COUNTS | "viewing_distance_m";
const FIELDS = [...Object.keys(LENGTHS), ...Object.keys(COUNTS), "viewing_distance_m"] as Field[];

/** What the fields hold; not a number where what was typed is none. */
const asFigures = (order: Order) =>
  Object.fromEntries(FIELDS.map((field) => [field, order[field] ?? null])) as Record<Field, number | null>;
export function OrderForm({ job, onDone }: { job: Job; onDone: () => void }) {
  const change = useJobChange(job.id);
  const [order, setOrder] = useState<Order>(job.order);
  const [figures, setFigures] = useState(asFigures(job.order));
  const [customer, setCustomer] = useState(job.customer);
  const [material, setMaterial] = useState(job.material_id);
  const [destination, setDestination] = useState(job.destination);
  /** The job as the fields were filled from it; once somebody's change was told of, as it is now. */
  const [opened, setOpened] = useState<number | undefined>(job.version);
  const wrong = FIELDS.some((field) => Number.isNaN(figures[field]));
  const hears = (field: Field) => ({
    value: figures[field],
    onChange: (figure: number | null) => setFigures({ ...figures, [field]: figure }),
    sx: { minWidth: 96 },
  });
  /** A length that the order may leave open; what is wanted otherwise then stands there in grey. */
  const length = (field: Length, otherwise?: number) => (
    <LengthField label={LENGTHS[field]} shippedMm={otherwise} {...hears(field)} />
  );
  const count = (field: keyof typeof COUNTS) => <CountField label={COUNTS[field]} whole {...hears(field)} />;
  return (
    <Stack
      component="form"
      spacing={1.5}
      aria-label={say.orderLabel}
      onSubmit={(event) => {
        event.preventDefault();
        if (wrong) return;
        change.mutate(
          {
            customer,
            material,
            destination,
            order: {
              ...order,
              ...figures,
              quantity: figures.quantity ?? 0,
              roles: order.roles ?? null,
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
      <TextField label={say.customer} value={customer} onChange={(e) => setCustomer(e.target.value)} />
      <Stack direction="row" spacing={1}>
        {length("width_mm")}
        {length("height_mm")}
        {count("quantity")}
      </Stack>
      <CutsWanted roles={order.roles ?? null} onRoles={(next) => setOrder({ ...order, roles: next })} />
      <Stack direction="row" spacing={1}>
        <EdgeWanted value={order.edge} onChange={(edge) => setOrder({ ...order, edge })} />
        {length("bleed_mm", job.edge_wanted.bleed)}
      </Stack>
      <Stack direction="row" spacing={1}>
        {length("border_mm", job.edge_wanted.border)}
        {length("tolerance_mm", job.edge_wanted.tolerance)}
      </Stack>
      <Stack direction="row" spacing={1}>
        <LengthField
          label={say.seenFrom}
          unit="m"
          value={figures.viewing_distance_m === null ? null : 1000 * figures.viewing_distance_m}
          onChange={(mm) => setFigures({ ...figures, viewing_distance_m: mm === null ? null : mm / 1000 })}
          sx={{ minWidth: 96 }}
        />
        {count("holes")}
        <WhiteInk value={order.white ?? null} onChange={(white) => setOrder({ ...order, white })} />
      </Stack>
      <MaterialField value={material} onChange={setMaterial} />
      <LaminateWanted
        value={order.laminate ?? null}
        onChange={(laminate) => setOrder({ ...order, laminate })}
      />
      <DestinationField value={destination} onChange={setDestination} />
      <Failure of={change.error} />
      <Button type="submit" variant="contained" disabled={change.isPending || wrong}>
        {say.keepTheOrderAndCheck}
      </Button>
    </Stack>
  );
}
