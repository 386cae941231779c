/** A customer's page: open work, what goes for them, habits, what their files came with, letters, files. */
import { Box, Button, LinearProgress, Stack, Typography } from "@mui/material";
import { useInfiniteQuery, useQuery } from "@tanstack/react-query";
import { Link } from "react-router";
import type { Customer } from "../api/client";
import { pileQueries } from "../api/pileQueries";
import { useMay } from "../api/may";
import { GROUPS } from "../desk/groups";
import { Row as JobLine } from "../desk/Row";
import { Failure } from "../help/Failure";
import { Row, Spacer } from "../ui/Row";
import { Faults } from "./Faults";
import { Bound, Habits } from "./Habits";
import { LetterList } from "./LetterList";
import { orderWords } from "./orderWords";
import { common } from "../texts/common";
import { customers as say } from "../texts/customers";

export function CustomerPage({ name }: { name: string }) {
  const customer = useQuery(pileQueries.customer(name));
  if (customer.isPending) return <LinearProgress aria-label={common.loadingLabel} />;
  if (customer.isError)
    return (
      <Failure of={customer.error} alone>
        <Link to="/customers">{say.backToAll}</Link>
      </Failure>
    );
  const { data } = customer;
  return (
    <Stack spacing={2} sx={{ px: 3, py: 2 }}>
      <Row spacing={1.5}>
        <Typography variant="h1" sx={{ overflowWrap: "anywhere" }}>
          {data.name}
        </Typography>
        <Spacer />
        <Button component={Link} to="/customers">
          {say.backToAll}
        </Button>
        <OnShelf of={data} />
      </Row>
      {data.note && <Typography>{data.note}</Typography>}
      <Open of={data} />
      <Box sx={{ display: "grid", gridTemplateColumns: "minmax(0, 1fr) minmax(0, 1fr)", gap: 2 }}>
        <Stack spacing={2}>
          <Terms of={data} />
          <Habits of={data} />
          <Bound of={data} />
        </Stack>
        <Stack spacing={2}>
          <Faults of={data} />
          <Letters name={name} />
        </Stack>
      </Box>
      <Jobs name={name} />
    </Stack>
  );
}

function OnShelf({ of }: { of: Customer }) {
  const may = useMay("edit-shelf");
  if (!may) return null;
  return (
    <Button variant="outlined" component={Link} to={`/shelf/customer/${of.thing || "new"}`}>
      {of.thing ? say.editOnShelf : say.putOnShelf}
    </Button>
  );
}

/** How many of their jobs need what; each leads to just these on the Desk. */
function Open({ of }: { of: Customer }) {
  const there = Object.entries(GROUPS).filter(([state]) => state !== "all" && of.counts[state]);
  return (
    <Row useFlexGap spacing={1} sx={{ flexWrap: "wrap" }}>
      {there.map(([state, words]) => (
        <Button
          key={state}
          variant="outlined"
          component={Link}
          to={`/?group=${state}&search=${encodeURIComponent(of.name)}`}
        >
          {say.inState(words, of.counts[state] ?? 0)}
        </Button>
      ))}
    </Row>
  );
}

function Terms({ of }: { of: Customer }) {
  const rows: [string, string][] = [
    [say.lettersGoTo, of.write_to || say.nobodySaid],
    [say.destination, of.destination || say.usual],
    [say.order, orderWords(of.order) || say.nobodySaid],
    [say.checkSheet, of.check_sheet ? say.theirOwn : say.theShops],
  ];
  return (
    <Stack component="section" aria-label={say.whatGoesForThem} spacing={0.5}>
      <Typography variant="h2">{say.whatGoesForThem}</Typography>
      {rows.map(([words, value]) => (
        <Row key={words} spacing={1} sx={{ alignItems: "baseline" }}>
          <Typography variant="body2" color="text.secondary" sx={{ width: 130, flex: "none" }}>
            {words}
          </Typography>
          <Typography variant="body2" sx={{ overflowWrap: "anywhere" }}>
            {value}
          </Typography>
        </Row>
      ))}
    </Stack>
  );
}

function Letters({ name }: { name: string }) {
  const letters = useQuery(pileQueries.letters(name));
  return (
    <Stack component="section" aria-label={say.letters} spacing={0.5}>
      <Typography variant="h2">{say.letters}</Typography>
      <Failure of={letters.error} />
      {letters.data?.length === 0 && <Typography variant="body2">{say.noLetters}</Typography>}
      <LetterList letters={letters.data ?? []} />
    </Stack>
  );
}

function Jobs({ name }: { name: string }) {
  const jobs = useInfiniteQuery(pileQueries.jobsOf(name));
  return (
    <Stack component="section" aria-label={say.jobs} spacing={0.5}>
      <Typography variant="h2">{say.jobs}</Typography>
      <Failure of={jobs.error} />
      <Stack component="ul" aria-label={say.jobs} spacing={0.5} sx={{ listStyle: "none", p: 0, m: 0 }}>
        {jobs.data?.pages.flat().map((job) => (
          <JobLine key={job.id} job={job} />
        ))}
      </Stack>
      {jobs.hasNextPage && (
        <Button
          variant="outlined"
          disabled={jobs.isFetchingNextPage}
          onClick={() => void jobs.fetchNextPage()}
          sx={{ alignSelf: "start" }}
        >
          {say.showMore}
        </Button>
      )}
    </Stack>
  );
}
