/** The shelf: materials, destinations with their exact names, tool settings. */
import {
  Alert,
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
import { lookOf } from "../ui/roles";
import { MONO } from "../ui/theme";
import { CheckSheetsPart } from "./CheckSheetsPart";
import { MediaPart } from "./MediaPart";
import { RecipesPart } from "./RecipesPart";
import { ToolsPart } from "./ToolsPart";

export function ShelfPage() {
  const shelf = useQuery(queries.shelf());
  if (shelf.isPending) return <LinearProgress aria-label="loading" />;
  if (shelf.isError) return <Alert severity="error">{shelf.error.message}</Alert>;
  return (
    <Stack spacing={3} sx={{ p: 3, maxWidth: 1000 }}>
      <Typography variant="h1">Shelf</Typography>
      <Typography variant="h2">Destinations and the exact names they want</Typography>
      <Table size="small">
        <TableHead>
          <TableRow>
            <TableCell>Role</TableCell>
            {shelf.data.destinations.map((d) => (
              <TableCell key={d.id}>{d.title}</TableCell>
            ))}
          </TableRow>
        </TableHead>
        <TableBody>
          {Object.keys(shelf.data.destinations[0]?.names ?? {}).map((role) => (
            <TableRow key={role}>
              <TableCell>{lookOf(role).words.replace("-", " ")}</TableCell>
              {shelf.data.destinations.map((d) => (
                <TableCell key={d.id} sx={{ fontFamily: MONO }}>
                  {d.names[role]?.replaceAll(" ", "␣")}
                </TableCell>
              ))}
            </TableRow>
          ))}
        </TableBody>
      </Table>
      <MediaPart shelf={shelf.data} />
      <ToolsPart shelf={shelf.data} />
      <RecipesPart />
      <CheckSheetsPart />
    </Stack>
  );
}
