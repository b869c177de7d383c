import { rowsKey } from '../../core/documents';
import { documentGround, type Piece } from '../../core/piece/model';
import type { OutputDescription } from '../../core/run/outputs';

/** Most records that share one document. */
export const mostTogether = 2000;

/** The column by which records share a document, if this output makes documents. */
export const groupedBy = (piece: Piece, output: OutputDescription): string | undefined =>
  output.grounds ? documentGround(piece)?.groupBy : undefined;

/** The keys under which rows of the job's own list are stored with the first record of a group. */
export const ownRowsKeys = (piece: Piece, list: number): string[] =>
  documentGround(piece)
    ?.blocks.filter((block) => block.list === list)
    .map(rowsKey) ?? [];

/**
 * The problem of one document for all records in which nothing repeats: it would contain only the
 * first of them. Undefined if there is no problem.
 */
export const standsAlone = (
  piece: Piece,
  by: string | undefined,
  list: number,
): string | undefined =>
  by !== '' || ownRowsKeys(piece, list).length > 0
    ? undefined
    : 'One document for all records would show only the first: no part of it repeats. Choose a part that repeats for each record, or make one document per record.';
