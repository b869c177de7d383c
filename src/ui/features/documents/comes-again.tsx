'use client';
import { useMutation } from '@tanstack/react-query';
import { useState } from 'react';
import type { DocumentBlock } from '../../../core/piece/ground';
import { ask } from '../../kit/api';
import { ChoicePart, ErrorLine, PlainButton, Small } from '../../kit/controls';
import { colour } from '../../kit/theme';
import { useJob } from '../../shell/ledger/context';
import { useDocument, useLookups } from './use-document';
import { comesAgain as wording } from './words';
import { filled, withParts } from '../../kit/with-parts';

/** The repeated part of the example: a table row, each cell of a table in turn, or lines. */
type Spot = Pick<DocumentBlock, 'part' | 'row' | 'cell' | 'lines'>;

/** Repeats a part of the example once for each record of a list; its earlier rows go. */
function useRepeat() {
  const { job } = useJob();
  const { ground, change } = useDocument();
  return useMutation({
    mutationFn: async ({ spot, list, instead }: { spot: Spot; list: number; instead?: string }) => {
      const { part } = spot;
      const own = list === job.list.id;
      const { match, goes, places, paragraphs, pictures } = await ask('findInRow', {
        params: { id: job.id },
        body: {
          ...spot,
          document: ground.document,
          list,
          record: ground.writtenFor!.record,
          ...(own ? { by: ground.groupBy } : {}),
        },
      });
      if (!match) throw new Error(wording.noColumnOfThat);
      const id = `rows-${Date.now().toString(36)}`;
      const inside = new Set(paragraphs);
      change((g) => ({
        ...g,
        blocks: [
          ...g.blocks.filter((b) => b.id !== instead),
          {
            ...spot,
            ...{ id, goes, list, by: match.by, is: match.is },
            ...(own ? { members: true as const } : {}),
          },
        ],
        places: [
          ...g.places.filter(
            (p) => (p.part !== part || !inside.has(p.paragraph)) && p.block !== (instead ?? ''),
          ),
          ...places.map((p) => ({ ...p, id: `${id}-${p.id}`, block: id })),
        ],
        codes: g.codes.map((code) => {
          const within =
            code.at.part === part &&
            (code.at.kind === 'picture'
              ? pictures.includes(code.at.picture)
              : inside.has(code.at.paragraph));
          if (code.block !== undefined && code.block === instead)
            return { ...code, block: within ? id : undefined };
          // of those who share the document, each has their own
          return within && own ? { ...code, block: id } : code;
        }),
      }));
    },
  });
}

/** This part repeats for each of several records. */
export function ComesAgain({ part, paragraph }: { part: string; paragraph: number }) {
  const { job } = useJob();
  const { ground, facts } = useDocument();
  const { data } = useLookups();
  const make = useRepeat();
  const row = facts?.rows.findLast((r) => r.part === part && r.paragraphs.includes(paragraph));
  const cell = row?.cells?.findIndex((paragraphs) => paragraphs.includes(paragraph)) ?? -1;
  const [chosen, setChosen] = useState<'row' | 'cell' | 'line'>(row ? 'row' : 'line');
  if (ground.writtenFor === undefined) return null;
  // rows of the own list only if records share a document
  const others =
    data?.lists.filter((l) => l.id !== job.list.id || ground.groupBy !== undefined) ?? [];
  if (others.length === 0) return null;
  const spots: Record<typeof chosen, Spot> = {
    row: { part, row: row?.number },
    cell: { part, row: row?.number, cell },
    line: { part, lines: { from: paragraph, to: paragraph } },
  };
  return (
    <>
      <span style={{ alignSelf: 'center', fontSize: 14 }}>
        {withParts(
          wording.repeatsForEach,
          row ? (
            <ChoicePart
              label={wording.whatRepeats}
              value={chosen}
              choices={[
                { id: 'row', name: wording.thisTableRow },
                ...(cell >= 0 ? [{ id: 'cell' as const, name: wording.eachCellOfThis }] : []),
                { id: 'line', name: wording.thisLine },
              ]}
              onChange={setChosen}
            />
          ) : (
            wording.thisLine
          ),
          <ChoicePart
            label={wording.repeatsForEachRecord}
            value={undefined}
            choices={others.map((l) => ({
              id: String(l.id),
              name:
                l.id === job.list.id
                  ? wording.theRecordsThatShare
                  : filled(wording.recordOf, l.name),
            }))}
            onChange={(id) => make.mutate({ spot: spots[chosen], list: Number(id) })}
          >
            {make.isPending ? wording.lookingForRows : wording.nothingYet}
          </ChoicePart>,
        )}
      </span>
      {make.error && <ErrorLine>{make.error.message}</ErrorLine>}
    </>
  );
}

/** The name of a block in a sentence. */
const called = ({ cell, lines }: DocumentBlock): string => {
  if (cell !== undefined) return wording.eachCellOfThe;
  if (!lines) return wording.itsRowComes;
  return lines.to > lines.from
    ? filled(wording.itsLinesCome, lines.to - lines.from + 1)
    : wording.itsLineComes;
};

/** The block of a place or a code, and how to remove it. */
export function BlockLine({ of, onGone }: { of: string | undefined; onGone: () => void }) {
  const { job } = useJob();
  const { ground, facts, change } = useDocument();
  const { data } = useLookups();
  const again = useRepeat();
  const block = ground.blocks.find((b) => b.id === of);
  if (!block) return null;
  const own = block.list === job.list.id;
  const list = data?.lists.find((l) => l.id === block.list);
  const by = list?.columns.find((c) => c.id === block.by)?.name ?? '…';
  const is = job.list.columns.find((c) => c.id === block.is)?.name ?? '…';
  const { lines, part } = block;
  const count = facts?.texts.find((t) => t.part === part)?.paragraphs.length ?? 0;
  const free = (line: number) =>
    line >= 0 && line < count && !ground.blocks.some((b) => b !== block && within(b, line));
  const within = (b: DocumentBlock, line: number): boolean =>
    b.part === part &&
    (b.lines
      ? line >= b.lines.from && line <= b.lines.to + b.goes
      : (facts?.rows.some(
          (r) => r.part === part && r.number === b.row && r.paragraphs.includes(line),
        ) ?? false));
  const widen = (from: number, to: number) => {
    again.mutate(
      { spot: { part, lines: { from, to } }, list: block.list, instead: block.id },
      { onSuccess: onGone },
    );
  };
  const more = (text: string, from: number, to: number) => (
    <PlainButton
      onPress={() => widen(from, to)}
      isDisabled={again.isPending}
      style={{ textDecoration: 'underline', padding: 0, marginRight: 12 }}
    >
      {text}
    </PlainButton>
  );
  return (
    <div style={{ padding: '0 20px 8px', color: colour.inkSoft }}>
      <Small>
        {withParts(
          wording.onceForEach,
          called(block),
          own ? (
            <b>{wording.theRecordsThatShare}</b>
          ) : (
            withParts(
              wording.recordOfWhoseIs,
              <b>{list?.name ?? wording.aDeletedList}</b>,
              <b>{by}</b>,
              <b>{is}</b>,
            )
          ),
          block.goes > 0 &&
            filled(wording.similarInTheExample, block.goes, block.goes === 1 ? 'goes' : 'go'),
          lines && free(lines.from - 1) && more(wording.withTheLineAbove, lines.from - 1, lines.to),
          lines && free(lines.to + 1) && more(wording.withTheLineBelow, lines.from, lines.to + 1),
          <PlainButton
            onPress={() => {
              change((g) => ({
                ...g,
                blocks: g.blocks.filter((b) => b.id !== block.id),
                places: g.places.filter((p) => p.block !== block.id),
                codes: g.codes.flatMap((c) =>
                  c.block !== block.id ? [c] : c.says ? [] : [{ ...c, block: undefined }],
                ),
              }));
              onGone();
            }}
            style={{ textDecoration: 'underline', padding: 0 }}
          >
            {wording.doNotRepeatIt}
          </PlainButton>,
        )}
      </Small>
      {again.error && <ErrorLine>{again.error.message}</ErrorLine>}
    </div>
  );
}
