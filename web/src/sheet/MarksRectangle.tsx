/** The rectangle that marks stand on, in figures; how far it may reach the sheet says when it is laid out. */
import type { Box } from "../stage/geometry";
import { Amount } from "../ui/fields";
import { sheet as say } from "../texts/sheet";

const LEAST_MM = 20;

export function MarksRectangle({ box, onBox }: { box: Box; onBox: (box: Box) => void }) {
  const [x0, y0, x1, y1] = box;
  const figure = (label: string, value: number, set: (mm: number) => Box) => (
    <Amount
      label={say.ofTheRectangle(label)}
      value={value}
      least={-1e5}
      most={1e5}
      step={1}
      onChange={(mm) => mm !== undefined && onBox(set(mm))}
    />
  );
  return (
    <>
      {say.whoseCornerLies}
      {figure("left", x0, (mm) => [mm, y0, x1 + mm - x0, y1])}
      {say.fromTheLeftAnd}
      {figure("front", y0, (mm) => [x0, mm, x1, y1 + mm - y0])}
      {say.fromTheLeadingEdge}
      {figure("width", x1 - x0, (mm) => [x0, y0, x0 + Math.max(mm, LEAST_MM), y1])}
      {say.wide}
      {figure("length", y1 - y0, (mm) => [x0, y0, x1, y0 + Math.max(mm, LEAST_MM)])}
      {say.longItCanBeDragged}
    </>
  );
}
