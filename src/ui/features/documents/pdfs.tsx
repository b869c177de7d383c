'use client';
import { useQuery } from '@tanstack/react-query';
import { useEffect, useRef, useState } from 'react';
import { styled } from 'styled-components';
import { counted, mmWords } from '../../../core/base/words';
import {
  cornerPlace,
  lookOnPages,
  pagesWithCode,
  spansOf,
  withCaption,
} from '../../../core/documents/place';
import { captionMm, captionStyle, captionWords } from '../../../core/piece/caption';
import { shown } from '../../../core/records/sealed';
import { ContentEditor } from '../../editors/stamp/content-editor';
import { PartsWords } from '../../editors/stamp/purpose-part';
import { pdfsOf } from '../../../core/grounds';
import {
  anchors,
  isCorner,
  type KnownBy,
  type PageChoice,
  type PdfsGround,
} from '../../../core/piece/ground';
import { GroundPart } from '../../editors/piece/ground-part';
import { ask } from '../../kit/api';
import { CodeSvg } from '../../kit/code-picture';
import {
  ChoicePart,
  ErrorLine,
  goBar,
  MainButton,
  Measure,
  Part,
  PlainButton,
  QuietButton,
  Sentence,
  Small,
  Words,
} from '../../kit/controls';
import { useMay } from '../../kit/me';
import { useCode } from '../../kit/core-client';
import { Mark } from '../../kit/mark';
import { Pick } from '../../kit/pick';
import { colour, font } from '../../kit/theme';
import { UsualSettings, type Setting } from '../../kit/usual';
import { useHand, useJob } from '../../shell/ledger/context';
import { pdfs as wording } from './words';
import { filled, withParts } from '../../kit/with-parts';

/** The PDFs of the job, and how the code is put on them. */
function usePdfs() {
  const { job, save } = useJob();
  const ground = pdfsOf(job.document.piece);
  const { data, error } = useQuery({
    queryKey: ['pdfs', job.id, job.version, job.list.revision],
    queryFn: () => ask('listPdfs', { params: { id: job.id } }),
    placeholderData: (before) => before,
  });
  const set = (next: Partial<PdfsGround>) =>
    save((d) =>
      d.piece.ground?.kind === 'pdfs'
        ? { ...d, piece: { ...d.piece, ground: { ...d.piece.ground, ...next } } }
        : d,
    );
  return { ground, pdfs: data, error, set };
}

const knownWords: Record<KnownBy, string> = {
  name: wording.inItsFileName,
  title: wording.inItsTitle,
  text: wording.inItsText,
  code: 'in a code that is on it',
};
const pageWords: Record<PageChoice, string> = {
  first: wording.theFirstPage,
  all: wording.everyPage,
  last: wording.theLastPage,
  'not-first': wording.everyPageExceptThe,
  these: wording.pagesThatIChoose,
};

const turns = [
  ['0', 'upright'],
  ['90', wording.turnedToTheRight],
  ['180', wording.upsideDown],
  ['270', wording.turnedToTheLeft],
] as const;

function RangeEditor({ value, onKeep }: { value: string; onKeep: (range: string) => void }) {
  const [text, setText] = useState(value);
  const right = spansOf(text) !== undefined;
  return (
    <>
      <Words
        label={wording.pages}
        value={text}
        onChange={setText}
        autoFocus
        onEnter={() => right && onKeep(text.trim())}
      />
      <Small>{wording.forExample13}</Small>
      <div>
        <MainButton isDisabled={!right} onPress={() => onKeep(text.trim())}>
          {wording.apply}
        </MainButton>
      </div>
    </>
  );
}

const eachWords = {
  same: wording.theSamePlaceOn,
  each: wording.orWhereTheDocument,
} as const;
const underWords = {
  stamp: wording.withTheStampsOwn,
  white: wording.onWhite,
  none: wording.withNoBackground,
} as const;

/** The sentence of a piece that is put on PDFs. */
export function PdfsSentence() {
  const { job } = useJob();
  const { ground, pdfs, set } = usePdfs();
  const columns = job.list.columns.filter((c) => !c.hidden);
  const count = pdfs?.documents.length ?? 0;
  const nobodys = pdfs?.documents.filter((d) => !d.record).length ?? 0;
  const signed = pdfs?.documents.filter((d) => d.signed).length ?? 0;
  const each = ground.each ? 'each' : 'same';
  const turn = String(ground.turn ?? 0);
  const turnWords = turns.find(([id]) => id === turn)![1];
  const under = ground.ground ?? 'stamp';
  const caption = ground.caption ?? [];
  const settings: Setting[] = [
    {
      id: 'each',
      usual: !ground.each,
      words: eachWords[each],
      part: (
        <ChoicePart
          label={wording.ifSomethingIsAlready}
          value={each}
          onChange={(id) => set({ each: id === 'each' || undefined })}
          choices={[
            { id: 'same', name: eachWords.same },
            {
              id: 'each',
              name: eachWords.each,
              about: wording.ifSomethingIsAlreadyAt,
            },
          ]}
        />
      ),
    },
    {
      id: 'pages',
      usual: ground.pages === 'first',
      words: `on ${pageWords[ground.pages]}`,
      part: withParts(
        wording.on,
        <ChoicePart
          label={wording.pages}
          value={ground.pages}
          choices={(Object.keys(pageWords) as PageChoice[]).map((id) => ({
            id,
            name: pageWords[id],
          }))}
          onChange={(pages) =>
            set({ pages, ...(pages === 'these' ? { range: ground.range ?? '1' } : {}) })
          }
        />,
        ground.pages === 'these' && (
          <>
            {' '}
            (
            <Part
              label={wording.whichPages}
              editor={(close) => (
                <RangeEditor
                  value={ground.range ?? ''}
                  onKeep={(range) => (set({ range }), close())}
                />
              )}
            >
              {ground.range || wording.noneYet}
            </Part>
            )
          </>
        ),
      ),
    },
    {
      id: 'turn',
      usual: turn === '0',
      words: turnWords,
      part: (
        <ChoicePart
          label={wording.turned}
          value={turn}
          choices={turns.map(([id, name]) => ({ id, name }))}
          onChange={(id) => set({ turn: id === '0' ? undefined : (Number(id) as 90 | 180 | 270) })}
        />
      ),
    },
    {
      id: 'caption',
      usual: caption.length === 0,
      words: wording.withoutACaption,
      part: <CaptionPart />,
    },
    {
      id: 'background',
      usual: under === 'stamp',
      words: underWords[under],
      part: (
        <ChoicePart
          label={wording.backgroundOfTheCode}
          value={under}
          choices={[
            { id: 'stamp', name: underWords.stamp },
            { id: 'white', name: underWords.white, about: wording.coversWhatIsUnder },
            { id: 'none', name: underWords.none, about: wording.whatIsUnderIt },
          ]}
          onChange={(id) => set({ ground: id === 'stamp' ? undefined : id })}
        />
      ),
    },
  ];
  if (signed > 0)
    settings.push({
      id: 'signed',
      usual: !ground.signed,
      words: filled(wording.leftOut2, counted(signed, wording.signedOne, wording.signedOnes)),
      part: (
        <>
          {counted(signed, wording.signedOne, wording.signedOnes)}{' '}
          <ChoicePart
            label={wording.signedDocuments}
            value={ground.signed ? 'take' : 'leave'}
            choices={[
              { id: 'leave', name: wording.leftOut },
              {
                id: 'take',
                name: 'included',
                about: wording.theSignatureStaysValid,
              },
            ]}
            onChange={(id) => set({ signed: id === 'take' || undefined })}
          />
        </>
      ),
    });
  return (
    <>
      <Sentence>
        {withParts(
          wording.onEachKnownBy,
          <GroundPart />,
          pdfs ? ` (${counted(count, 'PDF')})` : '',
          <ChoicePart
            label={wording.columnThatIdentifiesA}
            value={ground.column}
            choices={columns.map((c) => ({ id: c.id, name: c.name }))}
            onChange={(column) => set({ column })}
          />,
          <ChoicePart
            label={wording.whereToLookFor}
            value={ground.knownBy}
            choices={(Object.keys(knownWords) as KnownBy[]).map((id) => ({
              id,
              name: knownWords[id],
            }))}
            onChange={(knownBy) => set({ knownBy })}
          />,
          <ChoicePart
            label={wording.stamp}
            value={ground.stamp}
            choices={job.document.stamps.map((s) => ({ id: s.id, name: s.name }))}
            onChange={(stamp) => set({ stamp })}
          >
            {job.document.stamps.find((s) => s.id === ground.stamp)?.name ?? wording.noStamp}
          </ChoicePart>,
          <Part
            label={wording.size}
            editor={
              <Measure
                label={wording.widthOfTheCode}
                value={ground.sizeMm}
                min={4}
                max={200}
                step={0.5}
                onChange={(sizeMm) => set({ sizeMm })}
              />
            }
          >
            {withParts(wording.mm, ground.sizeMm)}
          </Part>,
          <WherePart />,
          <UsualSettings parts={settings} />,
        )}
      </Sentence>
      <Small style={{ paddingTop: 2 }}>
        {withParts(
          wording.theCodeAlwaysGoes,
          nobodys > 0 &&
            withParts(wording.withoutARecord, <Mark name="look" />, counted(nobodys, 'PDF')),
        )}
      </Small>
    </>
  );
}

function CaptionPart() {
  const { job } = useJob();
  const { ground, set } = usePdfs();
  const caption = ground.caption ?? [];
  return (
    <Part
      label={wording.caption}
      editor={(close) => (
        <>
          <ContentEditor
            parts={caption}
            columns={job.list.columns.filter((c) => !c.hidden && !c.secret)}
            onChange={(parts) => {
              set({ caption: parts.length > 0 ? parts : undefined });
              close();
            }}
          />
          {caption.length > 0 && (
            <QuietButton
              onPress={() => {
                set({ caption: undefined });
                close();
              }}
            >
              {wording.withoutACaption2}
            </QuietButton>
          )}
        </>
      )}
    >
      {caption.length > 0
        ? withParts(wording.captioned, <PartsWords parts={caption} empty="" />)
        : wording.withoutACaption}
    </Part>
  );
}

function WherePart() {
  const { ground, set } = usePdfs();
  const { corner, acrossMm, downMm } = ground;
  const [down, across] = corner.split(' ');
  return (
    <Part
      label={wording.whereOnThePage}
      editor={
        <>
          <Pick
            label={wording.cornerOrMiddleOf}
            choices={anchors.map((id) => ({ id, name: id }))}
            value={corner}
            onChange={(next) => set({ corner: next })}
          />
          {across !== 'middle' && (
            <Measure
              label={filled(wording.fromTheMm, across)}
              value={acrossMm}
              min={0}
              max={1000}
              onChange={(next) => set({ acrossMm: next })}
            />
          )}
          {down !== 'middle' && (
            <Measure
              label={filled(wording.fromTheMm, down)}
              value={downMm}
              min={0}
              max={1000}
              onChange={(next) => set({ downMm: next })}
            />
          )}
        </>
      }
    >
      {!isCorner(corner)
        ? filled(wording.mmFromTheEdge, corner, across === 'middle' ? downMm : acrossMm)
        : acrossMm === downMm
          ? filled(wording.fromTheEdges, corner, mmWords(acrossMm))
          : filled(wording.andFromTheEdges, corner, mmWords(acrossMm), mmWords(downMm))}
    </Part>
  );
}

const Bench = styled.div`
  height: 100%;
  display: grid;
  grid-template-columns: minmax(0, 1fr) 280px;
  grid-template-rows: minmax(0, 1fr) auto;
  .bench {
    background: ${colour.groundDeep};
    overflow: auto;
    display: grid;
    place-items: center;
    padding: 20px;
  }
  .odd {
    background: ${colour.groundDeep};
    overflow: auto;
    padding: 18px 18px 18px 0;
    font-size: 13.5px;
  }
  .odd h3 {
    font: 700 15px/1.3 ${font.title};
    margin: 0 0 6px;
  }
  .odd ul {
    list-style: none;
    padding: 0;
    margin: 0 0 16px;
  }
  .odd li {
    border-bottom: 1px solid ${colour.rule};
    padding: 6px 0;
    overflow-wrap: anywhere;
  }
  ${goBar}
  .go {
    grid-column: 1 / -1;
    background: ${colour.paper};
  }
`;
const half = (mm: number): number => Math.max(0, Math.round(mm * 2) / 2);

/**
 * The PDF of the selected record with its code, which is dragged to its place; next to it, what is
 * special about the documents.
 */
export function PdfsBand() {
  const { job, jump } = useJob();
  const { handRow } = useHand();
  const { ground, pdfs, error, set } = usePdfs();
  const bench = useRef<HTMLDivElement>(null);
  const [room, setRoom] = useState({ width: 400, height: 500 });
  const [chosenPage, setPage] = useState<{ document: number; page: number }>();
  const [drag, setDrag] = useState<{ x: number; y: number }>();
  useEffect(() => {
    const element = bench.current;
    if (!element) return;
    const observer = new ResizeObserver(() =>
      setRoom({ width: element.clientWidth - 40, height: element.clientHeight - 40 }),
    );
    observer.observe(element);
    return () => observer.disconnect();
  }, []);
  const own = pdfs?.documents.find((d) => d.record?.id === handRow?.id);
  const stamp = job.document.stamps.find((s) => s.id === ground.stamp);
  const code = useCode(
    stamp && { ...stamp, look: lookOnPages(ground, stamp.look) },
    handRow?.values,
  );
  const carrying = own ? pagesWithCode(ground, own.pages.length) : [];
  const page = chosenPage && chosenPage.document === own?.id ? chosenPage.page : (carrying[0] ?? 0);
  const size = own?.pages[page];
  const scale = size ? Math.min(room.width / size.widthMm, room.height / size.heightMm) : 1;
  const block = code && withCaption(ground, code);
  const caption = captionWords(
    ground.caption,
    Object.fromEntries(
      Object.entries(handRow?.values ?? {}).map(([id, value]) => [id, shown(value)]),
    ),
  );
  const at = size && block ? (drag ?? cornerPlace(own.place ?? ground, size, block)) : undefined;
  const may = useMay();
  const move = (start: React.PointerEvent) => {
    if (!size || !block || !at) return;
    start.preventDefault();
    const from = { x: start.clientX, y: start.clientY };
    const placeOf = (e: PointerEvent) => ({
      x: at.x + (e.clientX - from.x) / scale,
      y: at.y + (e.clientY - from.y) / scale,
    });
    const target = start.currentTarget as HTMLElement;
    target.setPointerCapture(start.pointerId);
    const pull = (e: PointerEvent) => setDrag(placeOf(e));
    const drop = (e: PointerEvent) => {
      target.removeEventListener('pointermove', pull);
      target.removeEventListener('pointerup', drop);
      const { x, y } = placeOf(e);
      setDrag(undefined);
      const left = x + block.widthMm / 2 < size.widthMm / 2;
      const top = y + block.heightMm / 2 < size.heightMm / 2;
      set({
        corner: `${top ? 'top' : 'bottom'} ${left ? 'left' : 'right'}`,
        acrossMm: half(left ? x : size.widthMm - x - block.widthMm),
        downMm: half(top ? y : size.heightMm - y - block.heightMm),
      });
    };
    target.addEventListener('pointermove', pull);
    target.addEventListener('pointerup', drop);
  };
  return (
    <Bench>
      <div className="bench" ref={bench}>
        {error ? (
          <ErrorLine>{error.message}</ErrorLine>
        ) : !pdfs ? (
          <p role="status">{wording.lookingForThePDF}</p>
        ) : !own || !size ? (
          <p style={{ textAlign: 'center', maxWidth: 320, color: colour.inkSoft }}>
            {wording.noPDFMatchesThe}
          </p>
        ) : (
          <div
            style={{
              position: 'relative',
              width: size.widthMm * scale,
              height: size.heightMm * scale,
              background: colour.paper,
              outline: `1px solid ${colour.ruleStrong}`,
            }}
          >
            <img
              src={`/api/documents/${own.id}/pages/${page}`}
              alt={filled(wording.pageOf, page + 1, own.name)}
              style={{ width: '100%', height: '100%', display: 'block' }}
              draggable={false}
            />
            {code && at && carrying.includes(page) && (
              <div
                title={may ? wording.dragTheCodeTo : undefined}
                onPointerDown={may ? move : undefined}
                style={{
                  position: 'absolute',
                  left: at.x * scale,
                  top: at.y * scale,
                  cursor: may ? 'move' : undefined,
                  touchAction: 'none',
                  outline: `1px solid ${colour.violet}`,
                  outlineOffset: 1,
                }}
              >
                <CodeSvg code={code} size={code.widthMm * scale} label={wording.theCodeOnThe} />
                {ground.caption && (
                  <div
                    style={{
                      ...{ width: code.widthMm * scale, height: captionMm * scale },
                      ...{ overflow: 'hidden', textAlign: 'center', lineHeight: 1.15 },
                      fontSize: ((captionStyle.sizePt * 25.4) / 72) * scale,
                      color: captionStyle.colour,
                      ...(ground.ground === 'white' ? { background: '#fff' } : {}),
                    }}
                  >
                    {caption}
                  </div>
                )}
              </div>
            )}
          </div>
        )}
      </div>
      <OddOnes />
      <div className="go">
        <span style={{ whiteSpace: 'nowrap' }}>{wording.goTo}</span>
        <QuietButton looks isDisabled={job.bands.piece === 0} onPress={() => jump('over')}>
          {withParts(wording.needsALook, job.bands.piece.toLocaleString('en'))}
        </QuietButton>
        {own && own.pages.length > 1 && (
          <>
            <QuietButton
              looks
              isDisabled={page === 0}
              onPress={() => setPage({ document: own.id, page: page - 1 })}
            >
              {wording.previousPage}
            </QuietButton>
            <QuietButton
              looks
              isDisabled={page === own.pages.length - 1}
              onPress={() => setPage({ document: own.id, page: page + 1 })}
            >
              {wording.nextPage}
            </QuietButton>
          </>
        )}
        {own && size && (
          <span className="measure">
            {withParts(
              wording.pageOfAt,
              page + 1,
              own.pages.length,
              Math.round((scale / (96 / 25.4)) * 100),
            )}
          </span>
        )}
      </div>
    </Bench>
  );
}

/** Documents without a record, and other special ones, each with its fix. */
function OddOnes() {
  const { jump } = useJob();
  const { handRow } = useHand();
  const { ground, pdfs, set } = usePdfs();
  if (!pdfs) return <div className="odd" />;
  const nobodys = pdfs.documents.filter((d) => !d.record);
  const signed = pdfs.documents.filter((d) => d.signed);
  const locked = pdfs.documents.filter((d) => d.locked);
  const turned = pdfs.documents.filter((d) => d.pages.some((p) => p.turn !== 0));
  const say = (document: number, record: number | null | undefined) =>
    set({
      said: [
        ...ground.said.filter((s) => s.document !== document),
        ...(record === undefined ? [] : [{ document, record }]),
      ],
    });
  const link = { padding: 0, textDecoration: 'underline', textUnderlineOffset: 3 } as const;
  return (
    <div className="odd">
      <h3>{wording.whereThereIsRoom}</h3>
      <ul>
        {pdfs.room.map(({ corner, covers, first, free }) => (
          <li key={corner}>
            <Mark name={covers === 0 ? 'ready' : 'look'} />{' '}
            {corner === ground.corner ? (
              <b>{corner}</b>
            ) : (
              <PlainButton style={link} onPress={() => set({ corner })}>
                {corner}
              </PlainButton>
            )}
            :{' '}
            {covers === 0
              ? wording.freeOnAll
              : filled(wording.overSomethingOn, covers.toLocaleString('en'))}
            {covers > 0 && first && (
              <span style={{ color: colour.inkSoft }}>
                {' '}
                ({first}
                {covers > 1 ? ' …' : ''})
              </span>
            )}
            {covers > 0 &&
              (free ? (
                <>
                  {'; '}
                  <PlainButton style={link} onPress={() => set(free)}>
                    {withParts(wording.freeOnAllAnd, mmWords(free.acrossMm), mmWords(free.downMm))}
                  </PlainButton>
                </>
              ) : (
                isCorner(corner) && wording.noPlaceIsFree
              ))}
          </li>
        ))}
      </ul>
      <h3>{withParts(wording.withoutARecord2, nobodys.length)}</h3>
      <ul>
        {nobodys.map((d) => (
          <li key={d.id}>
            <Mark name="look" /> {d.name}{' '}
            {handRow && (
              <PlainButton style={link} onPress={() => say(d.id, handRow.id)}>
                {wording.assignToTheSelected}
              </PlainButton>
            )}
          </li>
        ))}
      </ul>
      {pdfs.without > 0 && (
        <p style={{ marginBottom: 16 }}>
          {withParts(
            wording.noPDF,
            <Mark name="look" />,
            counted(pdfs.without, wording.recordHas, wording.recordsHave),
          )}
        </p>
      )}
      {ground.said.length > 0 && (
        <>
          <h3>{wording.assignedByHand}</h3>
          <ul>
            {ground.said.map((s) => (
              <li key={s.document}>
                {pdfs.documents.find((d) => d.id === s.document)?.name ?? wording.aDeletedDocument}
                {': '}
                {pdfs.documents.find((d) => d.id === s.document)?.record?.title ??
                  wording.noRecord}{' '}
                <PlainButton style={link} onPress={() => say(s.document, undefined)}>
                  {wording.undo}
                </PlainButton>
              </li>
            ))}
          </ul>
        </>
      )}
      {signed.length + locked.length + turned.length > 0 && (
        <>
          <h3>{wording.specialDocuments}</h3>
          <ul>
            {signed.map((d) => (
              <li key={d.id}>
                {withParts(
                  wording.signed,
                  <Mark name={ground.signed ? 'ready' : 'look'} />,
                  d.name,
                )}
              </li>
            ))}
            {locked.map((d) => (
              <li key={d.id}>
                {withParts(wording.lockedItIsWritten, <Mark name="ready" />, d.name)}
              </li>
            ))}
            {turned.map((d) => (
              <li key={d.id}>
                {withParts(
                  wording.turnedPages,
                  <Mark name="ready" />,
                  d.record ? (
                    <PlainButton looks style={link} onPress={() => jump({ record: d.record!.id })}>
                      {d.name}
                    </PlainButton>
                  ) : (
                    d.name
                  ),
                )}
              </li>
            ))}
          </ul>
        </>
      )}
    </div>
  );
}
