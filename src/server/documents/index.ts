/**
 * Documents of one's own: kept as they came in, looked through for what is known of a record, and
 * made for each. Uses lists, jobs.
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
