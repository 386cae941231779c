/** Our look: neutral greys, one accent for what can be pressed, red for stop alone. */
import { createTheme } from "@mui/material/styles";
import { looks } from "../api/looks";

export const MONO = '"Atkinson Hyperlegible Mono", monospace';
export const ACCENT = "#0B5C63";
export const STOP = looks.stop;
export const LOOK = looks.look;
export const GROUND = "#E6E6E6";

export const theme = createTheme({
  palette: {
    primary: { main: ACCENT },
    error: { main: STOP },
    text: { primary: "#1A1A1A", secondary: "#4D4D4D" },
    background: { default: "#F2F2F2", paper: "#FFFFFF" },
    action: { active: "#4D4D4D" },
    divider: "#CFCFCF",
  },
  typography: {
    fontFamily: '"Atkinson Hyperlegible Next", sans-serif',
    fontSize: 14,
    button: { textTransform: "none", fontWeight: 600 },
    h1: { fontSize: 22, fontWeight: 700 },
    h2: { fontSize: 16, fontWeight: 700 },
  },
  shape: { borderRadius: 3 },
  components: {
    MuiCssBaseline: {
      styleOverrides: {
        body: { fontVariantNumeric: "tabular-nums" },
        ":focus-visible": { outline: `2px solid ${ACCENT}`, outlineOffset: 2 },
        // Whoever wants less motion gets each change at once; what turns while something works goes on turning.
        "@media (prefers-reduced-motion: reduce)": {
          "*, *::before, *::after": { transition: "none !important" },
          ".MuiTouchRipple-root": { display: "none" },
        },
      },
    },
    MuiButton: { defaultProps: { disableElevation: true, size: "small" } },
    MuiTextField: { defaultProps: { size: "small" } },
    MuiPaper: { defaultProps: { elevation: 0 } },
  },
});
