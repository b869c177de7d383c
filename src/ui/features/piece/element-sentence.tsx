'use client';

import { counted, mmWords } from '../../../core/base/words';
import type { ReactNode } from 'react';
import { styled } from 'styled-components';
import { fontCatalogue, fontKeys } from '../../../core/artwork/font-catalogue';
import type { PieceProblem } from '../../../core/piece/piece';
import { tenth, widestCode, withCodeWidth } from '../../../core/piece/resizing';
import type { PieceElement, StampElement, TextElement } from '../../../core/piece/model';
import type { Stock } from '../../../core/piece/stock';
import type { Stamp } from '../../../core/payload/stamp';
import { ChoicePart, Chip, Measure, Part, QuietButton, Sentence } from '../../kit/controls';
import { BoxSentence, PictureSentence, RuleSentence } from './shape-sentences';
import { useJob } from '../../shell/ledger/context';
import { Mark } from '../../kit/mark';
import { colour } from '../../kit/theme';
import { colourName, ColourEditor } from '../../editors/stamp/colour-editor';
import { ContentEditor } from '../../editors/stamp/content-editor';
import { StampSentence } from '../../editors/stamp/stamp-sentence';
import { elementSentence as wording } from './words';
import { filled, withParts } from '../../kit/with-parts';

const Box = styled.div`
  border-top: 1px solid ${colour.ink};
  padding: 7px 20px 8px;
`;

interface Props<E> {
  element: E;
  stock: Stock;
  problem: PieceProblem | undefined;
  /** Where it is drawn for the selected record, in mm. */
  box: { x: number; y: number } | undefined;
  onChange: (element: PieceElement) => void;
}

/** The sentence of the selected element of the piece. */
export function ElementSentence({ tools, ...props }: Props<PieceElement> & { tools: ReactNode }) {
  const { element } = props;
  return (
    <Box role="region" aria-label={wording.selected}>
      <OwnSentence {...props} />
      {props.problem && element.kind !== 'text' && element.kind !== 'stamp' && (
        <p style={{ color: colour.look, fontSize: 14 }}>
          {withParts(wording.hereIt, <Mark name="look" />, props.problem.reason)}
        </p>
      )}
      {tools}
    </Box>
  );
}

function OwnSentence(props: Props<PieceElement>): ReactNode {
  const { element, onChange } = props;
  const where = <Where {...props} />;
  switch (element.kind) {
    case 'text':
      return <TextSentence {...props} element={element} />;
    case 'stamp':
      return <CodeSentence {...props} element={element} />;
    case 'picture':
      return <PictureSentence element={element} onChange={onChange} where={where} />;
    case 'rule':
      return <RuleSentence element={element} onChange={onChange} where={where} />;
    case 'box':
      return <BoxSentence element={element} onChange={onChange} where={where} />;
  }
}

function Where({ element, onChange, stock, box }: Props<PieceElement>) {
  // a code is in the middle of an invisible square: the sentence gives the position at which it is
  // drawn
  const at = element.kind === 'stamp' && box ? box : element;
  const [x, y] = [tenth(at.x), tenth(at.y)];
  // pictures, rules and boxes may reach over the edge, into the bleed
  const least = element.kind === 'stamp' || element.kind === 'text' ? 0 : -20;
  return (
    <Part
      label={wording.position}
      editor={
        <>
          <Measure
            label={wording.fromTheLeftMm}
            value={x}
            min={least}
            max={stock.piece.width}
            onChange={(to) => onChange({ ...element, x: tenth(element.x + to - at.x) })}
          />
          <Measure
            label={wording.fromTheTopMm}
            value={y}
            min={least}
            max={stock.piece.height}
            onChange={(to) => onChange({ ...element, y: tenth(element.y + to - at.y) })}
          />
        </>
      }
    >
      {withParts(wording.mmFromTheLeft, x, y)}
    </Part>
  );
}

const faces = fontKeys.map((key) => {
  const face = fontCatalogue.find((f) => f.key === key)!;
  return {
    id: key,
    name: face.weight === 'bold' ? filled(wording.bold, face.family) : face.family,
  };
});

function TextSentence(props: Props<TextElement>) {
  const { element, onChange, problem } = props;
  const { job } = useJob();
  const set = (next: Partial<TextElement>) => onChange({ ...element, ...next });
  const mends = problem?.mends ?? [];
  const shrinks = element.minPt < element.sizePt;
  return (
    <Sentence $minor>
      {withParts(
        wording.inInOnOf,
        <Part
          label={wording.text}
          editor={(close) => (
            <ContentEditor
              parts={element.parts}
              columns={job.list.columns}
              onChange={(parts) => {
                set({ parts });
                close();
              }}
            />
          )}
        >
          {element.parts.map((part, i) =>
            part.kind === 'text' ? (
              <span key={i}>{part.text}</span>
            ) : (
              <Chip key={i}>
                {job.list.columns.find((c) => c.id === part.column)?.name ?? wording.aDeletedColumn}
              </Chip>
            ),
          )}
          {element.parts.length === 0 && 'nothing'}
        </Part>,
        <ChoicePart
          label={wording.typeface}
          choices={faces}
          value={element.font}
          onChange={(font) => set({ font })}
        />,
        <Part
          label={wording.letterSize}
          editor={
            <Measure
              label={wording.sizePoints}
              value={element.sizePt}
              min={4}
              max={200}
              step={0.5}
              onChange={(sizePt) => set({ sizePt, minPt: Math.min(element.minPt, sizePt) })}
            />
          }
        >
          {withParts(wording.pt, element.sizePt)}
        </Part>,
        <ChoicePart
          label={wording.alignment}
          value={element.align}
          onChange={(align) => set({ align })}
          choices={[
            { id: 'left', name: 'left' },
            { id: 'centre', name: 'centred' },
            { id: 'right', name: 'right' },
          ]}
        />,
        <Part
          label={wording.textColour}
          editor={
            <ColourEditor
              look={{
                sizeMm: 20,
                dpi: 600,
                wholeDots: true,
                quietZone: true,
                foreground: element.colour,
                background: '#ffffff',
              }}
              onChange={({ foreground }) => foreground && set({ colour: foreground })}
              warnings={[]}
            />
          }
        >
          {colourName(element.colour)}
        </Part>,
        <Part
          label={wording.lines}
          editor={
            <Measure
              label={wording.mostLines}
              value={element.lines}
              min={1}
              max={20}
              step={1}
              onChange={(lines) => set({ lines })}
            />
          }
        >
          {counted(element.lines, 'line')}
        </Part>,
        <Part
          label={wording.widthOfTheText}
          editor={
            <Measure
              label={wording.widthMm}
              value={element.width}
              min={2}
              max={500}
              step={0.5}
              onChange={(width) => set({ width })}
            />
          }
        >
          {withParts(wording.mm, element.width.toFixed(element.width % 1 ? 1 : 0))}
        </Part>,
        <Part
          label={wording.ifTooLong}
          editor={
            <Measure
              label={wording.smallestSizePoints}
              value={element.minPt}
              min={3}
              max={element.sizePt}
              step={0.5}
              onChange={(minPt) => set({ minPt })}
            />
          }
        >
          {shrinks ? filled(wording.shrinksToPt, element.minPt) : wording.needsALook}
        </Part>,
        <Where {...props} />,
        problem && (
          <span style={{ display: 'flex', gap: 8, alignItems: 'center', color: colour.look }}>
            {withParts(
              wording.hereIt2,
              <Mark name="look" />,
              problem.reason,
              mends.map((mend) => (
                <QuietButton key={`${mend.lines} ${mend.minPt}`} onPress={() => set(mend)}>
                  {[
                    mend.lines && filled(wording.useLines, mend.lines),
                    mend.minPt && filled(wording.shrinkToPt, mend.minPt),
                  ]
                    .filter(Boolean)
                    .join(' and ')
                    .replace(/^./, (c) => c.toUpperCase())}
                </QuietButton>
              )),
              problem.kind === 'over' && mends.length === 0 && <span>{wording.makeItWider}</span>,
            )}
          </span>
        ),
      )}
    </Sentence>
  );
}

function CodeSentence(props: Props<StampElement>) {
  const { element, onChange, stock, problem } = props;
  const { job, save } = useJob();
  const { stamps } = job.document;
  const stamp = stamps.find((s) => s.id === element.stamp);
  const changeStamp = (next: Partial<Stamp>) =>
    save((d) => ({
      ...d,
      stamps: d.stamps.map((s) => (s.id === element.stamp ? { ...s, ...next } : s)),
    }));
  return (
    <Sentence $minor>
      {withParts(
        wording.theCodeOfAt,
        <ChoicePart
          label={wording.whichStamp}
          choices={stamps.map((s) => ({ id: s.id, name: s.name }))}
          value={element.stamp}
          onChange={(stamp) => onChange({ ...element, stamp })}
        />,
        stamp && (
          <>
            {' '}
            (
            <Part
              label={wording.editStamp2}
              editor={
                <div style={{ width: 560 }}>
                  <StampSentence stamp={stamp} change={changeStamp} minor />
                </div>
              }
            >
              {wording.editStamp}
            </Part>
            )
          </>
        ),
        <Part
          label={wording.sizeOfTheCode}
          editor={
            <Measure
              label={wording.widthWithItsQuiet}
              value={element.sizeMm}
              min={4}
              max={
                stamp
                  ? widestCode(stock, stamp, element.turn)
                  : Math.min(300, stock.piece.width, stock.piece.height)
              }
              step={0.5}
              onChange={(sizeMm) =>
                onChange(stamp ? withCodeWidth(element, stamp, sizeMm) : { ...element, sizeMm })
              }
            />
          }
        >
          {mmWords(element.sizeMm)}
        </Part>,
        <ChoicePart
          label={wording.turned}
          value={String(element.turn ?? 0) as '0'}
          onChange={(id) =>
            onChange({ ...element, turn: id === '0' ? undefined : (Number(id) as 90) })
          }
          choices={[
            { id: '0', name: wording.asInItsLook },
            { id: '90', name: wording.turned90 },
            { id: '180', name: wording.turned180 },
            { id: '270', name: wording.turned270 },
          ]}
        />,
        <Where {...props} />,
        problem && (
          <span style={{ color: colour.look }}>
            {withParts(wording.here, <Mark name="look" />, problem.reason)}
          </span>
        ),
      )}
    </Sentence>
  );
}
