/**
 * `HAND_STAMP_KEY=… HAND_STAMP_NEW_KEY=… DATABASE_URL=… npm run new-key`: seals everything again
 * with another key, in one transaction, while Hand Stamp is stopped. Afterwards either everything
 * opens with the new key, or everything with the old one.
 */
import { databaseUrl, keyFits, openDatabase } from '../src/server/platform';
import { sealAnew } from '../src/server/access';

const [from, to] = [process.env.HAND_STAMP_KEY, process.env.HAND_STAMP_NEW_KEY];
if (!from || !to || to.length < 16) {
  console.error(
    '[hand-stamp] Set HAND_STAMP_KEY to the key of now and HAND_STAMP_NEW_KEY to the next one, of 16 characters at least.',
  );
  process.exit(1);
}
const { db } = openDatabase(databaseUrl(), 2);
if ((await keyFits(db, from)) === false) {
  console.error(
    '[hand-stamp] HAND_STAMP_KEY is not the key that this database was sealed with. Nothing was changed.',
  );
  process.exit(1);
}
const sealed = await sealAnew(db, from, to);
await db.destroy();
console.log(
  `[hand-stamp] Sealed anew: ${sealed} values. Start it with HAND_STAMP_KEY set to the new key from now on. Everybody signs in again.`,
);
