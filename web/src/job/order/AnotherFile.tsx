/** The customer sent another file: it takes the place of the one that the job has. */
import { Button } from "@mui/material";
import { useOtherFile } from "../../api/changes";
import type { Job } from "../../api/client";
import { useMay } from "../../api/may";
import { useBusy } from "../../api/progress";
import { Failure } from "../../help/Failure";

interface Props {
  job: Job;
  /** What the button says, and what the field of the file is called. */
  words: string;
  label: string;
}

export function AnotherFile({ job, words, label }: Props) {
  const other = useOtherFile(job.id);
  const busy = useBusy(job);
  const may = useMay("take-in");
  if (!may) return null;
  return (
    <>
      <Button component="label" variant="outlined" disabled={busy} sx={{ alignSelf: "flex-start" }}>
        {words}
        <input
          type="file"
          hidden
          aria-label={label}
          onChange={(e) => {
            const file = e.target.files?.[0];
            if (file) other.mutate(file);
            e.target.value = "";
          }}
        />
      </Button>
      <Failure of={other.error} />
    </>
  );
}
