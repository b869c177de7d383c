/**
 * The users' own documents: stored as they came, searched for the values of a record, and made for
 * each record. Uses lists and jobs.
 */
export { findInDocument, findInRow } from './finding';
export { documentBytes, documentHash, documentLock, keepDocument } from './keeping';
export { staysOfExample } from './left-over';
export { joinOf, mergeOf, pagesOf, type MergedPage, type MergedDocument } from './merging';
export { textInLine } from './in-line';
export { converted, sweepFolders } from './office';
export { freezeRows } from './rows';
export { greyPages, greyParts } from './pdf-pages';
export { documentsCame, keepPdf, pageOfDocument, pdfsInJob, startSet } from './pdf-sets';
