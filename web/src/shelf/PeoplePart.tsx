/** Who works here and who may do what, so that one knows whom to ask. */
import {
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
import { queries } from "../api/queries";
import { Failure } from "../help/Failure";
import { LogIns } from "../people/LogIns";
import { moment, plural } from "../ui/words";

export function PeoplePart() {
  const people = useQuery(queries.people());
  const me = useQuery(queries.me());
  return (
    <Stack component="section" aria-label="people" spacing={2}>
      <Typography variant="body2" color="text.secondary">
        Everybody takes in, mends and releases. Letting a stop pass and changing the Shelf are rights of their
        own; whoever looks after the server gives them, as docs/running.md says.
      </Typography>
      {people.isPending && <LinearProgress aria-label="loading people" />}
      <Failure of={people.error} />
      {people.data && (
        <Table size="small" sx={{ maxWidth: 760 }}>
          <TableHead>
            <TableRow>
              <TableCell>Name</TableCell>
              <TableCell>Lets stops pass</TableCell>
              <TableCell>Changes the Shelf</TableCell>
              <TableCell>Last here</TableCell>
            </TableRow>
          </TableHead>
          <TableBody>
            {people.data.map((one) => (
              <TableRow key={one.name} data-person={one.name}>
                <TableCell
                  sx={{ fontWeight: one.name === me.data?.name ? 700 : 400, overflowWrap: "anywhere" }}
                >
                  {one.name}
                  {one.name === me.data?.name && " (you)"}
                </TableCell>
                <TableCell>{one.may_waive ? "yes" : "no"}</TableCell>
                <TableCell>{one.may_edit_shelf ? "yes" : "no"}</TableCell>
                <TableCell>
                  {one.seen ? `${moment(one.seen)}, ${plural(one.browsers, "browser")}` : "not logged in"}
                </TableCell>
              </TableRow>
            ))}
          </TableBody>
        </Table>
      )}
      <LogIns />
    </Stack>
  );
}
