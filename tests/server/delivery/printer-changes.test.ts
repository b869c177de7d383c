import { afterAll, beforeAll, expect, test } from 'vitest';
import { printerChangeSchema, printerSchema } from '../../../src/contract';
import { addPrinter, changePrinter, listPrinters } from '../../../src/server/delivery';
import { testDatabase, type TestDatabase } from '../../helpers/database';

let t: TestDatabase;
beforeAll(async () => {
  t = await testDatabase();
});
afterAll(() => t.close());

const shed = printerSchema.parse({ name: 'Shed', dpi: 300, offsetX: 0, offsetY: 0, finest: null });
const add = (name: string) => addPrinter(t.db, { ...shed, name });
const named = async (name: string) =>
  (await listPrinters(t.db, true)).filter((printer) => printer.name === name);

test('changes of one printer at the same moment undo nothing of each other’s', async () => {
  await add('Desk');
  const { id } = (await named('Desk'))[0]!;
  await Promise.all(
    [{ offsetX: 1.5 }, { offsetY: -2 }, { dpi: 600 }, { finest: 4 }, { intoTray: true }].map(
      (change) => changePrinter(t.db, id, printerChangeSchema.parse(change)),
    ),
  );
  expect((await named('Desk'))[0]).toMatchObject({
    dpi: 600,
    offsetX: 1.5,
    offsetY: -2,
    finest: 4,
    intoTray: true,
    faults: [],
  });
  await changePrinter(t.db, id, printerChangeSchema.parse({ faults: ['nozzle'] }));
  // what is left out stays, and an empty change changes nothing
  await changePrinter(t.db, id, printerChangeSchema.parse({ finest: null }));
  await changePrinter(t.db, id, printerChangeSchema.parse({}));
  expect((await named('Desk'))[0]).toMatchObject({
    dpi: 600,
    finest: null,
    faults: ['nozzle'],
    intoTray: true,
  });
});

test('two who name a printer the same at the same moment: one of them is told', async () => {
  const came = await Promise.allSettled([add('Twin'), add('Twin'), add('Twin')]);
  expect(came.filter((c) => c.status === 'fulfilled')).toHaveLength(1);
  for (const one of came)
    if (one.status === 'rejected')
      expect(String(one.reason)).toContain('A printer is already called Twin.');
  expect(await named('Twin')).toHaveLength(1);
  const { id } = (await named('Twin'))[0]!;
  // it may keep its name
  await changePrinter(t.db, id, { name: 'Twin', dpi: 203 });
  await expect(changePrinter(t.db, id, { name: 'Desk' })).rejects.toThrow('called Desk.');
});

test('faults belong to stand-ins, whichever of the two is said last', async () => {
  await add('Real');
  const { id } = (await named('Real'))[0]!;
  await changePrinter(t.db, id, { intoTray: true });
  await expect(
    changePrinter(t.db, id, { address: 'ipp://printer.marrambay.example/ipp' }),
  ).rejects.toThrow('Only a test printer');
  await expect(changePrinter(t.db, 99_999, { dpi: 300 })).rejects.toThrow('no longer exists');
});
