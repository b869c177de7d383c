import type { CodePicture } from '../../workers/protocol';

/**
 * A code as vector, `size` pixels wide; its modules stay sharp at any size. Bars finer than a pixel
 * would come and go with sharp edges; smoothed, they keep their weight.
 */
export function CodeSvg({
  code,
  size,
  label,
}: {
  code: CodePicture;
  size: number;
  label?: string;
}) {
  return (
    <svg
      width={size}
      height={(size * code.rows) / code.columns}
      viewBox={`0 0 ${code.columns} ${code.rows}`}
      role={label ? 'img' : undefined}
      aria-label={label}
      aria-hidden={label ? undefined : true}
      style={{ flex: 'none', display: 'block' }}
      dangerouslySetInnerHTML={{
        __html:
          size < code.columns ? code.svg.replaceAll(' shape-rendering="crispEdges"', '') : code.svg,
      }}
    />
  );
}
