'use client';
import { Fragment } from 'react';
import { styled } from 'styled-components';
import { counted } from '../../../core/base/words';
import { formsOf, written } from '../../../core/documents/forms';
import { nextStamp } from '../../../core/payload/stamp';
import { documentGround } from '../../../core/piece/model';
import type { DocumentCode, DocumentPlace, Form } from '../../../core/piece/ground';
import { isSecret, type Column } from '../../../core/records/columns';
import type { Part as ContentPart } from '../../../core/records/parts';
import { PartsWords } from '../../editors/stamp/purpose-part';
import { ContentEditor } from '../../editors/stamp/content-editor';
import { ChoicePart, Measure, Part, QuietButton, Sentence, Small } from '../../kit/controls';
import { Mark } from '../../kit/mark';
import { colour } from '../../kit/theme';
import { useJob } from '../../shell/ledger/context';
import { ComesAgain } from './comes-again';
import type { MarkedWords } from './page-view';
import { useDocument, useLookups } from './use-document';
import { chosen as wording } from './words';
import { filled, withParts } from '../../kit/with-parts';

const Box = styled.div`
  border-top: 1px solid ${colour.ink};
  padding: 8px 20px;
  display: grid;
  gap: 6px;
  .tools {
    display: flex;
    flex-wrap: wrap;
    gap: 8px;
  }
`;
/** Secrets of another list stay there. */
const openColumns = (columns: readonly Column[] = []): Column[] =>
  columns.filter((c) => !isSecret(c, columns));
const newId = (what: string) => `${what}-${Date.now().toString(36)}`;
const blanks = [
  { id: 'words', name: wording.leavesTheWordsOut },
  { id: 'line', name: wording.leavesTheWholeLine },
  { id: 'hold', name: wording.holdsTheRecordBack },
] as const;

const formName = (form: Form | undefined): string => {
  if (!form) return wording.asItIsIn;
  if (form.kind === 'case') return `in ${form.to}`;
  if (form.kind === 'word') return filled(wording.itsWord, form.which);
  if (form.kind === 'date') return `as ${form.as}`;
  return `as ${written('12500', form)}`;
};
const formKey = (form: Form | undefined) => JSON.stringify(form ?? null);

/** The formats in which a value may be written, whatever this one is. */
function formsFor(place: DocumentPlace): (Form | undefined)[] {
  const forms = new Map<string, Form | undefined>();
  for (const form of [
    undefined,
    place.form,
    ...['2027-09-30', '12500', wording.odileFenwick].flatMap((value) =>
      formsOf(value, 'name').map((f) => f.form),
    ),
  ])
    forms.set(formKey(form), form);
  return [...forms.values()];
}

/** The selected place of the document, as one sentence. */
export function PlaceSentence({ place, onGone }: { place: DocumentPlace; onGone: () => void }) {
  const { job } = useJob();
  const { ground, change } = useDocument();
  const { data: lists } = useLookups();
  const block = ground.blocks.find((b) => b.id === place.block);
  const columns = block
    ? openColumns(lists?.lists.find((l) => l.id === block.list)?.columns)
    : job.list.columns;
  const set = (next: Partial<DocumentPlace>) =>
    change((g) => ({
      ...g,
      places: g.places.map((p) => {
        if (p.id !== place.id) return p;
        return { ...p, likely: undefined, among: undefined, ...next };
      }),
    }));
  const remove = () => {
    change((g) => ({ ...g, places: g.places.filter((p) => p.id !== place.id) }));
    onGone();
  };
  return (
    <Box role="region" aria-label={wording.selected}>
      <Sentence $minor>
        {withParts(
          wording.aBlank,
          place.likely && <Mark name="look" />,
          place.example,
          place.likely ? wording.looksLike : 'follows',
          block ? (
            <ChoicePart
              label={wording.column}
              value={place.parts[0]?.kind === 'column' ? place.parts[0].column : undefined}
              choices={columns.map((c) => ({ id: c.id, name: c.name }))}
              onChange={(column) => set({ parts: [{ kind: 'column', column }] })}
            />
          ) : (
            <Part
              label={wording.whatReplacesIt}
              editor={(close) => (
                <ContentEditor
                  parts={place.parts}
                  columns={job.list.columns}
                  onChange={(parts) => {
                    set({ parts });
                    close();
                  }}
                />
              )}
            >
              <PartsWords parts={place.parts} empty={wording.empty} />
            </Part>
          ),
          <ChoicePart
            label={wording.form}
            value={formKey(place.form)}
            choices={formsFor(place).map((form) => ({ id: formKey(form), name: formName(form) }))}
            onChange={(key) => set({ form: (JSON.parse(key) as Form | null) ?? undefined })}
          >
            {formName(place.form)}
          </ChoicePart>,
          <ChoicePart
            label={wording.ifTheValueIs}
            value={place.blank}
            choices={blanks.filter((b) => !block || b.id !== 'hold')}
            onChange={(blank) => set({ blank })}
          />,
        )}
      </Sentence>
      {place.among && <Small>{wording.severalColumnsHaveThis}</Small>}
      <div className="tools">
        {place.among?.map((id) => {
          const name = columns.find((c) => c.id === id)?.name;
          return (
            name !== undefined && (
              <QuietButton
                key={id}
                onPress={() => set({ parts: [{ kind: 'column', column: id }] })}
              >
                {withParts(wording.itIs, name)}
              </QuietButton>
            )
          );
        })}
        {place.likely && !place.among && (
          <QuietButton onPress={() => set({})}>{wording.useIt}</QuietButton>
        )}
        <QuietButton onPress={remove}>{wording.keepTheExamplesText}</QuietButton>
        {!block && <ComesAgain part={place.part} paragraph={place.paragraph} />}
      </div>
    </Box>
  );
}

/** The selected code. */
export function CodeInDocument({ code, onGone }: { code: DocumentCode; onGone: () => void }) {
  const { job } = useJob();
  const { ground, change } = useDocument();
  const { data: lists } = useLookups(code.says !== undefined);
  const block = ground.blocks.find((b) => b.id === code.block);
  const rowColumns = openColumns(lists?.lists.find((l) => l.id === block?.list)?.columns);
  const set = (next: Partial<DocumentCode>) =>
    change((g) => ({
      ...g,
      codes: g.codes.map((c) => (c.id === code.id ? { ...c, ...next } : c)),
    }));
  const own = code.at.kind === 'words';
  const mm = (n: number) => Math.round(n * 10) / 10;
  return (
    <Box role="region" aria-label={wording.selected}>
      <Sentence $minor>
        {withParts(
          wording.in,
          own ? wording.hereComes : wording.thisPictureIsReplaced,
          code.says ? wording.forEachRowA : block ? wording.eachPersonsCodeFrom : wording.theCodeOf,
          <ChoicePart
            label={wording.stamp}
            value={code.stamp}
            choices={job.document.stamps.map((s) => ({ id: s.id, name: s.name }))}
            onChange={(stamp) => set({ stamp })}
          />,
          code.says &&
            withParts(
              wording.whichSays,
              <Part
                label={wording.whatTheCodeOf}
                editor={(close) => (
                  <ContentEditor
                    parts={code.says!}
                    columns={rowColumns}
                    onChange={(says) => {
                      set({ says });
                      close();
                    }}
                  />
                )}
              >
                <PartsWords parts={code.says} empty={wording.empty} columns={rowColumns} />
              </Part>,
            ),
          own ? (
            <Part
              label={wording.size}
              editor={
                <Measure
                  label={wording.widthAndHeightMm}
                  value={mm(code.widthMm)}
                  min={4}
                  max={180}
                  step={0.5}
                  onChange={(size) => set({ widthMm: size, heightMm: size })}
                />
              }
            >
              {withParts(wording.mm, mm(code.widthMm))}
            </Part>
          ) : (
            filled(wording.mmAsThePicture, mm(code.widthMm), mm(code.heightMm))
          ),
        )}
      </Sentence>
      <div className="tools">
        <QuietButton
          onPress={() => {
            change((g) => ({ ...g, codes: g.codes.filter((c) => c.id !== code.id) }));
            onGone();
          }}
        >
          {own ? wording.removeTheCode : wording.keepThePicture}
        </QuietButton>
      </div>
    </Box>
  );
}

/** Where a code goes that replaces a picture or marked words. */
type CodeSpot = Pick<DocumentCode, 'at' | 'widthMm' | 'heightMm' | 'block'>;

function useAddCode(onAdded: (id: string) => void) {
  const { job, save } = useJob();
  const { data: lists } = useLookups();
  return (spots: readonly CodeSpot[], stamp: string) => {
    const ids = spots.map((_, i) => `${newId('code')}${i === 0 ? '' : `-${i}`}`);
    save((d) => {
      const own = documentGround(d.piece);
      if (!own) return d;
      const fresh = stamp === 'new' ? nextStamp(d.stamps, job.list.columns) : undefined;
      // a row of another list has other columns than the stamp: its code says their key
      const block = own.blocks.find((b) => b.id === spots[0]?.block);
      const columns = openColumns(lists?.lists.find((l) => l.id === block?.list)?.columns);
      const key = columns.find((c) => c.role === 'key') ?? columns[0];
      const says: ContentPart[] | undefined =
        block && block.list !== job.list.id
          ? key
            ? [{ kind: 'column', column: key.id }]
            : []
          : undefined;
      return {
        ...d,
        stamps: fresh ? [...d.stamps, fresh] : d.stamps,
        piece: {
          ...d.piece,
          ground: {
            ...own,
            codes: [
              ...own.codes,
              ...spots.map((spot, i) => ({
                ...spot,
                id: ids[i]!,
                stamp: fresh?.id ?? stamp,
                ...(says ? { says } : {}),
              })),
            ],
          },
        },
      };
    });
    onAdded(ids[0]!);
  };
}

function CodeTools({
  spot,
  alike = [],
  onAdded,
}: {
  spot: CodeSpot;
  /** Pictures that look like this one: they become the same code by one press. */
  alike?: readonly CodeSpot[];
  onAdded: (id: string) => void;
}) {
  const { job } = useJob();
  const add = useAddCode(onAdded);
  return (
    <>
      {job.document.stamps.map((s) => (
        <Fragment key={s.id}>
          {alike.length > 0 && (
            <QuietButton onPress={() => add([spot, ...alike], s.id)}>
              {withParts(wording.putTheCodeOf, s.name, alike.length + 1)}
            </QuietButton>
          )}
          <QuietButton onPress={() => add([spot], s.id)}>
            {withParts(
              wording.putTheCodeOf2,
              s.name,
              alike.length > 0 ? wording.onThisPictureOnly : 'here',
            )}
          </QuietButton>
        </Fragment>
      ))}
      {job.document.stamps.length === 0 && (
        <>
          {alike.length > 0 && (
            <QuietButton onPress={() => add([spot, ...alike], 'new')}>
              {withParts(wording.putACodeOn, alike.length + 1)}
            </QuietButton>
          )}
          <QuietButton onPress={() => add([spot], 'new')}>
            {withParts(wording.putACode, alike.length > 0 ? wording.onThisPictureOnly : 'here')}
          </QuietButton>
        </>
      )}
    </>
  );
}

/** A picture of the example that is not a code yet. */
export function PictureChosen({
  part,
  picture,
  block,
  onAdded,
}: {
  part: number;
  picture: number;
  /** In which it comes again. */
  block: string | undefined;
  onAdded: (id: string) => void;
}) {
  const { ground, facts } = useDocument();
  const path = facts?.texts[part]?.part;
  const found = facts?.pictures.find((p) => p.part === path && p.number === picture);
  if (!found) return null;
  const spotOf = ({ part, number, widthMm, heightMm }: typeof found): CodeSpot => ({
    widthMm: Math.max(4, widthMm),
    heightMm: Math.max(4, heightMm),
    at: { kind: 'picture', part, picture: number },
    ...(block === undefined ? {} : { block }),
  });
  const isCode = (number: number) =>
    ground.codes.some(
      ({ at }) => at.kind === 'picture' && at.part === path && at.picture === number,
    );
  // a repeated row repeats its pictures
  const alike = (ground.blocks.some((b) => b.part === path) ? [] : facts!.pictures).filter(
    (p) =>
      p.part === path &&
      p.number !== picture &&
      Math.abs(p.widthMm - found.widthMm) < 0.1 &&
      Math.abs(p.heightMm - found.heightMm) < 0.1 &&
      p.about === found.about &&
      !isCode(p.number),
  );
  return (
    <Box role="region" aria-label={wording.selected}>
      <Sentence $minor>
        {withParts(
          wording.aPictureOfThe,
          Math.round(found.widthMm * 10) / 10,
          Math.round(found.heightMm * 10) / 10,
          block ? 'row' : 'document',
          alike.length > 0 &&
            filled(
              wording.theSameSize,
              counted(alike.length, wording.morePictureHas, wording.morePicturesHave),
            ),
        )}
      </Sentence>
      <div className="tools">
        <CodeTools spot={spotOf(found)} alike={alike.map(spotOf)} onAdded={onAdded} />
      </div>
    </Box>
  );
}

/** Words that were marked on the page: they may follow a column, or be the place of a code. */
export function WordsChosen({
  words,
  block: id,
  onAdded,
}: {
  words: MarkedWords;
  /** In which they come again. */
  block: string | undefined;
  onAdded: (id: string) => void;
}) {
  const { job } = useJob();
  const { ground, facts, change } = useDocument();
  const block = ground.blocks.find((b) => b.id === id);
  const { data: lists } = useLookups(block !== undefined);
  const columns = block
    ? openColumns(lists?.lists.find((l) => l.id === block.list)?.columns)
    : job.list.columns.filter((c) => !c.hidden);
  const part = facts?.texts[words.part]?.part;
  if (!part) return null;
  const { paragraph, from, to, text } = words;
  return (
    <Box role="region" aria-label={wording.selected}>
      <Sentence $minor>
        {text === ''
          ? wording.thisCellIsEmpty
          : filled(
              wording.isTheSameIn,
              text.length > 80 ? `${text.slice(0, 80)} …` : text,
              block ? 'row' : 'document',
            )}{' '}
        <ChoicePart
          label={wording.columnToUse}
          value={undefined}
          choices={columns.map((c) => ({ id: c.id, name: c.name }))}
          onChange={(column) => {
            const id = newId('place');
            change((g) => ({
              ...g,
              places: [
                ...g.places.filter(
                  (p) =>
                    p.part !== part || p.paragraph !== paragraph || p.from >= to || from >= p.to,
                ),
                {
                  id,
                  part,
                  paragraph,
                  from,
                  to,
                  example: text,
                  parts: [{ kind: 'column', column }],
                  blank: 'words',
                  ...(block ? { block: block.id } : {}),
                },
              ],
            }));
            onAdded(id);
          }}
        >
          {wording.noColumn}
        </ChoicePart>
        .
      </Sentence>
      <div className="tools">
        <CodeTools
          spot={{
            widthMm: 25,
            heightMm: 25,
            at: { kind: 'words', part, paragraph, from, to },
            ...(block ? { block: block.id } : {}),
          }}
          onAdded={onAdded}
        />
        {!block && <ComesAgain part={part} paragraph={paragraph} />}
      </div>
    </Box>
  );
}
