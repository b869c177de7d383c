import { PDFDocument } from '@cantoo/pdf-lib';
import { itemsOf } from './items';
import type { RunToAssemble } from './maker';

/** The PDFs of all records of a run as one, in their order. */
export async function* joinedPdf({
  db,
  runId,
  frozen,
  title,
}: RunToAssemble): AsyncGenerator<Uint8Array> {
  const whole = await PDFDocument.create();
  const date = new Date(frozen.date);
  whole.setTitle(title);
  whole.setCreationDate(date);
  whole.setModificationDate(date);
  for await (const { parts } of itemsOf(db, runId))
    for (const { bytes } of parts) {
      const one = await PDFDocument.load(bytes);
      for (const page of await whole.copyPages(one, one.getPageIndices())) whole.addPage(page);
    }
  yield await whole.save();
}
