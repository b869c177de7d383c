'use client';

import { useEffect, useRef, useState } from 'react';
import { styled } from 'styled-components';
import { defaultRunOptions, type RunOptions } from '../../core/run/plan';
import { firstPiece, safeMarginMm, type Piece, type PieceElement } from '../../core/piece/piece';
import { placesOn, stockById, stocks } from '../../core/piece/stock';
import { nameColumn } from '../../core/records/columns';
import type { LedgerRow } from '../../core/job/views';
import { ChoicePart, Measure, Part, QuietButton, Sentence } from '../controls';
import { usePiece } from '../core-client';
import { useJob } from '../ledger/context';
import { Mark } from '../mark';
import { colour, font } from '../theme';
import type { PiecePicture } from '../../workers/protocol';
import { ElementSentence } from './element-sentence';
import { ElementBox, Rulers } from './piece-parts';
import { PlacePicker } from './place-picker';

/** The piece of a record as SVG in mm. */
export function PieceSvg({
  picture,
  piece,
  width,
  label,
}: {
  picture: PiecePicture | undefined;
  piece: Piece;
  width: number;
  label?: string;
}) {
  const { piece: size } = stockById(piece.stock);
  return (
    <svg
      width={width}
      height={(width * size.height) / size.width}
      viewBox={`0 0 ${size.width} ${size.height}`}
      role={label ? 'img' : undefined}
      aria-label={label}
      aria-hidden={label ? undefined : true}
      style={{ display: 'block', background: colour.paper, overflow: 'hidden' }}
    >
      {picture && <g dangerouslySetInnerHTML={{ __html: picture.svg }} />}
    </svg>
  );
}

export function PieceCell({ record }: { record: LedgerRow }) {
  const { job } = useJob();
  const { piece, stamps } = job.document;
  const out = record.marks.piece === 'out';
  const picture = usePiece(piece, stamps, out ? undefined : record.values);
  if (out) return null;
  const { piece: size } = stockById(piece.stock);
  const width = Math.min(58, (29 * size.width) / size.height);
  const note = record.notes.find((n) => n.band === 'piece');
  return (
    <div title={note?.text} style={{ display: 'flex', alignItems: 'center', gap: 7, height: '100%', paddingLeft: 10 }}>
      <span style={{ border: `1px solid ${note ? colour.look : colour.rule}` }}>
        <PieceSvg picture={picture} piece={piece} width={width} />
      </span>
      {note && <Mark name="look" label={note.text} />}
    </div>
  );
}

export function useOptions() {
  const { job, save } = useJob();
  const options = job.document.options ?? defaultRunOptions;
  return [options, (next: Partial<RunOptions>) => save((d) => ({ ...d, options: { ...d.options, ...next } }))] as const;
}

export function PieceSentence() {
  const { job, save } = useJob();
  const { piece, stamps } = job.document;
  const [options, setOptions] = useOptions();
  const stock = stockById(piece.stock);
  const addWords = () =>
    save((d) => {
      const column = nameColumn(job.list.columns) ?? job.list.columns[0];
      return {
        ...d,
        piece: {
          ...d.piece,
          elements: [
            ...d.piece.elements,
            {
              kind: 'text',
              id: `words-${Date.now().toString(36)}`,
              x: safeMarginMm + 1,
              y: safeMarginMm + 1,
              parts: [{ kind: 'column', column: column.id }],
              font: 'atkinson',
              sizePt: 10,
              minPt: 7,
              lines: 1,
              width: Math.min(40, stock.piece.width - 2 * safeMarginMm - 2),
              align: 'left',
              colour: '#1d1a26',
            },
          ],
        },
      };
    });
  const addStamp = (id: string) =>
    save((d) => ({
      ...d,
      piece: {
        ...d.piece,
        elements: [
          ...d.piece.elements,
          {
            kind: 'stamp',
            id: `code-${Date.now().toString(36)}`,
            stamp: id,
            x: safeMarginMm,
            y: safeMarginMm,
            sizeMm: Math.min(20, stock.piece.height - 2 * safeMarginMm),
          },
        ],
      },
    }));
  const changeStock = (id: string) =>
    save((d) => {
      const next = stockById(id);
      const fits = d.piece.elements.every((e) => e.x < next.piece.width - 5 && e.y < next.piece.height - 5);
      // a design that would fall off the new piece is laid out anew; one that fits is kept
      return {
        ...d,
        piece: fits ? { ...d.piece, stock: id } : firstPiece(next, d.stamps[0], job.list.columns),
        options: { ...d.options, start: Math.min(d.options.start, placesOn(next)) },
      };
    });
  return (
    <Sentence>
      On <ChoicePart label="Label stock" choices={stocks} value={stock.id} onChange={changeStock} />, from{' '}
      <Part
        label="First place"
        editor={(close) => (
          <PlacePicker
            stock={stock}
            order={options.order}
            start={options.start}
            onPick={(start) => {
              setOptions({ start });
              close();
            }}
          />
        )}
      >
        place {options.start}
      </Part>
      ,{' '}
      <Part
        label="Copies"
        editor={
          <Measure
            label="Pieces for each record"
            value={options.copies}
            min={1}
            max={100}
            step={1}
            onChange={(copies) => setOptions({ copies })}
          />
        }
      >
        {options.copies === 1 ? 'one each' : `${options.copies} each`}
      </Part>
      ,{' '}
      <ChoicePart
        label="Order"
        value={options.order}
        onChange={(order) => setOptions({ order })}
        choices={[
          { id: 'across', name: 'across then down' },
          { id: 'down', name: 'down then across' },
        ]}
      />
      . Place{' '}
      <Part
        label="Place words"
        editor={(close) => (
          <QuietButton
            onPress={() => {
              addWords();
              close();
            }}
          >
            Place words from a column
          </QuietButton>
        )}
      >
        words
      </Part>
      {stamps.length > 0 && (
        <>
          {' '}
          or{' '}
          <ChoicePart label="Place a stamp" value={undefined} choices={stamps.map((s) => ({ id: s.id, name: s.name }))} onChange={addStamp}>
            a stamp
          </ChoicePart>
        </>
      )}
      .
    </Sentence>
  );
}

const Bench = styled.div`
  height: 100%;
  display: grid;
  grid-template-rows: minmax(0, 1fr) auto auto;
  .bench {
    background: ${colour.groundDeep};
    overflow: auto;
    display: grid;
    place-items: center;
    padding: 30px 34px 18px;
    position: relative;
  }
  .go {
    display: flex;
    gap: 8px;
    align-items: center;
    padding: 10px 20px;
    border-top: 1px solid ${colour.rule};
    font-size: 13px;
    color: ${colour.inkSoft};
  }
  .measure {
    margin-left: auto;
    font: 400 13px/1 ${font.code};
    color: ${colour.ink};
  }
`;

export function PieceBand() {
  const { job, handRow, jump, save } = useJob();
  const { piece, stamps } = job.document;
  const stock = stockById(piece.stock);
  const [selected, setSelected] = useState<string>();
  const picture = usePiece(piece, stamps, handRow?.values);
  const bench = useRef<HTMLDivElement>(null);
  const [room, setRoom] = useState({ width: 700, height: 380 });
  useEffect(() => {
    const element = bench.current;
    if (!element) return;
    const observer = new ResizeObserver(() => setRoom({ width: element.clientWidth - 90, height: element.clientHeight - 80 }));
    observer.observe(element);
    return () => observer.disconnect();
  }, []);
  const scale = Math.max(1.5, Math.min(room.width / stock.piece.width, room.height / stock.piece.height));
  const element = piece.elements.find((e) => e.id === selected);
  const change = (next: PieceElement) =>
    save((d) => ({ ...d, piece: { ...d.piece, elements: d.piece.elements.map((e) => (e.id === next.id ? next : e)) } }));
  const remove = (id: string) => {
    setSelected(undefined);
    save((d) => ({ ...d, piece: { ...d.piece, elements: d.piece.elements.filter((e) => e.id !== id) } }));
  };
  const truePercent = Math.round((scale / (96 / 25.4)) * 100);
  return (
    <Bench>
      <div className="bench" ref={bench} onPointerDown={(e) => e.target === e.currentTarget && setSelected(undefined)}>
        <Rulers width={stock.piece.width} height={stock.piece.height} scale={scale}>
          <div
            style={{
              position: 'relative',
              width: stock.piece.width * scale,
              height: stock.piece.height * scale,
              outline: `1px solid ${colour.ruleStrong}`,
              borderRadius: stock.cornerRadius * scale,
              overflow: 'hidden',
            }}
          >
            <PieceSvg
              picture={picture}
              piece={piece}
              width={stock.piece.width * scale}
              label={`The piece of ${handRow ? 'the record in hand' : 'no record'}`}
            />
          </div>
          <div
            aria-hidden
            style={{ position: 'absolute', inset: safeMarginMm * scale, border: `1px dashed ${colour.ruleStrong}`, pointerEvents: 'none' }}
          />
          {picture?.boxes.map((box) => (
            <ElementBox
              key={box.id}
              box={box}
              element={piece.elements.find((e) => e.id === box.id)}
              scale={scale}
              selected={box.id === selected}
              onSelect={() => setSelected(box.id)}
              onMove={change}
              problem={picture.problems.find((p) => p.element === box.id)?.reason}
            />
          ))}
        </Rulers>
      </div>
      {element ? (
        <ElementSentence
          key={element.id}
          element={element}
          stock={stock}
          problem={picture?.problems.find((p) => p.element === element.id)}
          onChange={change}
          onRemove={() => remove(element.id)}
        />
      ) : (
        <p style={{ padding: '9px 20px', borderTop: `1px solid ${colour.rule}`, fontSize: 13.5, color: colour.inkSoft }}>
          {picture && picture.problems.length > 0 ? (
            <>
              <Mark name="look" /> {picture.problems.map((p) => p.reason).join('; ')}. Point at it to mend it.
            </>
          ) : (
            'Point at anything on the piece to change it; drag it to move it.'
          )}
        </p>
      )}
      <div className="go">
        Go to
        <QuietButton onPress={() => jump('longest')}>longest name</QuietButton>
        <QuietButton onPress={() => jump('shortest')}>shortest</QuietButton>
        <QuietButton onPress={() => jump('scripts')}>other scripts</QuietButton>
        <QuietButton isDisabled={job.bands.piece === 0} onPress={() => jump('over')}>
          runs over {job.bands.piece}
        </QuietButton>
        <span className="measure">
          {stock.piece.width} × {stock.piece.height} mm at {truePercent}%
        </span>
      </div>
    </Bench>
  );
}
