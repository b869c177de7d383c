'use client';

import { memo, type ReactNode } from 'react';
import type { PieceProblem } from '../../../core/piece/piece';
import { sideOf, type Piece, type PieceElement, type Side } from '../../../core/piece/model';
import { kindWords } from './piece-parts';
import { PlainButton } from '../../kit/controls';
import { useMay } from '../../kit/me';
import { useJob } from '../../shell/ledger/context';
import { Mark } from '../../kit/mark';
import { PartsWords } from '../../editors/stamp/purpose-part';
import { colour } from '../../kit/theme';
import { onThePiece as wording } from './words';
import { filled } from '../../kit/with-parts';

/**
 * The elements on the visible side of the piece, as a list to select from, with the problems of
 * each for the selected record.
 */
export const OnThePiece = memo(function OnThePiece({
  piece,
  side,
  problems,
  onPick,
}: {
  piece: Piece;
  side: Side;
  problems: readonly PieceProblem[];
  onPick: (id: string) => void;
}) {
  const { job } = useJob();
  const elements = piece.elements.filter((e) => sideOf(e) === side);
  const called = (element: PieceElement): ReactNode => {
    if (element.kind === 'stamp')
      return filled(
        wording.codeOf,
        job.document.stamps.find((s) => s.id === element.stamp)?.name ?? wording.aDeletedStamp,
      );
    if (element.kind !== 'text') return kindWords[element.kind].toLowerCase();
    return <PartsWords parts={element.parts} empty={wording.empty} />;
  };
  const may = useMay();
  return (
    <div
      style={{
        padding: '9px 20px',
        borderTop: `1px solid ${colour.rule}`,
        fontSize: 13.5,
        color: colour.inkSoft,
      }}
    >
      <p style={{ display: 'flex', flexWrap: 'wrap', gap: '0 14px', alignItems: 'baseline' }}>
        {elements.length === 0
          ? wording.nothingOnItYet
          : piece.sides === 2
            ? filled(wording.onThe, side)
            : wording.onIt}
        {elements.map((element) => {
          const problem = problems.find((p) => p.element === element.id);
          return (
            <PlainButton
              looks
              key={element.id}
              onPress={() => onPick(element.id)}
              style={{
                padding: '3px 0',
                color: problem ? colour.look : colour.ink,
                textDecoration: 'underline',
                textUnderlineOffset: 3,
              }}
            >
              {problem && <Mark name="look" />} {called(element)}
              {problem && `: ${problem.reason}`}
            </PlainButton>
          );
        })}
      </p>
      {may && <p style={{ paddingTop: 4 }}>{wording.selectAnythingToChange}</p>}
    </div>
  );
});
