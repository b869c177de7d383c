'use client';

import type { SheetProof } from '../../../contract';
import { Part, PlainButton } from '../../kit/controls';
import { Mark } from '../../kit/mark';
import { useJob } from '../../shell/ledger/context';
import { leftOut as wording } from './words';
import { filled, withParts } from '../../kit/with-parts';

/**
 * How many records a run leaves out, and on asking which and why, by reason; each leads to its
 * record.
 */
export function LeftOutPart({ leftOut, count }: { leftOut: SheetProof['leftOut']; count: number }) {
  if (count === 0) return null;
  const reasons = new Map<string, SheetProof['leftOut']>();
  for (const row of leftOut) reasons.set(row.reason, [...(reasons.get(row.reason) ?? []), row]);
  const groups = [...reasons].sort((a, b) => b[1].length - a[1].length);
  return (
    <span>
      <Mark name="out" />{' '}
      <Part
        looks
        label={wording.whatIsLeftOut}
        editor={(close) => (
          <ul
            style={{
              margin: 0,
              padding: 0,
              listStyle: 'none',
              display: 'grid',
              gap: 8,
              maxHeight: 340,
              overflow: 'auto',
              maxWidth: 460,
            }}
          >
            {groups.map(([reason, rows]) => (
              <li key={reason}>
                <b>{rows.length.toLocaleString('en')}</b>: {reason}
                <div>
                  {rows.slice(0, 8).map((row) => (
                    <Record key={row.record} row={row} close={close} />
                  ))}
                  {rows.length > 8 &&
                    filled(wording.andMore, (rows.length - 8).toLocaleString('en'))}
                </div>
              </li>
            ))}
          </ul>
        )}
      >
        {withParts(wording.leftOut, count.toLocaleString('en'))}
      </Part>
    </span>
  );
}

function Record({ row, close }: { row: SheetProof['leftOut'][number]; close: () => void }) {
  const { jump, openBand } = useJob();
  return (
    <PlainButton
      looks
      style={{
        padding: '1px 10px 1px 0',
        textDecoration: 'underline',
        textUnderlineOffset: 3,
        fontSize: 13,
      }}
      onPress={() => {
        close();
        jump({ record: row.record });
        openBand('records');
      }}
    >
      {row.title || wording.noTitle}
    </PlainButton>
  );
}
