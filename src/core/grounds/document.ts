import { documentGround, type Piece } from '../piece/model';
import type { DocumentGround } from '../piece/ground';
import type { GroundDescription } from './ground';

/** @throws Error when the piece is put on something else */
export function documentOf(piece: Piece): DocumentGround {
  const ground = documentGround(piece);
  if (!ground) throw new Error('this piece is not a document');
  return ground;
}

/** Places about the record itself: those of the text, and those of its own row among others. */
export const ofRecord = (ground: DocumentGround) =>
  taken(ground).filter(({ block: id }) => {
    const block = ground.blocks.find((b) => b.id === id);
    return id === undefined || block?.members === true;
  });

/** Places that a person has confirmed or changed. */
export const taken = (ground: DocumentGround) => ground.places.filter((p) => !p.likely);

/** A finished DOCX for one person, of which everyone gets their own. */
export const document: GroundDescription = {
  kind: 'document',
  name: 'a document of your own',
  about: 'a letter, an agreement, a page, an email: from a finished DOCX or HTML for one person',
  called: (piece) => documentOf(piece).name,
  stampsOn: (piece) => documentOf(piece).codes.flatMap((c) => (c.says ? [] : [c.stamp])),
  columnsOn: (piece) => {
    const ground = documentOf(piece);
    return [
      ...ofRecord(ground).flatMap((p) =>
        p.parts.flatMap((part) => (part.kind === 'column' ? [part.column] : [])),
      ),
      ...ground.blocks.map((b) => b.is).filter(Boolean),
      ...(ground.groupBy ? [ground.groupBy] : []),
    ];
  },
  usualOutput: 'docx-each',
};

/**
 * A finished page in HTML, of which everyone gets their own; it is offered as the document that it
 * is.
 */
export const page: GroundDescription = {
  ...document,
  kind: 'html',
  offered: 'document',
  usualOutput: 'html-each',
};
