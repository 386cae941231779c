/** What is done with a job in the queue of the machine that is looked at: held, let go, cancelled, printed again. */
import { Button } from "@mui/material";
import { Link } from "react-router";
import { useTakeOff } from "../api/benchChanges";
import { useCancelQueued, useHold, usePrintAgain } from "../api/queueChanges";
import type { Release } from "../api/client";
import { useMay } from "../api/may";
import { Failure } from "../help/Failure";
import type { Machine } from "./states";
import { queues as say } from "../texts/queues";

const PRINT_ENDED: readonly string[] = ["done", "refused", "failed", "cancelled"];
const CUT_ENDED: readonly string[] = ["cut", "cancelled"];

export function QueueActions({ made, machine }: { made: Release; machine: Machine }) {
  return machine === "rip" ? <AtTheRip made={made} /> : <AtTheCutter made={made} />;
}

function AtTheRip({ made }: { made: Release }) {
  const hold = useHold("rip");
  const cancel = useCancelQueued("rip");
  const again = usePrintAgain();
  const may = useMay("work");
  const busy = !may || hold.isPending || cancel.isPending || again.isPending;
  return (
    <>
      {made.rip_state === "waiting" && (
        <Button disabled={busy} onClick={() => hold.mutate({ id: made.id, held: !made.held })}>
          {made.held ? say.letGo : say.hold}
        </Button>
      )}
      {PRINT_ENDED.includes(made.rip_state) ? (
        <Button disabled={busy} onClick={() => again.mutate(made.id)}>
          {say.printAgain}
        </Button>
      ) : (
        <Button disabled={busy} onClick={() => cancel.mutate(made.id)}>
          {say.cancelPrint}
        </Button>
      )}
      <Failure of={hold.error ?? cancel.error ?? again.error} />
    </>
  );
}

function AtTheCutter({ made }: { made: Release }) {
  const hold = useHold("cutter");
  const cancel = useCancelQueued("cutter");
  const off = useTakeOff(made.id, "front");
  const may = useMay("work");
  const sheet = made.sheet;
  if (!sheet || CUT_ENDED.includes(sheet.stage)) return null;
  const busy = !may || hold.isPending || cancel.isPending;
  return (
    <>
      <Button component={Link} to={`/cutter/${made.code ?? made.id}`}>
        {say.onTheTablet}
      </Button>
      <Button disabled={busy} onClick={() => hold.mutate({ id: sheet.id, held: !sheet.held })}>
        {sheet.held ? say.letGo : say.hold}
      </Button>
      {["loaded", "stopped"].includes(sheet.stage) && (
        <Button disabled={busy || off.isPending || sheet.unsure} onClick={() => off.mutate()}>
          {say.takeOff}
        </Button>
      )}
      <Button disabled={busy || sheet.stage === "cutting"} onClick={() => cancel.mutate(sheet.id)}>
        {say.cancelCut}
      </Button>
      <Failure of={hold.error ?? cancel.error ?? off.error} />
    </>
  );
}
