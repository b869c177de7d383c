import { todayChip, type Order } from '../../core/orders/order';
import { asked, type Asked } from '../../core/orders/conditions';
import { listOf } from '../../core/orders/order';
import type { Column, Values } from '../../core/records/columns';
import type { Database } from '../platform';
import { clock, lanes } from '../platform';
import { trayPdf } from '../sources';
import { NotYet } from './steps';
import { isFresh } from '../judging';

/**
 * What an order is about when it starts: its record as it is now, or as it was before it was
 * deleted.
 */
export interface About {
  list: { id: number; columns: Column[] } | undefined;
  record: { id: number; values: Values } | undefined;
  values: Values;
}

export async function about(
  db: Database,
  { when }: Pick<Order, 'when'>,
  of: { record: number | null; before: Values | null; chips: Values },
  today = clock.date(),
): Promise<About> {
  const id = listOf(when);
  const list =
    id === null
      ? undefined
      : await db
          .selectFrom('lists')
          .select(['id', 'columns'])
          .where('id', '=', id)
          .executeTakeFirst();
  const record =
    list && of.record !== null
      ? await db
          .selectFrom('records')
          .select(['id', 'values'])
          .where('id', '=', of.record)
          .where('list_id', '=', list.id)
          .executeTakeFirst()
      : undefined;
  return {
    list,
    record,
    values: {
      ...(record?.values ?? of.before ?? {}),
      ...of.chips,
      [todayChip]: today.toISOString().slice(0, 10),
    },
  };
}

/**
 * Checks the conditions of an order. @throws NotYet if a record they depend on is still being
 * checked
 */
export async function askConditions(
  db: Database,
  { conditions }: Pick<Order, 'conditions'>,
  { list, record, values }: About,
  done: () => Promise<boolean>,
): Promise<{ holds: boolean; each: (Asked | null)[] }> {
  const asksOf = (of: string) => conditions.list.some((c) => c.of === of);
  const path = values['given.path'];
  const chips = Object.keys(values)
    .filter((id) => id.includes('.') || id === todayChip)
    .map((id): Column => ({ id, name: id.replace(/^given\./, ''), role: 'text' }));
  return asked(conditions, {
    values,
    columns: [...(list?.columns ?? []), ...chips],
    ...(path === undefined
      ? {}
      : {
          file: {
            name: values['given.name'] ?? path,
            bytes: Number(values['given.bytes'] ?? 0),
            pages: asksOf('pages') ? await pagesOf(path) : undefined,
          },
        }),
    record: record !== undefined,
    done: asksOf('done') ? await done() : false,
    fits: asksOf('fits') ? await fits(db, list?.id, record?.id) : true,
  });
}

async function pagesOf(path: string): Promise<number | undefined> {
  if (!/\.pdf$/i.test(path)) return undefined;
  try {
    const seen = await lanes.pictures.do(
      'pdf',
      { bytes: await trayPdf(path), password: undefined },
      60_000,
    );
    return seen.pages.length;
  } catch {
    return undefined;
  }
}

/** Whether the stamps of a record fit in all jobs that have any. */
async function fits(db: Database, list: number | undefined, record: number | undefined) {
  if (list === undefined || record === undefined) return false;
  const jobs = await db
    .selectFrom('jobs')
    .select(['changes', 'judged'])
    .where('list_id', '=', list)
    .execute();
  const whole = await db
    .selectFrom('lists')
    .select(['changes', 'judged'])
    .where('id', '=', list)
    .executeTakeFirst();
  if (!whole) return false;
  if (jobs.some((job) => !isFresh(whole, job)))
    throw new NotYet('waits until the records are checked', 1);
  const misfit = await db
    .selectFrom('job_rows')
    .select('record_id')
    .where('record_id', '=', record)
    .where('stamps_mark', '=', 'out')
    .executeTakeFirst();
  return !misfit;
}

/** Whether an order has done a thing before, up to its end. */
export async function doneBefore(db: Database, order: number, thing: string): Promise<boolean> {
  const found = await db
    .selectFrom('order_done')
    .select('thing')
    .where('order_id', '=', order)
    .where('thing', '=', thing)
    .executeTakeFirst();
  return found !== undefined;
}
