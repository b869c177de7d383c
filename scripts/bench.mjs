/**
 * `npm run bench`: one line per measure, `name: ours, peer, ratio`. Peers are installed in bench/.
 */
import { execFileSync, spawnSync } from 'node:child_process';
import { existsSync } from 'node:fs';
import { join } from 'node:path';
import { needBuild, needPackages, root, say } from './lib-setup.mjs';

needPackages();
const bench = join(root, 'bench');
if (!existsSync(join(bench, 'node_modules'))) {
  say('Installing the peers …');
  execFileSync('npm', ['ci', '--no-audit', '--no-fund', '--loglevel=error'], {
    cwd: bench,
    stdio: 'inherit',
  });
}
// measured in the browser, or on the web server, that people get
if (process.argv.some((what) => ['pages', 'growth', 'wide'].includes(what))) needBuild();
process.exit(
  spawnSync(
    process.execPath,
    ['--expose-gc', '--import', 'tsx', 'bench/run.ts', ...process.argv.slice(2)],
    { cwd: root, stdio: 'inherit' },
  ).status ?? 1,
);
