/** The second step of one's own log-in: an authenticator is given its secret, a code proves that it has it. */
import { Alert, Box, Button, Stack, TextField, Typography } from "@mui/material";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { useBeginSecondStep, useConfirmSecondStep, useEndSecondStep } from "../api/changes";
import { queries } from "../api/queries";
import { Failure } from "../help/Failure";
import { people as say } from "../texts/people";

export function SecondStep() {
  const me = useQuery(queries.me());
  const begin = useBeginSecondStep();
  const confirm = useConfirmSecondStep();
  const has = me.data?.second_step ?? false;
  return (
    <Stack component="section" aria-label={say.secondStepLabel} spacing={1}>
      <Typography variant="h2">{say.secondStep}</Typography>
      {confirm.data && <Spare codes={confirm.data.codes} />}
      {has && !confirm.data && <PutOff />}
      {!has && !begin.data && (
        <>
          <Typography variant="body2">{say.anAuthenticatorOnYourTelephone}</Typography>
          <Box>
            <Button variant="outlined" onClick={() => begin.mutate(undefined)} disabled={begin.isPending}>
              {say.setItUp}
            </Button>
          </Box>
        </>
      )}
      {!has && begin.data && (
        <Proof
          picture={begin.data.picture}
          secret={begin.data.secret}
          pending={confirm.isPending}
          onCode={(code) => confirm.mutate(code)}
        />
      )}
      <Failure of={begin.error ?? confirm.error} />
    </Stack>
  );
}

interface ProofProps {
  picture: string;
  secret: string;
  pending: boolean;
  onCode: (code: string) => void;
}

/** These fields stand in no form: the one around them changes the password. */
function Proof({ picture, secret, pending, onCode }: ProofProps) {
  const [code, setCode] = useState("");
  return (
    <>
      <img src={picture} alt={say.theCodeThatAnAuthenticator} width={180} height={180} />
      <Typography variant="body2">
        {say.orTypeThisIntoIt}
        <b style={{ overflowWrap: "anywhere" }}>{secret}</b>
      </Typography>
      <TextField
        label={say.theCodeThatItShows}
        value={code}
        onChange={(event) => setCode(event.target.value)}
        onKeyDown={(event) => {
          if (event.key !== "Enter") return;
          event.preventDefault();
          onCode(code);
        }}
        autoComplete="one-time-code"
        slotProps={{ htmlInput: { inputMode: "numeric", maxLength: 40 } }}
      />
      <Box>
        <Button variant="contained" disabled={!code.trim() || pending} onClick={() => onCode(code)}>
          {say.askForItFromNow}
        </Button>
      </Box>
    </>
  );
}

function Spare({ codes }: { codes: string[] }) {
  return (
    <Alert severity="success">
      {say.itIsAskedForFrom}
      <Typography variant="mono" component="div" data-testid="spare">
        {codes.join("  ")}
      </Typography>
    </Alert>
  );
}

function PutOff() {
  const end = useEndSecondStep();
  const [password, setPassword] = useState("");
  return (
    <>
      <Typography variant="body2">{say.aCodeOfYourAuthenticator}</Typography>
      <TextField
        label={say.yourPasswordToPutIt}
        type="password"
        value={password}
        onChange={(event) => setPassword(event.target.value)}
        onKeyDown={(event) => event.key === "Enter" && event.preventDefault()}
        autoComplete="current-password"
      />
      <Box>
        <Button disabled={!password || end.isPending} onClick={() => end.mutate(password)}>
          {say.putItOff}
        </Button>
      </Box>
      <Failure of={end.error} />
    </>
  );
}
