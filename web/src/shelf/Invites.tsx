/** Invitations: a link for one person, told once, and those that are open. */
import { Alert, Button, MenuItem, Stack, TextField, Typography } from "@mui/material";
import { useState } from "react";
import type { Staff } from "../api/client";
import { useInvite, useWithdraw } from "../api/staff";
import { Failure } from "../help/Failure";
import { Row } from "../ui/Row";
import { moment } from "../ui/words";
import { shelf as say } from "../texts/shelf";

export function Invites({ staff }: { staff: Staff }) {
  const invite = useInvite();
  const withdraw = useWithdraw();
  const usual = staff.roles.find((one) => one.name === "Technician") ?? staff.roles[0];
  const [role, setRole] = useState<number | "">(usual?.id ?? "");
  const [note, setNote] = useState("");
  const link = invite.data && `${window.location.origin}${invite.data.path}`;
  return (
    <Stack spacing={1} component="section" aria-label={say.invitationsLabel}>
      <Typography variant="h2">{say.inviteSomebody}</Typography>
      <Row
        spacing={1}
        component="form"
        onSubmit={(event) => {
          event.preventDefault();
          if (role !== "")
            invite.mutate({ roles: [role], note: note.trim() }, { onSuccess: () => setNote("") });
        }}
      >
        <TextField
          label={say.whoItIsFor}
          value={note}
          onChange={(event) => setNote(event.target.value)}
          sx={{ width: 220 }}
          slotProps={{ htmlInput: { maxLength: 100 } }}
        />
        <TextField
          select
          label={say.as}
          value={role}
          onChange={(event) => setRole(Number(event.target.value))}
          sx={{ width: 200 }}
        >
          {staff.roles.map((one) => (
            <MenuItem key={one.id} value={one.id}>
              {one.name}
            </MenuItem>
          ))}
        </TextField>
        <Button type="submit" variant="outlined" disabled={role === "" || invite.isPending}>
          {say.makeALink}
        </Button>
      </Row>
      {link && (
        <Alert
          severity="info"
          action={<Button onClick={() => void navigator.clipboard.writeText(link)}>{say.copy}</Button>}
        >
          {say.sendThisLinkToThat}
          <Typography variant="mono" sx={{ overflowWrap: "anywhere" }} data-testid="link">
            {link}
          </Typography>
        </Alert>
      )}
      {staff.invites.map((one) => (
        <Row key={one.id} spacing={1} data-invite={one.note}>
          <Typography variant="body2">
            {say.asInvitedUntil(
              one.note || say.somebody,
              one.roles.join(", "),
              one.who && say.by(one.who),
              moment(one.ends),
            )}
          </Typography>
          <Button
            onClick={() => withdraw.mutate(one.id)}
            aria-label={say.withdrawTheInvitationOf(one.note || "somebody")}
          >
            {say.withdraw}
          </Button>
        </Row>
      ))}
      <Failure of={invite.error ?? withdraw.error} />
    </Stack>
  );
}
