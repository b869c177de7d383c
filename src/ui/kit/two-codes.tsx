'use client';

import type { Stamp } from '../../core/payload/stamp';
import type { Values } from '../../core/records/columns';
import { CodeSvg } from './code-picture';
import { Small } from './controls';
import { useCode } from './core-client';
import { font } from './theme';
import { twoCodes as wording } from './words';
import { filled } from './with-parts';

/**
 * Two codes for one purpose at one module size, each with its modules and its width: what a link
 * saves, on this very payload.
 */
export function TwoCodes({
  stamp,
  values,
  codes,
  widest = 150,
}: {
  stamp: Stamp;
  values: Values;
  codes: readonly { name: string; stamp: Stamp }[];
  /** Px for the larger of them. */
  widest?: number;
}) {
  const first = useCode(codes[0]?.stamp ?? stamp, values);
  const second = useCode(codes[1]?.stamp ?? stamp, values);
  const drawn = [first, second];
  const most = Math.max(1, ...drawn.map((code) => code?.columns ?? 0));
  return (
    <div style={{ display: 'flex', gap: 26, alignItems: 'flex-start' }}>
      {codes.map(({ name }, i) => {
        const code = drawn[i];
        return (
          <figure key={name} style={{ margin: 0, display: 'grid', gap: 5 }}>
            {code ? (
              <span style={{ display: 'block', background: '#fff', width: 'fit-content' }}>
                <CodeSvg code={code} size={(widest * code.columns) / most} label={name} />
              </span>
            ) : (
              <span style={{ width: widest, height: widest }} />
            )}
            <figcaption style={{ display: 'grid' }}>
              <Small>{name}</Small>
              <span style={{ font: `400 12.5px/1.4 ${font.code}` }}>
                {code === undefined
                  ? '…'
                  : code === null
                    ? wording.noCode
                    : filled(wording.squares, code.symbolColumns)}
              </span>
            </figcaption>
          </figure>
        );
      })}
    </div>
  );
}
