/** Where a letter goes. */
import { TextField } from "@mui/material";
import { letters as say } from "../../texts/letters";

export function AddressField({ value, onChange }: { value: string; onChange: (value: string) => void }) {
  return (
    <TextField
      type="email"
      label={say.sendTo}
      value={value}
      onChange={(e) => onChange(e.target.value)}
      sx={{ width: 220 }}
      slotProps={{ htmlInput: { autoComplete: "off" } }}
    />
  );
}
