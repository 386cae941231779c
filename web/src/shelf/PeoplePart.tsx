/** Who works here and may do what: for everybody a list, for whoever manages people the means to change it. */
import {
  Box,
  Button,
  LinearProgress,
  MenuItem,
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
import type { Right, Staff } from "../api/client";
import { queries } from "../api/queries";
import { useChangePerson, useLogOutPerson, usePutOffSecondStep } from "../api/staff";
import { Failure } from "../help/Failure";
import { LogIns } from "../people/LogIns";
import { moment } from "../ui/words";
import { Invites } from "./Invites";
import { Roles } from "./Roles";
import { shelf as say } from "../texts/shelf";

export function PeoplePart() {
  const me = useQuery(queries.me());
  const manages = me.data?.rights.includes("manage-people") ?? false;
  const staff = useQuery({ ...queries.staff(), enabled: manages });
  return (
    <Stack component="section" aria-label={say.peopleLabel} spacing={3}>
      <Typography variant="h1">{say.people}</Typography>
      <Failure of={staff.error ?? me.error} />
      {me.data && !manages && <Colleagues own={me.data.name} />}
      {manages && !staff.data && <LinearProgress aria-label={say.loadingPeopleLabel} />}
      {staff.data && (
        <>
          <People staff={staff.data} own={me.data?.name ?? ""} />
          <Invites staff={staff.data} />
          <Roles staff={staff.data} />
        </>
      )}
      <LogIns />
    </Stack>
  );
}

const RIGHTS: Record<Right, string> = {
  see: "sees",
  "take-in": say.takesIn,
  work: "works",
  waive: say.letsStopsPass,
  release: "releases",
  "edit-shelf": say.changesTheShelf,
  "manage-people": say.managesPeople,
};
export const rightsWords = (rights: readonly Right[]) =>
  rights.map((one) => RIGHTS[one]).join(", ") || say.nothingYet;

/** For whoever has to know whom to ask. */
function Colleagues({ own }: { own: string }) {
  const people = useQuery(queries.people());
  if (people.isPending) return <LinearProgress aria-label={say.loadingPeopleLabel} />;
  if (people.isError) return <Failure of={people.error} />;
  return (
    <Table size="small" sx={{ maxWidth: 860 }} aria-label={say.peopleLabel}>
      <TableHead>
        <TableRow>
          <TableCell>{say.name}</TableCell>
          <TableCell>{say.mayDo}</TableCell>
          <TableCell>{say.lastHere}</TableCell>
        </TableRow>
      </TableHead>
      <TableBody>
        {people.data.map((one) => (
          <TableRow key={one.name} data-person={one.name}>
            <TableCell sx={{ fontWeight: one.name === own ? 700 : 400, overflowWrap: "anywhere" }}>
              {one.name}
              {one.name === own && " (you)"}
            </TableCell>
            <TableCell>{rightsWords(one.rights)}</TableCell>
            <TableCell>{one.seen ? moment(one.seen) : say.notLoggedIn}</TableCell>
          </TableRow>
        ))}
      </TableBody>
    </Table>
  );
}

function People({ staff, own }: { staff: Staff; own: string }) {
  const change = useChangePerson();
  const logOut = useLogOutPerson();
  const putOff = usePutOffSecondStep();
  return (
    <Box>
      <Table size="small" aria-label={say.peopleLabel}>
        <TableHead>
          <TableRow>
            <TableCell>{say.name}</TableCell>
            <TableCell>{say.roles}</TableCell>
            <TableCell>{say.lastHere}</TableCell>
            <TableCell>{say.secondStep}</TableCell>
            <TableCell />
          </TableRow>
        </TableHead>
        <TableBody>
          {staff.people.map((one) => (
            <TableRow key={one.id} data-person={one.name} sx={{ opacity: one.active ? 1 : 0.65 }}>
              <TableCell sx={{ fontWeight: one.name === own ? 700 : 400, overflowWrap: "anywhere" }}>
                {one.name}
                {one.name === own && " (you)"}
                {!one.active && say.switchedOff}
              </TableCell>
              <TableCell>
                <TextField
                  select
                  value={one.roles}
                  onChange={(event) =>
                    change.mutate({ id: one.id, roles: event.target.value as unknown as number[] })
                  }
                  sx={{ minWidth: 190 }}
                  slotProps={{
                    select: { multiple: true, displayEmpty: true },
                    htmlInput: { "aria-label": say.rolesOf(one.name) },
                  }}
                >
                  {staff.roles.map((role) => (
                    <MenuItem key={role.id} value={role.id}>
                      {role.name}
                    </MenuItem>
                  ))}
                </TextField>
              </TableCell>
              <TableCell>
                {one.seen ? `${moment(one.seen)}, ${say.browser(one.browsers)}` : say.notLoggedIn}
              </TableCell>
              <TableCell>
                {one.second_step ? (
                  <Button
                    onClick={() => putOff.mutate(one.id)}
                    aria-label={say.putOffTheSecondStep(one.name)}
                  >
                    {say.putOff}
                  </Button>
                ) : (
                  "none"
                )}
              </TableCell>
              <TableCell sx={{ whiteSpace: "nowrap" }}>
                {one.browsers > 0 && one.name !== own && (
                  <Button onClick={() => logOut.mutate(one.id)} aria-label={say.logOutEverywhere(one.name)}>
                    {say.logOut}
                  </Button>
                )}
                {one.name !== own && (
                  <Button
                    onClick={() => change.mutate({ id: one.id, active: !one.active })}
                    aria-label={say.switchIt(one.name, one.active)}
                  >
                    {one.active ? say.switchOff : say.switchOn}
                  </Button>
                )}
              </TableCell>
            </TableRow>
          ))}
        </TableBody>
      </Table>
      <Failure of={change.error ?? logOut.error ?? putOff.error} />
    </Box>
  );
}
