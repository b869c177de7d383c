import { readsRight, readImages } from '../../../core/readback/readback';
import type { Database } from '../../platform';
import type { Values } from '../../../core/records/columns';
import {
  converted,
  greyPages,
  mergeOf,
  pagesOf,
  textInLine,
  type MergedDocument,
} from '../../documents';
import type { FrozenRun } from '../../../core/job/document';
import type { MadeCode, OutputMaker, RecordMaker } from '../maker';
import { joinedPdf } from '../joined-pdf';
import { zipOfRun } from '../zip';

export const documentPdfEach: OutputMaker = {
  begin: documentPdfs,
  assemble: async (run) => ({ ending: '.zip', mime: 'application/zip', bytes: zipOfRun(run) }),
};
export const documentPdf: OutputMaker = {
  begin: documentPdfs,
  assemble: async (run) => ({ ending: '.pdf', mime: 'application/pdf', bytes: joinedPdf(run) }),
};

/**
 * Documents are merged one by one and made into PDFs together, since starting what makes them takes
 * longest.
 */
async function documentPdfs(db: Database, frozen: FrozenRun): Promise<RecordMaker> {
  const isPage = frozen.piece.ground?.kind === 'html';
  const merged = isPage ? await pageFiles(db, frozen) : await mergeOf(db, frozen);
  const documents: MergedDocument[] = [];
  return {
    one: async ({ name, values }) => {
      const document = await merged(values);
      documents.push(document);
      return { parts: [{ name: `${name}.pdf`, bytes: document.bytes }], codes: [] };
    },
    together: async (made) => {
      const pdfs = await converted(
        made.map((record) => record.parts[0]!.bytes),
        isPage ? 'html to pdf' : 'docx to pdf',
        documents.reduce((sum, document) => sum + document.codes.length, 0),
      );
      const records = [];
      for (const [i, { parts }] of made.entries())
        records.push({
          parts: [{ name: parts[0]!.name, bytes: pdfs[i]! }],
          codes: await readFromPages(pdfs[i]!, documents[i]!.codes),
        });
      return records;
    },
  };
}

/** The page of each record as a file, with inline styles, as page editors need it. */
async function pageFiles(
  db: Database,
  frozen: FrozenRun,
): Promise<(values: Values) => Promise<MergedDocument>> {
  const page = await pagesOf(db, frozen);
  return async (values) => {
    const { root, codes } = page(values);
    return { bytes: Buffer.from(await textInLine(root)), codes };
  };
}

/** Reads the codes of a document back from its finished pages, at the dots of a printer. */
async function readFromPages(pdf: Uint8Array, codes: MergedDocument['codes']): Promise<MadeCode[]> {
  const waiting = codes.map((code) => ({
    ...code,
    seen: undefined as string | undefined,
    right: false,
  }));
  for await (const page of greyPages(pdf)) {
    for (const symbology of new Set(waiting.filter((c) => !c.right).map((c) => c.symbol.symbology)))
      for (const reading of await readImages(page, symbology))
        for (const code of waiting)
          if (code.symbol.symbology === symbology && !code.right) {
            code.right = readsRight(code.symbol, reading);
            if (code.right || code.seen === undefined) code.seen = reading.text;
          }
    if (waiting.every((code) => code.right)) break;
  }
  return waiting.map(({ stamp, payload, seen, right, inRow }) => ({
    ...{ stamp, payload, inRow },
    result: right ? 'read' : seen === undefined ? 'unread' : 'differs',
    read: seen ?? null,
  }));
}
