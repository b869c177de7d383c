/**
 * Standing orders on the real queue and database: a burst of 10,000 records that come, five orders,
 * one worker beside two.
 */
import { sql } from 'kysely';
import { orderSchema } from '../src/core/orders/order';
import type { Database } from '../src/server/platform/db';
import { addRecords } from '../src/server/lists';
import { createList } from '../src/server/lists/lists';
import { makeOrder, switchOrder } from '../src/server/orders';
import { report } from './measure';
import { withDatabase, startWorker, stopWorkers } from './workers';

const events = 10_000;
const pause = (ms: number) => new Promise((resolve) => setTimeout(resolve, ms));

async function listWithOrders(db: Database): Promise<{ list: number; key: string }> {
  const { id: list, columns } = await createList(db, {
    ...{ name: 'Accessions', source: 'bench', note: '', actor: 'bench' },
    headings: ['No', 'Plant', 'Bed', 'Link', 'State'],
    roles: ['key', 'name', 'text', 'text', 'text'],
    rows: [['A-0', 'Thrift', 'North', '', '']],
  });
  const of = (name: string) => columns.find((c) => c.name === name)!.id;
  const write = (id: string, to: string, parts: unknown[]) => ({
    ...{ kind: 'write', id, column: of(to), parts },
  });
  const link = { kind: 'link', id: 'l', to: [{ kind: 'text', text: 'https://garden.example/1' }] };
  const said = (text: string) => [{ kind: 'text', text }];
  const orders: [conditions: unknown[], steps: unknown[]][] = [
    [[], [write('a', 'State', said('came'))]],
    [[{ of: 'done', done: false }], [link]],
    [[], [link, write('b', 'Link', [{ kind: 'column', column: 'made.l.address' }])]],
    [[{ of: 'column', column: of('Bed'), is: 'filled' }], [write('a', 'Plant', said('x'))]],
    [[{ of: 'column', column: of('Bed'), is: 'blank' }], [{ kind: 'stop', id: 'a' }]],
  ];
  for (const [i, [conditions, steps]] of orders.entries()) {
    const document = orderSchema.parse({
      when: { kind: 'record', list, on: ['came'] },
      conditions: { all: true, list: conditions },
      steps,
      most: 20_000,
    });
    const id = await makeOrder(db, { name: `Order ${i + 1}`, document }, 'bench');
    await switchOrder(db, id, { state: 'on', pausedUntil: null }, 'bench');
  }
  return { list, key: of('No') };
}

/**
 * @returns seconds until every firing has ended, and the slowest looks at the list meanwhile, in ms
 */
async function burst(db: Database, url: string, workers: number) {
  await db.deleteFrom('standing_orders').execute();
  await db.deleteFrom('order_events').execute();
  const { list, key } = await listWithOrders(db);
  const children = await Promise.all(Array.from({ length: workers }, () => startWorker(url)));
  const start = performance.now();
  for (let from = 0; from < events; from += 500)
    await addRecords(
      db,
      list,
      Array.from({ length: 500 }, (_, i) => ({ [key]: `A-${from + i + 1}` })),
      'bench',
    );
  const looks: number[] = [];
  for (;;) {
    const at = performance.now();
    await db
      .selectFrom('records')
      .select(['id', 'values'])
      .where('list_id', '=', list)
      .limit(100)
      .execute();
    looks.push(performance.now() - at);
    const { rows } = await sql<{ open: number }>`
      select (select count(*) from order_firings where state = 'waiting') + (select count(*) from order_events where told_at is null) as open`.execute(
      db,
    );
    if (Number(rows[0]!.open) === 0) break;
    await pause(250);
  }
  const seconds = (performance.now() - start) / 1000;
  await stopWorkers(children);
  const { rows } = await sql<{ state: string; n: number }>`
    select state, count(*)::int as n from order_firings group by 1 order by 1`.execute(db);
  const ended = rows.reduce((n, row) => n + row.n, 0);
  if (ended !== events * 5 || rows.some((row) => row.state === 'failed'))
    throw new Error(`not each once: ${JSON.stringify(rows)}`);
  return { seconds, slow: looks.sort((a, b) => a - b)[Math.floor(looks.length * 0.99)]! };
}

export async function benchOrders(): Promise<void> {
  await withDatabase(async (db, url) => {
    const one = await burst(db, url, 1);
    const two = await burst(db, url, 2);
    report(
      '10,000 events with five orders and two workers, in seconds, beside one',
      two.seconds,
      one.seconds,
      'lower',
    );
    report(
      '100 records looked up meanwhile, 99th percentile in ms, two workers beside one',
      two.slow,
      one.slow,
      'lower',
    );
  });
}
