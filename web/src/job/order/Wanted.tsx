/** What an order wants: which cuts a piece has, how its edge is, whether there is white below it. */
import { Checkbox, FormControlLabel, MenuItem, Stack, TextField, Typography } from "@mui/material";
import type { Order } from "../../api/client";
import { CUTS, lookOf, type Role } from "../../ui/roles";
import { order as say } from "../../texts/order";

/** That no cut is ticked any more says nothing; only print only says that there is none. */
const ticked = (roles: Role[]) => (roles.length ? roles : null);

export function CutsWanted(props: { roles: Role[] | null; onRoles: (roles: Role[] | null) => void }) {
  const { roles, onRoles } = props;
  const chosen = roles ?? [];
  return (
    <Stack>
      <Typography variant="body2" color="text.secondary">
        {say.cutsWantedNoneTickedNot}
      </Typography>
      <FormControlLabel
        sx={{ height: 28 }}
        label={say.nonePrintOnly}
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
      label={say.edge}
      value={props.value}
      onChange={(e) => props.onChange(e.target.value as Order["edge"])}
    >
      <MenuItem value="bleed">{say.colourOverTheCut}</MenuItem>
      <MenuItem value="border">{say.blankBorder}</MenuItem>
      <MenuItem value="either">{say.either}</MenuItem>
    </TextField>
  );
}

type Laminate = "matt" | "glossy";

export function LaminateWanted(props: {
  value: Laminate | null;
  onChange: (laminate: Laminate | null) => void;
}) {
  return (
    <TextField
      select
      label={say.laminate}
      value={props.value ?? "none"}
      onChange={(e) => props.onChange(e.target.value === "none" ? null : (e.target.value as Laminate))}
    >
      <MenuItem value="none">{say.noLaminate}</MenuItem>
      <MenuItem value="matt">{say.mattLaminate}</MenuItem>
      <MenuItem value="glossy">{say.glossyLaminate}</MenuItem>
    </TextField>
  );
}

export function WhiteInk(props: { value: boolean | null; onChange: (white: boolean | null) => void }) {
  return (
    <TextField
      select
      label={say.whiteInk}
      value={props.value === null ? "material" : props.value ? "yes" : "no"}
      sx={{ minWidth: 120 }}
      onChange={(e) => props.onChange(e.target.value === "material" ? null : e.target.value === "yes")}
    >
      <MenuItem value="material">{say.asTheMaterialNeeds}</MenuItem>
      <MenuItem value="yes">{say.yes}</MenuItem>
      <MenuItem value="no">{say.no}</MenuItem>
    </TextField>
  );
}
