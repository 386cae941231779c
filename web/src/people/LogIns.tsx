/** Where who is logged in is logged in, each to be ended. */
import { Button, Stack, Typography } from "@mui/material";
import { useQuery } from "@tanstack/react-query";
import { Failure } from "../help/Failure";
import { useEndLogIn } from "../api/changes";
import { queries } from "../api/queries";
import { moment } from "../ui/words";
import { people as say } from "../texts/people";

/** The program and the system that a browser says it is, out of its long name for itself. */
const browserWords = (long: string) => /(\w+)\/[\d.]+(?: Safari\/[\d.]+)?$/.exec(long)?.[1] ?? say.aBrowser;

export function LogIns() {
  const { data = [], error } = useQuery(queries.logIns());
  const end = useEndLogIn();
  return (
    <Stack component="section" aria-label={say.whereYouAreLoggedIn} spacing={0.5}>
      <Typography variant="h2">{say.whereYouAreLoggedIn2}</Typography>
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
              {say.since(
                one.this ? say.here : say.at(browserWords(one.browser), one.address),
                moment(one.began),
              )}
            </Typography>
            {!one.this && (
              <Button
                size="small"
                disabled={end.isPending}
                aria-label={say.endTheLogInAt(one.address, moment(one.began))}
                onClick={() => end.mutate(one.id)}
              >
                {say.end}
              </Button>
            )}
          </Stack>
        ))}
      </Stack>
      <Failure of={end.error} />
    </Stack>
  );
}
