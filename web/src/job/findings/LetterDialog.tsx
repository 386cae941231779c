/** The letter to the customer: choose the points, read it, take it as text or PDF. */
import { Failure } from "../../help/Failure";
import {
  Button,
  Checkbox,
  Dialog,
  DialogActions,
  DialogContent,
  DialogTitle,
  FormControlLabel,
  Stack,
  TextField,
  Typography,
} from "@mui/material";
import { useState } from "react";
import type { Job } from "../../api/client";
import { useQuery } from "@tanstack/react-query";
import { useMay } from "../../api/may";
import { useSendLetter } from "../../api/pileChanges";
import { queries } from "../../api/queries";
import { STOP } from "../../ui/theme";
import { unitNow } from "../../ui/unit";
import { common } from "../../texts/common";
import { AddressField } from "../letters/AddressField";
import { findings as say } from "../../texts/findings";
import { letters } from "../../texts/letters";

export function LetterDialog({ job, onClose }: { job: Job; onClose: () => void }) {
  const offered = job.findings.filter((finding) => finding.severity !== "note");
  const [keys, setKeys] = useState(() =>
    offered.filter((f) => f.severity === "stop" && !f.decision).map((f) => f.key),
  );
  const [copied, setCopied] = useState(false);
  const chosen = offered.filter((f) => keys.includes(f.key)).map((f) => f.key);
  const letter = useQuery(queries.letter(job.id, chosen));
  const written = chosen.length ? (letter.data?.text ?? "") : "";
  const [own, setOwn] = useState<{ of: string; text: string } | null>(null);
  // what a person has written goes for the points that were chosen then
  const text = own && own.of === written ? own.text : written;
  const [to, setTo] = useState(job.write_to);
  const send = useSendLetter(job);
  const mayWork = useMay("work");
  return (
    <Dialog open onClose={onClose} maxWidth="lg" fullWidth aria-labelledby="letter-title">
      <DialogTitle id="letter-title">{say.letterTo(job.customer || say.theCustomer)}</DialogTitle>
      <DialogContent sx={{ display: "flex", gap: 3, height: 520 }}>
        <Stack
          sx={{ width: 340, flex: "none", overflowY: "auto" }}
          component="section"
          aria-label={say.pointsOfTheLetter}
        >
          {offered.map((finding) => (
            <FormControlLabel
              key={finding.key}
              sx={{ alignItems: "flex-start", mr: 0 }}
              control={
                <Checkbox
                  size="small"
                  sx={{ py: 0.25 }}
                  checked={keys.includes(finding.key)}
                  onChange={(e) =>
                    setKeys(
                      e.target.checked ? [...keys, finding.key] : keys.filter((key) => key !== finding.key),
                    )
                  }
                />
              }
              label={
                <Typography variant="body2" sx={{ pb: 0.75 }}>
                  <b style={{ color: finding.severity === "stop" ? STOP : undefined }}>{finding.severity}</b>{" "}
                  {finding.message}
                </Typography>
              }
            />
          ))}
          {!offered.length && <Typography variant="body2">{say.thereIsNothingToWrite}</Typography>}
        </Stack>
        <TextField
          multiline
          fullWidth
          value={text}
          placeholder={say.chooseAtLeastOnePoint}
          sx={{
            "& .MuiInputBase-root": { height: "100%", alignItems: "flex-start" },
            "& textarea": { height: "100% !important", overflowY: "auto !important" },
          }}
          onChange={(e) => written && setOwn({ of: written, text: e.target.value })}
          slotProps={{ htmlInput: { "aria-label": say.theLetter } }}
        />
      </DialogContent>
      <DialogActions>
        {chosen.length > 0 && <Failure of={letter.error} />}
        <Failure of={send.error} />
        {send.isSuccess ? (
          <Typography variant="body2" role="status">
            {letters.sent(to)}
          </Typography>
        ) : (
          !to && (
            <Typography variant="body2" color="text.secondary" sx={{ mr: 1 }}>
              {letters.noAddress}
            </Typography>
          )
        )}
        <Button onClick={onClose}>{common.close}</Button>
        <Button
          disabled={!text}
          onClick={() => {
            void navigator.clipboard.writeText(text).then(() => setCopied(true));
          }}
        >
          {copied ? say.copied : say.copyTheText}
        </Button>
        <AddressField value={to} onChange={setTo} />
        <Button
          variant="contained"
          disabled={!text || !mayWork || send.isPending || send.isSuccess}
          onClick={() =>
            send.mutate({ keys: chosen, to, text: text === written ? "" : text, unit: unitNow() })
          }
        >
          {letters.send}
        </Button>
        <Button
          disabled={!chosen.length}
          href={`/api/jobs/${job.id}/letter.pdf?unit=${unitNow()}&chosen=${chosen.join(",")}`}
        >
          {say.letterWithPicturesPdf}
        </Button>
      </DialogActions>
    </Dialog>
  );
}
