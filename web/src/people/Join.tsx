/** Where an invitation leads: a name and a password, and one is in. */
import { Button, LinearProgress, Stack, TextField, Typography } from "@mui/material";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { useNavigate } from "react-router";
import { useJoin } from "../api/changes";
import { queries } from "../api/queries";
import { Failure } from "../help/Failure";
import { common } from "../texts/common";
import { people as say } from "../texts/people";

export function Join({ token }: { token: string }) {
  const go = useNavigate();
  const welcome = useQuery(queries.welcome(token));
  const first = welcome.data?.first ?? false;
  const join = useJoin(() => void go(first ? "/begin" : "/", { replace: true }));
  const [name, setName] = useState("");
  const [password, setPassword] = useState("");
  const [again, setAgain] = useState("");
  const differ = again !== "" && password !== again;
  if (welcome.isPending) return <LinearProgress aria-label={common.loadingLabel} />;
  if (welcome.isError && !join.isSuccess)
    return (
      <Failure of={welcome.error} alone>
        <a href="/">{say.toTheLogIn}</a>
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
        {first ? say.welcomeToHorismos : say.join(welcome.data?.shop || common.theShop)}
      </Typography>
      <Typography variant="body2" color="text.secondary">
        {first ? say.youAreTheFirstAnd : say.chooseTheNameAndThe}
      </Typography>
      <TextField
        label={say.yourName}
        value={name}
        onChange={(event) => setName(event.target.value)}
        autoFocus
        autoComplete="username"
        helperText={say.lettersAndFiguresNoSpaces}
      />
      <TextField
        label={say.password}
        type="password"
        value={password}
        onChange={(event) => setPassword(event.target.value)}
        autoComplete="new-password"
        helperText={say.atLeast12SignsAnd}
      />
      <TextField
        label={say.passwordOnceMore}
        type="password"
        value={again}
        onChange={(event) => setAgain(event.target.value)}
        autoComplete="new-password"
        error={differ}
        helperText={differ ? say.theTwoDiffer : undefined}
      />
      <Failure of={join.error} />
      <Button
        type="submit"
        variant="contained"
        size="medium"
        disabled={!name || !password || !again || differ || join.isPending}
      >
        {say.comeIn}
      </Button>
    </Stack>
  );
}
