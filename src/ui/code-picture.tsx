import type { CodePicture } from '../workers/protocol';

/** A code as vector, `size` pixels wide; its modules stay sharp at any size. */
export function CodeSvg({ code, size, label }: { code: CodePicture; size: number; label?: string }) {
  // bars finer than a pixel would come and go with sharp edges; smoothed, they keep their weight
  const tooFine = size < code.columns && code.columns > code.rows * 1.5;
  return (
    <svg
      width={size}
      height={(size * code.rows) / code.columns}
      viewBox={`0 0 ${code.columns} ${code.rows}`}
      shapeRendering={tooFine ? undefined : 'crispEdges'}
      role={label ? 'img' : undefined}
      aria-label={label}
      aria-hidden={label ? undefined : true}
      style={{ flex: 'none', display: 'block' }}
    >
      {code.background !== 'transparent' && <path fill={code.background} d={`M0 0h${code.columns}v${code.rows}H0z`} />}
      <path fill={code.foreground} d={code.path} />
      {code.hri && <g dangerouslySetInnerHTML={{ __html: code.hri }} />}
    </svg>
  );
}
