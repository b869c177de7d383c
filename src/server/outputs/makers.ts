import type { OutputId } from '../../core/run/outputs';
import { csv } from './kinds/csv';
import { documentPdf, documentPdfEach } from './kinds/document-pdf';
import { docxEach } from './kinds/docx-each';
import { docxOne } from './kinds/docx-one';
import { html } from './kinds/html';
import { htmlDocxEach } from './kinds/html-docx';
import { htmlEach, htmlOne } from './kinds/html-pages';
import { images } from './kinds/images';
import { mail } from './kinds/mail';
import { pdf } from './kinds/pdf';
import { pdfEach } from './kinds/pdf-each';
import { pdfsEach, pdfsOne, pdfsTray } from './kinds/pdfs';
import { xlsx } from './kinds/xlsx';
import type { OutputMaker, RecordMakerOf } from './maker';

/** How each output is made: one without a maker does not compile. */
export type Makers = { readonly [K in OutputId]: OutputMaker };
const makers: Makers = {
  pdf,
  'pdf-each': pdfEach,
  'docx-each': docxEach,
  'docx-one': docxOne,
  'document-pdf': documentPdf,
  'document-pdf-each': documentPdfEach,
  'pdfs-each': pdfsEach,
  'pdfs-one': pdfsOne,
  'pdfs-tray': pdfsTray,
  'html-each': htmlEach,
  'html-docx-each': htmlDocxEach,
  'html-one': htmlOne,
  images,
  xlsx,
  csv,
  html,
  mail,
};

/** @throws Error for an output of an earlier version, which is not made any more */
export function makerOf(kind: string): OutputMaker {
  if (!Object.hasOwn(makers, kind)) throw new Error(`there is no output ${kind}`);
  return makers[kind as OutputId];
}

/**
 * Makes the records of a part of a run. @throws Error if the output makes nothing for single
 * records
 */
export const recordMaker: RecordMakerOf = async (db, frozen, kind) => {
  const { begin, perRecord } = makerOf(kind);
  if (begin) return begin(db, frozen, recordMaker);
  if (!perRecord) throw new Error(`nobody has said what one record gets of ${kind}`);
  return { one: (record) => perRecord(frozen, record) };
};
