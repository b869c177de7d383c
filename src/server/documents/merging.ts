import { codePicture } from '../../core/documents/code';
import { DocxMerge, type CodePicture } from '../../core/documents';
import { documentOf } from '../../core/grounds';
import type { FrozenRun } from '../../core/job/document';
import { contentOf } from '../../core/payload/stamp';
import { unpack } from '../../core/payload/unpack';
import { encodeStamp } from '../../core/piece/piece';
import type { Values } from '../../core/records/columns';
import type { CodeSymbol } from '../../core/symbology';
import type { Database } from '../platform';
import { documentBytes } from './keeping';

export interface MergedDocument {
  bytes: Uint8Array;
  /** Its codes, each with the picture that stands in it. */
  codes: { stamp: string; symbol: CodeSymbol; payload: string; png: Uint8Array }[];
}

/** Opens the document of a run once; gives what makes that of a record. */
export async function mergeOf(
  db: Database,
  frozen: Pick<FrozenRun, 'piece' | 'stamps' | 'date'>,
): Promise<(values: Values) => MergedDocument> {
  const ground = documentOf(frozen.piece);
  const merge = new DocxMerge(await documentBytes(db, ground.document, 'docx'), ground);
  const date = new Date(frozen.date);
  return (values) => {
    const pictures = new Map<string, CodePicture>();
    const codes: MergedDocument['codes'] = [];
    for (const place of ground.codes) {
      const stamp = frozen.stamps.find((s) => s.id === place.stamp);
      const content = stamp && contentOf(stamp, values);
      if (!stamp || content?.state !== 'said') continue;
      const symbol = encodeStamp(stamp, content.payload);
      const made = codePicture(symbol, stamp, place);
      pictures.set(place.id, { ...made, about: `Code to scan: ${unpack(content.payload).does}` });
      codes.push({ stamp: stamp.id, symbol, payload: content.payload, png: made.png });
    }
    return { bytes: merge.fill(values, pictures, date), codes };
  };
}
