/** Which tool with which force, and the test cut of each: what is seen there corrects the shop's settings. */
import { Button, Stack, Typography } from "@mui/material";
import { useFigure } from "../api/benchChanges";
import { useTestCut } from "../api/shelfChanges";
import type { AtCutter, Side, TestCut } from "../api/client";
import { Failure } from "../help/Failure";
import { lookOf } from "../ui/roles";
import { plain } from "../ui/words";
import { tablet as say } from "../texts/tablet";

const SEEN: [TestCut["seen"], string][] = [
  ["right", say.right],
  ["too-shallow", say.shallow],
  ["into-the-liner", say.liner],
  ["through", say.through],
];

export function ToolsStep({ at, side, onDone }: { at: AtCutter; side: Side; onDone: () => void }) {
  const tools = at.tools.filter((one) => one.side === side && !one.aligning);
  return (
    <Stack spacing={2}>
      <Typography variant="h2" sx={{ fontSize: 26 }}>
        {say.tools}
      </Typography>
      {tools.map((tool) => (
        <Tool key={`${tool.role} ${tool.tool}`} at={at} side={side} tool={tool} />
      ))}
      <Button variant="contained" onClick={onDone}>
        {say.toolsAreIn}
      </Button>
    </Stack>
  );
}

function Tool({ at, side, tool }: { at: AtCutter; side: Side; tool: AtCutter["tools"][number] }) {
  const cut = useFigure(at.release.id, side);
  const told = useTestCut();
  const words = lookOf(tool.role).words;
  const found = cut.data;
  const force = found?.tool.force_gf ?? tool.force_gf;
  const correct = (seen: TestCut["seen"]) => {
    if (!found) return;
    const body = { release: at.release.id, side, role: tool.role, version: found.version, seen };
    told.mutate(body, { onSuccess: () => seen !== "right" && cut.mutate(tool.role) });
  };
  return (
    <Stack spacing={1} data-tool={tool.role} sx={{ border: "1px solid #CFCFCF", p: 2 }}>
      <Stack direction="row" sx={{ alignItems: "baseline", flexWrap: "wrap", columnGap: 3 }}>
        <Typography sx={{ fontSize: 22, fontWeight: 700 }}>{words}</Typography>
        <Typography sx={{ fontSize: 26 }}>{say.tool(tool.tool)}</Typography>
        <Typography sx={{ fontSize: 34, fontWeight: 700 }}>
          {force === null || force === undefined ? say.toMachine : `${plain(force)} gf`}
        </Typography>
        <Typography>{say.passes(tool.passes)}</Typography>
        <Typography color="text.secondary">
          {tool.tested ? say.tested(tool.tested) : say.notTested}
        </Typography>
      </Stack>
      <Button variant="outlined" disabled={cut.isPending} onClick={() => cut.mutate(tool.role)}>
        {say.cutFigure}
      </Button>
      {found && !found.own && (
        <>
          <Typography>{say.whatIsSeen}</Typography>
          <Stack direction="row" useFlexGap sx={{ flexWrap: "wrap", gap: 1 }}>
            {SEEN.map(([seen, label]) => (
              <Button key={seen} variant="outlined" disabled={told.isPending} onClick={() => correct(seen)}>
                {label}
              </Button>
            ))}
          </Stack>
          {told.isSuccess && told.variables.seen !== "right" && (
            <Typography>{say.corrected(words)}</Typography>
          )}
        </>
      )}
      <Failure of={cut.error ?? told.error} />
    </Stack>
  );
}
