/** The last step: a file goes through the shop as it is set up now. */
import { Box, Button, Stack, Typography } from "@mui/material";
import { useRef } from "react";
import { useNavigate } from "react-router";
import { useShopChange } from "../../api/shelfChanges";
import { Arrivals } from "../../desk/Arrivals";
import { useTakingIn } from "../../desk/takingIn";
import { Failure } from "../../help/Failure";
import { guide as say } from "../../texts/guide";

export function Proof() {
  const go = useNavigate();
  const done = useShopChange();
  const chosen = useRef<HTMLInputElement>(null);
  const taking = useTakingIn((job) => void go(`/jobs/${job}`));
  return (
    <Stack spacing={2} component="section" aria-label={say.proofLabel}>
      <Typography>{say.chooseAFileOfA}</Typography>
      <Box>
        <Button variant="contained" onClick={() => chosen.current?.click()}>
          {say.chooseAFile}
        </Button>
        <input
          ref={chosen}
          type="file"
          hidden
          aria-label={say.fileAsProof}
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
