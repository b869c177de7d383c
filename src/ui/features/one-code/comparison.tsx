'use client';

import type { Stamp } from '../../../core/payload/stamp';
import type { Values } from '../../../core/records/columns';
import { CodeSvg } from '../../kit/code-picture';
import { PlainButton, QuietButton, Small } from '../../kit/controls';
import { useCode } from '../../kit/core-client';
import { colour } from '../../kit/theme';
import type { Variant } from './wear-panel';

/** A variant that is held, beside the one in hand, with what differs in numbers. */
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
  const hold = () => setHeld({ name: 'the saved version', stamp });
  if (!held)
    return (
      <div>
        <QuietButton looks onPress={hold}>
          Keep for comparison
        </QuietButton>{' '}
        <Small as="span">then change the sentence. Both are shown side by side.</Small>
      </div>
    );
  const rows = [
    ['the saved version', before],
    ['this one', now],
  ] as const;
  return (
    <section aria-label="Two variants">
      <div style={{ display: 'flex', gap: 10, alignItems: 'baseline', marginBottom: 6 }}>
        <h2>Saved version and this one</h2>
        <PlainButton looks onPress={() => setHeld(undefined)}>
          Stop comparing
        </PlainButton>
        <PlainButton looks onPress={hold}>
          Replace the saved version
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
              <div style={{ width: 110 }}>no code</div>
            )}
            <div style={{ fontSize: 13 }}>
              <p style={{ fontWeight: 700 }}>{name}</p>
              {code && (
                <>
                  <p>
                    {code.widthMm.toFixed(1)} by {code.heightMm.toFixed(1)} mm
                  </p>
                  <p>squares of {code.moduleMm.toFixed(3)} mm</p>
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
