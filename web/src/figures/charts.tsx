/** The plots of the shop's figures. */
import { BarChart } from "@mui/x-charts/BarChart";
import type { Figures } from "../api/client";
import { ACCENT } from "../ui/theme";
import { figures as say } from "../texts/figures";

const GREY = "#B9C2C3";
const PALE = "#E3E7E7";
const HEIGHT = 230;
const KINDS = 8;

const weeks = ({ weeks: all }: Figures) =>
  all.map((one) => one.monday.slice(5).split("-").reverse().join("."));

/** Files by week: those that needed nobody, and the others. */
export function Arrived({ of }: { of: Figures }) {
  return (
    <BarChart
      height={HEIGHT}
      xAxis={[{ data: weeks(of), scaleType: "band" }]}
      yAxis={[{ tickMinStep: 1, width: 32 }]}
      series={[
        { data: of.weeks.map((one) => one.untouched), label: say.untouched, stack: "all", color: ACCENT },
        {
          data: of.weeks.map((one) => one.sorted - one.untouched),
          label: say.others,
          stack: "all",
          color: GREY,
        },
        {
          data: of.weeks.map((one) => one.files - one.sorted),
          label: say.unknown,
          stack: "all",
          color: PALE,
        },
      ].filter((one) => one.data.some((value) => value > 0))}
      skipAnimation
    />
  );
}

/** Media by week in square metres: used for pieces, and waste. */
export function Media({ of }: { of: Figures }) {
  const round = (value: number) => Number(value.toFixed(3));
  return (
    <BarChart
      height={HEIGHT}
      xAxis={[{ data: weeks(of), scaleType: "band" }]}
      yAxis={[{ width: 48, label: say.squareMetres }]}
      series={[
        {
          data: of.weeks.map((one) => round(one.area_m2 - one.waste_m2)),
          label: say.used,
          stack: "all",
          color: ACCENT,
        },
        { data: of.weeks.map((one) => round(one.waste_m2)), label: say.wasted, stack: "all", color: GREY },
      ]}
      skipAnimation
    />
  );
}

/** The kinds of fault that came most often. */
export function Kinds({ of }: { of: Figures }) {
  const listed = of.faults.slice(0, KINDS);
  return (
    <BarChart
      height={Math.max(110, 30 * listed.length + 50)}
      layout="horizontal"
      yAxis={[{ data: listed.map((one) => one.title), scaleType: "band", width: 190 }]}
      xAxis={[{ tickMinStep: 1 }]}
      series={[{ data: listed.map((one) => one.files), color: ACCENT }]}
      hideLegend
      skipAnimation
    />
  );
}
