/** The sheet as it is loaded: its print, its pieces by their numbers, and the edge that goes in first, below. */
import { Box, Typography } from "@mui/material";
import type { AtCutter } from "../api/client";
import { lyingSize, printedOf } from "../bench/OnBed";
import { tablet as say } from "../texts/tablet";

interface Props {
  at: AtCutter;
  spoilt?: readonly number[];
  onPiece?: (number: number) => void;
}

export function SheetDrawn({ at, spoilt = [], onPiece }: Props) {
  const [width = 1, length = 1] = lyingSize(at.release);
  const thick = Math.max(width, length);
  return (
    <Box>
      <svg
        viewBox={`0 ${-length} ${width} ${length}`}
        style={{
          width: "100%",
          maxHeight: onPiece ? "56vh" : "44vh",
          display: "block",
          background: "#EFEFEF",
        }}
      >
        <rect y={-length} width={width} height={length} fill="#fff" stroke="#222" strokeWidth={thick / 400} />
        {at.release.picture && (
          <image
            href={`/api/bench/${at.release.id}/${printedOf(at.release)}`}
            y={-length}
            width={width}
            height={length}
            preserveAspectRatio="none"
          />
        )}
        {at.pieces.map((piece) => (
          <Piece
            key={piece.number}
            piece={piece}
            thick={thick}
            spoilt={spoilt.includes(piece.number)}
            onPiece={onPiece}
          />
        ))}
        <line x2={width} stroke="#0B5C63" strokeWidth={thick / 60} />
      </svg>
      <Typography sx={{ fontWeight: 700, fontSize: 22, textAlign: "center" }}>
        ▲ {say.thisEdgeFirst} ▲
      </Typography>
    </Box>
  );
}

function Piece({
  piece,
  thick,
  spoilt,
  onPiece,
}: {
  piece: AtCutter["pieces"][number];
  thick: number;
  spoilt: boolean;
  onPiece: ((number: number) => void) | undefined;
}) {
  const [x0 = 0, y0 = 0, x1 = 0, y1 = 0] = piece.bounds;
  const size = Math.min(thick / 16, (x1 - x0) / 1.6, (y1 - y0) / 1.1);
  return (
    <g onClick={onPiece && (() => onPiece(piece.number))} style={{ cursor: onPiece ? "pointer" : undefined }}>
      <rect
        x={x0}
        y={-y1}
        width={x1 - x0}
        height={y1 - y0}
        fill={spoilt ? "rgba(180, 30, 20, 0.55)" : "transparent"}
        stroke="#222"
        strokeWidth={thick / 500}
      />
      <text
        x={(x0 + x1) / 2}
        y={-(y0 + y1) / 2 + size * 0.35}
        fontSize={size}
        textAnchor="middle"
        fontWeight={700}
        stroke="#fff"
        strokeWidth={size / 6}
        paintOrder="stroke"
        fill="#111"
      >
        {piece.number}
      </text>
    </g>
  );
}
