/**
 * What runs make. To add one: a file here, a line below, and its maker in `server/outputs/kinds`.
 */
import { pdf } from './pdf';
import { pdfEach } from './pdf-each';
import { documentPdf } from './document-pdf';
import { documentPdfEach } from './document-pdf-each';
import { docxEach } from './docx-each';
import { docxOne } from './docx-one';
import { images } from './images';
import { xlsx } from './xlsx';
import { csv } from './csv';
import { html } from './html';
import { htmlDocxEach } from './html-docx-each';
import { htmlEach } from './html-each';
import { htmlOne } from './html-one';
import { mail } from './mail';
import { pdfsEach } from './pdfs-each';
import { pdfsOne } from './pdfs-one';
import { pdfsTray } from './pdfs-tray';
import { addOutput } from './output';

export * from './output';

for (const output of [
  pdf,
  pdfEach,
  docxEach,
  docxOne,
  htmlEach,
  htmlOne,
  htmlDocxEach,
  documentPdf,
  documentPdfEach,
  pdfsEach,
  pdfsOne,
  pdfsTray,
  images,
  xlsx,
  csv,
  html,
  mail,
])
  addOutput(output);

/** What a run makes unless something else is chosen. */
export const usualOutput = pdf.id;
