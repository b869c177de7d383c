import type { Piece } from '../../../core/piece/model';
import { stockOf } from '../../../core/piece/stock';
import type { PiecePicture } from '../../../workers/protocol';
import { colour } from '../../kit/theme';

/** The piece of a record as SVG in mm. */
export function PieceSvg({
  picture,
  piece,
  width,
  label,
  reach,
}: {
  picture: PiecePicture | undefined;
  piece: Piece;
  width: number;
  label?: string;
  /** How far beyond its edges it is shown, in mm; what is farther out is cut off. */
  reach?: { x: number; y: number };
}) {
  const { piece: size } = stockOf(piece);
  return (
    <svg
      width={width}
      height={(width * size.height) / size.width}
      viewBox={`0 0 ${size.width} ${size.height}`}
      role={label ? 'img' : undefined}
      aria-label={label}
      aria-hidden={label ? undefined : true}
      style={{
        display: 'block',
        background: colour.paper,
        overflow: reach ? 'visible' : 'hidden',
        clipPath:
          reach &&
          `inset(${(-reach.y * width) / size.width}px ${(-reach.x * width) / size.width}px)`,
      }}
    >
      {picture && <g dangerouslySetInnerHTML={{ __html: picture.svg }} />}
    </svg>
  );
}
