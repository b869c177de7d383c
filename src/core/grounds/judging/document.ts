import { codesOf, mostRows, rowsOf, wordsAt } from '../../documents/words';
import { contentOf, type Stamp } from '../../payload/stamp';
import { ledTo } from '../../documents/links';
import type { DocumentGround, DocumentPlace } from '../../piece/ground';
import type { Values } from '../../records/columns';
import { documentOf, ofRecord, taken } from '../document';
import { codeTrouble } from './code-size';
import type { GroundJudging } from './judging';

/** Codes of the record itself, and codes of rows of other lists, each with its content. */
function codesFor(ground: DocumentGround, stamps: readonly Stamp[], values: Values) {
  const own = new Set(ground.blocks.filter((b) => b.members).map((b) => b.id));
  const alone = {
    ...ground,
    codes: ground.codes.map((c) => (own.has(c.block ?? '') ? { ...c, block: undefined } : c)),
  };
  return codesOf(alone, stamps, values);
}

/** Words may be this many times as long as in the example before they need a look. */
const muchLonger = 3;

/** The contents of a document for one person, and its problems. */
export const document: GroundJudging = {
  says: (piece, stamps, values) => {
    const ground = documentOf(piece);
    return [
      ground.document,
      ...ofRecord(ground).map((p) => wordsAt(p, values) ?? null),
      ...ground.blocks.map((b) => values[b.is] ?? null),
      ...codesFor(ground, stamps, values).map(({ stamp, values: of }) => {
        const content = stamp && contentOf(stamp, of);
        return content?.state === 'said' ? [stamp!.symbology, content.payload] : null;
      }),
      ...ground.blocks.flatMap((block) => {
        const places = taken(ground).filter((p) => p.block === block.id);
        return rowsOf(block, values).map((row) => places.map((p) => wordsAt(p, row) ?? null));
      }),
    ];
  },
  problems: (piece, stamps, values) => {
    const ground = documentOf(piece);
    const problems: { reason: string }[] = [];
    for (const place of ofRecord(ground)) {
      const words = wordsAt(place, values);
      if (words === undefined) {
        if (place.blank === 'hold')
          problems.push({
            reason: `“${place.example}” in the document is blank for this record`,
          });
      } else if (words.length > Math.max(24, place.example.length * muchLonger))
        problems.push({
          reason: `“${words.slice(0, 40)}…” is far longer than “${place.example}” in the example`,
        });
    }
    problems.push(...ground.places.filter((p) => p.among).map(askedWords));
    problems.push(...linkProblems(ground, values));
    for (const block of ground.blocks)
      if (rowsOf(block, values).length > mostRows)
        problems.push({
          reason: `more than ${mostRows} rows of the other list belong to this record, more than one document can hold`,
        });
    const told = new Set<string>();
    for (const { place, stamp, values: of } of codesFor(ground, stamps, values)) {
      const content = place.says && stamp && contentOf(stamp, of);
      const trouble =
        content?.state === 'blank'
          ? 'the code of one of its rows is blank'
          : content?.state === 'wrong'
            ? content.reason
            : codeTrouble(stamp, of, place);
      if (trouble && !told.has(trouble)) problems.push({ reason: trouble });
      if (trouble) told.add(trouble);
    }
    return problems;
  },
};

/**
 * Links of the document that lead nowhere for a record, so that the finished one would have none.
 */
function linkProblems(ground: DocumentGround, values: Values): { reason: string }[] {
  const links = new Map<string, DocumentPlace[]>();
  for (const place of ofRecord(ground))
    if (place.leads !== undefined) {
      const key = `${place.part} ${place.paragraph}`;
      links.set(key, [...(links.get(key) ?? []), place]);
    }
  return [...links.values()].flatMap((places) => {
    const text = places[0]!.leads!;
    const edits = places.map((p) => ({ from: p.from, to: p.to, words: wordsAt(p, values) }));
    // a link in a line that is left out is meant to go
    if (places.some((p, i) => edits[i]!.words === undefined && p.blank === 'line')) return [];
    const blank = edits.some(({ words }) => words === undefined || words.trim() === '');
    const to = blank
      ? undefined
      : ledTo(
          text,
          edits.map((one) => ({ ...one, words: one.words ?? '' })),
        );
    return to === undefined
      ? [
          {
            reason: `the link “${text.slice(0, 60)}” in the document leads nowhere for this record`,
          },
        ]
      : [];
  });
}

const askedWords = ({ example }: DocumentPlace): { reason: string } => ({
  reason: `“${example.slice(0, 60)}” in the document is the value of several columns. Choose the right one`,
});
