import { createHash } from 'node:crypto';
import { sql } from 'kysely';
import type { z } from 'zod';
import type { PaperPicture, paperSchema } from '../../contract';
import { type FrozenRun, readRun } from '../../core/job/document';
import { stockOf } from '../../core/piece/stock';
import { keepable } from '../../core/records/keepable';
import { makePiece } from '../../core/piece/piece';
import { lies, type PaperMarks, shiftOf } from '../../core/run/paper';
import { markMargin } from '../../core/run/plan';
import { type Database, fontsOf, Refusal } from '../platform';

type Picture = z.output<typeof paperSchema>['pictures'][number];

/**
 * Marks in the receipt of a run which codes were read from pictures of its printed sheets. A code
 * on several pieces, such as copies, is marked as often as a picture shows it.
 */
export async function readFromPaper(
  db: Database,
  run: number,
  pictures: readonly Picture[],
  actor: string,
): Promise<PaperPicture[]> {
  const out: PaperPicture[] = [];
  for (const picture of pictures)
    out.push(await db.transaction().execute((tx) => markFromPicture(tx, run, picture, actor)));
  return out;
}

/** The same for one picture, in the caller's transaction. @throws Refusal */
export async function markFromPicture(
  tx: Database,
  run: number,
  picture: Picture,
  actor: string,
): Promise<PaperPicture> {
  const { name, codes } = picture;
  const of = await tx
    .selectFrom('runs')
    .select(['sheets', 'frozen'])
    .where('id', '=', run)
    .executeTakeFirst();
  if (!of) throw new Refusal('This run no longer exists. It may have been deleted.', 404);
  if (of.sheets === 0)
    throw new Refusal(
      'This run made no sheets, so there is no paper to read. Choose a run that was printed.',
    );
  // one picture marks once, also if two windows send it at the same moment: a code on several
  // pieces would otherwise mark others of them
  await tx.selectFrom('runs').select('id').where('id', '=', run).forUpdate().execute();
  const shows = createHash('sha256').update(JSON.stringify(codes)).digest('base64url');
  const same = await tx
    .selectFrom('paper_pictures')
    .select('id')
    .where('run_id', '=', run)
    .where('shows', '=', shows)
    .executeTakeFirst();
  // a picture that was read before finds what it marked then; another one marks what is not marked
  // yet
  const order = same ? sql`c.paper_at desc nulls last` : sql`c.paper_at nulls first`;
  const shown = new Map<string, number>();
  for (const code of codes.map((one) => keepable(one.text)))
    shown.set(code, (shown.get(code) ?? 0) + 1);
  const texts = [...shown.keys()];
  const { rows } = await sql<Printed>`
    with here as (
      select c.ctid as at, c.page, coalesce(c.read_text, c.payload) as text,
        row_number() over (partition by coalesce(c.read_text, c.payload)
          order by ${order}, c.seq, c.stamp, c.nth) as n
      from receipts c
        where c.run_id = ${run}
        and (c.read_text = any(${texts}::text[]) or c.payload = any(${texts}::text[]))),
    seen as (
      select h.* from here h
        join unnest(${texts}::text[], ${[...shown.values()]}::int[]) as s(text, many)
        on s.text = h.text and h.n <= s.many)
    update receipts c set paper_at = now() from seen where c.ctid = seen.at and c.run_id = ${run}
      returning c.page, c.place, c.stamp, c.title, seen.text`.execute(tx);
  const known = new Set(rows.map((row) => row.text));
  const other = texts.filter((text) => !known.has(text));
  const pages = [...new Set(rows.map((row) => row.page))].sort((a, b) => a - b);
  const { n: printed } = await tx
    .selectFrom('receipts')
    .select((e) => e.fn.countAll<number>().as('n'))
    .where('run_id', '=', run)
    .where('page', 'in', [...pages, -1])
    .executeTakeFirstOrThrow();
  const before = await tx
    .selectFrom('paper_pictures')
    .select('name')
    .distinct()
    .where('run_id', '=', run)
    .where(sql<boolean>`pages && ${pages}::int[]`)
    .where('id', '<>', same?.id ?? -1)
    .orderBy('name')
    .limit(5)
    .execute();
  const frozen = readRun(of.frozen);
  const { misplaced, others, shift } = onTheSheet(
    frozen,
    picture,
    rows,
    await centresOf(tx, run, frozen),
  );
  const marks: PaperMarks = {
    misplaced: misplaced.map(({ page, place, stamp }) => ({ page, place, stamp })),
    others,
  };
  if (!same)
    await tx
      .insertInto('paper_pictures')
      .values({
        run_id: run,
        name,
        found: rows.length,
        other: other.length,
        pages: sql`${pages}::int[]`,
        marks: JSON.stringify(marks),
        made_by: actor,
        shows,
      })
      .execute();
  return {
    name,
    found: rows.length,
    printed,
    pages,
    other: other.length,
    otherRuns: await runsOf(tx, run, other),
    before: before.map((one) => one.name),
    shift,
    misplaced: misplaced.map(({ title, page, place }) => ({ title, page, place })),
  };
}

interface Printed {
  page: number;
  place: number;
  stamp: string;
  title: string;
  text: string;
}

/**
 * Codes of a sheet that are not where they belong, and foreign codes on it with their position.
 * Codes that occur more than once cannot be told apart.
 */
function onTheSheet(
  frozen: FrozenRun,
  { codes, width, height }: Picture,
  printed: readonly Printed[],
  centres: ReadonlyMap<string, { x: number; y: number }>,
): { misplaced: Printed[]; others: PaperMarks['others']; shift: PaperPicture['shift'] } {
  const groups = new Map<string, { x: number; y: number; place: number; of: Printed }[]>();
  for (const one of printed) {
    const seen = codes.filter(({ text }) => text === one.text);
    if (seen.length !== 1 || printed.filter(({ text }) => text === one.text).length !== 1) continue;
    const name = `${one.page} ${one.stamp}`;
    groups.set(name, [
      ...(groups.get(name) ?? []),
      { x: seen[0]!.x, y: seen[0]!.y, place: one.place, of: one },
    ]);
  }
  const stock = stockOf(frozen.piece);
  const known = new Set(printed.map((one) => one.text));
  const strange = codes.filter(({ text }) => !known.has(text));
  const misplaced: Printed[] = [];
  const others: PaperMarks['others'] = [];
  let shift: PaperPicture['shift'] = null;
  for (const group of groups.values()) {
    const centre = centres.get(group[0]!.of.stamp);
    if (!shift && centre && width !== undefined && height !== undefined)
      shift =
        shiftOf(
          group,
          stock,
          frozen.options.order,
          centre,
          { width, height },
          frozen.options.marks ? markMargin : 0,
        ) ?? null;
    const lying = lies(group, stock, frozen.options.order);
    if (!lying) continue;
    misplaced.push(...lying.misplaced.map((i) => group[i]!.of));
    // reported once, by the stamp of which most is seen
    if (others.length === 0)
      for (const code of strange) {
        const { x, y } = lying.onSheet(code);
        if (
          x > -stock.piece.width &&
          y > -stock.piece.height &&
          x < stock.page.width &&
          y < stock.page.height
        )
          others.push({ page: group[0]!.of.page, x, y });
      }
  }
  return { misplaced, others, shift };
}

/** The middle of each stamp's code on a piece, in mm, by the first piece of the run. */
async function centresOf(
  tx: Database,
  run: number,
  frozen: FrozenRun,
): Promise<Map<string, { x: number; y: number }>> {
  const item = await tx
    .selectFrom('run_items')
    .select('values')
    .where('run_id', '=', run)
    .orderBy('seq')
    .limit(1)
    .executeTakeFirst();
  const { piece, stamps } = frozen;
  if (!item || piece.ground) return new Map();
  const { values } = item;
  const made = makePiece(piece, stockOf(piece), stamps, values, fontsOf(piece, [values]));
  return new Map(
    made.codes.map((code) => [
      code.stamp,
      { x: code.x + code.width / 2, y: code.y + code.height / 2 },
    ]),
  );
}

/** Other runs that printed a code. */
async function runsOf(db: Database, run: number, texts: readonly string[]): Promise<string[]> {
  if (texts.length === 0) return [];
  const { rows } = await sql<{ name: string }>`
    select distinct u.name from receipts c join runs u on u.id = c.run_id
    where c.payload = any(${[...texts]}::text[]) and c.run_id <> ${run}
      and u.job_id in (select j.id from jobs j
        where j.list_id = (select o.list_id from jobs o join runs r on r.job_id = o.id
        where r.id = ${run}))
    order by 1 limit 5`.execute(db);
  return rows.map((row) => row.name);
}
