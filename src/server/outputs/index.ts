/**
 * What runs make: a code as a file, the files of a record, the file of a run. To add an output: a
 * file in `kinds`, a line below.
 */
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
import { addMaker } from './maker';

export { itemsOf } from './items';
export { outFolder } from './out-folder';
export { composeMail } from './compose-mail';
export { addMaker, makerOf, recordMaker, type MadeRecord, type OutputMaker } from './maker';

addMaker('pdf', pdf);
addMaker('pdf-each', pdfEach);
addMaker('docx-each', docxEach);
addMaker('docx-one', docxOne);
addMaker('document-pdf', documentPdf);
addMaker('document-pdf-each', documentPdfEach);
addMaker('pdfs-each', pdfsEach);
addMaker('pdfs-one', pdfsOne);
addMaker('pdfs-tray', pdfsTray);
addMaker('html-each', htmlEach);
addMaker('html-docx-each', htmlDocxEach);
addMaker('html-one', htmlOne);
addMaker('images', images);
addMaker('xlsx', xlsx);
addMaker('csv', csv);
addMaker('html', html);
addMaker('mail', mail);
