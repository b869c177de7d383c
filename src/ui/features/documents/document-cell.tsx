'use client';

import type { LedgerRow } from '../../../contract';
import { Mark } from '../../kit/mark';
import { colour } from '../../kit/theme';
import { onGround } from '../../../core/grounds';
import { useJob } from '../../shell/ledger/context';

/** A document in small, beside its record: a page with lines, and a square for a code. */
export function DocumentCell({ record }: { record: LedgerRow }) {
  const { piece } = useJob().job.document;
  const bears = onGround(piece).stampsOn(piece).length > 0;
  if (record.marks.piece === 'out') return null;
  const note = record.notes.find((n) => n.band === 'piece');
  return (
    <div
      title={note?.text}
      style={{ display: 'flex', alignItems: 'center', gap: 7, height: '100%', paddingLeft: 10 }}
    >
      <svg width={21} height={29} viewBox="0 0 21 29" aria-hidden>
        <rect
          x={0.5}
          y={0.5}
          width={20}
          height={28}
          fill={colour.paper}
          stroke={note ? colour.look : colour.ruleStrong}
        />
        {[5, 9, 13, 17, 21].map((y) => (
          <rect
            key={y}
            x={3}
            y={y}
            width={y < 10 && bears ? 8 : 15}
            height={1}
            fill={colour.ruleStrong}
          />
        ))}
        {bears && <rect x={13} y={4} width={5} height={5} fill={colour.ink} />}
      </svg>
      {note && <Mark name="look" label={note.text} />}
    </div>
  );
}
