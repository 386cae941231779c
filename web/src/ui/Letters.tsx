/** Names letter by letter: what cannot be seen made visible, and a name under another with what differs marked. */
import { Box } from "@mui/material";
import { MONO, STOP } from "./theme";
import { ui as say } from "../texts/ui";

export interface Run {
  text: string;
  wanted: string;
  kind: string;
}

const MARKED = "#F6D5D2";
/** Characters that look like nothing or like another; each with a sign and its name. */
const ODD: Record<string, [string, string]> = {
  "\u00a0": ["⍽", say.noBreakSpace],
  "\u200b": ["◌", say.zeroWidthSpace],
  "\u200c": ["◌", say.zeroWidthNonJoiner],
  "\u200d": ["◌", say.zeroWidthJoiner],
  "\ufeff": ["◌", say.byteOrderMark],
  "\u00ad": ["◌", say.softHyphen],
  "\t": ["⇥", "tab"],
  "\u2010": ["‐", say.hyphenThatIsNoMinus],
  "\u2011": ["‑", say.noBreakHyphen],
  "\u2013": ["–", say.enDash],
  "\u2014": ["—", say.emDash],
};

/** The sign for a letter, and what it is where that is not plain to see. */
function signOf(letter: string): [string, string] {
  const odd = ODD[letter];
  if (odd) return odd;
  if (letter === " ") return ["␣", ""];
  const code = letter.codePointAt(0)?.toString(16).padStart(4, "0");
  return [letter, letter > "\u024f" ? `U+${code}` : ""];
}

export function Visible({ text }: { text: string }) {
  const first = text.length - text.trimStart().length;
  const last = text.trimEnd().length;
  return [...text].map((letter, i) => {
    const [sign, said] = signOf(letter);
    const edge = letter === " " && (i < first || i >= last);
    if (said || edge)
      return (
        <Box
          key={i}
          component="span"
          title={said || say.spaceAtTheEnd}
          sx={{ bgcolor: MARKED, fontWeight: 700 }}
        >
          {sign}
        </Box>
      );
    return letter === " " ? (
      <span key={i} style={{ color: "#8A8A8A" }}>
        {sign}
      </span>
    ) : (
      letter
    );
  });
}

interface Column {
  above: string;
  below: string;
  same: boolean;
}

/** The letters of both names in columns; where one has none the column is empty there. */
export function columnsOf(spelling: readonly Run[]): Column[] {
  return spelling.flatMap(({ text, wanted, kind }) => {
    const above = [...text];
    const below = [...wanted];
    return Array.from({ length: Math.max(above.length, below.length) }, (_, i) => ({
      above: above[i] ?? "",
      below: below[i] ?? "",
      same: kind === "same",
    }));
  });
}

/** A name as it is in the file, large, and under it the one that is wanted, letter under letter. */
export function NameBeside({ ink, wanted, spelling }: { ink: string; wanted: string; spelling: Run[] }) {
  return (
    <Box
      role="img"
      aria-label={say.inTheFileWanted(ink, wanted)}
      data-testid="names"
      sx={{ display: "flex", gap: 1, mb: 0.5, bgcolor: "#F4F4F4", px: 1, py: 0.5, lineHeight: "28px" }}
    >
      <Box sx={{ flex: "none", fontSize: 12, color: "text.secondary", textAlign: "right" }}>
        <div>{say.inTheFile}</div>
        <div>{say.wanted}</div>
      </Box>
      <Box sx={{ fontFamily: MONO, fontSize: 20, display: "flex", flexWrap: "wrap", rowGap: 1, minWidth: 0 }}>
        {columnsOf(spelling).map((column, i) => (
          <span key={i}>
            <Letter letter={column.above} same={column.same} />
            <Letter letter={column.below} same={column.same} />
          </span>
        ))}
      </Box>
    </Box>
  );
}

function Letter({ letter, same }: { letter: string; same: boolean }) {
  const [sign, said] = letter ? signOf(letter) : ["\u00a0", say.nothingStandsHere];
  return (
    <Box
      component="span"
      title={said || undefined}
      sx={{
        display: "block",
        width: "13px",
        height: 28,
        textAlign: "center",
        ...(same
          ? { color: sign === "␣" ? "#8A8A8A" : "inherit" }
          : { bgcolor: MARKED, color: STOP, fontWeight: 700, outline: letter ? 0 : `1px dashed ${STOP}` }),
        outlineOffset: -2,
      }}
    >
      {sign}
    </Box>
  );
}
