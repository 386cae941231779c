/** Where an invitation leads: a name and a password, and one is in. */
import { Button, LinearProgress, Stack, TextField, Typography } from "@mui/material";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { useNavigate } from "react-router";
import { useJoin } from "../api/changes";
import { queries } from "../api/queries";
import { Failure } from "../help/Failure";

export function Join({ token }: { token: string }) {
  const go = useNavigate();
  const welcome = useQuery(queries.welcome(token));
  const first = welcome.data?.first ?? false;
  const join = useJoin(() => void go(first ? "/begin" : "/", { replace: true }));
  const [name, setName] = useState("");
  const [password, setPassword] = useState("");
  const [again, setAgain] = useState("");
  const differ = again !== "" && password !== again;
  if (welcome.isPending) return <LinearProgress aria-label="loading" />;
  if (welcome.isError && !join.isSuccess)
    return (
      <Failure of={welcome.error} alone>
        <a href="/">To the log-in</a>
      </Failure>
    );
  return (
    <Stack
      component="form"
      spacing={2}
      sx={{ width: 340, mx: "auto", mt: "14vh" }}
      onSubmit={(event) => {
        event.preventDefault();
        if (!differ && again) join.mutate({ token, name, password });
      }}
    >
      <Typography variant="h1">
        {first ? "Welcome to Horismos" : `Join ${welcome.data?.shop || "the shop"}`}
      </Typography>
      <Typography variant="body2" color="text.secondary">
        {first
          ? "You are the first, and own the shop: you say who else may do what."
          : "Choose the name and the password by which you log in."}
      </Typography>
      <TextField
        label="Your name"
        value={name}
        onChange={(event) => setName(event.target.value)}
        autoFocus
        autoComplete="username"
        helperText="Letters and figures, no spaces."
      />
      <TextField
        label="Password"
        type="password"
        value={password}
        onChange={(event) => setPassword(event.target.value)}
        autoComplete="new-password"
        helperText="At least 12 signs, and none of the common ones."
      />
      <TextField
        label="Password once more"
        type="password"
        value={again}
        onChange={(event) => setAgain(event.target.value)}
        autoComplete="new-password"
        error={differ}
        helperText={differ ? "The two differ." : undefined}
      />
      <Failure of={join.error} />
      <Button
        type="submit"
        variant="contained"
        size="medium"
        disabled={!name || !password || !again || differ || join.isPending}
      >
        Come in
      </Button>
    </Stack>
  );
}
