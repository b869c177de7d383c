/**
 * `npm run restore -- --from=FOLDER`: puts a backup into an empty database, and its key where the
 * start command finds it. Compared with the list of the backup before it reports success. Never
 * writes over a database that holds anything.
 */
import { existsSync, mkdirSync, readFileSync, writeFileSync } from 'node:fs';
import { dirname, join, resolve } from 'node:path';
import { needDebian, needPackages } from './lib-setup.mjs';
import {
  accountOf,
  argument,
  giveUp,
  hashOfFile,
  keyFile,
  names,
  opensDatabase,
  pgProgram,
  readAccount,
  say,
  theDatabase,
} from './lib-backup.mjs';

if (!process.env.DATABASE_URL) needDebian(['postgresql']);
needPackages();
const from = argument('from');
if (!from) giveUp('Say from where: npm run restore -- --from=/a/folder/hand-stamp-…');
const folder = resolve(from);
const account = readAccount(folder);
const dump = join(folder, names.dump);
if (!existsSync(dump) || (await hashOfFile(dump)) !== account.dump)
  giveUp(
    `${dump} is not the file that was written then: it is damaged or another one. Nothing was changed.`,
  );
const key = readFileSync(join(folder, names.key), 'utf8').trim();
const database = await theDatabase({ make: true });
try {
  const before = await accountOf(database.url).catch((error) => {
    // an empty database has no such table
    if (/file_pieces/.test(error.message)) return { counts: {} };
    throw error;
  });
  if (Object.keys(before.counts).length > 0)
    giveUp(
      'This database holds something already. Restore into an empty one, so that nothing is lost.',
    );
  if (
    !process.env.DATABASE_URL &&
    existsSync(keyFile) &&
    readFileSync(keyFile, 'utf8').trim() !== key
  )
    giveUp(`Another key lies at ${keyFile}. Put it aside first.`);
  say('Reading the database in …');
  pgProgram('pg_restore', database.url, [
    '--no-owner',
    '--no-privileges',
    '--exit-on-error',
    '--single-transaction',
    `--dbname=${new URL(database.url).pathname.slice(1) || 'postgres'}`,
    dump,
  ]);
  if ((await opensDatabase(database.url, key)) === false)
    giveUp(
      `The key in ${folder} does not open what is sealed in its database. The records are there; look for the key that Hand Stamp was started with when the backup was made, and start it with that.`,
    );
  const after = await accountOf(database.url);
  const differing = Object.keys({ ...account.counts, ...after.counts }).filter(
    (table) => account.counts[table] !== after.counts[table],
  );
  // work during the backup may have changed what was counted a moment later
  const files =
    account.files === after.files ? 'the same byte for byte' : 'others than were counted then';
  say(
    differing.length === 0
      ? `All ${Object.keys(after.counts).length} tables hold what they held, and the files are ${files}.`
      : `Tables that were written to while the backup was made: ${differing.join(', ')}. The files are ${files}.`,
  );
  if (!process.env.DATABASE_URL) {
    mkdirSync(dirname(keyFile), { recursive: true });
    writeFileSync(keyFile, key, { mode: 0o600 });
    say('Done. Start it with: npm start');
  } else
    say(`Done. Start it with HAND_STAMP_KEY set to what stands in ${join(folder, names.key)}.`);
} finally {
  database.stop();
}
