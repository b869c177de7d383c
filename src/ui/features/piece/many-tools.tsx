'use client';

import { aligned, alignments, type ElementBoxMm } from '../../../core/piece/aligning';
import type { Piece } from '../../../core/piece/model';
import { ChoicePart, QuietButton, Sentence } from '../../kit/controls';
import { colour } from '../../kit/theme';
import { manyTools as wording } from './words';
import { withParts } from '../../kit/with-parts';

const round = (n: number): number => Math.round(n * 10) / 10;

/** Actions for several selected elements. */
export function ManyTools({
  ids,
  boxes,
  piece,
  onPiece,
  onSelect,
}: {
  ids: readonly string[];
  boxes: readonly ElementBoxMm[];
  piece: Piece;
  onPiece: (piece: Piece) => void;
  onSelect: (ids: readonly string[]) => void;
}) {
  const taken = (id: string) => ids.includes(id);
  const loose = boxes.filter(
    (b) => taken(b.id) && !piece.elements.find((e) => e.id === b.id)?.locked,
  );
  const allLocked = loose.length === 0;
  const put = (elements: Piece['elements']) => onPiece({ ...piece, elements });
  return (
    <div
      role="region"
      aria-label={wording.selected}
      style={{
        borderTop: `1px solid ${colour.ink}`,
        padding: '9px 20px 10px',
        display: 'flex',
        flexWrap: 'wrap',
        gap: 10,
        alignItems: 'baseline',
      }}
    >
      <Sentence $minor>
        {withParts(
          wording.elementsAreSelectedAlign,
          ids.length,
          <ChoicePart
            acts
            label={wording.align}
            value={undefined}
            choices={alignments}
            onChange={(how) => {
              const moves = aligned(loose, how);
              put(
                piece.elements.map((e) => {
                  const move = moves.get(e.id);
                  return move ? { ...e, x: round(e.x + move.dx), y: round(e.y + move.dy) } : e;
                }),
              );
            }}
          >
            {wording.byAnEdgeOr}
          </ChoicePart>,
        )}
      </Sentence>
      <QuietButton
        onPress={() =>
          put(
            piece.elements.map((e) =>
              taken(e.id) ? { ...e, locked: allLocked ? undefined : true } : e,
            ),
          )
        }
      >
        {allLocked ? wording.unlock : wording.lockPosition}
      </QuietButton>
      <QuietButton
        onPress={() => {
          put(piece.elements.filter((e) => !taken(e.id) || e.locked));
          onSelect([]);
        }}
      >
        {wording.remove}
      </QuietButton>
      <QuietButton onPress={() => onSelect([])}>{wording.selectNone}</QuietButton>
    </div>
  );
}
