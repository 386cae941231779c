/** Perforations under the shop's own names: one is chosen, or what stands in the form is given a name. */
import { Row } from "../ui/Row";
import { Button, MenuItem, Stack, TextField, Typography } from "@mui/material";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { Failure } from "../help/Failure";
import { useKeepPattern, useRemovePattern } from "../api/shelfChanges";
import type { Tool } from "../api/client";
import { queries } from "../api/queries";

type Set = Pick<Tool, "cut_mm" | "tie_mm" | "tie_force_gf">;

/** The pattern that a setting is, by its name. */
export function Patterns({ tool, onChoose }: { tool: Tool; onChoose: (pattern: Set) => void }) {
  const patterns = useQuery(queries.patterns());
  const all = patterns.data ?? [];
  const now = all.find(
    (one) =>
      one.cut_mm === tool.cut_mm &&
      one.tie_mm === tool.tie_mm &&
      one.tie_force_gf === (tool.tie_force_gf ?? 0),
  );
  if (!all.length) return null;
  return (
    <TextField
      select
      label="Pattern"
      value={now?.id ?? ""}
      sx={{ width: 150 }}
      slotProps={{
        inputLabel: { shrink: true },
        select: { displayEmpty: true },
        htmlInput: { "aria-label": `Pattern for ${tool.role}` },
      }}
      onChange={(event) => {
        const chosen = all.find((one) => one.id === Number(event.target.value));
        if (chosen)
          onChoose({ cut_mm: chosen.cut_mm, tie_mm: chosen.tie_mm, tie_force_gf: chosen.tie_force_gf });
      }}
    >
      <MenuItem value="" disabled>
        its own
      </MenuItem>
      {all.map((one) => (
        <MenuItem key={one.id} value={one.id}>
          {one.name}
        </MenuItem>
      ))}
    </TextField>
  );
}

/** The shelf of them: what a perforation is set to is given a name, and names are taken away. */
export function PatternShelf({ tool, mayEdit }: { tool: Tool; mayEdit: boolean }) {
  const patterns = useQuery(queries.patterns());
  const keep = useKeepPattern();
  const remove = useRemovePattern();
  const [name, setName] = useState("");
  const failed = keep.error ?? remove.error;
  return (
    <Stack spacing={0.5} sx={{ mt: 1 }} data-testid="patterns">
      {patterns.data?.map((one) => (
        <Row key={one.id} spacing={1}>
          <Typography variant="subtitle2">{one.name}</Typography>
          <Typography variant="body2" color="text.secondary">
            cuts of {one.cut_mm} mm, ties of {one.tie_mm} mm,{" "}
            {one.tie_force_gf ? `scored with ${one.tie_force_gf} gf` : "left whole"}
          </Typography>
          {mayEdit && (
            <Button size="small" onClick={() => remove.mutate(one.id)} aria-label={`Take ${one.name} away`}>
              Take away
            </Button>
          )}
        </Row>
      ))}
      {mayEdit && (
        <Stack
          direction="row"
          spacing={1}
          component="form"
          onSubmit={(event) => {
            event.preventDefault();
            const { cut_mm, tie_mm, tie_force_gf } = tool;
            if (name.trim() && cut_mm && tie_mm)
              keep.mutate(
                { name: name.trim(), cut_mm, tie_mm, tie_force_gf: tie_force_gf ?? 0 },
                { onSuccess: () => setName("") },
              );
          }}
        >
          <TextField
            label="Name this pattern"
            value={name}
            sx={{ width: 240 }}
            onChange={(event) => setName(event.target.value)}
          />
          <Button type="submit" disabled={!name.trim() || keep.isPending}>
            Keep the name
          </Button>
        </Stack>
      )}
      <Failure of={failed} />
    </Stack>
  );
}
