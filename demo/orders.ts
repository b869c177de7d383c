import { orderSchema, type Order } from '../src/core/orders/order';
import type { Column } from '../src/core/records/columns';
import { makeOrder, readyOrder, switchOrder } from '../src/server/orders';
import type { Database } from '../src/server/platform/db';

const who = 'Wren Halloran';

/** Standing orders of the garden: four that are on, and one that is not yet. */
export async function gardenOrders(db: Database): Promise<void> {
  const list = async (name: string) =>
    db
      .selectFrom('lists')
      .select(['id', 'columns'])
      .where('name', '=', name)
      .executeTakeFirstOrThrow();
  const of = (columns: readonly Column[], name: string) => columns.find((c) => c.name === name)!.id;
  const volunteers = await list('Volunteers and stewards');
  const workshops = await db
    .selectFrom('jobs')
    .select('id')
    .where('name', '=', 'Workshop check-in')
    .executeTakeFirstOrThrow();

  const made = async (name: string, document: Order, on: boolean) => {
    const id = await makeOrder(db, { name, document }, who);
    if (on) await switchOrder(db, id, { state: 'on', pausedUntil: null }, who);
    return id;
  };
  const codes = await readyOrder(db, 'volunteers');
  // a mail to somebody new is looked at before it goes
  await made(codes.name, { ...codes.document, ask: true }, true);
  const agreements = await readyOrder(db, 'agreements');
  await made('Loan agreements from the In-tray', agreements.document, true);
  const signs = await readyOrder(db, 'signs');
  await made(signs.name, signs.document, false);
  const friday = await made(
    'Check-in sheet, every Friday',
    orderSchema.parse({
      when: {
        kind: 'schedule',
        schedule: { kind: 'days', days: [5], at: '07:30', zone: 'Europe/London' },
      },
      conditions: { all: true, list: [] },
      steps: [
        { kind: 'make', id: 'a', job: workshops.id, output: 'xlsx', which: 'ready' },
        { kind: 'out', id: 'b', folder: 'Check-in' },
      ],
    }),
    true,
  );
  await made(
    'Tell the vault of withdrawals',
    orderSchema.parse({
      when: { kind: 'record', list: volunteers.id, on: ['went'] },
      conditions: { all: true, list: [] },
      steps: [
        {
          kind: 'call',
          id: 'a',
          to: [{ kind: 'text', text: 'https://vault.marrambay.example/withdrawn' }],
          headers: [{ name: 'X-Vault-Key', value: 'made-up-key-of-the-demo', secret: true }],
          fields: [
            {
              name: 'badge',
              parts: [{ kind: 'column', column: of(volunteers.columns, 'Badge no') }],
            },
            { name: 'on', parts: [{ kind: 'column', column: 'today' }] },
          ],
        },
      ],
    }),
    true,
  );
  // the garden's machine was off last Friday, so this comes late, and shows what it does
  await db
    .updateTable('standing_orders')
    .set({ next_at: new Date(Date.now() - 3600_000) })
    .where('id', '=', friday)
    .execute();
}
