'use client';

import { useQuery } from '@tanstack/react-query';
import { useRef, useState, type ReactNode, type RefObject } from 'react';
import type { ReceiptPage, RunView, SheetOnPaper } from '../../../contract';
import { counted } from '../../../core/base/words';
import { ask } from '../../kit/api';
import { ErrorLine, QuietButton, Small } from '../../kit/controls';
import { Mark, type MarkName } from '../../kit/mark';
import { colour } from '../../kit/theme';
import { useHand, useJob } from '../../shell/ledger/context';
import { useRoom } from './use-room';
import { paperSheets as wording } from './words';
import { filled, withParts } from '../../kit/with-parts';

type Place = SheetOnPaper['places'][number];

const marks: Record<NonNullable<Place['is']>, { name: MarkName; words: string }> = {
  read: { name: 'ready', words: wording.readFromThePaper },
  'not-read': { name: 'failed', words: wording.doesNotReadOn },
  misplaced: { name: 'look', words: wording.foundElsewhereOnThe },
};

/** The printed pages of a run, and what pictures of them show at every seat. */
export function PaperSheets({ run, head }: { run: RunView; head: ReactNode }) {
  const box = useRef<HTMLDivElement>(null);
  const [index, setIndex] = useState(0);
  const pages = useQuery({
    queryKey: ['receipt', run.id],
    queryFn: () => ask('runPages', { params: { id: run.id } }),
  });
  const page = pages.data?.pages[index];
  const all = pages.data?.pages.length ?? 0;
  if (pages.error) return <ErrorLine>{pages.error.message}</ErrorLine>;
  return (
    <div className="sheets" ref={box}>
      <div>
        {head}
        <div className="pager">
          <QuietButton looks isDisabled={index === 0} onPress={() => setIndex(index - 1)}>
            {wording.previousPage}
          </QuietButton>
          <span style={{ whiteSpace: 'nowrap' }}>
            {withParts(wording.pageOf, (index + 1).toLocaleString('en'), all.toLocaleString('en'))}
          </span>
          <QuietButton looks isDisabled={index >= all - 1} onPress={() => setIndex(index + 1)}>
            {wording.nextPage}
          </QuietButton>
        </div>
      </div>
      {page && <PaperSheet run={run} page={page} box={box} />}
    </div>
  );
}

function PaperSheet({
  run,
  page,
  box,
}: {
  run: RunView;
  page: ReceiptPage;
  box: RefObject<HTMLDivElement | null>;
}) {
  const room = useRoom(box);
  const { data, error } = useQuery({
    queryKey: ['receipt', run.id, 'paper', page.page, page.paper],
    queryFn: () => ask('paperSheet', { params: { id: run.id }, query: { page: page.page } }),
    placeholderData: (before) => before,
  });
  if (error) return <ErrorLine>{error.message}</ErrorLine>;
  if (!data) return null;
  const scale = Math.max(0.8, Math.min(room.width / data.width, (room.height - 90) / data.height));
  const count = (is: Place['is']) => data.places.filter((place) => place.is === is).length;
  return (
    <div style={{ display: 'grid', gap: 8, justifyItems: 'center', alignContent: 'start' }}>
      <div
        style={{
          position: 'relative',
          width: data.width * scale,
          height: data.height * scale,
          background: colour.paper,
          outline: `1px solid ${colour.ruleStrong}`,
          overflow: 'hidden',
        }}
      >
        {data.places.map((place) => (
          <PlaceOnPaper key={place.place} place={place} piece={data.piece} scale={scale} />
        ))}
        {data.others.map(({ x, y }, i) => (
          <div
            key={i}
            role="img"
            aria-label={wording.aCodeThatIs}
            title={wording.aCodeThatIs}
            style={{
              position: 'absolute',
              left: x * scale,
              top: y * scale,
              width: data.piece.width * scale,
              height: data.piece.height * scale,
              border: `2px dashed ${colour.failed}`,
              pointerEvents: 'none',
            }}
          />
        ))}
      </div>
      <Small>
        {page.paper === 0
          ? wording.noPictureShowsThis
          : [
              filled(wording.readFromThePaper2, counted(count('read'), 'piece')),
              count('not-read') > 0 && filled(wording.didNot, count('not-read')),
              count('misplaced') > 0 &&
                counted(count('misplaced'), 'stands', 'stand') + ' elsewhere',
              data.others.length > 0 &&
                filled(wording.notFromThisRun, counted(data.others.length, 'code')),
            ]
              .filter((part) => part !== false)
              .join(', ') + '.'}
      </Small>
    </div>
  );
}

function PlaceOnPaper({
  place,
  piece,
  scale,
}: {
  place: Place;
  piece: SheetOnPaper['piece'];
  scale: number;
}) {
  const { jump } = useJob();
  const { handRow } = useHand();
  const mark = place.is && marks[place.is];
  const words = filled(
    wording.seat,
    place.title || wording.noTitle,
    place.place,
    mark?.words ?? wording.noPictureShowsIt,
  );
  return (
    <button
      type="button"
      title={words}
      aria-label={words}
      onClick={() => jump({ record: place.record })}
      style={{
        position: 'absolute',
        left: place.x * scale,
        top: place.y * scale,
        width: piece.width * scale,
        height: piece.height * scale,
        padding: 3,
        border: 0,
        display: 'flex',
        alignItems: 'center',
        justifyContent: 'center',
        gap: 4,
        overflow: 'hidden',
        font: 'inherit',
        fontSize: 10.5,
        lineHeight: 1.15,
        textAlign: 'left',
        cursor: 'pointer',
        background: place.is === null ? colour.ground : colour.paper,
        outline:
          handRow?.id === place.record
            ? `2px solid ${colour.violet}`
            : `0.5px solid ${colour.ruleStrong}`,
      }}
    >
      {mark && <Mark name={mark.name} size={8} />}
      {piece.height * scale > 16 && (
        <span style={{ overflow: 'hidden', textOverflow: 'ellipsis' }}>{place.title}</span>
      )}
    </button>
  );
}
