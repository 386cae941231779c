/** Perforations under the shop's own names: one is chosen, or what stands in the form is given a name. */
import { Row } from "../ui/Row";
import { Button, MenuItem, Stack, TextField, Typography } from "@mui/material";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { Link } from "react-router";
import { Failure } from "../help/Failure";
import { useKeepThing } from "../api/shelfChanges";
import type { Tool } from "../api/client";
import { queries } from "../api/queries";
import { summaryOf } from "../shelf/summary";
import { cut as say } from "../texts/cut";

type Set = Pick<Tool, "cut_mm" | "tie_mm" | "tie_force_gf">;

/** The perforations that are offered, each as a setting. */
function usePatterns() {
  const listed = useQuery(queries.things("perforation"));
  return (listed.data?.things ?? [])
    .filter((one) => !one.retired)
    .map((one) => ({ ...one, set: one.data as unknown as Required<Set> }));
}

/** The pattern that a setting is, by its name. */
export function Patterns({ tool, onChoose }: { tool: Tool; onChoose: (pattern: Set) => void }) {
  const all = usePatterns();
  const now = all.find(
    ({ set }) =>
      set.cut_mm === tool.cut_mm &&
      set.tie_mm === tool.tie_mm &&
      set.tie_force_gf === (tool.tie_force_gf ?? 0),
  );
  if (!all.length) return null;
  return (
    <TextField
      select
      label={say.pattern}
      value={now?.id ?? ""}
      sx={{ width: 150 }}
      slotProps={{
        inputLabel: { shrink: true },
        select: { displayEmpty: true },
        htmlInput: { "aria-label": say.patternFor(tool.role) },
      }}
      onChange={(event) => {
        const chosen = all.find((one) => one.id === event.target.value);
        if (chosen) onChoose({ ...chosen.set });
      }}
    >
      <MenuItem value="" disabled>
        {say.itsOwn}
      </MenuItem>
      {all.map((one) => (
        <MenuItem key={one.id} value={one.id}>
          {one.title}
        </MenuItem>
      ))}
    </TextField>
  );
}

/** The shelf of them: what a perforation is set to is given a name. */
export function PatternShelf({ tool, mayEdit }: { tool: Tool; mayEdit: boolean }) {
  const patterns = usePatterns();
  const keep = useKeepThing();
  const [name, setName] = useState("");
  return (
    <Stack spacing={0.5} sx={{ mt: 1 }} data-testid="patterns">
      {patterns.map((one) => (
        <Row key={one.id} spacing={1}>
          <Typography variant="subtitle2" component={Link} to={`/shelf/perforation/${one.id}`}>
            {one.title}
          </Typography>
          <Typography variant="body2" color="text.secondary">
            {summaryOf(one)}
          </Typography>
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
                {
                  kind: "perforation",
                  title: name.trim(),
                  data: { cut_mm, tie_mm, tie_force_gf: tie_force_gf ?? 0 },
                  note: "",
                  seen: 1,
                },
                { onSuccess: () => setName("") },
              );
          }}
        >
          <TextField
            label={say.nameThisPattern}
            value={name}
            sx={{ width: 240 }}
            onChange={(event) => setName(event.target.value)}
          />
          <Button type="submit" disabled={!name.trim() || keep.isPending}>
            {say.keepTheName}
          </Button>
        </Stack>
      )}
      <Failure of={keep.error} />
    </Stack>
  );
}
