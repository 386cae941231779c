/** The last step: a file goes through the shop as it is set up now. */
import { Box, Button, Stack, Typography } from "@mui/material";
import { useRef } from "react";
import { useNavigate } from "react-router";
import { useShopChange } from "../../api/shelfChanges";
import { Arrivals } from "../../desk/Arrivals";
import { useTakingIn } from "../../desk/takingIn";
import { Failure } from "../../help/Failure";

export function Proof() {
  const go = useNavigate();
  const done = useShopChange();
  const chosen = useRef<HTMLInputElement>(null);
  const taking = useTakingIn((job) => void go(`/jobs/${job}`));
  return (
    <Stack spacing={2} component="section" aria-label="proof">
      <Typography>
        Choose a file of a customer, one that was made before if you have it. It is taken in, checked, laid
        out on your film and cut as your cutter does; release it, and look at what lies on the Bench.
      </Typography>
      <Box>
        <Button variant="contained" onClick={() => chosen.current?.click()}>
          Choose a file…
        </Button>
        <input
          ref={chosen}
          type="file"
          hidden
          aria-label="file as proof"
          onChange={(event) => {
            const file = event.target.files?.[0];
            event.target.value = "";
            if (!file) return;
            done.mutate({ begun: true });
            taking.add([file], "");
          }}
        />
      </Box>
      <Arrivals
        arrivals={taking.arrivals}
        onStop={taking.stop}
        onAgain={taking.again}
        onClear={taking.clear}
      />
      <Failure of={done.error} />
    </Stack>
  );
}
