/** A sheet on the stage: media, margins, copies of the art with their lines, marks. */
import type { Job, Sheet } from "../../api/client";
import { Art, artOf } from "../../stage/Art";
import type { Box } from "../../stage/geometry";
import { lookOf } from "../../ui/roles";

interface Props {
  job: Job;
  sheet: Sheet;
  showLines?: boolean;
  /** As it lies before the cutter: the other way round where it is mirrored. */
  printed?: boolean;
}

export function SheetView({ job, sheet, showLines = true, printed = false }: Props) {
  const media = (job.seen?.media_box_mm ?? [0, 0, 1, 1]) as Box;
  const [cx0, cy0, cx1, cy1] = sheet.clip as Box;
  const matrix = (m: number[]) => `matrix(${m.join(" ")})`;
  const turned = printed && sheet.mirrored ? `matrix(-1 0 0 1 ${sheet.width_mm} 0)` : undefined;
  return (
    <g transform={turned} data-testid="sheet">
      <defs>
        <clipPath id="copy">
          {sheet.clip_path ? (
            <path d={sheet.clip_path} />
          ) : (
            <rect x={cx0} y={cy0} width={cx1 - cx0} height={cy1 - cy0} />
          )}
        </clipPath>
        <g id="one">
          <g clipPath="url(#copy)">
            <Art source={artOf(job.id, job.art_sha256)} media={media} />
          </g>
          {showLines &&
            sheet.lines.map((line) => (
              <path
                key={line.role}
                d={line.path}
                fill="none"
                stroke={lookOf(line.role).colour}
                strokeWidth={1.6}
                vectorEffect="non-scaling-stroke"
              />
            ))}
        </g>
      </defs>
      <rect width={sheet.width_mm} height={sheet.length_mm} fill="#fff" />
      <g fill="#D9D9D9">
        <rect width={sheet.width_mm} height={sheet.leader_mm} />
        <rect y={sheet.length_mm - sheet.trailer_mm} width={sheet.width_mm} height={sheet.trailer_mm} />
        <rect width={sheet.side_margin_mm} height={sheet.length_mm} />
        <rect
          x={sheet.width_mm - sheet.side_margin_mm}
          width={sheet.side_margin_mm}
          height={sheet.length_mm}
        />
      </g>
      {sheet.placements.map((m, i) => (
        <use key={i} href="#one" transform={matrix(m)} data-testid="copy" />
      ))}
      {sheet.marks.map((mark) => (
        <g key={mark.number} data-testid="mark">
          <path fill="none" stroke="#000" strokeWidth={mark.weight_mm} d={mark.stroke} />
          <path fill="#000" d={mark.fill} />
        </g>
      ))}
      {sheet.bar.length === 4 && <Bar box={sheet.bar} />}
      {sheet.code_path && <path d={sheet.code_path} data-testid="code" />}
    </g>
  );
}

/** The bar beside the first mark: it tells this one, and the loading side, from the rest. */
const Bar = ({ box: [x0 = 0, y0 = 0, x1 = 0, y1 = 0] }: { box: number[] }) => (
  <rect x={x0} y={y0} width={x1 - x0} height={y1 - y0} data-testid="bar" />
);
