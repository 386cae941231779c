/** What a customer's files came with by month: the kinds of fault that came most often, each by itself. */
import { BarChart } from "@mui/x-charts/BarChart";
import type { Customer } from "../api/client";
import { ACCENT } from "../ui/theme";
import { customers as say } from "../texts/customers";

/** From what came most often to what did least: told apart in grey, too. */
const COLOURS = [ACCENT, "#9BB8BA", "#4D4D4D", "#C9B27C", "#D5D9D9"];

export function FaultChart({ of }: { of: Customer }) {
  const kinds = of.faults.slice(0, COLOURS.length);
  return (
    <BarChart
      height={230}
      aria-label={say.faults}
      xAxis={[
        {
          data: of.months.map((one) => say.month(one.month, one.files)),
          scaleType: "band",
          height: 40,
        },
      ]}
      yAxis={[{ tickMinStep: 1, width: 32 }]}
      series={kinds.map((kind, i) => ({
        data: of.months.map((one) => one.kinds[kind.id] ?? 0),
        label: kind.title,
        color: COLOURS[i] ?? ACCENT,
      }))}
      slotProps={{ legend: { direction: "horizontal" } }}
      skipAnimation
    />
  );
}
