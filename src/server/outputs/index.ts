/**
 * What runs make: a code as a file, the files of a record, the file of a run. To add an output: a
 * file in `kinds`, a line in `makers.ts`.
 */
export { itemsOf } from './items';
export { outFolder } from './out-folder';
export { composeMail } from './compose-mail';
export type { MadeRecord, OutputMaker } from './maker';
export { makerOf, recordMaker, type Makers } from './makers';
