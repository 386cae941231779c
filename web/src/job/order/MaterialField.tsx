/** The choice of a material from the shelf. */
import { MenuItem, TextField } from "@mui/material";
import { useQuery } from "@tanstack/react-query";
import { queries } from "../../api/queries";
import { order as say } from "../../texts/order";

export function MaterialField({ value, onChange }: { value: string; onChange: (id: string) => void }) {
  const shelf = useQuery(queries.shelf());
  return (
    <TextField
      select
      label={say.material}
      value={shelf.data ? value : ""}
      onChange={(event) => onChange(event.target.value)}
    >
      {(shelf.data?.materials ?? []).map((material) => (
        <MenuItem key={material.id} value={material.id}>
          {material.title}
        </MenuItem>
      ))}
    </TextField>
  );
}
