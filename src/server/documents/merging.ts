import { codePicture } from '../../core/documents/code';
import {
  DocxJoin,
  DocxMerge,
  type CodePicture,
  type JoinedMedia,
  type JoinedRecord,
} from '../../core/documents';
import { codesOf } from '../../core/documents/words';
import { HtmlMerge } from '../../core/documents/html-fill';
import type { Document as HtmlDocument } from 'domhandler';
import { documentOf } from '../../core/grounds';
import type { FrozenRun } from '../../core/job/document';
import { contentFit, contentOf } from '../../core/payload/stamp';
import { unpack } from '../../core/payload/unpack';
import { encodeStamp } from '../../core/piece/piece';
import type { Values } from '../../core/records/columns';
import type { CodeSymbol } from '../../core/symbology';
import type { Database } from '../platform';
import { documentBytes } from './keeping';

export interface MergedDocument {
  bytes: Uint8Array;
  /** Its codes, each with the picture that contains it. */
  codes: {
    stamp: string;
    symbol: CodeSymbol;
    payload: string;
    png: Uint8Array;
    inRow?: { nth: number; own?: { row: number; values: Values } };
  }[];
}

type Frozen = Pick<FrozenRun, 'piece' | 'stamps' | 'date'>;

/** The codes of a document for a record, by their key. */
function codesFor(
  frozen: Frozen,
  values: Values,
): { pictures: Map<string, CodePicture>; codes: MergedDocument['codes'] } {
  const pictures = new Map<string, CodePicture>();
  const codes: MergedDocument['codes'] = [];
  for (const { key, place, stamp, values: of, inRow } of codesOf(
    documentOf(frozen.piece),
    frozen.stamps,
    values,
  )) {
    const content = stamp && contentOf(stamp, of);
    if (!stamp || content?.state !== 'said' || !contentFit(stamp, content).fits) continue;
    const symbol = encodeStamp(stamp, content.payload);
    const made = codePicture(symbol, stamp, place);
    pictures.set(key, { ...made, about: `Code to scan: ${unpack(content.payload).does}` });
    codes.push({
      ...{ stamp: stamp.id, symbol, payload: content.payload, png: made.png },
      ...(inRow && {
        inRow: { nth: inRow.nth, ...(place.says ? {} : { own: { row: inRow.row, values: of } }) },
      }),
    });
  }
  return { pictures, codes };
}

const opened = async (db: Database, { piece }: Frozen): Promise<DocxMerge> => {
  const ground = documentOf(piece);
  return new DocxMerge(await documentBytes(db, ground.document, 'docx'), ground);
};

/** Opens the document of a run once; gives what makes that of a record. */
export async function mergeOf(
  db: Database,
  frozen: Frozen,
): Promise<(values: Values) => MergedDocument> {
  const merge = await opened(db, frozen);
  const date = new Date(frozen.date);
  return (values) => {
    const { pictures, codes } = codesFor(frozen, values);
    return { bytes: merge.fill(values, pictures, date), codes };
  };
}

/**
 * Opens the document of a run once, for one document of all its records; returns the contribution
 * of each.
 */
export async function joinOf(
  db: Database,
  frozen: Frozen,
): Promise<{
  join: DocxJoin;
  record(
    number: number,
    values: Values,
  ): { record: JoinedRecord; media: JoinedMedia; codes: MergedDocument['codes'] };
}> {
  const join = new DocxJoin(await opened(db, frozen));
  return {
    join,
    record: (number, values) => {
      const { pictures, codes } = codesFor(frozen, values);
      return { ...join.record(number, values, pictures), codes };
    },
  };
}

export interface MergedPage {
  root: HtmlDocument;
  codes: MergedDocument['codes'];
}

/**
 * Opens the page of a run once; gives what makes that of a record. @param src names the picture of
 * a code, the number of which is given
 */
export async function pagesOf(
  db: Database,
  frozen: Frozen,
  src: (png: Uint8Array, number: number) => string = inside,
): Promise<(values: Values) => MergedPage> {
  const ground = documentOf(frozen.piece);
  const merge = new HtmlMerge(await documentBytes(db, ground.document, 'html'), ground);
  return (values) => {
    const { pictures, codes } = codesFor(frozen, values);
    const shown = new Map(
      [...pictures].map(([id, { png, about }], i) => [id, { src: src(png, i), about }]),
    );
    return { root: merge.fill(values, shown), codes };
  };
}

const inside = (png: Uint8Array): string =>
  `data:image/png;base64,${Buffer.from(png).toString('base64')}`;
