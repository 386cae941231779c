/** A sheet on the stage: media, copies of the art of every job with their lines, marks, the code. */
import type { Sheet } from "../api/client";
import { Art } from "../stage/Art";
import type { Box } from "../stage/geometry";
import { STOP } from "../ui/theme";
import { lookOf } from "../ui/roles";
import { areMany, copiesOf, type Copy } from "./hand";
import type { ItemArt } from "./target";

interface Props {
  sheet: Sheet;
  arts: ItemArt[];
  showLines?: boolean;
  /** As it lies before the cutter: the other way round where it is mirrored. */
  printed?: boolean;
  /** Copies that lie otherwise than on the sheet: while they are moved or nested. */
  copies?: Copy[] | null;
}

const matrix = (m: number[]) => `matrix(${m.join(" ")})`;

export function SheetView({ sheet, arts, showLines = true, printed = false, copies }: Props) {
  const turned = printed && sheet.mirrored ? `matrix(-1 0 0 1 ${sheet.width_mm} 0)` : undefined;
  return (
    <g transform={turned} data-testid="sheet">
      <defs>
        {sheet.items.map((item, i) => {
          const [cx0 = 0, cy0 = 0, cx1 = 0, cy1 = 0] = item.clip as Box;
          const art = arts[i];
          // what moves lies by its outline, and must not cover its neighbours with its paper
          const clip = copies ? item.round_path : item.clip_path;
          return (
            <g key={i}>
              <clipPath id={`copy-${i}`}>
                {clip ? <path d={clip} /> : <rect x={cx0} y={cy0} width={cx1 - cx0} height={cy1 - cy0} />}
              </clipPath>
              <g id={`item-${i}`}>
                {art && sheet.makes !== "cut" && (
                  <g clipPath={`url(#copy-${i})`}>
                    <Art source={art.source} media={art.media} />
                  </g>
                )}
                {showLines &&
                  sheet.makes !== "print" &&
                  item.lines.map((line) => (
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
            </g>
          );
        })}
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
      {(copies ?? (areMany(sheet) ? [] : copiesOf(sheet))).map((copy, i) => (
        <use key={i} href={`#item-${copy.item}`} transform={matrix(copy.matrix)} data-testid="copy" />
      ))}
      {sheet.marks.map((mark) => (
        <g key={mark.number} data-testid="mark">
          <path fill="none" stroke="#000" strokeWidth={mark.weight_mm} d={mark.stroke} />
          <path fill="#000" d={mark.fill} />
        </g>
      ))}
      {sheet.bar.length === 4 && <Bar box={sheet.bar} />}
      {sheet.code_path && <path d={sheet.code_path} data-testid="code" />}
      {sheet.frame.length === 4 && <Frame box={sheet.frame} />}
      {!copies && <Clashes sheet={sheet} />}
    </g>
  );
}

/** The bar beside the first mark: it tells this one, and the loading side, from the rest. */
const Bar = ({ box: [x0 = 0, y0 = 0, x1 = 0, y1 = 0] }: { box: number[] }) => (
  <rect x={x0} y={y0} width={x1 - x0} height={y1 - y0} data-testid="bar" />
);

/** The weeding frame, cut round everything. */
const Frame = ({ box: [x0 = 0, y0 = 0, x1 = 0, y1 = 0] }: { box: number[] }) => (
  <rect
    x={x0}
    y={y0}
    width={x1 - x0}
    height={y1 - y0}
    fill="none"
    stroke={lookOf("kiss-cut").colour}
    strokeWidth={1.6}
    strokeDasharray="7 4"
    vectorEffect="non-scaling-stroke"
    data-testid="frame"
  />
);

/** Copies that lie too near to others, as the last layout said. */
function Clashes({ sheet }: { sheet: Sheet }) {
  return sheet.clashes.map((i) => {
    const item = sheet.items[sheet.item_of[i] ?? 0];
    const place = sheet.placements[i];
    if (!item || !place) return null;
    return (
      <path
        key={i}
        d={`M${item.outline.map(([x, y]) => `${x} ${y}`).join("L")}Z`}
        transform={matrix(place)}
        fill={STOP}
        fillOpacity={0.18}
        stroke={STOP}
        strokeWidth={2.5}
        vectorEffect="non-scaling-stroke"
        data-testid="clash"
      />
    );
  });
}
