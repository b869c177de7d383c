import { randomUUID } from 'node:crypto';
import { mkdtempSync, writeFileSync } from 'node:fs';
import { execFileSync } from 'node:child_process';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, beforeAll, expect, test } from 'vitest';
import { comparedRounds, roundAnswer } from '../../../src/core/checkpoint/round';
import { rejudgeList } from '../../../src/server/judging';
import { editCells, removeRecords, stepBack } from '../../../src/server/lists';
import {
  closeRound,
  listRounds,
  reportOfRound,
  removeRound,
  roundBook,
  roundPdf,
  scanOnRound,
  settleOnRound,
  startRound,
  unseenAt,
  viewRound,
} from '../../../src/server/checkpoints';
import { testDatabase, type TestDatabase } from '../../helpers/database';
import { runsIn } from '../../helpers/runs';

let t: TestDatabase;
beforeAll(async () => {
  t = await testDatabase();
});
afterAll(() => t.close());
const { job } = runsIn(() => t);

const things = [
  ['E-1', 'Pump', 'Glasshouse'],
  ['E-2', 'Sensor', 'Glasshouse'],
  ['E-3', 'Σπάτουλα', 'Dune House'],
  ['E-4', 'Barrow', 'Dune House'],
];
async function begun() {
  const { list } = await job(['No', 'Name', 'Site'], ['key', 'name', 'text'], things);
  await rejudgeList(t.db, list);
  const round = await startRound(t.db, { name: 'Autumn', list, column: 'c3' }, 'Ines');
  const records = await t.db
    .selectFrom('records')
    .select('id')
    .where('list_id', '=', list)
    .orderBy('position')
    .execute();
  return { list, round, records: records.map((r) => r.id) };
}
const scan = (round: number, place: string, text: string, key = randomUUID()) =>
  scanOnRound(t.db, round, { key, how: 'reader', place, text }, 'Ines');
const siteOf = async (record: number) =>
  (
    await t.db
      .selectFrom('records')
      .select('values')
      .where('id', '=', record)
      .executeTakeFirstOrThrow()
  ).values.c3;

test('what is seen belongs here, belongs elsewhere, was seen before, or is unknown', async () => {
  const { round, records } = await begun();
  expect((await scan(round, 'Glasshouse', 'E-1')).answer).toBe('here');
  expect(await scan(round, ' glasshouse', 'E-3')).toMatchObject({
    answer: 'elsewhere',
    belongs: 'Dune House',
    title: 'Σπάτουλα',
  });
  expect((await scan(round, 'Dune House', 'E-1')).answer).toBe('twice');
  expect((await scan(round, 'Glasshouse', 'X-9')).answer).toBe('unknown');
  expect(await unseenAt(t.db, round, 'Glasshouse')).toEqual({
    of: 1,
    unseen: [{ record: records[1], title: 'Sensor', key: 'E-2' }],
  });
  const view = await viewRound(t.db, round);
  expect(view.places).toEqual([
    { place: 'Dune House', of: 2, seen: 1 },
    { place: 'Glasshouse', of: 2, seen: 1 },
  ]);
  expect(view.tape).toHaveLength(4);
  expect(
    (
      await scanOnRound(
        t.db,
        round,
        { key: randomUUID(), how: 'hand', place: 'Glasshouse', record: records[1] },
        'x',
      )
    ).answer,
  ).toBe('here');
});

test('held to two readers at once is seen once, and sent ten times is one line', async () => {
  const { round } = await begun();
  const both = await Promise.all(Array.from({ length: 6 }, () => scan(round, 'Glasshouse', 'E-1')));
  expect(both.map((s) => s.answer).sort()).toEqual(['here', ...Array<string>(5).fill('twice')]);
  const key = randomUUID();
  const same = await Promise.all(
    Array.from({ length: 10 }, () => scan(round, 'Glasshouse', 'X-1', key)),
  );
  expect(new Set(same.map((s) => s.id)).size).toBe(1);
});

test('what belongs elsewhere is moved as any edit, which can be undone; what is unknown becomes a record, once', async () => {
  const { list, round, records } = await begun();
  const wrong = await scan(round, 'Glasshouse', 'E-3');
  await Promise.all(
    Array.from({ length: 5 }, () =>
      settleOnRound(t.db, round, { scan: wrong.key, does: 'move' }, 'Ines'),
    ),
  );
  expect(await siteOf(records[2]!)).toBe('Glasshouse');
  await stepBack(t.db, list, 'undo', 'Ines');
  expect(await siteOf(records[2]!)).toBe('Dune House');
  const odd = await scan(round, 'Glasshouse', 'E-77');
  const made = await Promise.all(
    Array.from({ length: 5 }, () =>
      settleOnRound(t.db, round, { scan: odd.key, does: 'make', title: 'Ladder' }, 'Ines'),
    ),
  );
  expect(new Set(made.map((s) => s.record)).size).toBe(1);
  expect(made[0]).toMatchObject({ done: 'made', title: 'Ladder', recordKey: 'E-77' });
  expect(await siteOf(made[0]!.record!)).toBe('Glasshouse');
  await expect(
    settleOnRound(t.db, round, { scan: odd.key, does: 'move' }, 'x'),
  ).resolves.toMatchObject({ done: 'made' });
  const here = await scan(round, 'Glasshouse', 'E-1');
  await expect(settleOnRound(t.db, round, { scan: here.key, does: 'make' }, 'x')).rejects.toThrow(
    'already a record',
  );
});

test('closed it says how each came out, keeps that whatever becomes of the list, and a later one is compared with it', async () => {
  const { list, round, records } = await begun();
  await scan(round, 'Glasshouse', 'E-1');
  const wrong = await scan(round, 'Glasshouse', 'E-3');
  await settleOnRound(t.db, round, { scan: wrong.key, does: 'move' }, 'Ines');
  await scan(round, 'Glasshouse', 'E-4');
  await scan(round, 'Glasshouse', 'X-9');
  await expect(reportOfRound(t.db, round, undefined)).rejects.toThrow('when the round is closed');
  const closed = await Promise.allSettled([1, 2, 3].map(() => closeRound(t.db, round, 'Ines')));
  expect(closed.filter((one) => one.status === 'fulfilled')).toHaveLength(1);
  await expect(scan(round, 'Glasshouse', 'E-2')).rejects.toThrow('closed');
  await removeRecords(t.db, list, [records[1]!], 'test');
  const { counts, lines } = await reportOfRound(t.db, round, undefined);
  expect(counts).toEqual({ seen: 1, moved: 1, elsewhere: 1, missing: 1, found: 1 });
  expect(lines.map((l) => [l.key, l.outcome, l.seenAt])).toEqual([
    ['E-2', 'missing', null],
    ['E-3', 'moved', null],
    ['E-4', 'elsewhere', 'Glasshouse'],
    ['X-9', 'found', null],
  ]);
  await stepBack(t.db, list, 'undo', 'test');
  await rejudgeList(t.db, list);
  const next = await startRound(t.db, { name: 'Winter', list, column: 'c3' }, 'Ines');
  expect((await scan(next, 'Glasshouse', 'E-2')).answer).toBe('here');
  await closeRound(t.db, next, 'Ines');
  const { compared } = await reportOfRound(t.db, next, round);
  expect(compared!.back.map((l) => l.key)).toEqual(['E-2']);
  expect(compared!.anew.map((l) => l.key)).toEqual(['E-1', 'E-3', 'E-4']);
  expect((await viewRound(t.db, next)).before).toEqual([{ id: round, name: 'Autumn' }]);

  const folder = mkdtempSync(join(tmpdir(), 'round-'));
  writeFileSync(join(folder, 'r.pdf'), await roundPdf(t.db, round));
  const text = execFileSync('pdftotext', ['-layout', join(folder, 'r.pdf'), '-']).toString();
  for (const words of [
    'Autumn',
    'moved to where it was found: 1',
    'Σπάτουλα',
    'not found: 1',
    'X-9',
  ])
    expect(text).toContain(words);
  expect(
    Buffer.from(await roundBook(t.db, round))
      .subarray(0, 2)
      .toString(),
  ).toBe('PK');
  expect((await listRounds(t.db)).find((r) => r.id === round)).toMatchObject({ seen: 3, of: 4 });
  await removeRound(t.db, round);
  await expect(viewRound(t.db, round)).rejects.toThrow('no longer exists');
});

test('is by a column that can be changed and seen', async () => {
  const { list, records } = await begun();
  await expect(startRound(t.db, { name: 'x', list, column: 'c9' }, 'x')).rejects.toThrow(
    'no longer exists',
  );
  await editCells(t.db, list, [{ record: records[0]!, column: 'c3', value: '' }], 'x');
  const round = await startRound(t.db, { name: 'x', list, column: 'c3' }, 'x');
  expect(await scan(round, 'Glasshouse', 'E-1')).toMatchObject({
    answer: 'elsewhere',
    why: 'the list has no location for it',
  });
});

test('the answer and the comparison are told from what they are given alone', () => {
  expect(roundAnswer('A', ' a ', undefined).answer).toBe('here');
  expect(roundAnswer('A', 'B', { place: 'A', at: '10:00' })).toEqual({
    answer: 'twice',
    why: 'was already found here 10:00',
  });
  const line = (record: number, outcome: 'seen' | 'missing') => ({
    record,
    title: '',
    key: '',
    outcome,
  });
  const out = comparedRounds(
    [line(1, 'missing'), line(2, 'missing'), line(3, 'seen')],
    [line(1, 'seen'), line(2, 'missing'), line(3, 'missing'), line(4, 'missing')],
  );
  expect([out.back, out.still, out.anew].map((l) => l.map((one) => one.record))).toEqual([
    [1],
    [2],
    [3, 4],
  ]);
});
