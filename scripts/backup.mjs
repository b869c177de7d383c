/**
 * `npm run backup -- --to=FOLDER`: the whole database (PostgreSQL's own dump of one moment, while
 * everybody goes on working), the key that opens its sealed values, and a list of both. It is read
 * again before it reports success.
 */
import { existsSync, mkdirSync, statSync, writeFileSync } from 'node:fs';
import { join, resolve } from 'node:path';
import { needPackages } from './lib-setup.mjs';
import {
  accountOf,
  argument,
  giveUp,
  hashOfFile,
  keyFile,
  names,
  opensDatabase,
  pgProgram,
  say,
  theDatabase,
  theKey,
  writeAccount,
} from './lib-backup.mjs';

needPackages();
const to = argument('to');
if (!to) giveUp('Say where to: npm run backup -- --to=/a/folder');
const folder = join(
  resolve(to),
  `hand-stamp-${new Date().toISOString().slice(0, 19).replaceAll(':', '-')}`,
);
if (existsSync(folder)) giveUp(`${folder} is there already.`);
const key = theKey();
if (!key)
  giveUp(
    'The key was not found. Give it in HAND_STAMP_KEY; without it what is sealed cannot be opened again.',
  );
const database = await theDatabase();
try {
  if ((await opensDatabase(database.url, key)) === false)
    giveUp(
      `The key ${process.env.HAND_STAMP_KEY ? 'in HAND_STAMP_KEY' : `at ${keyFile}`} is not the one of this database, so a backup with it could not be opened. Set HAND_STAMP_KEY to the key that Hand Stamp is started with.`,
    );
  mkdirSync(folder, { recursive: true, mode: 0o700 });
  const dump = join(folder, names.dump);
  say('Writing the database …');
  pgProgram('pg_dump', database.url, [
    '--format=custom',
    '--no-owner',
    '--no-privileges',
    `--file=${dump}`,
  ]);
  writeFileSync(join(folder, names.key), `${key}\n`, { mode: 0o600 });
  // what cannot be read back is not a backup
  const listed = pgProgram('pg_restore', database.url, ['--list', dump]);
  const account = await accountOf(database.url);
  for (const table of Object.keys(account.counts))
    if (!listed.includes(` TABLE DATA public ${table} `))
      giveUp(`The backup is not whole: the table ${table} is not in it.`);
  writeAccount(folder, {
    made: new Date().toISOString(),
    dump: await hashOfFile(dump),
    ...account,
  });
  say(`Done: ${folder}, ${Math.ceil(statSync(dump).size / 2 ** 20)} MB.`);
  say(
    'Whoever has the key in it and the dump can read everything: keep them as safe as the installation.',
  );
} finally {
  database.stop();
}
