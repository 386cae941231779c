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
import { moment, plural } from "../ui/words";
import { Invites } from "./Invites";
import { Roles } from "./Roles";

export function PeoplePart() {
  const me = useQuery(queries.me());
  const manages = me.data?.rights.includes("manage-people") ?? false;
  const staff = useQuery({ ...queries.staff(), enabled: manages });
  return (
    <Stack component="section" aria-label="people" spacing={3}>
      <Typography variant="h1">People</Typography>
      <Failure of={staff.error ?? me.error} />
      {me.data && !manages && <Colleagues own={me.data.name} />}
      {manages && !staff.data && <LinearProgress aria-label="loading people" />}
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
  "take-in": "takes in",
  work: "works",
  waive: "lets stops pass",
  release: "releases",
  "edit-shelf": "changes the Shelf",
  "manage-people": "manages people",
};
export const rightsWords = (rights: readonly Right[]) =>
  rights.map((one) => RIGHTS[one]).join(", ") || "nothing yet";

/** For whoever has to know whom to ask. */
function Colleagues({ own }: { own: string }) {
  const people = useQuery(queries.people());
  if (people.isPending) return <LinearProgress aria-label="loading people" />;
  if (people.isError) return <Failure of={people.error} />;
  return (
    <Table size="small" sx={{ maxWidth: 860 }} aria-label="people">
      <TableHead>
        <TableRow>
          <TableCell>Name</TableCell>
          <TableCell>May do</TableCell>
          <TableCell>Last here</TableCell>
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
            <TableCell>{one.seen ? moment(one.seen) : "not logged in"}</TableCell>
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
      <Table size="small" aria-label="people">
        <TableHead>
          <TableRow>
            <TableCell>Name</TableCell>
            <TableCell>Roles</TableCell>
            <TableCell>Last here</TableCell>
            <TableCell>Second step</TableCell>
            <TableCell />
          </TableRow>
        </TableHead>
        <TableBody>
          {staff.people.map((one) => (
            <TableRow key={one.id} data-person={one.name} sx={{ opacity: one.active ? 1 : 0.65 }}>
              <TableCell sx={{ fontWeight: one.name === own ? 700 : 400, overflowWrap: "anywhere" }}>
                {one.name}
                {one.name === own && " (you)"}
                {!one.active && " · switched off"}
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
                    htmlInput: { "aria-label": `Roles of ${one.name}` },
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
                {one.seen ? `${moment(one.seen)}, ${plural(one.browsers, "browser")}` : "not logged in"}
              </TableCell>
              <TableCell>
                {one.second_step ? (
                  <Button
                    onClick={() => putOff.mutate(one.id)}
                    aria-label={`Put off the second step of ${one.name}`}
                  >
                    Put off
                  </Button>
                ) : (
                  "none"
                )}
              </TableCell>
              <TableCell sx={{ whiteSpace: "nowrap" }}>
                {one.browsers > 0 && one.name !== own && (
                  <Button onClick={() => logOut.mutate(one.id)} aria-label={`Log ${one.name} out everywhere`}>
                    Log out
                  </Button>
                )}
                {one.name !== own && (
                  <Button
                    onClick={() => change.mutate({ id: one.id, active: !one.active })}
                    aria-label={`Switch ${one.name} ${one.active ? "off" : "on"}`}
                  >
                    {one.active ? "Switch off" : "Switch on"}
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
