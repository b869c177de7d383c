/**
 * What pieces can be put on. To add one: a file here, a line below, its schema in
 * `piece/ground.ts`, and its band in the interface.
 */
import { document, page } from './document';
import { addGround } from './ground';
import { pdfs } from './pdfs';
import { stock } from './stock';

export { allGrounds, onGround, type GroundDescription } from './ground';
export { pdfKey, pdfOf, pdfsOf, type PdfOfRecord } from './pdfs';
export { documentOf } from './document';
for (const ground of [stock, document, page, pdfs]) addGround(ground);
