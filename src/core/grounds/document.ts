import { contentOf } from '../payload/stamp';
import { documentGround, type DocumentGround, type Piece } from '../piece/piece';
import { wordsAt } from '../documents/words';
import { codeTrouble } from './code-size';
import type { GroundDescription } from './ground';

/** @throws Error when the piece is put on something else */
export function documentOf(piece: Piece): DocumentGround {
  const ground = documentGround(piece);
  if (!ground) throw new Error('this piece is no document');
  return ground;
}

const taken = (ground: DocumentGround) => ground.places.filter((p) => !p.likely);
/** So many times as long as in the example may words be before they are worth a look. */
const muchLonger = 3;

/** A finished DOCX for one person, of which everyone gets their own. */
export const document: GroundDescription = {
  kind: 'document',
  name: 'a document of your own',
  about: 'a letter, an agreement, a page, a mail: from a finished DOCX or HTML for one person',
  called: (piece) => documentOf(piece).name,
  stampsOn: (piece) => documentOf(piece).codes.map((c) => c.stamp),
  columnsOn: (piece) => {
    const ground = documentOf(piece);
    return [
      ...taken(ground)
        .filter((p) => p.block === undefined)
        .flatMap((p) => p.parts.flatMap((part) => (part.kind === 'column' ? [part.column] : []))),
      ...ground.blocks.map((b) => b.is),
      ...(ground.groupBy === undefined ? [] : [ground.groupBy]),
    ];
  },
  says: (piece, stamps, values) => {
    const ground = documentOf(piece);
    return [
      ground.document,
      ...taken(ground)
        .filter((p) => p.block === undefined)
        .map((p) => wordsAt(p, values) ?? null),
      ...ground.blocks.map((b) => values[b.is] ?? null),
      ...ground.codes.map((code) => {
        const stamp = stamps.find((s) => s.id === code.stamp);
        const content = stamp && contentOf(stamp, values);
        return content?.state === 'said' ? [stamp!.symbology, content.payload] : null;
      }),
    ];
  },
  problems: (piece, stamps, values) => {
    const ground = documentOf(piece);
    const problems: { reason: string }[] = [];
    for (const place of taken(ground)) {
      if (place.block !== undefined) continue;
      const words = wordsAt(place, values);
      if (words === undefined) {
        if (place.blank === 'hold')
          problems.push({
            reason: `“${place.example}” in the document has nothing for this record`,
          });
      } else if (words.length > Math.max(24, place.example.length * muchLonger))
        problems.push({
          reason: `“${words.slice(0, 40)}…” is far longer than “${place.example}” in the example`,
        });
    }
    for (const code of ground.codes) {
      const trouble = codeTrouble(
        stamps.find((s) => s.id === code.stamp),
        values,
        code,
      );
      if (trouble) problems.push({ reason: trouble });
    }
    return problems;
  },
  usualOutput: 'docx-each',
};

/** A finished page in HTML, of which everyone gets their own; it is offered as the document that it is. */
export const page: GroundDescription = {
  ...document,
  kind: 'html',
  offered: 'document',
  usualOutput: 'html-each',
};
