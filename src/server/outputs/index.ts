/** What runs make besides sheets: a code as a file, the parts of a record, the files they become. */
export { contactSheet, csvFile, workbookFile, zipFile } from './files';
export { type MadePart, makeParts } from './parts';
