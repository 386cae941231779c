/** The choice of where a job goes: a RIP and a cutter. */
import { MenuItem, TextField } from "@mui/material";
import { useQuery } from "@tanstack/react-query";
import { queries } from "../../api/queries";

export function DestinationField({ value, onChange }: { value: string; onChange: (id: string) => void }) {
  const shelf = useQuery(queries.shelf());
  return (
    <TextField
      select
      label="Destination"
      value={shelf.data ? value : ""}
      onChange={(event) => onChange(event.target.value)}
    >
      {(shelf.data?.destinations ?? []).map((destination) => (
        <MenuItem key={destination.id} value={destination.id}>
          {destination.title}
        </MenuItem>
      ))}
    </TextField>
  );
}
