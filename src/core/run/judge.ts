import { judgeStamp, type Stamp } from '../payload/stamp';
import type { FontBook } from '../piece/fonts';
import { wordProblems, type Piece } from '../piece/piece';
import { stockById } from '../piece/stock';
import type { Column, Values } from '../records/columns';
import { recordProblems } from '../records/judge';

export type Mark = 'ready' | 'look' | 'out';

export interface RowVerdict {
  records: Mark;
  stamps: Mark;
  piece: Mark;
  overall: Mark;
  notes: { band: 'records' | 'stamps' | 'piece'; text: string; column?: string }[];
}

export interface JudgedJob {
  stamps: Stamp[];
  piece: Piece;
}

/** Where a record stands, band by band: the source of the marks in the spine. Fonts must cover the record's scripts. */
export function judgeRow(job: JudgedJob, columns: readonly Column[], values: Values, repeated: boolean, fonts: FontBook): RowVerdict {
  const notes: RowVerdict['notes'] = [];
  const problems = recordProblems(values, columns, repeated);
  for (const problem of problems) notes.push({ band: 'records', text: problem.text, column: problem.column });
  let stamps: Mark = 'ready';
  for (const stamp of job.stamps) {
    const verdict = judgeStamp(stamp, values, columns);
    if (verdict.mark === 'ready') continue;
    notes.push({ band: 'stamps', text: verdict.reason });
    if (verdict.mark === 'out' || stamps === 'ready') stamps = verdict.mark;
  }
  let piece: Mark = stamps === 'out' ? 'out' : 'ready';
  if (piece === 'ready')
    for (const problem of wordProblems(job.piece, stockById(job.piece.stock), job.stamps, values, fonts)) {
      notes.push({ band: 'piece', text: problem.reason });
      piece = 'look';
    }
  const records: Mark = problems.length > 0 ? 'look' : 'ready';
  const overall: Mark = stamps === 'out' ? 'out' : [records, stamps, piece].includes('look') ? 'look' : 'ready';
  return { records, stamps, piece, overall, notes };
}
