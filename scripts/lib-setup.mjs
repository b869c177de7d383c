/**
 * What the start and test commands need before any package of the project is there: plain Node.js
 * only.
 */
import { execFileSync, spawnSync } from 'node:child_process';
import { existsSync, readdirSync, readFileSync, rmSync, statSync, writeFileSync } from 'node:fs';
import { dirname, join } from 'node:path';
import { fileURLToPath } from 'node:url';

export const root = join(dirname(fileURLToPath(import.meta.url)), '..');
export const say = (text) => console.log(`[hand-stamp] ${text}`);

/**
 * Calls back when the npm that runs this process is gone: it does not always hand on what ends it.
 */
export function whenNpmIsGone(work) {
  const parent = process.ppid;
  if (!process.env.npm_lifecycle_event) return;
  const watch = setInterval(() => {
    if (process.ppid === parent) return;
    clearInterval(watch);
    work();
  }, 500);
  watch.unref();
}

/** Stops with a message for the person at the terminal. */
export function giveUp(text) {
  console.error(`[hand-stamp] ${text}`);
  process.exit(1);
}

const [major, minor] = process.versions.node.split('.').map(Number);
if (major < 20 || (major === 20 && minor < 9))
  giveUp(`Node.js 20.9 or newer is needed; this is ${process.versions.node}.`);

export function postgresFolder() {
  const base = '/usr/lib/postgresql';
  if (!existsSync(base)) return undefined;
  return readdirSync(base)
    .filter((version) => existsSync(join(base, version, 'bin/initdb')))
    .sort((a, b) => Number(b) - Number(a))
    .map((version) => join(base, version, 'bin'))[0];
}

const wanted = {
  postgresql: () => postgresFolder() !== undefined,
  chromium: () => existsSync('/usr/bin/chromium'),
  'poppler-utils': () => existsSync('/usr/bin/pdftoppm'),
  ghostscript: () => existsSync('/usr/bin/gs'),
  procps: () => existsSync('/usr/bin/pgrep'),
  'libreoffice-writer-nogui': () => existsSync('/usr/bin/soffice'),
  qpdf: () => existsSync('/usr/bin/qpdf'),
  // a printer for tests, and the two without which it does not start
  'cups-ipp-utils': () => existsSync('/usr/sbin/ippeveprinter'),
  'avahi-daemon': () => existsSync('/usr/sbin/avahi-daemon'),
  dbus: () => existsSync('/usr/bin/dbus-daemon'),
  // another reader of codes, as a second witness
  'zbar-tools': () => existsSync('/usr/bin/zbarimg'),
  openssl: () => existsSync('/usr/bin/openssl'),
};

/** Installs Debian packages that are missing. */
export function needDebian(names) {
  const missing = names.filter((name) => !wanted[name]());
  if (missing.length === 0) return;
  const isRoot = process.getuid?.() === 0;
  if (!existsSync('/usr/bin/apt-get'))
    giveUp(`These Debian packages are needed and cannot be installed here: ${missing.join(', ')}.`);
  if (!isRoot && spawnSync('sudo', ['-n', 'true'], { stdio: 'ignore' }).status !== 0)
    giveUp(
      `These Debian packages are missing: ${missing.join(', ')}. Install them with: sudo apt-get install ${missing.join(' ')}`,
    );
  const apt = (...args) => {
    const [command, ...rest] = isRoot ? ['apt-get', ...args] : ['sudo', 'apt-get', ...args];
    const result = spawnSync(command, rest, {
      stdio: ['ignore', 'ignore', 'inherit'],
      env: { ...process.env, DEBIAN_FRONTEND: 'noninteractive' },
    });
    if (result.status !== 0) giveUp(`apt-get ${args.join(' ')} did not work; see above.`);
  };
  say(`Installing from Debian: ${missing.join(', ')} …`);
  apt('update', '-qq');
  apt('install', '-y', '-qq', '--no-install-recommends', ...missing);
}

/** Installs the npm packages of the lock file when they are missing or older than it. */
export function needPackages() {
  const mark = join(root, 'node_modules/.hand-stamp-lock');
  const lock = readFileSync(join(root, 'package-lock.json'), 'utf8');
  if (existsSync(mark) && readFileSync(mark, 'utf8') === lock) return;
  say('Installing npm packages …');
  execFileSync('npm', ['ci', '--no-audit', '--no-fund', '--loglevel=error'], {
    cwd: root,
    stdio: 'inherit',
  });
  writeFileSync(mark, lock);
}

/** Newest change time below a folder, in ms; for deciding whether a build is still good. */
export function newest(folder) {
  let latest = 0;
  for (const entry of readdirSync(folder, { withFileTypes: true, recursive: true }))
    if (entry.isFile())
      latest = Math.max(latest, statSync(join(entry.parentPath ?? entry.path, entry.name)).mtimeMs);
  return latest;
}

/** The start command, and the programs it starts in processes and threads of their own. */
const programs = [
  'scripts/start',
  'src/web',
  'src/server/tasks/worker',
  'src/server/tasks/child',
  'src/server/tasks/heartbeat',
  'demo/stand-ins/web',
  'demo/stand-ins/mail',
  'demo/stand-ins/app',
];
/** The folder of the built programs, under their own paths. */
export const programFolder = join(root, '.next/programs');

/** The start command as it was built, once {@link needBuild} has seen to it. */
export const startCommand = join(programFolder, 'scripts/start.mjs');

/**
 * Bundles each program into one file, with shared chunks: reading hundreds of files at every start
 * takes seconds.
 */
const bundle = (all, folder) =>
  spawnSync(
    join(root, 'node_modules/.bin/esbuild'),
    [
      ...all.map((program) => `${program}.ts`),
      '--bundle',
      '--splitting',
      '--platform=node',
      '--target=node20',
      '--format=esm',
      '--packages=external',
      '--sourcemap',
      '--outbase=.',
      '--out-extension:.js=.mjs',
      `--outdir=${folder}`,
      '--log-level=warning',
    ],
    { cwd: root, encoding: 'utf8' },
  );

/**
 * The programs that tests start in processes of their own, built from the current sources.
 * @returns the folder; inside the tree, so that packages are found
 */
export function buildForTests() {
  const folder = join(root, '.next/programs-of-tests');
  rmSync(folder, { recursive: true, force: true });
  const { status, stderr } = bundle([...programs, 'tests/helpers/one-step'], folder);
  if (status !== 0) giveUp(`The programs for the tests could not be built:\n${stderr}`);
  return folder;
}

/** Builds the application when its sources are newer than the last build. */
export function needBuild() {
  const id = join(root, '.next/BUILD_ID');
  const sources = Math.max(
    newest(join(root, 'src')),
    newest(join(root, 'demo')),
    ...[
      'package-lock.json',
      'next.config.ts',
      'tsconfig.json',
      'scripts/start.ts',
      'scripts/configured.ts',
      'scripts/lib-setup.mjs',
    ].map((f) => statSync(join(root, f)).mtimeMs),
  );
  const last = join(programFolder, `${programs.at(-1)}.mjs`);
  if ([id, last].every((file) => existsSync(file) && statSync(file).mtimeMs > sources)) return;
  say('Building the application (about a minute) …');
  const result = spawnSync(process.execPath, ['node_modules/next/dist/bin/next', 'build'], {
    cwd: root,
    stdio: ['ignore', 'pipe', 'pipe'],
    env: { ...process.env, NEXT_TELEMETRY_DISABLED: '1', NODE_ENV: 'production' },
  });
  const smaller = () =>
    spawnSync(process.execPath, [join(root, 'scripts/compress.mjs')], { cwd: root });
  for (const { status, stdout, stderr } of [result, smaller(), bundle(programs, programFolder)])
    if (status !== 0) giveUp(`The build did not work:\n${stdout}\n${stderr}`);
}
