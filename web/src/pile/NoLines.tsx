/** What goes for several files in which nothing, or not all that was ordered, will be cut. */
import { Button, MenuItem, TextField, Typography } from "@mui/material";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { Link } from "react-router";
import { useMakeAlike, usePrintAlike } from "../api/pileChanges";
import type { ChosenFile } from "../api/client";
import { useMay } from "../api/may";
import { queries } from "../api/queries";
import { Failure } from "../help/Failure";
import { Row } from "../ui/Row";
import type { Done } from "./Answering";
import { pile as say } from "../texts/pile";

interface Props {
  files: ChosenFile[];
  /** Whether nothing at all is cut, and printing alone may be what is meant. */
  none: boolean;
  onDone: (done: Done) => void;
}

export function NoLines({ files, none, onDone }: Props) {
  const presets = useQuery(queries.things("lines"));
  const offered = presets.data?.things.filter((one) => !one.retired) ?? [];
  const [chosen, choose] = useState("");
  const make = useMakeAlike();
  const print = usePrintAlike();
  const may = useMay("work");
  const preset = chosen || (offered[0]?.id ?? "");
  const blocked = !may || !files.length || make.isPending || print.isPending;
  return (
    <>
      <Row spacing={1}>
        {offered.length > 0 ? (
          <>
            <TextField
              select
              label={say.linePreset}
              value={preset}
              onChange={(e) => choose(e.target.value)}
              sx={{ width: 260 }}
            >
              {offered.map((one) => (
                <MenuItem key={one.id} value={one.id}>
                  {one.title}
                </MenuItem>
              ))}
            </TextField>
            <Button
              variant="contained"
              disabled={blocked}
              onClick={() => make.mutate({ files, preset }, { onSuccess: onDone })}
            >
              {say.makeLinesFor(files.length)}
            </Button>
          </>
        ) : (
          <Typography variant="body2">
            {say.noPreset} <Link to="/shelf/lines/new">{say.makeAPreset}</Link>
          </Typography>
        )}
        {none && (
          <Button
            variant="outlined"
            disabled={blocked}
            onClick={() => print.mutate(files, { onSuccess: onDone })}
          >
            {say.printedOnly(files.length)}
          </Button>
        )}
      </Row>
      <Failure of={make.error ?? print.error} />
    </>
  );
}
