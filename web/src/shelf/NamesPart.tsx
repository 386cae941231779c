/** Destinations, with the exact names that each wants. */
import { Table, TableBody, TableCell, TableHead, TableRow, Typography } from "@mui/material";
import type { Shelf } from "../api/client";
import { lookOf } from "../ui/roles";
import { MONO } from "../ui/theme";
import { shelf as say } from "../texts/shelf";

export function NamesPart({ shelf }: { shelf: Shelf }) {
  return (
    <>
      <Typography variant="h2">{say.theExactNamesThatEach}</Typography>
      <Table size="small">
        <TableHead>
          <TableRow>
            <TableCell>{say.role}</TableCell>
            {shelf.destinations.map((d) => (
              <TableCell key={d.id}>{d.title}</TableCell>
            ))}
          </TableRow>
        </TableHead>
        <TableBody>
          {Object.keys(shelf.destinations[0]?.names ?? {}).map((role) => (
            <TableRow key={role}>
              <TableCell>{lookOf(role).words.replace("-", " ")}</TableCell>
              {shelf.destinations.map((d) => (
                <TableCell key={d.id} sx={{ fontFamily: MONO }}>
                  {d.names[role]?.replaceAll(" ", "␣")}
                </TableCell>
              ))}
            </TableRow>
          ))}
        </TableBody>
      </Table>
    </>
  );
}
