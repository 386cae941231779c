/** What an order wants: which cuts a piece has, how its edge is, whether there is white below it. */
import { Checkbox, FormControlLabel, MenuItem, Stack, TextField, Typography } from "@mui/material";
import type { Order } from "../../api/client";
import { CUTS, lookOf, type Role } from "../../ui/roles";

/** That no cut is ticked any more says nothing; only print only says that there is none. */
const ticked = (roles: Role[]) => (roles.length ? roles : null);

export function CutsWanted(props: { roles: Role[] | null; onRoles: (roles: Role[] | null) => void }) {
  const { roles, onRoles } = props;
  const chosen = roles ?? [];
  return (
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
            checked={roles?.length === 0}
            onChange={(e) => onRoles(e.target.checked ? [] : null)}
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
              checked={chosen.includes(role)}
              onChange={(e) =>
                onRoles(ticked(e.target.checked ? [...chosen, role] : chosen.filter((r) => r !== role)))
              }
            />
          }
        />
      ))}
    </Stack>
  );
}

export function EdgeWanted(props: { value: Order["edge"]; onChange: (edge: Order["edge"]) => void }) {
  return (
    <TextField
      select
      fullWidth
      label="Edge"
      value={props.value}
      onChange={(e) => props.onChange(e.target.value as Order["edge"])}
    >
      <MenuItem value="bleed">colour over the cut</MenuItem>
      <MenuItem value="border">blank border</MenuItem>
      <MenuItem value="either">either</MenuItem>
    </TextField>
  );
}

export function WhiteInk(props: { value: boolean | null; onChange: (white: boolean | null) => void }) {
  return (
    <TextField
      select
      label="White ink"
      value={props.value === null ? "material" : props.value ? "yes" : "no"}
      sx={{ minWidth: 120 }}
      onChange={(e) => props.onChange(e.target.value === "material" ? null : e.target.value === "yes")}
    >
      <MenuItem value="material">as the material needs</MenuItem>
      <MenuItem value="yes">yes</MenuItem>
      <MenuItem value="no">no</MenuItem>
    </TextField>
  );
}
