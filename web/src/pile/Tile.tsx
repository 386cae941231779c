/** One of several files that ask alike: its picture, what it says, and whether it is meant. */
import { Box, Button, Checkbox, Typography } from "@mui/material";
import { useState } from "react";
import { Link } from "react-router";
import type { AskedAlike } from "../api/client";
import { Row, Spacer } from "../ui/Row";
import { pile as say } from "../texts/pile";

interface Props {
  asked: AskedAlike;
  /** Whether it says what is wrong, and what would be done: where that is not the same for all. */
  says: boolean;
  does: boolean;
  chosen: boolean;
  onFlip: () => void;
}

/** So many lines of a text; the whole of it is read by pointing at it. */
const clamped = (lines: number) => ({
  display: "-webkit-box",
  WebkitLineClamp: lines,
  WebkitBoxOrient: "vertical",
  overflow: "hidden",
});

/** What would be done to a file, in words. */
export const doesOf = (asked: AskedAlike): string =>
  [...new Set(asked.offers.map((one) => one.says))].join(" ");

export function Tile({ asked, says, does, chosen, onFlip }: Props) {
  return (
    <Box
      component="li"
      data-tile={asked.job_id}
      sx={{
        bgcolor: "background.paper",
        outline: chosen ? "2px solid" : "none",
        outlineColor: "primary.main",
        outlineOffset: -2,
        opacity: chosen ? 1 : 0.75,
        p: 1,
      }}
    >
      <Box component="label" sx={{ cursor: "pointer", display: "block" }}>
        <Shown asked={asked} />
        <Row sx={{ alignItems: "start" }}>
          <Checkbox
            size="small"
            checked={chosen}
            onChange={onFlip}
            slotProps={{ input: { "aria-label": say.choose(asked.name) } }}
            sx={{ p: 0.25, mr: 0.5 }}
          />
          <Typography variant="subtitle2" sx={{ overflowWrap: "anywhere" }}>
            {asked.name}
          </Typography>
        </Row>
      </Box>
      {asked.customer && (
        <Typography variant="body2" color="text.secondary">
          {asked.customer}
        </Typography>
      )}
      {says && (
        <Typography variant="body2" sx={clamped(3)} title={asked.message}>
          {asked.message}
        </Typography>
      )}
      {does && (
        <Typography variant="body2" color="text.secondary" sx={clamped(3)} title={doesOf(asked)}>
          {doesOf(asked)}
        </Typography>
      )}
      <Row>
        <Spacer />
        <Button component={Link} to={`/jobs/${asked.job_id}`} aria-label={say.openIt(asked.name)}>
          {say.open}
        </Button>
      </Row>
    </Box>
  );
}

/** The place that is meant; of a question what the file shows. Its room is kept where there is no picture. */
function Shown({ asked }: { asked: AskedAlike }) {
  const [there, setThere] = useState(true);
  const source = asked.key
    ? `/api/jobs/${asked.job_id}/evidence/${asked.key}?of=${asked.art_sha256.slice(0, 8)}`
    : `/api/jobs/${asked.job_id}/glance`;
  return (
    <Box sx={{ height: 88, bgcolor: "#EEE", display: "grid", placeItems: "center", mb: 0.5 }}>
      {there && (
        <Box
          component="img"
          loading="lazy"
          alt={say.whatItShows(asked.name)}
          src={source}
          onError={() => setThere(false)}
          sx={{ maxWidth: "100%", height: 88, objectFit: "contain" }}
        />
      )}
    </Box>
  );
}
