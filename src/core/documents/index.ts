export { DocumentError } from './error';
export { inspectDocx, type DocumentFacts, type DocumentPicture, type DocumentRow } from './docx';
export { mostBytes } from './package';
export { DocxMerge, type CodePicture } from './fill';
export { shownDocx } from './shown';
export { findPlaces, weigher, type PartText } from './find';
export { formsOf, written } from './forms';
export { rowsKey, rowsOf, wordsAt } from './words';
