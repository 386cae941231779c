/** On the Desk: what several files ask alike, in a line, with the way to answer it once. */
import { Button, Typography } from "@mui/material";
import { useQuery } from "@tanstack/react-query";
import { Link } from "react-router";
import { queries } from "../api/queries";
import { Row } from "../ui/Row";
import { useHeld } from "../ui/still";
import { desk as say } from "../texts/desk";

const FEW = 3;

/** `held` keeps it as it is: the list below it would move. */
export function AskedAlike({ held }: { held: boolean }) {
  const groups = useHeld(useQuery(queries.alike()).data, held);
  if (!groups?.length) return null;
  const more = groups.length - FEW;
  return (
    <Row
      component="nav"
      aria-label={say.askedAlikeLabel}
      useFlexGap
      spacing={1}
      sx={{ bgcolor: "background.paper", px: 1.5, py: 0.75, mb: 1, flexWrap: "wrap" }}
    >
      <Typography variant="subtitle2">{say.askedAlike}</Typography>
      {groups.slice(0, FEW).map((one) => (
        <Button
          key={one.key}
          component={Link}
          to={`/alike?group=${encodeURIComponent(one.key)}`}
          variant="outlined"
          sx={{ maxWidth: 330 }}
        >
          <Typography component="span" variant="body2" noWrap>
            {say.filesAsk(one.files)}: {one.title}
          </Typography>
        </Button>
      ))}
      {more > 0 && (
        <Button component={Link} to="/alike">
          {say.andMore(more)}
        </Button>
      )}
    </Row>
  );
}
