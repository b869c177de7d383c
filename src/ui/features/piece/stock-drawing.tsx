import { placeOnStock, placesOn, type Stock } from '../../../core/piece/stock';
import { colour, font } from '../../kit/theme';
import { stockDrawing as wording } from './words';
import { filled } from '../../kit/with-parts';

const lettering = { font: `400 10.5px ${font.code}`, fill: colour.violetDeep } as const;

interface Span {
  what: string;
  from: number;
  /** mm */
  length: number;
}

/**
 * The measures along one direction, one after the other as on a technical drawing; zeros are left
 * out.
 */
const spans = (parts: readonly [what: string, length: number][]): Span[] => {
  let at = 0;
  return parts.flatMap(([what, length]) => {
    const span = { what, from: at, length };
    at += length;
    return length > 0.005 ? [span] : [];
  });
};

/** The sheet to scale with its seats; every measure is next to the edge it belongs to. */
export function StockDrawing({ stock, say }: { stock: Stock; say: (mm: number) => string }) {
  const { page, piece, margin, pitch, bleed = 0 } = stock;
  const [left, top] = [46, 32];
  const scale = Math.min(210 / page.width, 290 / page.height);
  const [width, height] = [page.width * scale, page.height * scale];
  const across = spans([
    [wording.leftMargin, margin.left],
    [wording.pieceWidth, piece.width],
    [wording.gutterAcross, stock.columns > 1 ? pitch.x - piece.width : 0],
  ]);
  const down = spans([
    [wording.topMargin, margin.top],
    [wording.pieceHeight, piece.height],
    [wording.gutterDown, stock.rows > 1 ? pitch.y - piece.height : 0],
  ]);
  const first = { x: left + margin.left * scale, y: top + margin.top * scale };
  return (
    <svg
      width={left + width + 34}
      height={top + height + 20}
      role="img"
      aria-label={wording.theSheetWithIts}
    >
      <rect
        x={left}
        y={top}
        width={width}
        height={height}
        fill={colour.paper}
        stroke={colour.ruleStrong}
      />
      {Array.from({ length: Math.min(placesOn(stock), 400) }, (_, i) => {
        const place = placeOnStock(stock, i, 1, 'across');
        const outside =
          place.x + piece.width > page.width + 0.05 || place.y + piece.height > page.height + 0.05;
        return (
          <rect
            key={i}
            x={left + place.x * scale}
            y={top + place.y * scale}
            width={piece.width * scale}
            height={piece.height * scale}
            rx={stock.cornerRadius * scale}
            fill={i === 0 ? colour.violetWash : 'none'}
            stroke={outside ? colour.failed : colour.inkSoft}
            strokeWidth={0.7}
          />
        );
      })}
      {bleed > 0 && (
        <rect
          x={first.x - bleed * scale}
          y={first.y - bleed * scale}
          width={(piece.width + 2 * bleed) * scale}
          height={(piece.height + 2 * bleed) * scale}
          fill="none"
          stroke={colour.violet}
          strokeDasharray="3 2"
          strokeWidth={0.7}
        />
      )}
      {across.map((span, i) => (
        <Across
          key={span.what}
          x={left + span.from * scale}
          length={span.length * scale}
          y={top - 6}
          tier={i % 2}
          text={say(span.length)}
          what={span.what}
        />
      ))}
      {down.map((span, i) => (
        <Down
          key={span.what}
          y={top + span.from * scale}
          length={span.length * scale}
          x={left - 6}
          tier={i % 2}
          text={say(span.length)}
          what={span.what}
        />
      ))}
      <text x={left + width / 2} y={top + height + 14} textAnchor="middle" style={lettering}>
        {say(page.width)}
      </text>
      <text x={left + width + 5} y={top + height / 2} style={lettering}>
        {say(page.height)}
      </text>
      {(stock.cornerRadius > 0 || bleed > 0) && (
        <text
          x={first.x + 5}
          y={first.y + Math.min(14, piece.height * scale - 3)}
          style={lettering}
        >
          {[
            stock.cornerRadius > 0 && `r ${say(stock.cornerRadius)}`,
            bleed > 0 && filled(wording.bleed, say(bleed)),
          ]
            .filter(Boolean)
            .join(', ')}
        </text>
      )}
    </svg>
  );
}

interface MarkProps {
  x: number;
  y: number;
  /** px */
  length: number;
  /** Every other measure is further out, so that narrow ones do not overlap. */
  tier: number;
  text: string;
  what: string;
}

function Across({ x, y, length, tier, text, what }: MarkProps) {
  return (
    <g>
      <title>{what}</title>
      <path
        d={`M${x} ${y - 3}v6M${x + length} ${y - 3}v6M${x} ${y}h${length}`}
        stroke={colour.violet}
        strokeWidth={0.8}
      />
      <text x={x + length / 2} y={y - 5 - tier * 11} textAnchor="middle" style={lettering}>
        {text}
      </text>
    </g>
  );
}

function Down({ x, y, length, tier, text, what }: MarkProps) {
  // a text that is too high for its measure is above its middle or below it
  const nudge = length < 11 ? (tier === 0 ? -3 : 3) : 0;
  return (
    <g>
      <title>{what}</title>
      <path
        d={`M${x - 3} ${y}h6M${x - 3} ${y + length}h6M${x} ${y}v${length}`}
        stroke={colour.violet}
        strokeWidth={0.8}
      />
      <text x={x - 6} y={y + length / 2 + 4 + nudge} textAnchor="end" style={lettering}>
        {text}
      </text>
    </g>
  );
}
