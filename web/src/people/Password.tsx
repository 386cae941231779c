/** Another password for who is logged in, and where that is. */
import {
  Alert,
  Button,
  Dialog,
  DialogActions,
  DialogContent,
  DialogTitle,
  Stack,
  TextField,
  Typography,
} from "@mui/material";
import { useState } from "react";
import { Failure } from "../help/Failure";
import { usePassword } from "../api/changes";
import { LogIns } from "./LogIns";
import { SecondStep } from "./SecondStep";
import { common } from "../texts/common";
import { people as say } from "../texts/people";

const FIELDS = [
  ["present", say.presentPassword, "current-password"],
  ["next", say.newPassword, "new-password"],
  ["again", say.newPasswordOnceMore, "new-password"],
] as const;

export function Password({ onClose }: { onClose: () => void }) {
  const [typed, setTyped] = useState({ present: "", next: "", again: "" });
  const change = usePassword();
  const differ = typed.again !== "" && typed.next !== typed.again;
  const whole = typed.present !== "" && typed.next !== "" && typed.next === typed.again;
  return (
    <Dialog open onClose={onClose} aria-labelledby="password-title">
      <form
        onSubmit={(event) => {
          event.preventDefault();
          if (whole) change.mutate({ present: typed.present, new: typed.next });
        }}
      >
        <DialogTitle id="password-title">{say.changeYourPassword}</DialogTitle>
        <DialogContent>
          <Stack spacing={2} sx={{ width: 340, pt: 1 }}>
            {change.isSuccess ? (
              <Alert severity="success">{say.yourPasswordIsChangedWherever}</Alert>
            ) : (
              <>
                <Typography variant="body2">{say.atLeast12SignsAnd}</Typography>
                {FIELDS.map(([key, label, complete], i) => (
                  <TextField
                    key={key}
                    label={label}
                    type="password"
                    autoComplete={complete}
                    autoFocus={i === 0}
                    value={typed[key]}
                    error={key === "again" && differ}
                    helperText={key === "again" && differ ? say.theTwoDiffer : undefined}
                    onChange={(e) => {
                      change.reset();
                      setTyped({ ...typed, [key]: e.target.value });
                    }}
                  />
                ))}
                <Failure of={change.error} />
              </>
            )}
            <SecondStep />
            <LogIns />
          </Stack>
        </DialogContent>
        <DialogActions>
          <Button onClick={onClose}>{change.isSuccess ? common.close : say.cancel}</Button>
          {!change.isSuccess && (
            <Button type="submit" variant="contained" disabled={!whole || change.isPending}>
              {say.changeIt}
            </Button>
          )}
        </DialogActions>
      </form>
    </Dialog>
  );
}
