/** The only page that can be seen without logging in. */
import { Button, Stack, TextField, Typography } from "@mui/material";
import { useState } from "react";
import { Failure } from "../help/Failure";
import { useLogin } from "../api/changes";

export function Login() {
  const [name, setName] = useState("");
  const [password, setPassword] = useState("");
  const login = useLogin();
  return (
    <Stack
      component="form"
      spacing={2}
      sx={{ width: 320, mx: "auto", mt: "18vh" }}
      onSubmit={(event) => {
        event.preventDefault();
        login.mutate({ name, password });
      }}
    >
      <Typography variant="h1">Horismos</Typography>
      <Typography color="text.secondary">Print-and-cut, checked and ready for the machines.</Typography>
      <TextField
        label="Name"
        value={name}
        onChange={(e) => setName(e.target.value)}
        autoFocus
        autoComplete="username"
      />
      <TextField
        label="Password"
        type="password"
        value={password}
        onChange={(e) => setPassword(e.target.value)}
        autoComplete="current-password"
      />
      <Failure of={login.error} />
      <Button type="submit" variant="contained" size="medium" disabled={login.isPending}>
        Log in
      </Button>
    </Stack>
  );
}
