/** The only page that can be seen without logging in. */
import { Button, Stack, TextField, Typography } from "@mui/material";
import { useState } from "react";
import { Failure } from "../help/Failure";
import { useLogin } from "../api/changes";
import { Refused } from "../api/client";
import { people as say } from "../texts/people";

export function Login() {
  const [name, setName] = useState("");
  const [password, setPassword] = useState("");
  const [code, setCode] = useState("");
  const login = useLogin();
  const wanted = login.error instanceof Refused && login.error.code === "wants-code";
  return (
    <Stack
      component="form"
      spacing={2}
      sx={{ width: 320, mx: "auto", mt: "18vh" }}
      onSubmit={(event) => {
        event.preventDefault();
        login.mutate({ name, password, code });
      }}
    >
      <Typography variant="h1">{say.horismos}</Typography>
      <Typography color="text.secondary">{say.printAndCutCheckedAnd}</Typography>
      <TextField
        label={say.name}
        value={name}
        onChange={(e) => setName(e.target.value)}
        autoFocus
        autoComplete="username"
      />
      <TextField
        label={say.password}
        type="password"
        value={password}
        onChange={(e) => setPassword(e.target.value)}
        autoComplete="current-password"
      />
      {wanted && (
        <TextField
          label={say.code}
          value={code}
          onChange={(e) => setCode(e.target.value)}
          autoFocus
          autoComplete="one-time-code"
          helperText={say.ofYourAuthenticatorOrOne}
          slotProps={{ htmlInput: { inputMode: "numeric", maxLength: 40 } }}
        />
      )}
      {(!wanted || code !== "") && <Failure of={login.error} />}
      <Button type="submit" variant="contained" size="medium" disabled={login.isPending}>
        {say.logIn}
      </Button>
    </Stack>
  );
}
