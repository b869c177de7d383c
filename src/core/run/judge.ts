import { columnsOf, judgeStamp, type Saying, type Stamp } from '../payload/stamp';
import type { FontBook } from '../artwork/fonts';
import type { Piece } from '../piece/model';
import { onGround } from '../grounds';
import { judgingOf } from '../grounds/judging';
import { keyColumn, type Column, type Values } from '../records/columns';
import { copiesOf, mostCopies } from './plan';
import { sourcesOf } from '../records/worked';
import { noFacts, recordProblems, type ListFacts, type RecordProblem } from '../records/problems';

export type Mark = 'ready' | 'look' | 'out';

export interface RowVerdict {
  records: Mark;
  stamps: Mark;
  piece: Mark;
  /** For what shows the piece. */
  overall: Mark;
  /**
   * For outputs that use only the codes, of every stamp of the list: pictures, workbooks, pages
   * with codes. Problems of the piece do not count there; problems of any stamp do.
   */
  codes: Mark;
  /** Every code on its piece exists, also one that needs a look. */
  drawn: boolean;
  /**
   * The words of a problem; for a note about a stamp, also its id and whether the record has no
   * code for it.
   */
  notes: {
    band: 'records' | 'stamps' | 'piece';
    text: string;
    column?: string;
    stamp?: string;
    out?: boolean;
  }[];
  /** The problems of its values, for the list's counts. */
  problems: RecordProblem[];
}

export interface JudgedJob {
  stamps: Stamp[];
  piece: Piece;
  /** The column with the number of pieces for a record. */
  options?: { copiesFrom?: string };
}

/** What the whole list shows about a record and its codes. */
export interface RowFacts extends ListFacts {
  /** Stamps whose finished code another record has too, by stamp id. */
  sameCode: ReadonlySet<string>;
}

export const noRowFacts: RowFacts = { ...noFacts, sameCode: new Set() };

/**
 * Whether a piece needs a stamp: the stamp is on it, or the piece has no code at all and is only
 * checked for its list.
 */
function bears(piece: Piece, stamp: Stamp): boolean {
  const borne = onGround(piece).stampsOn(piece);
  return borne.length === 0 || borne.includes(stamp.id);
}

/**
 * Columns in use: in stamps, in the text and pictures of a piece, as the key, and everything those
 * are calculated from. Problems in other columns are shown and keep nothing back.
 */
function columnsUsed(
  stamps: readonly Stamp[],
  piece: Piece | undefined,
  columns: readonly Column[],
): Set<string> {
  const used = new Set<string>();
  const take = (id: string | undefined) => {
    if (id === undefined || used.has(id)) return;
    used.add(id);
    const worked = columns.find((c) => c.id === id)?.worked;
    if (worked) sourcesOf(worked).forEach(take);
  };
  take(keyColumn(columns)?.id);
  for (const stamp of stamps) columnsOf(stamp).forEach(take);
  if (piece) onGround(piece).columnsOn(piece).forEach(take);
  return used;
}

/**
 * The state of a record, band by band: the marks in the spine. The fonts must cover the record's
 * scripts.
 */
export function judgeRow(
  job: JudgedJob,
  columns: readonly Column[],
  values: Values,
  facts: RowFacts,
  fonts: FontBook,
  hasPicture?: (name: string) => boolean,
  saying?: Saying,
): RowVerdict {
  const notes: RowVerdict['notes'] = [];
  const problems = recordProblems(values, columns, facts);
  let stamps: Mark = 'ready';
  let said = 0;
  let heldByCode = false;
  let codes: Mark = 'ready';
  let drawn = true;
  for (const stamp of job.stamps) {
    const verdict = judgeStamp(stamp, values, columns, saying);
    if (verdict.mark !== 'out') said++;
    if (verdict.mark === 'look' || facts.sameCode.has(stamp.id)) codes = 'look';
    if (verdict.mark === 'ready') {
      if (facts.sameCode.has(stamp.id) && !problems.some((p) => p.kind === 'repeat'))
        problems.push({
          kind: 'same-code',
          column: '',
          text: `${stamp.name} says the same as another record’s`,
        });
      if (facts.sameCode.has(stamp.id) && bears(job.piece, stamp)) heldByCode = true;
      continue;
    }
    if (verdict.mark === 'look')
      problems.push({ kind: 'misfit', column: '', text: `${stamp.name}: ${verdict.reason}` });
    notes.push({
      band: 'stamps',
      text: verdict.reason,
      stamp: stamp.id,
      ...(verdict.mark === 'out' ? { out: true } : {}),
    });
    // a problem of a code that is not on the piece keeps nothing back
    if (!bears(job.piece, stamp)) continue;
    if (verdict.mark === 'out' || !verdict.drawn) drawn = false;
    if (verdict.mark === 'out' || stamps === 'ready') stamps = verdict.mark;
  }
  if (said === 0) {
    stamps = codes = 'out';
    drawn = false;
  }
  // content that a code cannot carry is reported with the stamps already
  const own = problems.filter((p) => p.kind !== 'misfit');
  notes.unshift(
    ...own.map((p) => ({
      band: 'records' as const,
      text: p.text,
      ...(p.column ? { column: p.column } : {}),
    })),
  );
  let piece: Mark = stamps === 'out' ? 'out' : 'ready';
  if (piece === 'ready')
    for (const problem of judgingOf(job.piece).problems(
      job.piece,
      job.stamps,
      values,
      fonts,
      hasPicture,
      saying,
    )) {
      notes.push({ band: 'piece', text: problem.reason });
      piece = 'look';
      if (problem.none) drawn = false;
    }
  const counted = columns.find((c) => c.id === job.options?.copiesFrom);
  if (counted && piece !== 'out' && copiesOf(values[counted.id] ?? '') === undefined) {
    notes.push({
      band: 'piece',
      text: `${counted.name} says “${values[counted.id]}”, which is not a number of pieces from 0 to ${mostCopies.toLocaleString('en')}`,
    });
    piece = 'look';
  }
  const records: Mark = own.length > 0 ? 'look' : 'ready';
  const troubled = (used: ReadonlySet<string>) =>
    own.some((p) => p.column !== '' && used.has(p.column));
  const borne = job.stamps.filter((stamp) => bears(job.piece, stamp));
  const held = heldByCode || troubled(columnsUsed(borne, job.piece, columns));
  if (codes === 'ready' && troubled(columnsUsed(job.stamps, undefined, columns))) codes = 'look';
  const overall: Mark =
    stamps === 'out' ? 'out' : held || stamps === 'look' || piece === 'look' ? 'look' : 'ready';
  return { records, stamps, piece, overall, codes, drawn, notes, problems };
}
