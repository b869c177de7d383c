'use client';

import { stockOf } from '../../../core/piece/stock';
import type { LedgerRow } from '../../../contract';
import { usePiece } from '../../kit/core-client';
import { useJob } from '../../shell/ledger/context';
import { Mark } from '../../kit/mark';
import { colour } from '../../kit/theme';
import { PieceSvg } from '../../editors/piece/piece-svg';

/** The piece of a record, small, while another band is open. */
export function PieceCell({ record }: { record: LedgerRow }) {
  const { job } = useJob();
  const { piece, stamps } = job.document;
  const out = record.marks.piece === 'out';
  const picture = usePiece(piece, stamps, out ? undefined : record.values, { list: job.list.id });
  if (out) return null;
  const { piece: size } = stockOf(piece);
  const width = Math.min(58, (29 * size.width) / size.height);
  const note = record.notes.find((n) => n.band === 'piece');
  return (
    <div
      title={note?.text}
      style={{ display: 'flex', alignItems: 'center', gap: 7, height: '100%', paddingLeft: 10 }}
    >
      <span style={{ border: `1px solid ${note ? colour.look : colour.rule}` }}>
        <PieceSvg picture={picture} piece={piece} width={width} />
      </span>
      {note && <Mark name="look" label={note.text} />}
    </div>
  );
}
