import { onPages } from '../../../core/documents/where';
import { putOnPdf, type PutOnPage, type ShownPage } from '../../../core/documents/pdf';
import type { CodeSymbol } from '../../../core/symbology';
import { pdfOf, pdfsOf, type PdfOfRecord } from '../../../core/grounds';
import type { FrozenRun } from '../../../core/job/document';
import { contentOf } from '../../../core/payload/stamp';
import { unpack } from '../../../core/payload/unpack';
import { safeName } from '../../../core/run/names';
import { encodeStamp } from '../../../core/piece/piece';
import { readImages, readsRight } from '../../../core/readback/readback';
import { documentBytes, documentHash, documentLock, greyParts } from '../../documents';
import { type Database, RunError } from '../../platform';
import type { MadeRecord, OutputMaker, RecordMaker, RecordToMake } from '../maker';
import { outFolder, writeOut } from '../out-folder';
import { zipOfRun } from '../zip';
import { joinedPdf } from '../joined-pdf';

export const pdfsEach: OutputMaker = {
  begin: codesOnPdfs,
  assemble: async (run) => ({ ending: '.zip', mime: 'application/zip', bytes: zipOfRun(run) }),
};
export const pdfsOne: OutputMaker = {
  begin: codesOnPdfs,
  assemble: async (run) => ({ ending: '.pdf', mime: 'application/pdf', bytes: joinedPdf(run) }),
};

export const pdfsTray: OutputMaker = {
  begin: async (db, frozen) => {
    // reported before the work that it saves
    outFolder();
    return codesOnPdfs(db, frozen);
  },
  assemble: async (run) => {
    await writeOut(run);
    return { ending: '.zip', mime: 'application/zip', bytes: zipOfRun(run) };
  },
};

/**
 * The file's own name. If it is not valid on every system, or leads out of the folder, a similar
 * one that is not taken.
 */
function fileNameOf({ document, name }: PdfOfRecord): string {
  const [, base, ending] = /^(.*?)(\.pdf)?$/is.exec(name)!;
  const safe = safeName(base!, 'document');
  return safe === base ? base + (ending ?? '.pdf') : `${safe}-${document}.pdf`;
}

/**
 * Always made from the document as it came in, so that doing it again replaces and never doubles.
 */
async function codesOnPdfs(db: Database, frozen: FrozenRun): Promise<RecordMaker> {
  const ground = pdfsOf(frozen.piece);
  const stamp = frozen.stamps.find((s) => s.id === ground.stamp);
  if (!stamp)
    throw new RunError('The stamp whose code goes on the documents was deleted. Choose another.');
  return {
    one: async ({ values, fonts }: RecordToMake): Promise<MadeRecord> => {
      const pdf = pdfOf(values);
      const content = contentOf(stamp, values);
      if (content.state !== 'said') return { parts: [], codes: [] };
      // nothing is made for it, and its receipt says so
      if (!pdf)
        return {
          parts: [],
          codes: [{ stamp: stamp.id, payload: content.payload, result: 'unread', read: null }],
        };
      const symbol = encodeStamp(stamp, content.payload);
      const about = `Code to scan: ${unpack(content.payload).does}`;
      const drawings = onPages(ground, stamp, symbol, pdf.pages, about, values, fonts);
      const lock = await documentLock(db, pdf.document);
      if (lock && frozen.output?.kind === 'pdfs-one')
        throw new RunError(
          `${pdf.name} is locked, and one PDF of all would be open. Make one file each, or leave it out of the run.`,
        );
      const bytes = await putOnPdf(
        await documentBytes(db, pdf.document, 'pdf'),
        drawings,
        await documentHash(db, pdf.document),
        lock,
      );
      const { right, seen } = await readBack(bytes, symbol, drawings, pdf.pages, lock?.password);
      return {
        parts: [{ name: fileNameOf(pdf), bytes }],
        codes: [
          {
            stamp: stamp.id,
            payload: content.payload,
            result: right ? 'read' : seen === undefined ? 'unread' : 'differs',
            read: seen ?? null,
          },
        ],
      };
    },
  };
}

/** The margin around a code that is read with it, in mm. */
const roundMm = 10;

/**
 * Reads the code of every page that carries one, as it would be printed: the code and the margin
 * around it. Drawing and searching the whole page takes ten times as long and finds no more.
 */
async function readBack(
  bytes: Uint8Array,
  symbol: CodeSymbol,
  drawings: readonly PutOnPage[],
  pages: readonly ShownPage[],
  password: string | undefined,
): Promise<{ right: boolean; seen: string | undefined }> {
  const parts = drawings.map(({ page, x, y, widthMm, heightMm }) => {
    const [left, top] = [Math.max(0, x - roundMm), Math.max(0, y - roundMm)];
    const right = Math.min(pages[page]!.widthMm, x + widthMm + roundMm);
    const bottom = Math.min(pages[page]!.heightMm, y + heightMm + roundMm);
    return { page, x: left, y: top, widthMm: right - left, heightMm: bottom - top };
  });
  let seen: string | undefined;
  for await (const part of greyParts(bytes, parts, password)) {
    const readings = await readImages(part, symbol.symbology);
    const own = readings.find((reading) => readsRight(symbol, reading));
    seen = own?.text ?? readings[0]?.text;
    if (!own) return { right: false, seen };
  }
  return { right: drawings.length > 0, seen };
}
