import { type ChildProcess, spawn, spawnSync } from 'node:child_process';
import { once } from 'node:events';
import {
  existsSync,
  mkdirSync,
  mkdtempSync,
  readdirSync,
  readFileSync,
  rmSync,
  writeFileSync,
} from 'node:fs';
import { createServer, type AddressInfo, createConnection } from 'node:net';
import { tmpdir } from 'node:os';
import { join } from 'node:path';

/** A real IPP printer on loopback (Debian's `ippeveprinter`), whose paper a test can remove. */
export interface TestPrinter {
  address: string;
  /** What it printed, job by job, in order of arrival. */
  printed(): Buffer[];
  /** Out of paper, until it is put in again. */
  paper(there: boolean): void;
  off(): Promise<void>;
  on(): Promise<void>;
  close(): Promise<void>;
}

const busConf = (folder: string) => `<!DOCTYPE busconfig PUBLIC
 "-//freedesktop//DTD D-Bus Bus Configuration 1.0//EN" "http://www.freedesktop.org/standards/dbus/1.0/busconfig.dtd">
<busconfig><type>custom</type><listen>unix:path=${folder}/bus</listen><auth>EXTERNAL</auth>
<policy context="default"><allow send_destination="*" eavesdrop="true"/><allow eavesdrop="true"/><allow own="*"/></policy></busconfig>
`;
const avahiConf = `[server]
host-name=hut
use-ipv6=no
allow-interfaces=lo
enable-dbus=yes
disallow-other-stacks=no
[publish]
publish-workstation=no
`;
function begun(program: string, args: string[], env: NodeJS.ProcessEnv): ChildProcess {
  // it ends with this process, however that ends: then its input is closed
  const leash = 'exec 3<&0; "$0" "$@" & own=$!; (cat <&3; kill -9 $own) & wait $own';
  const child = spawn('/bin/sh', ['-c', leash, program, ...args], {
    stdio: ['pipe', 'ignore', 'ignore'],
    env,
  });
  return child;
}

async function end(child: ChildProcess): Promise<void> {
  if (child.exitCode !== null || child.signalCode !== null) return;
  const gone = once(child, 'exit');
  child.stdin!.end();
  await gone;
}

/**
 * A message bus and a DNS-SD responder, without which the printer does not start: the computer's
 * own if they run, else private ones on loopback.
 */
let around: Promise<NodeJS.ProcessEnv> | undefined;
const surroundings = (): Promise<NodeJS.ProcessEnv> =>
  (around ??= (async () => {
    if (spawnSync('/usr/sbin/avahi-daemon', ['--check']).status === 0)
      return { ...process.env, ...busOfRunning() };
    const folder = mkdtempSync(join(tmpdir(), 'hand-stamp-bus-'));
    process.on('exit', () => rmSync(folder, { recursive: true, force: true }));
    writeFileSync(join(folder, 'bus.conf'), busConf(folder));
    writeFileSync(join(folder, 'avahi.conf'), avahiConf);
    const env = { ...process.env, DBUS_SYSTEM_BUS_ADDRESS: `unix:path=${folder}/bus` };
    const bus = ['--nofork', '--nopidfile', `--config-file=${folder}/bus.conf`];
    begun('/usr/bin/dbus-daemon', bus, env);
    await until(() => existsSync(join(folder, 'bus')));
    const mine = ['--no-drop-root', '--no-chroot', '--no-rlimits', '-f', `${folder}/avahi.conf`];
    begun('/usr/sbin/avahi-daemon', mine, env);
    return env;
  })());

/** The address of a running bus: the computer's own, or that of another test. */
function busOfRunning(): Record<string, string> {
  try {
    const pid = readFileSync('/run/avahi-daemon/pid', 'utf8').trim();
    const told = readFileSync(`/proc/${pid}/environ`, 'utf8').split('\0');
    const address = told.find((entry) => entry.startsWith('DBUS_SYSTEM_BUS_ADDRESS='));
    return address ? { DBUS_SYSTEM_BUS_ADDRESS: address.slice(address.indexOf('=') + 1) } : {};
  } catch {
    return {};
  }
}

/** Stores what is printed once there is paper, a sheet per try. */
const command = (folder: string) => `#!/bin/sh
for file; do :; done
if [ -e ${folder}/no-paper ]; then
  echo 'STATE: media-empty' >&2
  while [ -e ${folder}/no-paper ]; do sleep 0.1; done
  echo 'STATE: none' >&2
fi
n=$(ls ${folder}/out | wc -l)
cp "$file" ${folder}/out/.part && mv ${folder}/out/.part ${folder}/out/$(printf %04d $n)
echo 'ATTR: job-impressions=1 job-impressions-completed=1' >&2
`;

/** Letter paper is loaded. */
export async function ippPrinter(): Promise<TestPrinter> {
  const folder = mkdtempSync(join(tmpdir(), 'hand-stamp-printer-'));
  const port = await freePort();
  const put = (name: string, text: string, mode = 0o644) =>
    writeFileSync(join(folder, name), text, { mode });
  put('command', command(folder), 0o755);
  const env = await surroundings();
  const children: ChildProcess[] = [];
  mkdirSync(join(folder, 'out'));
  mkdirSync(join(folder, 'spool'));
  let printer: ChildProcess | undefined;
  const on = async () => {
    for (let tries = 0; tries < 200; tries++) {
      const own = begun(
        '/usr/sbin/ippeveprinter',
        [
          ...['-p', String(port), '-n', 'localhost', '-d', join(folder, 'spool')],
          ...['-f', 'application/pdf', '-c', join(folder, 'command')],
          `Hut printer ${port}`,
        ],
        env,
      );
      children.push(own);
      printer = own;
      // it may not start while those are only just starting
      await until(async () => own.exitCode !== null || (await answers(port)));
      if (own.exitCode === null) return;
    }
    throw new Error('ippeveprinter does not start; it wants DNS-SD.');
  };
  await on();
  return {
    address: `ipp://localhost:${port}/ipp/print`,
    printed: () =>
      readdirSync(join(folder, 'out'))
        .filter((name) => !name.startsWith('.'))
        .sort()
        .map((name) => readFileSync(join(folder, 'out', name))),
    paper: (there) =>
      there ? rmSync(join(folder, 'no-paper'), { force: true }) : put('no-paper', ''),
    off: () => end(printer!),
    on,
    close: async () => {
      rmSync(join(folder, 'no-paper'), { force: true });
      for (const child of children.reverse()) await end(child);
      rmSync(folder, { recursive: true, force: true });
    },
  };
}

async function freePort(): Promise<number> {
  const server = createServer();
  await new Promise<void>((ready) => server.listen(0, '127.0.0.1', ready));
  const { port } = server.address() as AddressInfo;
  await new Promise((gone) => server.close(gone));
  return port;
}

const answers = (port: number): Promise<boolean> =>
  new Promise((answer) => {
    const socket = createConnection(port, '127.0.0.1');
    socket.once('connect', () => (socket.destroy(), answer(true)));
    socket.once('error', () => answer(false));
  });

/** Waits for a thing to be so. */
export async function until(is: () => boolean | Promise<boolean>): Promise<void> {
  while (!(await is())) await new Promise((next) => setTimeout(next, 30));
}
