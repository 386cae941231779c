/** The page for the tablet beside the cutter: a sheet by its code, one thing at a time, for fingers in gloves. */
import { Box, Button, createTheme, LinearProgress, Stack, ThemeProvider, Typography } from "@mui/material";
import { useQuery } from "@tanstack/react-query";
import { useNavigate, useParams } from "react-router";
import { tabletQueries } from "../api/tabletChanges";
import { useWatch } from "../api/progress";
import { Failure } from "../help/Failure";
import { repeatOf } from "../bench/states";
import { theme } from "../ui/theme";
import { AtSheet } from "./AtSheet";
import { ReadCode } from "./ReadCode";
import { common } from "../texts/common";
import { tablet as say } from "../texts/tablet";

/** Large enough for a thumb in a glove: 56 px, above the 44 that a finger needs. */
const large = createTheme(theme, {
  typography: { fontSize: 18 },
  components: {
    MuiButton: {
      styleOverrides: {
        root: { minHeight: 56, minWidth: 56, fontSize: 20, paddingLeft: 20, paddingRight: 20 },
      },
    },
    MuiOutlinedInput: { styleOverrides: { root: { minHeight: 56, fontSize: 20 } } },
  },
});

export function Tablet() {
  const { code } = useParams();
  useWatch();
  return (
    <ThemeProvider theme={large}>
      <Box component="main" sx={{ minHeight: "100vh", bgcolor: "background.paper" }}>
        {code ? <Sheet code={code} /> : <ReadCode />}
      </Box>
    </ThemeProvider>
  );
}

function Sheet({ code }: { code: string }) {
  const go = useNavigate();
  const found = useQuery(tabletQueries.atTheCutter(code));
  return (
    <Stack sx={{ minHeight: "100vh" }}>
      <Stack
        direction="row"
        spacing={1}
        sx={{ p: 1.5, alignItems: "center", borderBottom: "1px solid #CFCFCF" }}
      >
        <Typography variant="h1" sx={{ flex: 1, fontSize: 26, overflowWrap: "anywhere" }}>
          {found.data ? found.data.release.job_name + repeatOf(found.data.release.sheet) : code}
        </Typography>
        <Button variant="outlined" onClick={() => void go("/cutter")}>
          {say.another}
        </Button>
      </Stack>
      {found.isPending && <LinearProgress aria-label={common.loadingLabel} />}
      <Failure of={found.error} alone />
      {found.data && (
        <AtSheet key={`${found.data.release.id} ${found.data.release.sheet?.id ?? ""}`} at={found.data} />
      )}
    </Stack>
  );
}
