'use client';

import { keepPiece, pieceFor } from '../../../core/piece/kept';
import type { Piece } from '../../../core/piece/model';
import { placesOn, stockOf } from '../../../core/piece/stock';
import { starters } from '../../../core/piece/starters';
import { ErrorLine, Part, QuietButton, Small } from '../../kit/controls';
import { usePiece } from '../../kit/core-client';
import { useHand, useJob } from '../../shell/ledger/context';
import { KeepAs, KeptRow, useKept } from '../../editors/stamp/kept';
import { colour } from '../../kit/theme';
import { PieceSvg } from '../../editors/piece/piece-svg';
import { startersPart as wording } from './words';
import { filled } from '../../kit/with-parts';

/** Designs to start from, shown with the selected record; later changes never affect them. */
export function StartersPart() {
  const { job, save } = useJob();
  const { stamps, piece } = job.document;
  const { columns } = job.list;
  const { kept, keep, forget, error } = useKept('piece');
  const use = (next: Piece, close: () => void) => {
    save((d) => ({
      ...d,
      piece: next,
      options: { ...d.options, start: Math.min(d.options.start, placesOn(stockOf(next))) },
    }));
    close();
  };
  return (
    <Part
      acts
      label={wording.startFromADesign2}
      editor={(close) => (
        <div style={{ width: 560, display: 'grid', gap: 12 }}>
          <div
            style={{
              display: 'grid',
              gridTemplateColumns: 'repeat(3, 1fr)',
              gap: 12,
              maxHeight: 330,
              overflow: 'auto',
            }}
          >
            {stamps[0] &&
              starters.map((starter) => (
                <StarterView
                  key={starter.id}
                  name={starter.name}
                  about={starter.about}
                  piece={starter.make(stamps[0]!, columns)}
                  onUse={(p) => use(p, close)}
                />
              ))}
          </div>
          {kept.length > 0 && (
            <ul
              style={{
                listStyle: 'none',
                margin: 0,
                padding: '10px 0 0',
                display: 'grid',
                gap: 5,
                borderTop: `1px solid ${colour.rule}`,
              }}
            >
              {kept.map(({ id, name, document }) => (
                <KeptRow
                  key={id}
                  name={name}
                  about={stockOf(document.piece).name}
                  onUse={() => use(pieceFor(document, columns, stamps), close)}
                  onForget={() => forget(id)}
                />
              ))}
            </ul>
          )}
          <KeepAs
            label={wording.saveThisPieceAs}
            onKeep={(name) =>
              keep({ kind: 'piece', name, document: keepPiece(piece, columns, stamps) })
            }
          />
          {error && <ErrorLine>{error}</ErrorLine>}
        </div>
      )}
    >
      {wording.startFromADesign}
    </Part>
  );
}

function StarterView({
  name,
  about,
  piece,
  onUse,
}: {
  name: string;
  about: string;
  piece: Piece;
  onUse: (piece: Piece) => void;
}) {
  const { job } = useJob();
  const { handRow } = useHand();
  const side = piece.sides === 2 ? 'back' : 'front';
  const picture = usePiece(piece, job.document.stamps, handRow?.values, {
    list: job.list.id,
    side,
  });
  const { width, height } = stockOf(piece).piece;
  return (
    <div style={{ display: 'grid', gap: 5, alignContent: 'space-between' }}>
      <span style={{ border: `1px solid ${colour.ruleStrong}`, width: 'fit-content' }}>
        <PieceSvg picture={picture} piece={piece} width={Math.min(165, (100 * width) / height)} />
      </span>
      <div>
        <b>{name}</b>
        <Small>{about}</Small>
      </div>
      <div>
        <QuietButton aria-label={filled(wording.startFrom, name)} onPress={() => onUse(piece)}>
          {wording.useThisDesign}
        </QuietButton>
      </div>
    </div>
  );
}
