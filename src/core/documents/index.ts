export { inspectDocx, type DocumentFacts, type DocumentPicture, type DocumentRow } from './docx';
export { DocxMerge, type CodePicture } from './fill';
export { DocxJoin, type JoinedMedia, type JoinedRecord } from './join';
export { shownDocx } from './shown';
export { findPlaces, weigher, type PartText } from './find';
export { formsOf, written } from './forms';
export { mostRows, rowsKey } from './words';
export { blockInside } from './block-inside';
