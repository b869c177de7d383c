import { spawn, spawnSync, type ChildProcess } from 'node:child_process';
import { afterAll, beforeAll, describe, expect, onTestFinished, test } from 'vitest';
import { redrawnPicture } from '../../../src/server/platform/apart/pictures';
import { Lane, WorkEnded } from '../../../src/server/platform/apart/pool';
import { Refusal } from '../../../src/server/platform/refusal';
import { askIntake } from '../../../src/server/sources/reread';
import { performTask } from '../../../src/server/tasks/registry';
import { testDatabase, type TestDatabase } from '../../helpers/database';
import { argumentsOf } from '../../helpers/programs';
import { hostilePictures, hostileSheets } from '../../hostile/files';

let t: TestDatabase;
beforeAll(async () => {
  t = await testDatabase();
});
afterAll(() => t.close());

const logo = {
  name: 'leaf.svg',
  bytes: Buffer.from(
    '<svg xmlns="http://www.w3.org/2000/svg" width="9" height="9"><rect width="9" height="9"/></svg>',
  ),
};
const rects = (many: number): Buffer =>
  Buffer.from(
    `<svg xmlns="http://www.w3.org/2000/svg" width="9" height="9">${'<rect width="9" height="9" opacity="0.5"/>'.repeat(many)}</svg>`,
  );
const poster = { name: 'poster.svg', bytes: rects(60_000) };
const slow = { name: 'slow.svg', bytes: rects(3000) };

describe('work in a process of its own', () => {
  const small = { size: 1, waiting: 2, heapMb: 200, wholeMb: 400 };
  test('gives what it makes, and its refusals as they were', async () => {
    const lane = new Lane(small);
    expect(await lane.do('picture', logo, 60_000)).toMatchObject({ name: 'leaf.svg', width: 320 });
    const refused = await lane
      .do('picture', { name: 'x', bytes: Buffer.from('no picture') }, 60_000)
      .catch((e: unknown) => e);
    expect(refused).toBeInstanceOf(Refusal);
    expect(refused).toMatchObject({
      message: 'x is not a PNG, JPEG or SVG picture. Choose another.',
      status: 400,
    });
  });
  test('goes on when Ctrl-C reaches every process of a terminal; its worker decides when it ends', async () => {
    const lane = new Lane({ ...small, wholeMb: 1500 });
    await lane.do('picture', logo, 60_000);
    const own = spawnSync('pgrep', ['-P', String(process.pid), '-f', 'tasks/child'], {
      encoding: 'utf8',
    });
    const pids = own.stdout.split('\n').filter(Boolean).map(Number);
    expect(pids.length).toBeGreaterThan(0);
    const drawn = lane.do('picture', slow, 60_000);
    for (const pid of pids) process.kill(pid, 'SIGINT');
    expect(await drawn).toMatchObject({ width: 320 });
    for (const pid of pids) process.kill(pid, 'SIGTERM');
    expect(await lane.do('picture', logo, 60_000)).toMatchObject({ width: 320 });
  });
  test('is ended when it takes too long, and the next is done by another process', async () => {
    const lane = new Lane(small);
    await lane.do('picture', logo, 60_000);
    await expect(lane.do('picture', poster, 1)).rejects.toMatchObject({ why: 'time' });
    expect(await lane.do('picture', logo, 60_000)).toMatchObject({ width: 320 });
  });
  test('is ended when it takes too much memory', async () => {
    // Node.js by itself is larger than this
    const lane = new Lane({ ...small, wholeMb: 20 });
    const ended = await lane.do('picture', poster, 60_000).catch((e: unknown) => e);
    expect(ended).toBeInstanceOf(WorkEnded);
    expect(ended).toMatchObject({ why: 'memory' });
  });
  test('what is too much to wait for is refused at once, and what waits is done', async () => {
    const lane = new Lane(small);
    const works = Array.from({ length: 4 }, () =>
      lane.do('picture', logo, 60_000).then(
        () => 'done',
        (e: Refusal) => e.status,
      ),
    );
    expect((await Promise.all(works)).sort()).toEqual([503, 'done', 'done', 'done']);
  });
});

test('hostile pictures are refused in words or drawn, and another is drawn after each', async () => {
  for (const { name, bytes } of hostilePictures()) {
    expect(bytes.length, name).toBeLessThan(1_000_000);
    const told = await redrawnPicture(name, bytes).then(
      (kept) => kept.width * kept.height,
      (error: unknown) => error,
    );
    if (typeof told === 'number') expect(told, name).toBeLessThanOrEqual(320 * 320);
    else expect(told, name).toBeInstanceOf(Refusal);
    expect(await redrawnPicture(logo.name, logo.bytes)).toMatchObject({ width: 320 });
  }
});

/** A worker as the start command starts it, given little memory for a task. */
function worker(taskMb: number): ChildProcess {
  const child = spawn(process.execPath, argumentsOf('src/server/tasks/worker'), {
    env: {
      ...process.env,
      DATABASE_URL: t.url,
      LOG_LEVEL: 'silent',
      HAND_STAMP_TASK_MB: String(taskMb),
    },
    stdio: 'ignore',
  });
  onTestFinished(() => void child.kill('SIGKILL'));
  return child;
}
const intake = (file: { name: string; bytes: Buffer }) =>
  askIntake(t.db, {
    ...file,
    origin: { kind: 'file', name: file.name, headerRow: 0 },
    actor: 'test',
  });
const stateOf = (id: number) =>
  t.db
    .selectFrom('intakes')
    .select(['state', 'error'])
    .where('id', '=', id)
    .executeTakeFirstOrThrow();

test('every hostile spreadsheet ends in words or as what it is, and the worker that read it lives', async () => {
  const child = worker(1200);
  const ids = new Map<string, number>();
  for (const file of hostileSheets()) ids.set(file.name, await intake(file));
  const honest = await intake({ name: 'honest.csv', bytes: Buffer.from('No,Name\n1,Wren\n') });
  await expect.poll(async () => (await stateOf(honest)).state, { timeout: 85_000 }).toBe('read');
  const told: Record<string, unknown> = {};
  for (const [name, id] of ids) {
    await expect
      .poll(async () => (await stateOf(id)).state, { timeout: 85_000 })
      .not.toBe('waiting');
    const { state, error } = await stateOf(id);
    told[name] = state;
    if (state === 'failed') expect(error, name).toContain(name);
  }
  expect(told).toMatchObject({
    'claims-all.xlsx': 'read',
    'zeros.xlsx': 'failed',
    'columns.csv': 'read',
    'one-quote.csv': 'failed',
  });
  expect(child.exitCode).toBeNull();
}, 180_000);

test('a file that takes more memory than a task may is not tried for ever: it fails in words, and others go on', async () => {
  const child = worker(130);
  const big = await intake({
    name: 'big.csv',
    bytes: Buffer.from(
      `No,Name\n${Array.from({ length: 190_000 }, (_, i) => `${i},Person ${i} of the garden`).join('\n')}`,
    ),
  });
  await expect.poll(async () => (await stateOf(big)).state, { timeout: 85_000 }).toBe('failed');
  expect((await stateOf(big)).error).toMatch(
    /^big.csv was not read to its end: it took too much memory\./,
  );
  expect(child.exitCode).toBeNull();
});

test('an intake whose task is gone is ended by the janitor', async () => {
  const id = await intake({ name: 'lost.csv', bytes: Buffer.from('No\n1\n') });
  await t.pool.query('delete from graphile_worker._private_jobs');
  await t.db
    .updateTable('intakes')
    .set({ created_at: new Date(Date.now() - 120_000) })
    .where('id', '=', id)
    .execute();
  await performTask(t.db, 'janitor', {});
  expect((await stateOf(id)).error).toMatch(
    /^lost.csv was not read to its end: nothing is left that could continue it/,
  );
});

test('a task that has no tries left is ended by the janitor', async () => {
  const id = await intake({ name: 'tried.csv', bytes: Buffer.from('No\n1\n') });
  await t.pool.query('update graphile_worker._private_jobs set attempts = max_attempts');
  await performTask(t.db, 'janitor', {});
  expect((await stateOf(id)).error).toMatch(/tried several times/);
  expect((await t.pool.query('select from graphile_worker._private_jobs')).rowCount).toBe(0);
});

test('a worker that is killed takes with it the process of its task', async () => {
  const child = worker(1200);
  const running = () =>
    spawnSync('pgrep', ['-P', String(child.pid), '-f', 'tasks/child'], {
      encoding: 'utf8',
    }).stdout.trim();
  await intake({ name: 'a.csv', bytes: Buffer.from('No\n1\n') });
  await expect.poll(running, { timeout: 60_000 }).not.toBe('');
  const [pid] = running().split('\n');
  child.kill('SIGKILL');
  await expect
    .poll(
      () =>
        spawnSync('ps', ['-o', 'stat=', '-p', pid!], { encoding: 'utf8' })
          .stdout.replace(/Z\S*/, '')
          .trim(),
      { timeout: 30_000 },
    )
    .toBe('');
});
