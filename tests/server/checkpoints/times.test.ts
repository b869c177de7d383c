import { afterAll, afterEach, beforeAll, expect, test } from 'vitest';
import { deviceAsking, deviceCookie } from '../../../src/server/access/devices';
import {
  addDevice,
  joinDevice,
  makeCheckpoint,
  viewCheckpoint,
} from '../../../src/server/checkpoints';
import { clock, goBy } from '../../../src/server/platform';
import { testDatabase, type TestDatabase } from '../../helpers/database';
import { runsIn } from '../../helpers/runs';

/** What ends by itself at a checkpoint, by a clock that is set forward. */
let t: TestDatabase;
beforeAll(async () => {
  t = await testDatabase();
});
afterAll(() => t.close());
afterEach(() => goBy());
const { job } = runsIn(() => t);

const minute = 60_000;
const later = (ms: number) => goBy(() => Date.now() + ms);
const asks = (cookie: string, checkpoint: number) =>
  deviceAsking(
    t.db,
    new Headers({ cookie: `${deviceCookie}=${cookie.split(/[=;]/)[1]}` }),
    checkpoint,
  );
async function checkpoint(): Promise<number> {
  const { list } = await job(['No', 'Name'], ['key', 'name'], [['B-1', 'Rune']]);
  return makeCheckpoint(t.db, { name: `Gate ${list}`, list }, 'Ines');
}

test('the clock is the machine’s until it is set, and again when it is let go', () => {
  const before = Date.now();
  expect(clock.now()).toBeGreaterThanOrEqual(before);
  goBy(() => 1_000);
  expect(clock.now()).toBe(1_000);
  expect(clock.date()).toEqual(new Date(1_000));
  goBy();
  expect(clock.date().getTime()).toBeGreaterThanOrEqual(before);
});

test('the code on the screen lets a device join for a quarter of an hour, and once', async () => {
  const id = await checkpoint();
  const codeOf = async () =>
    (await addDevice(t.db, id, { name: 'Door', hours: 8 }, 'Ines')).address.split('#')[1]!;
  const [kept, used, late] = [await codeOf(), await codeOf(), await codeOf()];
  later(14 * minute);
  expect((await joinDevice(t.db, used)).checkpoint).toBe(id);
  await expect(joinDevice(t.db, used)).rejects.toThrow('was already used, or is too old');
  later(15 * minute + 1_000);
  await expect(joinDevice(t.db, late)).rejects.toThrow('was already used, or is too old');
  // two at once with the same code: one of them is in
  goBy();
  const both = await Promise.allSettled([joinDevice(t.db, kept), joinDevice(t.db, kept)]);
  expect(both.map((b) => b.status).sort()).toEqual(['fulfilled', 'rejected']);
});

test('a device is away when it is not heard, and out when its hours are over', async () => {
  const id = await checkpoint();
  const { address } = await addDevice(t.db, id, { name: 'Hut', hours: 3 }, 'Ines');
  const { cookie } = await joinDevice(t.db, address.split('#')[1]!);
  const state = async () => (await viewCheckpoint(t.db, id)).devices[0]?.state;
  expect(await state()).toBe('in-touch');
  later(2 * minute);
  expect(await state()).toBe('away');
  expect((await asks(cookie, id)).name).toBe('Hut');
  expect(await state()).toBe('in-touch');
  later(3 * 60 * minute + 1_000);
  await expect(asks(cookie, id)).rejects.toThrow('The time for this device is over');
  expect(await state()).toBe('over');
});
