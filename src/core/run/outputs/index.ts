/** What runs make. To add one: a file here, a line below, and its maker in `server/outputs/kinds`. */
import { pdf } from './pdf';
import { pdfEach } from './pdf-each';
import { images } from './images';
import { xlsx } from './xlsx';
import { csv } from './csv';
import { html } from './html';
import { addOutput } from './output';

export * from './output';

for (const output of [pdf, pdfEach, images, xlsx, csv, html]) addOutput(output);

/** What a run makes unless something else is chosen. */
export const usualOutput = pdf.id;
