'use client';

import { aligned, alignments, type ElementBoxMm } from '../../../core/piece/aligning';
import type { Piece } from '../../../core/piece/model';
import { ChoicePart, QuietButton, Sentence } from '../../kit/controls';
import { colour } from '../../kit/theme';

const round = (n: number): number => Math.round(n * 10) / 10;

/** What can be done with several things pointed at together. */
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
      aria-label="Selected"
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
        {ids.length} elements are selected. Align them{' '}
        <ChoicePart
          acts
          label="Align"
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
          by an edge or their middles
        </ChoicePart>
        , drag them together, or hold Alt and use the arrow keys.
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
        {allLocked ? 'Unlock' : 'Lock position'}
      </QuietButton>
      <QuietButton
        onPress={() => {
          put(piece.elements.filter((e) => !taken(e.id) || e.locked));
          onSelect([]);
        }}
      >
        Remove
      </QuietButton>
      <QuietButton onPress={() => onSelect([])}>Select none</QuietButton>
    </div>
  );
}
