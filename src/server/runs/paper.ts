import { sql } from 'kysely';
import type { z } from 'zod';
import type { PaperPicture, paperSchema } from '../../contract';
import type { FrozenRun } from '../../core/job/document';
import { stockOf } from '../../core/piece/stock';
import { keepable } from '../../core/records/keepable';
import { misplaced } from '../../core/run/paper';
import { type Database, Refusal } from '../platform';

type Picture = z.output<typeof paperSchema>['pictures'][number];

/**
 * Marks in the receipt of a run which of its codes were read from pictures of its printed sheets. A code that stands on several pieces, such as
 * copies, is marked as often as a picture shows it.
 */
export async function readFromPaper(
  db: Database,
  run: number,
  pictures: readonly Picture[],
  actor: string,
): Promise<PaperPicture[]> {
  const of = await db
    .selectFrom('runs')
    .select(['sheets', 'frozen'])
    .where('id', '=', run)
    .executeTakeFirst();
  if (!of) throw new Refusal('There is no such run.', 404);
  if (of.sheets === 0)
    throw new Refusal('This run made no sheets, so there is no paper of it to be read.');
  const out: PaperPicture[] = [];
  for (const { name, codes } of pictures) {
    const shown = new Map<string, number>();
    for (const code of codes.map((one) => keepable(one.text)))
      shown.set(code, (shown.get(code) ?? 0) + 1);
    const texts = [...shown.keys()];
    const told = await db.transaction().execute(async (tx) => {
      const { rows } = await sql<Printed>`
        with here as (
          select c.ctid as at, c.page, coalesce(c.read_text, c.payload) as text,
            row_number() over (partition by coalesce(c.read_text, c.payload) order by c.paper_at nulls first, c.seq, c.stamp, c.nth) as n
          from receipts c where c.run_id = ${run} and (c.read_text = any(${texts}::text[]) or c.payload = any(${texts}::text[]))),
        seen as (
          select h.* from here h join unnest(${texts}::text[], ${[...shown.values()]}::int[]) as s(text, many) on s.text = h.text and h.n <= s.many)
        update receipts c set paper_at = now() from seen where c.ctid = seen.at and c.run_id = ${run} returning c.page, c.place, c.stamp, c.title, seen.text`.execute(
        tx,
      );
      const known = new Set(rows.map((row) => row.text));
      const other = texts.filter((text) => !known.has(text));
      const pages = [...new Set(rows.map((row) => row.page))].sort((a, b) => a - b);
      await tx
        .insertInto('paper_pictures')
        .values({
          run_id: run,
          name,
          found: rows.length,
          other: other.length,
          pages: sql`${pages}::int[]`,
          made_by: actor,
        })
        .execute();
      return { found: rows.length, pages, other, rows };
    });
    out.push({
      name,
      found: told.found,
      pages: told.pages,
      other: told.other.length,
      otherRuns: await runsOf(db, run, told.other),
      misplaced: misplacedOn(of.frozen, codes, told.rows),
    });
  }
  return out;
}

interface Printed {
  page: number;
  place: number;
  stamp: string;
  title: string;
  text: string;
}

/** Codes of one sheet that do not stand where they belong on it. What stands there more than once cannot be told apart. */
function misplacedOn(
  frozen: FrozenRun,
  codes: Picture['codes'],
  printed: readonly Printed[],
): PaperPicture['misplaced'] {
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
  return [...groups.values()].flatMap((group) =>
    misplaced(group, stock, frozen.options.order).map((i) => {
      const { title, page, place } = group[i]!.of;
      return { title, page, place };
    }),
  );
}

/** Other runs that printed a code. */
async function runsOf(db: Database, run: number, texts: readonly string[]): Promise<string[]> {
  if (texts.length === 0) return [];
  const { rows } = await sql<{ name: string }>`
    select distinct u.name from receipts c join runs u on u.id = c.run_id
    where c.payload = any(${[...texts]}::text[]) and c.run_id <> ${run}
      and u.job_id in (select j.id from jobs j where j.list_id = (select o.list_id from jobs o join runs r on r.job_id = o.id where r.id = ${run}))
    order by 1 limit 5`.execute(db);
  return rows.map((row) => row.name);
}
