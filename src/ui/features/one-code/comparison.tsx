'use client';

import type { Stamp } from '../../../core/payload/stamp';
import type { Values } from '../../../core/records/columns';
import { CodeSvg } from '../../kit/code-picture';
import { PlainButton, QuietButton, Small } from '../../kit/controls';
import { useCode } from '../../kit/core-client';
import { colour } from '../../kit/theme';
import type { Variant } from './wear-panel';
import { comparison as wording } from './words';
import { withParts } from '../../kit/with-parts';

/** A variant that was held, next to the current one, with the differences in numbers. */
export function Comparison({
  held,
  setHeld,
  stamp,
  values,
}: {
  held: Variant | undefined;
  setHeld: (held: Variant | undefined) => void;
  stamp: Stamp;
  values: Values;
}) {
  const before = useCode(held?.stamp, values);
  const now = useCode(stamp, values);
  const hold = () => setHeld({ name: wording.theSavedVersion, stamp });
  if (!held)
    return (
      <div>
        <QuietButton looks onPress={hold}>
          {wording.keepForComparison}
        </QuietButton>{' '}
        <Small as="span">{wording.thenChangeTheSentence}</Small>
      </div>
    );
  const rows = [
    [wording.theSavedVersion, before],
    [wording.thisOne, now],
  ] as const;
  return (
    <section aria-label={wording.twoVariants}>
      <div style={{ display: 'flex', gap: 10, alignItems: 'baseline', marginBottom: 6 }}>
        <h2>{wording.savedVersionAndThis}</h2>
        <PlainButton looks onPress={() => setHeld(undefined)}>
          {wording.stopComparing}
        </PlainButton>
        <PlainButton looks onPress={hold}>
          {wording.replaceTheSavedVersion}
        </PlainButton>
      </div>
      <div style={{ display: 'flex', gap: 34 }}>
        {rows.map(([name, code], i) => (
          <div key={i} style={{ display: 'flex', gap: 14 }}>
            {code ? (
              <CodeSvg
                code={code}
                size={Math.min(110, (110 * code.columns) / code.rows)}
                label={name}
              />
            ) : (
              <div style={{ width: 110 }}>{wording.noCode}</div>
            )}
            <div style={{ fontSize: 13 }}>
              <p style={{ fontWeight: 700 }}>{name}</p>
              {code && (
                <>
                  <p>
                    {withParts(wording.byMm, code.widthMm.toFixed(1), code.heightMm.toFixed(1))}
                  </p>
                  <p>{withParts(wording.squaresOfMm, code.moduleMm.toFixed(3))}</p>
                  <p style={{ color: colour.inkSoft }}>
                    {Object.entries(code.facts)
                      .filter(([k]) =>
                        [
                          'version',
                          'level',
                          'size',
                          'codewords',
                          'columns',
                          'rows',
                          'form',
                        ].includes(k),
                      )
                      .map(([k, v]) => `${k} ${v}`)
                      .join(', ')}
                  </p>
                </>
              )}
            </div>
          </div>
        ))}
      </div>
    </section>
  );
}
