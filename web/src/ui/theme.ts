/** Our look: neutral greys, one accent for what can be pressed, red for stop alone. */
import { createTheme } from "@mui/material/styles";
import { looks } from "../api/looks";
import { ui as say } from "../texts/ui";

export const MONO = say.atkinsonHyperlegibleMonoMonospace;
export const ACCENT = "#0B5C63";
export const STOP = looks.stop;
export const LOOK = looks.look;
export const GROUND = "#E6E6E6";

declare module "@mui/material/styles" {
  interface TypographyVariants {
    sentence: React.CSSProperties;
    mono: React.CSSProperties;
  }
  interface TypographyVariantsOptions {
    sentence?: React.CSSProperties;
    mono?: React.CSSProperties;
  }
}
declare module "@mui/material/Typography" {
  interface TypographyPropsVariantOverrides {
    sentence: true;
    mono: true;
  }
}
declare module "@mui/material/Button" {
  interface ButtonPropsSizeOverrides {
    inline: true;
  }
}

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
    /** What stands out in a text, in its size and in the smaller one. */
    subtitle1: { fontWeight: 700, lineHeight: 1.5 },
    subtitle2: { fontWeight: 700, lineHeight: 1.43 },
    /** Words with fields among them. */
    sentence: { fontSize: 14, lineHeight: 2.1 },
    /** Names and figures, letter for letter. */
    mono: { fontFamily: MONO, fontSize: 14, lineHeight: 1.43 },
  },
  shape: { borderRadius: 3 },
  components: {
    MuiCssBaseline: {
      styleOverrides: {
        body: { fontVariantNumeric: "tabular-nums" },
        "a:not([class])": { color: ACCENT },
        ":focus-visible": { outline: `2px solid ${ACCENT}`, outlineOffset: 2 },
        // Whoever wants less motion gets each change at once; what turns while something works goes on turning.
        "@media (prefers-reduced-motion: reduce)": {
          "*, *::before, *::after": { transition: "none !important" },
          ".MuiTouchRipple-root": { display: "none" },
        },
      },
    },
    MuiButton: {
      defaultProps: { disableElevation: true, size: "small" },
      // among words, no higher than these
      variants: [{ props: { size: "inline" }, style: { padding: "0 5px", fontSize: 13 } }],
    },
    MuiTypography: {
      defaultProps: {
        variantMapping: { subtitle1: "p", subtitle2: "p", sentence: "div", mono: "p" },
      },
    },
    MuiTextField: { defaultProps: { size: "small" } },
    MuiPaper: { defaultProps: { elevation: 0 } },
  },
});
