/** What a customer's files came with: by kind, and over time. */
import { Stack, Typography } from "@mui/material";
import type { Customer } from "../api/client";
import { soon } from "../ui/soon";
import { Row, Spacer } from "../ui/Row";
import { customers as say } from "../texts/customers";

const FaultChart = soon(() => import("./FaultChart").then((room) => room.FaultChart));

const FEW = 8;

export function Faults({ of }: { of: Customer }) {
  return (
    <Stack component="section" aria-label={say.faults} spacing={0.5}>
      <Typography variant="h2">{say.faults}</Typography>
      <Typography variant="body2">
        {of.sorted === 0 ? say.notKnownYet : say.untouched(of.untouched, of.sorted)}
      </Typography>
      {of.sorted > 0 && of.faults.length === 0 && <Typography variant="body2">{say.noFaults}</Typography>}
      {of.faults.slice(0, FEW).map((one) => (
        <Row key={one.id} spacing={1}>
          <Typography variant="body2">{one.title}</Typography>
          <Spacer />
          <Typography variant="body2">{say.filesWith(one.files)}</Typography>
        </Row>
      ))}
      {of.faults.length > FEW && (
        <Typography variant="body2" color="text.secondary">
          {say.moreKinds(of.faults.length - FEW)}
        </Typography>
      )}
      {of.faults.length > 0 && <FaultChart of={of} />}
    </Stack>
  );
}
