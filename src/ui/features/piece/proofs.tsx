'use client';

import { useEffect, useState } from 'react';
import { stockOf } from '../../../core/piece/stock';
import { usePiece } from '../../kit/core-client';
import { QuietButton, Small } from '../../kit/controls';
import { useHand, useJob } from '../../shell/ledger/context';
import { Mark } from '../../kit/mark';
import { colour } from '../../kit/theme';
import { keyColumn, nameColumn } from '../../../core/records/columns';
import { PieceSvg } from '../../editors/piece/piece-svg';
import { proofs as wording } from './words';
import { filled, withParts } from '../../kit/with-parts';

const onePage = 24;

/** All records as small proofs, a page of them at a time; pressing one selects it. */
export function Proofs({ onPick }: { onPick: () => void }) {
  const { total, rowAt, setHand } = useJob();
  const { hand } = useHand();
  const [page, setPage] = useState(Math.floor(hand / onePage));
  const pages = Math.max(1, Math.ceil(total / onePage));
  const from = Math.min(page, pages - 1) * onePage;
  // the rows of the page are loaded with the selected row
  useEffect(() => {
    if (rowAt(from) === undefined) setHand(from);
  }, [from, rowAt, setHand]);
  return (
    <div style={{ padding: 16, overflow: 'auto', background: colour.groundDeep }}>
      <div style={{ display: 'flex', gap: 10, alignItems: 'center', paddingBottom: 12 }}>
        <QuietButton looks isDisabled={page === 0} onPress={() => setPage(page - 1)}>
          {wording.previous}
        </QuietButton>
        <Small as="span">
          {withParts(
            wording.toOf,
            (from + 1).toLocaleString('en'),
            Math.min(total, from + onePage).toLocaleString('en'),
            total.toLocaleString('en'),
          )}
        </Small>
        <QuietButton looks isDisabled={page >= pages - 1} onPress={() => setPage(page + 1)}>
          {wording.next}
        </QuietButton>
      </div>
      <div
        style={{
          display: 'grid',
          gridTemplateColumns: 'repeat(auto-fill, minmax(150px, 1fr))',
          gap: 14,
        }}
      >
        {Array.from({ length: Math.max(0, Math.min(onePage, total - from)) }, (_, i) => (
          <Proof key={from + i} index={from + i} onPick={onPick} />
        ))}
      </div>
    </div>
  );
}

function Proof({ index, onPick }: { index: number; onPick: () => void }) {
  const { job, rowAt, setHand } = useJob();
  const record = rowAt(index);
  const { piece, stamps } = job.document;
  const picture = usePiece(piece, stamps, record?.values, { list: job.list.id });
  const stock = stockOf(piece);
  const width = Math.min(150, (110 * stock.piece.width) / stock.piece.height);
  const name = nameColumn(job.list.columns) ?? keyColumn(job.list.columns) ?? job.list.columns[0];
  const title = record?.values[name?.id ?? ''] ?? '';
  const problem = picture?.problems[0]?.reason;
  return (
    <button
      type="button"
      onClick={() => {
        setHand(index);
        onPick();
      }}
      aria-label={filled(wording.pieceOf, title, problem ? `, ${problem}` : '')}
      style={{
        all: 'unset',
        cursor: 'pointer',
        display: 'grid',
        gap: 4,
        alignContent: 'start',
        outline: 'revert',
        fontSize: 12.5,
      }}
    >
      <span
        style={{ border: `1px solid ${problem ? colour.look : colour.rule}`, width: 'fit-content' }}
      >
        <PieceSvg picture={picture} piece={piece} width={width} />
      </span>
      <span style={{ whiteSpace: 'nowrap', overflow: 'hidden', textOverflow: 'ellipsis' }}>
        {problem && <Mark name="look" />} {title || wording.noTitle}
      </span>
      {problem && <span style={{ color: colour.look, fontSize: 12 }}>{problem}</span>}
    </button>
  );
}
