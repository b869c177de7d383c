import { spawn, spawnSync, type ChildProcess } from 'node:child_process';
import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { expect, onTestFinished, test } from 'vitest';

const { stateFolder } = (await import('../../scripts/lib-postgres.mjs' as string)) as {
  stateFolder(purpose: string): string;
};
const purpose = 'kept-up';
const state = stateFolder(purpose);

/** The start command, without pages, which a machine may do that only works. */
function start(
  more: string[] = [],
  set: Record<string, string> = {},
): { command: ChildProcess; said: () => string; port: string } {
  const port = String(30_000 + Math.floor(Math.random() * 20_000));
  const env = { ...process.env, ...set };
  delete env.DATABASE_URL;
  const command = spawn(
    process.execPath,
    [
      '--import',
      'tsx',
      'scripts/start.ts',
      `--purpose=${purpose}`,
      '--no-demo',
      '--no-web',
      '--workers=1',
      `--port=${port}`,
      ...more,
    ],
    { env, stdio: ['ignore', 'pipe', 'pipe'] },
  );
  let text = '';
  command.stdout!.on('data', (data: Buffer) => (text += data.toString()));
  command.stderr!.on('data', (data: Buffer) => (text += data.toString()));
  onTestFinished(() => void command.kill('SIGKILL'));
  return { command, said: () => text, port };
}

/**
 * Numbers of the processes of this start: the database by its folder, the others by what they were
 * started with.
 */
const running = (): string[] =>
  spawnSync('pgrep', ['-f', state], { encoding: 'utf8' })
    .stdout.split('\n')
    .filter(Boolean)
    .concat(
      spawnSync(
        'sh',
        [
          '-c',
          `for p in $(pgrep -f 'src/server/tasks/worker.ts'); do tr '\\0' '\\n' < /proc/$p/environ 2>/dev/null | grep -q '^HAND_STAMP_TRAY=${state}' && echo $p; done`,
        ],
        { encoding: 'utf8' },
      )
        .stdout.split('\n')
        .filter(Boolean),
    );
const postmaster = (): number =>
  Number(readFileSync(join(state, 'data', 'postmaster.pid'), 'utf8').split('\n')[0]);
const long = { timeout: 60_000 };

test('the start command starts a dead database again, leaves nothing behind however it ends, and says what it found', async () => {
  const first = start(['--fresh']);
  await expect.poll(first.said, long).toContain('works here');
  await expect.poll(() => running().length, long).toBeGreaterThanOrEqual(3);
  // a second start from the same folder would take the database away
  const second = start();
  await expect.poll(second.said, long).toContain('is running from this folder already');
  // the database dies
  const died = postmaster();
  process.kill(died, 'SIGKILL');
  await expect.poll(first.said, long).toContain('The database is back.');
  expect(postmaster()).not.toBe(died);
  // the start command dies
  first.command.kill('SIGKILL');
  await expect.poll(running, long).toEqual([]);
  const third = start();
  await expect.poll(third.said, long).toContain('works here');
  // and ends as it should
  third.command.kill('SIGTERM');
  await expect.poll(running, long).toEqual([]);
  await expect.poll(() => third.command.exitCode, long).toBe(0);
  const fourth = start();
  await expect.poll(fourth.said, long).toContain('works here');
  process.kill(postmaster(), 'SIGKILL');
  fourth.command.kill('SIGKILL');
  await expect.poll(running, long).toEqual([]);
  const fifth = start();
  await expect.poll(fifth.said, long).toContain('The last start was broken off.');
  await expect.poll(fifth.said, long).toContain('works here');
  fifth.command.kill('SIGTERM');
  await expect.poll(running, long).toEqual([]);
}, 300_000);

test('a worker that no longer answers is ended and started again', async () => {
  const { command, said } = start(['--fresh'], { HAND_STAMP_STUCK_SECONDS: '5' });
  const workers = () =>
    running().filter((pid) =>
      readFileSync(`/proc/${pid}/cmdline`, 'utf8').includes('src/server/tasks/worker'),
    );
  await expect.poll(said, long).toContain('works here');
  await expect.poll(() => workers().length, long).toBe(2);
  // stopped in the middle of its work, as one that is busy with one thing without an end
  const [stuck] = workers();
  process.kill(Number(stuck), 'SIGSTOP');
  await expect.poll(said, long).toMatch(/worker-\d has not answered for 5 s and is ended\./);
  await expect.poll(workers, long).not.toContain(stuck);
  await expect.poll(() => workers().length, long).toBe(2);
  command.kill('SIGTERM');
  await expect.poll(running, long).toEqual([]);
}, 200_000);
