'use client';
import { useMutation } from '@tanstack/react-query';
import { counted } from '../../../core/base/words';
import { titleColumn } from '../../../core/records/columns';
import { shown } from '../../../core/records/sealed';
import { GroundPart } from '../../editors/piece/ground-part';
import { ask } from '../../kit/api';
import { ChoicePart, ErrorLine, Part, QuietButton, Sentence, Small } from '../../kit/controls';
import { useHand, useJob } from '../../shell/ledger/context';
import { Mark } from '../../kit/mark';
import { useDocument, useLookups } from './use-document';
import { documentSentence as wording } from './words';
import { filled, withParts } from '../../kit/with-parts';

/** The sentence of a piece that is a document of one's own. */
export function DocumentSentence() {
  const { job } = useJob();
  const { ground, change, facts } = useDocument();
  const asked = ground.places.filter((p) => p.among);
  const likely = ground.places.filter((p) => p.likely && !p.among).length;
  const { data: lookups } = useLookups(ground.blocks.length > 0);
  const listNames = [
    ...new Set(
      ground.blocks.map((b) =>
        b.list === job.list.id
          ? wording.theRecordsThatShare
          : (lookups?.lists.find((l) => l.id === b.list)?.name ?? wording.anotherList),
      ),
    ),
  ];
  const following = ground.places.length - likely - asked.length;
  return (
    <>
      <Sentence>
        {withParts(
          wording.inWrittenForOne,
          <GroundPart />,
          <WrittenForPart />,
          <b>
            {withParts(
              wording.theRecord,
              counted(following, wording.placeFollows, wording.placesFollow),
            )}
          </b>,
          ground.codes.length > 0 && (
            <>
              , <b>{counted(ground.codes.length, 'code')}</b>
            </>
          ),
          ground.blocks.length > 0 && (
            <>
              ,{' '}
              <b>
                {withParts(
                  wording.onceForEachOf,
                  counted(ground.blocks.length, wording.partComes, wording.partsCome),
                  listNames.join(' and '),
                )}
              </b>
            </>
          ),
          <GroupPart />,
        )}
      </Sentence>
      <Small style={{ paddingTop: 2 }}>
        {likely > 0 &&
          withParts(
            wording.likely,
            counted(likely, wording.moreLooks, wording.moreLook),
            <QuietButton
              onPress={() =>
                change((g) => ({
                  ...g,
                  places: g.places.map((place) =>
                    place.among ? place : { ...place, likely: undefined },
                  ),
                }))
              }
              style={{ padding: '1px 7px' }}
            >
              {wording.useAll}
            </QuietButton>,
            <QuietButton
              onPress={() =>
                change((g) => ({ ...g, places: g.places.filter((p) => !p.likely || p.among) }))
              }
              style={{ padding: '1px 7px' }}
            >
              {wording.leaveAllAsThey}
            </QuietButton>,
          )}
        {asked.length > 0 &&
          withParts(
            wording.severalColumnsHaveThis,
            <Mark name="look" />,
            asked.map((p) => `“${p.example}”`).join(', '),
          )}
        {facts?.notes.length ? `${facts.notes.join('; ')}. ` : ''}
        {ground.groupBy !== undefined &&
          !ground.blocks.some((b) => b.list === job.list.id) &&
          wording.selectATableRow}
        {following + likely + asked.length === 0 ? wording.noValueOfAny : wording.clickAPictureTo}
      </Small>
    </>
  );
}

/** One document for each record, or for all that say the same in a column. */
function GroupPart() {
  const { job } = useJob();
  const { ground, change } = useDocument();
  const columns = job.list.columns.filter((c) => !c.hidden && !c.secret);
  return (
    <ChoicePart
      label={wording.oneDocumentFor}
      value={ground.groupBy === undefined ? 'record' : ground.groupBy || 'all'}
      onChange={(id) => {
        const by = id === 'record' ? undefined : id === 'all' ? '' : id;
        change((g) => {
          const own = new Set(g.blocks.filter((b) => b.list === job.list.id).map((b) => b.id));
          const gone = (block: string | undefined) => by === undefined && own.has(block ?? '');
          return {
            ...g,
            groupBy: by,
            // rows of the own list belong to a group, and go or change with it
            blocks: g.blocks.flatMap((b) =>
              !own.has(b.id) ? [b] : by === undefined ? [] : [{ ...b, by, is: by }],
            ),
            places: g.places.filter((p) => !gone(p.block)),
            codes: g.codes.map((c) => (gone(c.block) ? { ...c, block: undefined } : c)),
          };
        });
      }}
      choices={[
        { id: 'record', name: wording.eachRecord },
        { id: 'all', name: wording.allOfThemTogether },
        ...columns.map((c) => ({ id: c.id, name: filled(wording.each, c.name) })),
      ]}
    />
  );
}

/**
 * The record for which the example was written; another one can be chosen, and its places are
 * searched again.
 */
function WrittenForPart() {
  const { job } = useJob();
  const { handRow } = useHand();
  const { ground, change } = useDocument();
  const title = titleColumn(job.list.columns);
  const inHand = handRow && title ? shown(handRow.values[title.id] ?? '') : undefined;
  const find = useMutation({
    mutationFn: async (record: number | undefined) => {
      const found = await ask('findInDocument', {
        params: { id: job.id },
        body: { document: ground.document, record },
      });
      change((g) => ({
        ...g,
        writtenFor: found.writtenFor ?? undefined,
        // places that were marked by hand stay
        places: [
          ...found.places,
          ...g.places.filter(
            (p) =>
              !p.id.startsWith('found-') &&
              !found.places.some(
                (f) =>
                  f.part === p.part &&
                  f.paragraph === p.paragraph &&
                  f.from < p.to &&
                  p.from < f.to,
              ),
          ),
        ],
      }));
    },
  });
  return (
    <Part
      label={wording.recordInTheExample}
      editor={(close) => (
        <div style={{ display: 'grid', gap: 10, width: 360 }}>
          <Small>{wording.theValuesOfThis}</Small>
          <div style={{ display: 'flex', flexWrap: 'wrap', gap: 8 }}>
            {handRow && (
              <QuietButton onPress={() => find.mutate(handRow.id, { onSuccess: close })}>
                {withParts(wording.itWasWrittenFor, inHand || wording.theSelectedRecord)}
              </QuietButton>
            )}
            <QuietButton onPress={() => find.mutate(undefined, { onSuccess: close })}>
              {wording.findItAutomatically}
            </QuietButton>
          </div>
          {find.error && <ErrorLine>{find.error.message}</ErrorLine>}
        </div>
      )}
    >
      {ground.writtenFor ? ground.writtenFor.title || wording.aRecordWithoutA : wording.noOneInThe}
    </Part>
  );
}
