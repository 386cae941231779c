/** Where who is logged in is logged in, each to be ended. */
import { Button, Stack, Typography } from "@mui/material";
import { useQuery } from "@tanstack/react-query";
import { Failure } from "../help/Failure";
import { useEndLogIn } from "../api/changes";
import { queries } from "../api/queries";
import { moment } from "../ui/words";

/** The program and the system that a browser says it is, out of its long name for itself. */
const browserWords = (long: string) => /(\w+)\/[\d.]+(?: Safari\/[\d.]+)?$/.exec(long)?.[1] ?? "a browser";

export function LogIns() {
  const { data = [], error } = useQuery(queries.logIns());
  const end = useEndLogIn();
  return (
    <Stack component="section" aria-label="where you are logged in" spacing={0.5}>
      <Typography variant="h2">Where you are logged in</Typography>
      <Failure of={error} />
      <Stack component="ul" sx={{ m: 0, p: 0, listStyle: "none", maxHeight: 220, overflow: "auto" }}>
        {data.map((one) => (
          <Stack
            key={one.id}
            component="li"
            direction="row"
            sx={{ alignItems: "center", gap: 1, minHeight: 34 }}
          >
            <Typography variant="body2" title={one.browser} sx={{ flex: 1 }}>
              {one.this ? "Here" : `${browserWords(one.browser)} at ${one.address}`}, since{" "}
              {moment(one.began)}
            </Typography>
            {!one.this && (
              <Button
                size="small"
                disabled={end.isPending}
                aria-label={`end the log-in at ${one.address} since ${moment(one.began)}`}
                onClick={() => end.mutate(one.id)}
              >
                End
              </Button>
            )}
          </Stack>
        ))}
      </Stack>
      <Failure of={end.error} />
    </Stack>
  );
}
