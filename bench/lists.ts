/**
 * How a list grows: records brought in, judged, shown, sorted, filtered and searched, at 2,000,
 * 20,000 and 200,000 records of 8 columns.
 */
import { rowsQuerySchema, viewSchema } from '../src/contract';
import { ledgerRows } from '../src/server/jobs/jobs';
import { orderOf } from '../src/server/jobs/order';
import { judgeListNow } from '../src/server/judging/judge';
import { createJob, createList } from '../src/server/lists/lists';
import type { Database } from '../src/server/platform/db';
import { addresses } from './measure';
import { withDatabase } from './workers';

const headings = ['No', 'Name', 'Page', 'Site', 'Role', 'Group', 'Since', 'Notes'];
const sites = ['Dune House', 'Glasshouse', 'Seed store', 'North gate'];
const roles = ['Door check', 'Guide', 'Seed table', 'Steward', 'First aid'];

const rowsOf = (count: number): string[][] =>
  addresses(count).map((page, i) => [
    `DH-${String(i + 1).padStart(6, '0')}`,
    `Ines Okafor ${i + 1}`,
    page,
    sites[i % sites.length],
    roles[(i * 7) % roles.length],
    String((i * 2654435761) % 997),
    `2026-${String((i % 12) + 1).padStart(2, '0')}-${String((i % 28) + 1).padStart(2, '0')}`,
    i % 50 === 0 ? `asked for shade ${i}` : '',
  ]);

const timed = async <T>(work: () => Promise<T>): Promise<[seconds: number, done: T]> => {
  const from = performance.now();
  const done = await work();
  return [(performance.now() - from) / 1000, done];
};

/** What is asked of a long list, each for the first time. */
const views: Record<string, object> = {
  'first window': {},
  'sorted by name': { sort: 'c2:up' },
  'sorted by number, downwards': { sort: 'c6:down' },
  'one value of a column': { where: [{ column: 'c4', is: 'is', text: 'Glasshouse' }] },
  'searched, few hits': { q: 'Okafor 1234' },
  'searched, many hits': { q: 'shade' },
  'searched, no hits': { q: 'nobody' },
};

async function listOf(db: Database, count: number): Promise<void> {
  const rows = rowsOf(count);
  const [taken, made] = await timed(async () => {
    const list = await createList(db, {
      name: `${count} records`,
      source: 'bench',
      headings,
      roles: ['key', 'name', 'address', 'text', 'text', 'text', 'text', 'text'],
      rows,
      note: '',
      actor: 'bench',
    });
    return { list, job: await createJob(db, `${count}`, list.id, list.columns, 'bench') };
  });
  const [judged] = await timed(() => judgeListNow(db, made.list.id));
  const said = [`put away ${taken.toFixed(2)} s`, `judged ${judged.toFixed(2)} s`];
  for (const [name, view] of Object.entries(views)) {
    const asked = rowsQuerySchema.parse({ offset: 0, limit: 100, ...view });
    const [seconds, { total }] = await timed(() => ledgerRows(db, made.job, asked));
    said.push(`${name} ${Math.round(seconds * 1000)} ms (${total.toLocaleString('en')})`);
    // the rest of an order is worked out behind its first window: the next view has the machine
    const whole = viewSchema.parse({ ...view });
    const [behind] = await timed(() => orderOf(db, made.job, whole));
    if (behind > 0.05) said.push(`its whole order ${Math.round(behind * 1000)} ms later`);
  }
  console.log(`${count.toLocaleString('en')} records of 8 columns: ${said.join(', ')}`);
}

export async function benchLists(): Promise<void> {
  await withDatabase(async (db) => {
    await listOf(db, 500);
    for (const count of [2000, 20_000, 200_000]) await listOf(db, count);
  });
}
