/** Customers: all of them, those with work to do first; and each with a page. */
import {
  Button,
  LinearProgress,
  Link as Anchor,
  Stack,
  Table,
  TableBody,
  TableCell,
  TableHead,
  TableRow,
  TextField,
  Typography,
} from "@mui/material";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { Link, useParams } from "react-router";
import { pileQueries } from "../api/pileQueries";
import { Failure } from "../help/Failure";
import { Row, Spacer } from "../ui/Row";
import { moment } from "../ui/words";
import { CustomerPage } from "./CustomerPage";
import { common } from "../texts/common";
import { customers as say } from "../texts/customers";

export function Customers() {
  const { name } = useParams();
  return name === undefined ? <All /> : <CustomerPage key={name} name={name} />;
}

function All() {
  const all = useQuery(pileQueries.customersAll());
  const [search, setSearch] = useState("");
  const wanted = search.trim().toLocaleLowerCase();
  const listed = all.data?.filter((one) => one.name.toLocaleLowerCase().includes(wanted));
  return (
    <Stack spacing={1.5} sx={{ px: 3, py: 2, maxWidth: 980 }}>
      <Row spacing={1.5}>
        <Typography variant="h1">{say.customers}</Typography>
        <Spacer />
        <TextField label={say.search} value={search} onChange={(e) => setSearch(e.target.value)} />
        <Button variant="outlined" component={Link} to="/letters">
          {say.allLetters}
        </Button>
      </Row>
      {all.isPending && <LinearProgress aria-label={common.loadingLabel} />}
      <Failure of={all.error} />
      {listed?.length === 0 && (
        <Typography color="text.secondary" sx={{ py: 6, textAlign: "center" }}>
          {wanted ? say.noneFits : say.noCustomersYet}
        </Typography>
      )}
      {!!listed?.length && (
        <Table size="small" aria-label={say.customers} sx={{ bgcolor: "background.paper" }}>
          <TableHead>
            <TableRow>
              <TableCell>{say.customer}</TableCell>
              <TableCell align="right">{say.open}</TableCell>
              <TableCell align="right">{say.files}</TableCell>
              <TableCell align="right">{say.withFaults}</TableCell>
              <TableCell>{say.last}</TableCell>
            </TableRow>
          </TableHead>
          <TableBody>
            {listed.map((one) => (
              <TableRow key={one.name} hover>
                <TableCell sx={{ overflowWrap: "anywhere" }}>
                  <Anchor component={Link} to={`/customers/${encodeURIComponent(one.name)}`}>
                    {one.name}
                  </Anchor>
                </TableCell>
                <TableCell align="right" sx={{ fontWeight: one.open ? 700 : 400 }}>
                  {one.open}
                </TableCell>
                <TableCell align="right">{one.files}</TableCell>
                <TableCell align="right">{one.faulty}</TableCell>
                <TableCell>{one.last ? moment(one.last) : say.noFileYet}</TableCell>
              </TableRow>
            ))}
          </TableBody>
        </Table>
      )}
    </Stack>
  );
}
