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
  name: 'in its file name',
  title: 'in its title',
  text: 'in its text',
  code: 'in a code that is on it',
};
const pageWords: Record<PageChoice, string> = {
  first: 'the first page',
  all: 'every page',
  last: 'the last page',
  'not-first': 'every page except the first',
  these: 'pages that I choose',
};

const turns = [
  ['0', 'upright'],
  ['90', 'turned to the right'],
  ['180', 'upside down'],
  ['270', 'turned to the left'],
] as const;

function RangeEditor({ value, onKeep }: { value: string; onKeep: (range: string) => void }) {
  const [text, setText] = useState(value);
  const right = spansOf(text) !== undefined;
  return (
    <>
      <Words
        label="Pages"
        value={text}
        onChange={setText}
        autoFocus
        onEnter={() => right && onKeep(text.trim())}
      />
      <Small>For example 1, 3-5 or 2- (page 2 and all after it).</Small>
      <div>
        <MainButton isDisabled={!right} onPress={() => onKeep(text.trim())}>
          Apply
        </MainButton>
      </div>
    </>
  );
}

const eachWords = {
  same: 'the same place on all',
  each: 'or where the document has room',
} as const;
const underWords = {
  stamp: 'with the stamp’s own background',
  white: 'on white',
  none: 'with no background',
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
          label="If something is already there"
          value={each}
          onChange={(id) => set({ each: id === 'each' || undefined })}
          choices={[
            { id: 'same', name: eachWords.same },
            {
              id: 'each',
              name: eachWords.each,
              about:
                'If something is already at that place, the code goes to the nearest free place from a corner.',
            },
          ]}
        />
      ),
    },
    {
      id: 'pages',
      usual: ground.pages === 'first',
      words: `on ${pageWords[ground.pages]}`,
      part: (
        <>
          on{' '}
          <ChoicePart
            label="Pages"
            value={ground.pages}
            choices={(Object.keys(pageWords) as PageChoice[]).map((id) => ({
              id,
              name: pageWords[id],
            }))}
            onChange={(pages) =>
              set({ pages, ...(pages === 'these' ? { range: ground.range ?? '1' } : {}) })
            }
          />
          {ground.pages === 'these' && (
            <>
              {' '}
              (
              <Part
                label="Which pages"
                editor={(close) => (
                  <RangeEditor
                    value={ground.range ?? ''}
                    onKeep={(range) => (set({ range }), close())}
                  />
                )}
              >
                {ground.range || 'none yet'}
              </Part>
              )
            </>
          )}
        </>
      ),
    },
    {
      id: 'turn',
      usual: turn === '0',
      words: turnWords,
      part: (
        <ChoicePart
          label="Turned"
          value={turn}
          choices={turns.map(([id, name]) => ({ id, name }))}
          onChange={(id) => set({ turn: id === '0' ? undefined : (Number(id) as 90 | 180 | 270) })}
        />
      ),
    },
    {
      id: 'caption',
      usual: caption.length === 0,
      words: 'without a caption',
      part: <CaptionPart />,
    },
    {
      id: 'background',
      usual: under === 'stamp',
      words: underWords[under],
      part: (
        <ChoicePart
          label="Background of the code"
          value={under}
          choices={[
            { id: 'stamp', name: underWords.stamp },
            { id: 'white', name: underWords.white, about: 'Covers what is under it.' },
            { id: 'none', name: underWords.none, about: 'What is under it stays visible.' },
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
      words: `${counted(signed, 'signed one', 'signed ones')} left out`,
      part: (
        <>
          {counted(signed, 'signed one', 'signed ones')}{' '}
          <ChoicePart
            label="Signed documents"
            value={ground.signed ? 'take' : 'leave'}
            choices={[
              { id: 'leave', name: 'left out' },
              {
                id: 'take',
                name: 'included',
                about:
                  'The signature stays valid for what was signed. The document then says that it was changed since.',
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
        On <GroundPart />
        {pdfs ? ` (${counted(count, 'PDF')})` : ''}, each known by{' '}
        <ChoicePart
          label="Column that identifies a document"
          value={ground.column}
          choices={columns.map((c) => ({ id: c.id, name: c.name }))}
          onChange={(column) => set({ column })}
        />{' '}
        <ChoicePart
          label="Where to look for it"
          value={ground.knownBy}
          choices={(Object.keys(knownWords) as KnownBy[]).map((id) => ({
            id,
            name: knownWords[id],
          }))}
          onChange={(knownBy) => set({ knownBy })}
        />
        : the code of{' '}
        <ChoicePart
          label="Stamp"
          value={ground.stamp}
          choices={job.document.stamps.map((s) => ({ id: s.id, name: s.name }))}
          onChange={(stamp) => set({ stamp })}
        >
          {job.document.stamps.find((s) => s.id === ground.stamp)?.name ?? 'no stamp'}
        </ChoicePart>
        ,{' '}
        <Part
          label="Size"
          editor={
            <Measure
              label="Width of the code, mm"
              value={ground.sizeMm}
              min={4}
              max={200}
              step={0.5}
              onChange={(sizeMm) => set({ sizeMm })}
            />
          }
        >
          {ground.sizeMm} mm
        </Part>
        , <WherePart />
        <UsualSettings parts={settings} />
      </Sentence>
      <Small style={{ paddingTop: 2 }}>
        {nobodys > 0 && (
          <>
            <Mark name="look" /> {counted(nobodys, 'PDF')} without a record.{' '}
          </>
        )}
        The code always goes on the document as it came in. Making it again replaces the code and
        never doubles it.
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
      label="Caption"
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
              Without a caption
            </QuietButton>
          )}
        </>
      )}
    >
      {caption.length > 0 ? (
        <>
          captioned <PartsWords parts={caption} empty="" />
        </>
      ) : (
        'without a caption'
      )}
    </Part>
  );
}

function WherePart() {
  const { ground, set } = usePdfs();
  const { corner, acrossMm, downMm } = ground;
  const [down, across] = corner.split(' ');
  return (
    <Part
      label="Where on the page"
      editor={
        <>
          <Pick
            label="Corner, or middle of an edge"
            choices={anchors.map((id) => ({ id, name: id }))}
            value={corner}
            onChange={(next) => set({ corner: next })}
          />
          {across !== 'middle' && (
            <Measure
              label={`From the ${across}, mm`}
              value={acrossMm}
              min={0}
              max={1000}
              onChange={(next) => set({ acrossMm: next })}
            />
          )}
          {down !== 'middle' && (
            <Measure
              label={`From the ${down}, mm`}
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
        ? `${corner}, ${across === 'middle' ? downMm : acrossMm} mm from the edge`
        : acrossMm === downMm
          ? `${corner}, ${mmWords(acrossMm)} from the edges`
          : `${corner}, ${mmWords(acrossMm)} and ${mmWords(downMm)} from the edges`}
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
 * The PDF of the record in hand with its code, which is pulled to its place; beside it what is odd
 * about the documents.
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
          <p role="status">Looking for the PDF …</p>
        ) : !own || !size ? (
          <p style={{ textAlign: 'center', maxWidth: 320, color: colour.inkSoft }}>
            No PDF matches the selected record. If there should be one, change the column in the
            sentence above, or assign a PDF on the right.
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
              alt={`Page ${page + 1} of ${own.name}`}
              style={{ width: '100%', height: '100%', display: 'block' }}
              draggable={false}
            />
            {code && at && carrying.includes(page) && (
              <div
                title={may ? 'Drag the code to its place' : undefined}
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
                <CodeSvg code={code} size={code.widthMm * scale} label="The code on the page" />
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
        <span style={{ whiteSpace: 'nowrap' }}>Go to</span>
        <QuietButton looks isDisabled={job.bands.piece === 0} onPress={() => jump('over')}>
          needs a look: {job.bands.piece.toLocaleString('en')}
        </QuietButton>
        {own && own.pages.length > 1 && (
          <>
            <QuietButton
              looks
              isDisabled={page === 0}
              onPress={() => setPage({ document: own.id, page: page - 1 })}
            >
              previous page
            </QuietButton>
            <QuietButton
              looks
              isDisabled={page === own.pages.length - 1}
              onPress={() => setPage({ document: own.id, page: page + 1 })}
            >
              next page
            </QuietButton>
          </>
        )}
        {own && size && (
          <span className="measure">
            page {page + 1} of {own.pages.length} at {Math.round((scale / (96 / 25.4)) * 100)}%
          </span>
        )}
      </div>
    </Bench>
  );
}

/**
 * Documents that are nobody's, and others that are out of the ordinary, each with what mends it.
 */
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
      <h3>Where there is room</h3>
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
            : {covers === 0 ? 'free on all' : `over something on ${covers.toLocaleString('en')}`}
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
                    free on all {mmWords(free.acrossMm)} and {mmWords(free.downMm)} from the edges
                  </PlainButton>
                </>
              ) : (
                isCorner(corner) && '; no place is free on all'
              ))}
          </li>
        ))}
      </ul>
      <h3>Without a record: {nobodys.length}</h3>
      <ul>
        {nobodys.map((d) => (
          <li key={d.id}>
            <Mark name="look" /> {d.name}{' '}
            {handRow && (
              <PlainButton style={link} onPress={() => say(d.id, handRow.id)}>
                Assign to the selected record
              </PlainButton>
            )}
          </li>
        ))}
      </ul>
      {pdfs.without > 0 && (
        <p style={{ marginBottom: 16 }}>
          <Mark name="look" /> {counted(pdfs.without, 'record has', 'records have')} no PDF.
        </p>
      )}
      {ground.said.length > 0 && (
        <>
          <h3>Assigned by hand</h3>
          <ul>
            {ground.said.map((s) => (
              <li key={s.document}>
                {pdfs.documents.find((d) => d.id === s.document)?.name ?? 'a deleted document'}
                {': '}
                {pdfs.documents.find((d) => d.id === s.document)?.record?.title ?? 'no record'}{' '}
                <PlainButton style={link} onPress={() => say(s.document, undefined)}>
                  Undo
                </PlainButton>
              </li>
            ))}
          </ul>
        </>
      )}
      {signed.length + locked.length + turned.length > 0 && (
        <>
          <h3>Special documents</h3>
          <ul>
            {signed.map((d) => (
              <li key={d.id}>
                <Mark name={ground.signed ? 'ready' : 'look'} /> {d.name}: signed
              </li>
            ))}
            {locked.map((d) => (
              <li key={d.id}>
                <Mark name="ready" /> {d.name}: locked. It is written again and opens with the same
                password.
              </li>
            ))}
            {turned.map((d) => (
              <li key={d.id}>
                <Mark name="ready" />{' '}
                {d.record ? (
                  <PlainButton looks style={link} onPress={() => jump({ record: d.record!.id })}>
                    {d.name}
                  </PlainButton>
                ) : (
                  d.name
                )}
                : turned pages
              </li>
            ))}
          </ul>
        </>
      )}
    </div>
  );
}
