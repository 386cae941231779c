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
import { RoleSign } from "../stage/RoleLine";
import { MONO } from "../ui/theme";
import { CheckSheetsPart } from "./CheckSheetsPart";
import { MediaPart } from "./MediaPart";
import { RecipesPart } from "./RecipesPart";

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
      <Typography variant="h2">Tool settings to begin with; always test-cut</Typography>
      <Table size="small">
        <TableBody>
          {shelf.data.tools.map((t) => (
            <TableRow key={t.role}>
              <TableCell>
                <RoleSign role={t.role} /> {lookOf(t.role).words}
              </TableCell>
              <TableCell>tool {t.number}</TableCell>
              <TableCell>{t.force_gf} gf</TableCell>
              <TableCell>{t.speed_mm_s} mm/s</TableCell>
              <TableCell>{t.cut_mm ? `${t.cut_mm} mm cut, ${t.tie_mm} mm tie` : ""}</TableCell>
            </TableRow>
          ))}
        </TableBody>
      </Table>
      <RecipesPart />
      <CheckSheetsPart />
    </Stack>
  );
}
