/** All things of a kind: each by its name with what matters of it, how often it is used, and the way to make one. */
import {
  Button,
  Chip,
  LinearProgress,
  Stack,
  Table,
  TableBody,
  TableCell,
  TableHead,
  TableRow,
  Typography,
} from "@mui/material";
import { useQuery } from "@tanstack/react-query";
import { Link } from "react-router";
import type { KindId, ShelfThing } from "../api/client";
import { queries } from "../api/queries";
import { Failure } from "../help/Failure";
import { Row, Spacer } from "../ui/Row";
import { Sample } from "./Sample";
import { summaryOf } from "./summary";
import { shelf as say } from "../texts/shelf";

interface Props {
  kind: KindId;
  /** Whether something stands above it that makes and changes them. */
  second: boolean;
}

export function ThingsPart({ kind, second }: Props) {
  const listed = useQuery(queries.things(kind));
  if (listed.isPending) return <LinearProgress aria-label={say.loadingThingsLabel} />;
  if (listed.isError) return <Failure of={listed.error} />;
  const { kind: about, things, may_edit } = listed.data;
  const makes = may_edit && kind !== "recipe" && kind !== "check-sheet";
  return (
    <Stack spacing={1.5} component="section" aria-label={about.many}>
      <Row spacing={1}>
        <Typography variant={second ? "h2" : "h1"}>
          {second ? say.allWithTheirVersions(about.many) : capital(about.many)}
        </Typography>
        <Spacer />
        {makes && (
          <Button variant="contained" component={Link} to={`/shelf/${kind}/new`}>
            {say.makeA(about.one)}
          </Button>
        )}
      </Row>
      {!second && (
        <Typography variant="body2" color="text.secondary">
          {about.says}
        </Typography>
      )}
      {things.length === 0 ? (
        <Typography variant="body2">{say.noYet(about.one)}</Typography>
      ) : (
        <Table size="small" aria-label={about.many}>
          <TableHead>
            <TableRow>
              <TableCell>{say.name}</TableCell>
              <TableCell>{say.whatItIs}</TableCell>
              <TableCell>{say.inUse}</TableCell>
              <TableCell>{say.version2}</TableCell>
            </TableRow>
          </TableHead>
          <TableBody>
            {things.map((one) => (
              <ThingRow key={one.id} one={one} />
            ))}
          </TableBody>
        </Table>
      )}
    </Stack>
  );
}

function ThingRow({ one }: { one: ShelfThing }) {
  const many = one.kind !== "tool" && one.kind !== "holder";
  return (
    <TableRow data-thing={one.id} sx={{ verticalAlign: "top", opacity: one.retired ? 0.65 : 1 }}>
      <TableCell sx={{ maxWidth: 320, overflowWrap: "anywhere" }}>
        <Link to={`/shelf/${one.kind}/${one.id}`}>{one.title}</Link>
        {one.usual && many && <Chip label={say.usual} size="small" sx={{ ml: 1 }} />}
        {one.retired && <Chip label={say.retired} size="small" variant="outlined" sx={{ ml: 1 }} />}
      </TableCell>
      <TableCell>
        <Sample thing={one} />
        {summaryOf(one)}
      </TableCell>
      <TableCell sx={{ whiteSpace: "nowrap" }}>
        {[one.jobs && say.job(one.jobs), one.used_by && say.thing(one.used_by)].filter(Boolean).join(", ")}
      </TableCell>
      <TableCell>{one.number}</TableCell>
    </TableRow>
  );
}

export const capital = (words: string) => words.charAt(0).toUpperCase() + words.slice(1);
