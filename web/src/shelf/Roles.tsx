/** Roles by the rights that they are made of: a row a right, a column a role. */
import {
  Button,
  Checkbox,
  Stack,
  Table,
  TableBody,
  TableCell,
  TableHead,
  TableRow,
  TextField,
  Typography,
} from "@mui/material";
import { useState } from "react";
import type { Right, RoleShown, Staff } from "../api/client";
import { useKeepRole, useRemoveRole } from "../api/staff";
import { Failure } from "../help/Failure";
import { Row } from "../ui/Row";
import { capital } from "./ThingsPart";
import { shelf as say } from "../texts/shelf";

export function Roles({ staff }: { staff: Staff }) {
  const keep = useKeepRole();
  const remove = useRemoveRole();
  const [name, setName] = useState("");
  const flip = (role: RoleShown, right: Right) =>
    keep.mutate({
      id: role.id,
      name: role.name,
      rights: role.rights.includes(right)
        ? role.rights.filter((one) => one !== right)
        : [...role.rights, right],
    });
  return (
    <Stack spacing={1} component="section" aria-label={say.rolesLabel}>
      <Typography variant="h2">{say.rolesAndWhatEachMay}</Typography>
      <Table size="small" aria-label={say.rightsOfRoles}>
        <TableHead>
          <TableRow>
            <TableCell>{say.may}</TableCell>
            {staff.roles.map((role) => (
              <TableCell key={role.id} align="center" sx={{ verticalAlign: "bottom" }}>
                {role.name}
                <Typography variant="body2" color="text.secondary">
                  {say.person(role.people)}
                </Typography>
              </TableCell>
            ))}
          </TableRow>
        </TableHead>
        <TableBody>
          {staff.rights.map(({ right, says }) => (
            <TableRow key={right}>
              <TableCell>{capital(says)}</TableCell>
              {staff.roles.map((role) => (
                <TableCell key={role.id} align="center" sx={{ py: 0 }}>
                  <Checkbox
                    size="small"
                    checked={role.rights.includes(right)}
                    disabled={keep.isPending}
                    onChange={() => flip(role, right)}
                    slotProps={{ input: { "aria-label": say.may2(role.name, says) } }}
                  />
                </TableCell>
              ))}
            </TableRow>
          ))}
          <TableRow>
            <TableCell />
            {staff.roles.map((role) => (
              <TableCell key={role.id} align="center">
                {role.people === 0 && (
                  <Button onClick={() => remove.mutate(role.id)} aria-label={say.takeTheRoleAway(role.name)}>
                    {say.takeAway}
                  </Button>
                )}
              </TableCell>
            ))}
          </TableRow>
        </TableBody>
      </Table>
      <Row
        spacing={1}
        component="form"
        onSubmit={(event) => {
          event.preventDefault();
          if (name.trim())
            keep.mutate({ id: null, name: name.trim(), rights: ["see"] }, { onSuccess: () => setName("") });
        }}
      >
        <TextField
          label={say.anotherRole}
          value={name}
          onChange={(event) => setName(event.target.value)}
          sx={{ width: 220 }}
          slotProps={{ htmlInput: { maxLength: 60 } }}
        />
        <Button type="submit" disabled={!name.trim() || keep.isPending}>
          {say.makeIt}
        </Button>
      </Row>
      <Failure of={keep.error ?? remove.error} />
    </Stack>
  );
}
