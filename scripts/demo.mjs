/**
 * `npm run demo`: installs what is missing, then starts database, workers and web server. Ctrl-C
 * stops all of it.
 */
import {
  needBuild,
  needDebian,
  needPackages,
  root,
  say,
  startCommand,
  whenNpmIsGone,
} from './lib-setup.mjs';
import { spawn } from 'node:child_process';

if (!process.env.DATABASE_URL) needDebian(['postgresql']);
needPackages();
const development = process.argv.includes('--dev');
if (!development) needBuild();
say('Starting …');
const start = development ? ['--import', 'tsx', 'scripts/start.ts'] : [startCommand];
const child = spawn(process.execPath, [...start, ...process.argv.slice(2)], {
  cwd: root,
  // the channel reports when this process is gone
  stdio: ['inherit', 'inherit', 'inherit', 'ipc'],
});
for (const signal of ['SIGINT', 'SIGTERM', 'SIGHUP'])
  process.on(signal, () => child.kill('SIGTERM'));
whenNpmIsGone(() => child.kill('SIGTERM'));
child.on('exit', (code) => process.exit(code ?? 1));
