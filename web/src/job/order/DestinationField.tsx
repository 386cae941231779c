/** The choice of where a job goes, a RIP and a cutter: a few as buttons, in one press; more as a list. */
import { MenuItem, Stack, TextField, ToggleButton, ToggleButtonGroup, Typography } from "@mui/material";
import { useQuery } from "@tanstack/react-query";
import { queries } from "../../api/queries";
import { order as say } from "../../texts/order";

const FEW = 4;

export function DestinationField({ value, onChange }: { value: string; onChange: (id: string) => void }) {
  const shelf = useQuery(queries.shelf());
  const known = shelf.data?.destinations ?? [];
  if (known.length && known.length <= FEW)
    return (
      <Stack>
        <Typography variant="caption" color="text.secondary">
          {say.destination}
        </Typography>
        <ToggleButtonGroup
          exclusive
          value={value}
          aria-label={say.destination}
          onChange={(_, next: string | null) => next && onChange(next)}
          sx={{ display: "grid", gridTemplateColumns: "1fr 1fr" }}
        >
          {known.map((destination) => (
            <ToggleButton key={destination.id} value={destination.id} sx={{ py: 0.5, lineHeight: 1.2 }}>
              {destination.title}
            </ToggleButton>
          ))}
        </ToggleButtonGroup>
      </Stack>
    );
  return (
    <TextField
      select
      label={say.destination}
      value={shelf.data ? value : ""}
      onChange={(event) => onChange(event.target.value)}
    >
      {known.map((destination) => (
        <MenuItem key={destination.id} value={destination.id}>
          {destination.title}
        </MenuItem>
      ))}
    </TextField>
  );
}
