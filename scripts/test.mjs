/**
 * `npm test`: types, lint, spelling, format, boundaries, unused code, core, server and browser
 * tests. The last line counts the runners' own results. `--only=static,core,server,browser` runs
 * some of them.
 */
import { spawn, spawnSync } from 'node:child_process';
import { mkdtempSync, readFileSync, rmSync } from 'node:fs';
import { availableParallelism, tmpdir } from 'node:os';
import { join } from 'node:path';
import { createServer } from 'node:net';
import {
  buildForTests,
  needBuild,
  needDebian,
  needPackages,
  root,
  say,
  startCommand,
} from './lib-setup.mjs';

/**
 * How many files of browser tests run at a time, each on an application of its own. Such a test
 * keeps two cores busy: on a computer with two, two at once took as long as one after the other.
 */
const atOnce = Math.max(1, Math.floor(availableParallelism() / 2));
const parts = ['static', 'core', 'server', 'browser'];
const only = process.argv
  .find((a) => a.startsWith('--only='))
  ?.slice(7)
  .split(',');
const wanted = (part) => !only || only.includes(part);
needDebian([
  'poppler-utils',
  'ghostscript',
  'qpdf',
  ...(wanted('server') || wanted('browser')
    ? [
        'postgresql',
        'procps',
        'openssl',
        'libreoffice-writer-nogui',
        'cups-ipp-utils',
        'avahi-daemon',
        'dbus',
        'zbar-tools',
      ]
    : []),
  ...(wanted('browser') ? ['chromium'] : []),
]);
needPackages();
const { startPostgres } = await import('./lib-postgres.mjs');

const scratch = mkdtempSync(join(tmpdir(), 'hand-stamp-test-'));
let passed = 0;
let failed = 0;
/** Repeated at the end, for people who see only the last lines. */
const failures = [];
const bin = (name) => join(root, 'node_modules/.bin', name);
const run = (command, args, env = {}) =>
  spawnSync(command, args, { cwd: root, stdio: 'inherit', env: { ...process.env, ...env } })
    .status === 0;

/** Checks without counts of their own, two at a time; what one says is shown when it is over. */
async function check(checks) {
  const waiting = [...checks];
  const next = async () => {
    for (let one = waiting.shift(); one; one = waiting.shift()) {
      const [name, command, args] = one;
      const from = Date.now();
      const { status, said } = await new Promise((resolve) => {
        const child = spawn(bin(command), args, { cwd: root });
        const said = [];
        child.stdout.on('data', (part) => said.push(part));
        child.stderr.on('data', (part) => said.push(part));
        child.on('close', (code) =>
          resolve({ status: code, said: Buffer.concat(said).toString().trim() }),
        );
      });
      say(`${name}: ${status === 0 ? 'in order' : 'failed'}, ${since(from)} s`);
      if (said) console.log(said);
      if (status === 0) continue;
      failures.push(name);
      failed++;
    }
  };
  await Promise.all([next(), next()]);
}
const since = (from) => Math.round((Date.now() - from) / 1000);

function json(path) {
  try {
    return JSON.parse(readFileSync(path, 'utf8'));
  } catch {
    return undefined;
  }
}

const freePort = () =>
  new Promise((resolve) => {
    const server = createServer();
    server.listen(0, '127.0.0.1', () => {
      const { port } = server.address();
      server.close(() => resolve(port));
    });
  });

/** Titles of the browser tests that failed. */
function failedIn(suites) {
  return suites.flatMap((suite) => [
    ...(suite.specs ?? []).filter((spec) => !spec.ok).map((spec) => spec.title),
    ...failedIn(suite.suites ?? []),
  ]);
}

/** Seconds that each part took, in its order. */
const took = new Map();
async function part(name, work) {
  if (!wanted(name)) return;
  const from = Date.now();
  await work();
  took.set(name, since(from));
}

function unitTests(project, env = {}) {
  const report = join(scratch, `${project}.json`);
  run(
    bin('vitest'),
    [
      'run',
      '--project',
      `${project}*`,
      '--reporter=default',
      '--reporter=json',
      `--outputFile.json=${report}`,
    ],
    { ...env, LOG_LEVEL: 'silent' },
  );
  const result = json(report);
  passed += result?.numPassedTests ?? 0;
  for (const file of result?.testResults ?? [])
    for (const test of file.assertionResults)
      if (test.status === 'failed') failures.push(`${project}: ${test.fullName}`);
  failed +=
    (result?.numFailedTests ?? 1) +
    (result?.testResults ?? []).filter(
      (file) => file.status === 'failed' && file.assertionResults.length === 0,
    ).length;
}

/**
 * A whole Hand Stamp for the browser tests, with a database server and trays of its own: what one
 * file of tests does, another that goes beside it never sees.
 * @returns its address
 */
async function startApplication(_, number) {
  const port = await freePort();
  // by the host name of addresses when none is set
  const url = `http://localhost:${port}`;
  const application = spawn(
    process.execPath,
    [startCommand, `--purpose=test-${number}`, '--fresh', `--port=${port}`],
    { cwd: root, stdio: 'inherit', env: { ...process.env, DATABASE_URL: '' } },
  );
  applications.add(application);
  application.once('exit', () => applications.delete(application));
  for (let tries = 0; tries < 480 && applications.has(application); tries++) {
    if ((await fetch(`${url}/api/health`).catch(() => undefined))?.ok) break;
    await new Promise((resolve) => setTimeout(resolve, 250));
  }
  return url;
}

let database;
const applications = new Set();
const stop = () => {
  for (const application of applications) application.kill('SIGTERM');
  database?.stop();
  rmSync(scratch, { recursive: true, force: true });
};
process.on('SIGINT', () => {
  stop();
  process.exit(130);
});
try {
  if (only?.some((name) => !parts.includes(name))) throw new Error(`parts are ${parts.join(', ')}`);
  await part('static', async () => {
    if (!run(process.execPath, ['node_modules/next/dist/bin/next', 'typegen'])) failed++;
    say('Types, lint, format, boundaries, what nobody uses …');
    await check([
      // the longest first
      // with TypeScript's native compiler, and the rules that need types in the same pass
      ['Types', 'oxlint', ['--format=unix', '.']],
      ['Lint', 'eslint', ['.', '--max-warnings=0', '--cache', '--cache-location', '.next/eslint']],
      [
        'Format',
        'prettier',
        ['--check', '--log-level=warn', '--cache', '--cache-location=.next/prettier', '.'],
      ],
      ['Spelling', 'cspell', ['lint', '--no-progress', '--quiet']],
      ['Boundaries', 'depcruise', ['src', 'demo', '--output-type', 'err']],
      ['What nobody uses', 'knip', ['--no-progress', '--exclude', 'types,duplicates']],
    ]);
  });
  await part('core', () => {
    say('Core tests …');
    unitTests('core');
  });
  await part('server', async () => {
    database = await startPostgres('test', { fresh: true });
    say('Server tests …');
    unitTests('server', {
      DATABASE_URL: database.url,
      HAND_STAMP_PROGRAMS: buildForTests(),
    });
  });
  await part('browser', async () => {
    needBuild();
    say('Browser tests …');
    const urls = await Promise.all(Array.from({ length: atOnce }, startApplication));
    const report = join(scratch, 'playwright.json');
    run(bin('playwright'), ['test', '--reporter=list,json', '--output', join(scratch, 'results')], {
      HAND_STAMP_URLS: urls.join(','),
      PLAYWRIGHT_JSON_OUTPUT_NAME: report,
    });
    const stats = json(report)?.stats;
    passed += stats?.expected ?? 0;
    passed += stats?.flaky ?? 0;
    failed += stats ? stats.unexpected : 1;
    failures.push(...failedIn(json(report)?.suites ?? []));
    await Promise.all(
      [...applications].map((application) => {
        application.kill('SIGTERM');
        return new Promise((resolve) => application.once('exit', resolve));
      }),
    );
  });
} finally {
  stop();
}
for (const [name, seconds] of took)
  say(`${name}: ${Math.floor(seconds / 60)} min ${seconds % 60} s`);
for (const name of failures) say(`Failed: ${name}`);
console.log(`${passed} passed, ${failed} failed`);
const counts = parts.slice(1).some(wanted);
process.exit(failed > 0 || (counts && passed === 0) ? 1 : 0);
