'use client';

import { workOut, type Worked } from '../../core/records/worked';
import type { LedgerRow } from '../../core/job/views';
import { Small } from '../controls';
import { useJob } from '../ledger/context';
import { colour, font } from '../theme';

/** What a worked column comes to for the record in hand and for those among the loaded ones that are most unlike it. */
export function WorkedPreview({ worked, id }: { worked: Worked; id: string }) {
  const { handRow, rowAt, total } = useJob();
  if (!handRow) return null;
  const loaded = Array.from({ length: Math.min(total, 400) }, (_, i) => rowAt(i)).filter((row) => row !== undefined);
  const result = (row: LedgerRow) =>
    workOut(worked, row.values, row.values[id] ?? '', { position: row.number - 1, secret: (n) => '·'.repeat(n) });
  const secret = worked.source.kind === 'secret';
  return (
    <div>
      <Small style={{ marginBottom: 3 }}>The record in hand, and the ones most unlike it:</Small>
      <table style={{ borderCollapse: 'collapse', font: `400 13px/1.5 ${font.code}` }}>
        <tbody>
          {[handRow, ...unlike(handRow, loaded, result)].map((row) => (
            <tr key={row.id} style={{ borderTop: `1px solid ${colour.rule}` }}>
              <td style={{ paddingRight: 12, color: colour.inkSoft }}>{row.number}</td>
              <td style={{ overflowWrap: 'anywhere' }}>{secret ? '··········, kept once made' : result(row) || <i>blank</i>}</td>
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  );
}

/** Up to five rows whose results differ in kind: blank, longest, shortest, in another script, with unusual signs. */
function unlike(hand: LedgerRow, rows: readonly LedgerRow[], result: (row: LedgerRow) => string): LedgerRow[] {
  const made = rows.filter((row) => row.id !== hand.id).map((row) => ({ row, text: result(row) }));
  const said = made.filter((m) => m.text !== '').sort((a, b) => a.text.length - b.text.length);
  const picks = [made.find((m) => m.text === ''), said.at(-1), said[0], said.find((m) => /[^\p{ASCII}]/u.test(m.text)), said.find((m) => /[^\p{L}\p{N}\s\-.,]/u.test(m.text)), ...said]; // prettier-ignore
  const taken = new Map<number, LedgerRow>();
  for (const pick of picks) if (pick && taken.size < 5) taken.set(pick.row.id, pick.row);
  return [...taken.values()];
}
