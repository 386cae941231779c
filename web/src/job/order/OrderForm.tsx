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
import type { Job, Order } from "../../api/client";
import { useQuery } from "@tanstack/react-query";
import { useJobChange } from "../../api/changes";
import { queries } from "../../api/queries";
import { CUTS, lookOf } from "../../ui/roles";
import { typed } from "../../ui/words";

type Edge = "bleed_mm" | "border_mm" | "tolerance_mm";

export function OrderForm({ job, onDone }: { job: Job; onDone: () => void }) {
  const shelf = useQuery(queries.shelf());
  const change = useJobChange(job.id);
  const [order, setOrder] = useState<Order>(job.order);
  const [size, setSize] = useState([String(job.order.width_mm ?? ""), String(job.order.height_mm ?? "")]);
  const [customer, setCustomer] = useState(job.customer);
  const [material, setMaterial] = useState(job.material_id);
  const [destination, setDestination] = useState(job.destination);
  const roles = order.roles ?? [];
  const [edge, setEdge] = useState<Record<Edge, string>>({
    bleed_mm: String(job.order.bleed_mm ?? ""),
    border_mm: String(job.order.border_mm ?? ""),
    tolerance_mm: String(job.order.tolerance_mm ?? ""),
  });
  /** A length that the order may leave open; then what the check sheet wants stands there in grey. */
  const length = (key: Edge, label: string, otherwise: number) => (
    <TextField
      label={label}
      value={edge[key]}
      placeholder={String(otherwise)}
      onChange={(e) => setEdge({ ...edge, [key]: e.target.value })}
      slotProps={{ inputLabel: { shrink: true } }}
      sx={{ minWidth: 110 }}
    />
  );
  return (
    <Stack
      component="form"
      spacing={1.5}
      aria-label="order"
      onSubmit={(event) => {
        event.preventDefault();
        const [width_mm, height_mm] = size.map(typed);
        const lengths = {
          bleed_mm: typed(edge.bleed_mm),
          border_mm: typed(edge.border_mm),
          tolerance_mm: typed(edge.tolerance_mm),
        };
        change.mutate(
          {
            customer,
            material,
            destination,
            order: { ...order, ...lengths, width_mm, height_mm, roles: roles.length ? roles : null },
          },
          { onSuccess: onDone },
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
        <TextField
          label="Width, mm"
          value={size[0]}
          onChange={(e) => setSize([e.target.value, size[1] ?? ""])}
        />
        <TextField
          label="Height, mm"
          value={size[1]}
          onChange={(e) => setSize([size[0] ?? "", e.target.value])}
        />
        <TextField
          label="Quantity"
          value={order.quantity || ""}
          onChange={(e) => setOrder({ ...order, quantity: Number(e.target.value.replace(/\D/g, "")) })}
        />
      </Stack>
      <Stack>
        <Typography variant="body2" color="text.secondary">
          Cuts wanted (none ticked: not said)
        </Typography>
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
                    roles: e.target.checked ? [...roles, role] : roles.filter((r) => r !== role),
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
        {length("bleed_mm", "Bleed, mm", job.edge_wanted.bleed)}
      </Stack>
      <Stack direction="row" spacing={1}>
        {length("border_mm", "Border, mm", job.edge_wanted.border)}
        {length("tolerance_mm", "Cutter within, mm", job.edge_wanted.tolerance)}
      </Stack>
      <Stack direction="row" spacing={1}>
        <TextField
          label="Seen from, m"
          value={order.viewing_distance_m ?? ""}
          onChange={(e) => setOrder({ ...order, viewing_distance_m: typed(e.target.value) })}
        />
        <TextField
          label="Holes a piece"
          value={order.holes ?? ""}
          onChange={(e) => setOrder({ ...order, holes: typed(e.target.value) })}
        />
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
      <TextField select label="Material" value={material} onChange={(e) => setMaterial(e.target.value)}>
        {(shelf.data?.materials ?? []).map((m) => (
          <MenuItem key={m.id} value={m.id}>
            {m.title}
          </MenuItem>
        ))}
      </TextField>
      <TextField
        select
        label="Destination"
        value={destination}
        onChange={(e) => setDestination(e.target.value)}
      >
        {(shelf.data?.destinations ?? []).map((d) => (
          <MenuItem key={d.id} value={d.id}>
            {d.title}
          </MenuItem>
        ))}
      </TextField>
      {change.isError && <Typography color="error">{change.error.message}</Typography>}
      <Button type="submit" variant="contained" disabled={change.isPending}>
        Keep the order and check again
      </Button>
    </Stack>
  );
}
