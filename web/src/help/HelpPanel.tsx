/** The help beside the stage: of the place where one stands, or the entry of a finding or a refusal. */
import { Row } from "../ui/Row";
import { Box, Button, Stack, Typography } from "@mui/material";
import { useQuery } from "@tanstack/react-query";
import type { ReactNode } from "react";
import { useLocation } from "react-router";
import { queries } from "../api/queries";
import { MONO } from "../ui/theme";
import { placeAt, PLACES, type Place } from "./stations";
import { GLOSSARY } from "./glossary";
import { REFUSALS } from "./tables";
import { useHelp } from "./useHelp";

export function HelpPanel() {
  const { entry, show } = useHelp();
  const { pathname } = useLocation();
  if (entry === null) return null;
  const place = PLACES[placeAt(pathname)];
  return (
    <Stack
      component="aside"
      aria-label="help"
      spacing={1}
      sx={{
        width: 300,
        flex: "none",
        overflowY: "auto",
        p: 2,
        bgcolor: "background.paper",
        borderRight: 1,
        borderColor: "divider",
      }}
      onKeyDown={(event) => event.key === "Escape" && show(null)}
    >
      <Row>
        <Typography variant="h2" sx={{ flex: 1 }}>
          {entry ? "What this means" : place?.title}
        </Typography>
        <Button onClick={() => show(null)} sx={{ py: 0 }}>
          Close
        </Button>
      </Row>
      {entry ? (
        <>
          {REFUSALS.has(entry) ? <Refusal code={entry} /> : <Finding id={entry} />}
          <Button onClick={() => show("")} sx={{ alignSelf: "flex-start" }}>
            About {place?.title}
          </Button>
        </>
      ) : (
        place && <About {...place} />
      )}
    </Stack>
  );
}

function About({ is, first, keys, words }: Place) {
  return (
    <>
      <Typography variant="body2">{is}</Typography>
      <Part title="Most often">
        <Box component="ol" sx={{ m: 0, pl: 2.5, fontSize: 14 }}>
          {first.map((step) => (
            <li key={step}>{step}</li>
          ))}
        </Box>
      </Part>
      {keys.length > 0 && (
        <Part title="Keys">
          {keys.map(([key, does]) => (
            <Stack key={key + does} direction="row" spacing={1}>
              <Typography variant="body2" sx={{ fontFamily: MONO, width: 64, flex: "none", fontWeight: 700 }}>
                {key}
              </Typography>
              <Typography variant="body2">{does}</Typography>
            </Stack>
          ))}
        </Part>
      )}
      <Part title="Words">
        {words.map((word) => (
          <Word key={word} word={word} />
        ))}
      </Part>
    </>
  );
}

function Part({ title, children }: { title: string; children: ReactNode }) {
  return (
    <Box component="section" aria-label={title}>
      <Typography sx={{ fontWeight: 700, mt: 0.5 }}>{title}</Typography>
      {children}
    </Box>
  );
}

const Word = ({ word }: { word: string }) => (
  <Typography variant="body2" sx={{ mb: 0.5 }}>
    <b>{word}</b>: {GLOSSARY.get(word)}
  </Typography>
);

/** A check: what it measures, how grave it is, and what can be done about it. */
function Finding({ id }: { id: string }) {
  const sheets = useQuery(queries.checkSheets());
  const check = sheets.data?.checks.find((one) => one.id === id);
  if (!check)
    return (
      <Typography variant="body2">
        {sheets.isPending ? "Looking it up…" : "There is no entry for it."}
      </Typography>
    );
  const limits = check.limits.map(({ value, unit }) => `${value} ${unit}`.trim()).join(", ");
  const grave = {
    stop: "A stop: nothing is released while it is open.",
    look: "A look: somebody has to decide, then it may be released.",
    note: "A note: it is only to be known.",
  }[check.severity];
  return (
    <>
      <Typography variant="subtitle1">{check.title}</Typography>
      <Typography variant="body2">{check.says}</Typography>
      <Typography variant="body2">
        {grave} {limits && `Shipped with the limit ${limits}; the shop sets it on the Shelf, under Checks.`}
      </Typography>
      <Part title="What to do">
        <Box component="ol" sx={{ m: 0, pl: 2.5, fontSize: 14 }}>
          <li>Press the card: the stage goes to the place.</li>
          <li>
            Press the mend that stands first on it; “Look first” shows before and after. Every mend can be
            undone.
          </li>
          <li>Where there is no mend, ask the customer: “Letter…” writes what to change.</li>
          <li>Where it may stay, say why and accept it.</li>
        </Box>
      </Part>
      <Typography variant="body2" color="text.secondary" sx={{ fontFamily: MONO, fontSize: 11 }}>
        {id}
      </Typography>
    </>
  );
}

const NEXT: Record<string, string> = {
  "does-not-fit":
    "What takes the room stands in the message. Press one of the buttons, or load something larger.",
  "stops-open": "Open Check, mend what is red, or let it pass with a reason if you may.",
  "not-ready": "Wait until the work that is shown on top is done, then press again.",
  "changed-meanwhile":
    "Somebody else, or another window, was faster. Look at it as it is now, and do it again.",
  "nothing-to-do": "It is as you want it already. Nothing was changed.",
  "cannot-read": "Ask the customer for the file again, as PDF if they can.",
  "limit-exceeded": "Make the file simpler: fewer nodes, smaller pictures. The original is kept.",
  locked: "Ask the customer for the password, or for a file without one.",
  "not-permitted": "Somebody with the right for it has to press it.",
  "brings-stop": "Press the button in the message: it does both at once.",
};

function Refusal({ code }: { code: string }) {
  return (
    <>
      <Typography variant="body2">{REFUSALS.get(code)}</Typography>
      <Part title="What to do">
        <Typography variant="body2">
          {NEXT[code] ?? "The message says the next step. Nothing was lost: what was there before stands."}
        </Typography>
      </Part>
    </>
  );
}
