import { randomBytes } from 'node:crypto';
import { sql } from 'kysely';
import { codeHash, type Pack, type Packed } from '../../core/checkpoint/offline';
import { failing, holdsOf } from '../../core/checkpoint/rule';
import { canProve, keyBytes, publicKeyOf } from '../../core/base/proof';
import type { Signed } from '../../core/checkpoint/recognise';
import { purposeOf } from '../../core/payload/purposes';
import { contentOf, type Stamp } from '../../core/payload/stamp';
import { columnsIn } from '../../core/records/parts';
import { clock, type Database, Memo, Refusal, oncePerProcess } from '../platform';
import { cameIn, checkpointAt, eachRecord, shownOf, titleOf, type CheckpointAt } from './rows';

/** Most records that a device holds. */
const mostHeld = 20_000;

/**
 * Devices that ask within so many ms get the same data, salt included: the cost of making it grows
 * with the list.
 */
const givenFor = 15_000;
const packs = oncePerProcess('checkpoints.packs', () => new Memo<Pack>(10, givenFor));

/**
 * Everything a device needs to work offline. @throws Refusal if the lists are longer than a device
 * holds
 */
export async function packFor(db: Database, checkpoint: number): Promise<Pack> {
  const at = await checkpointAt(db, checkpoint);
  return packs.get(db, `${at.id} ${at.state}`, () => makePack(db, at));
}

async function makePack(db: Database, at: CheckpointAt): Promise<Pack> {
  const { rows } = await sql<{ n: number }>`
    select count(*)::int as n from records
      where list_id = any(${at.taken.map((t) => t.id)}::int[])`.execute(db);
  if (rows[0]!.n > mostHeld)
    throw new Refusal(
      `The lists of this checkpoint have ${rows[0]!.n.toLocaleString('en')} records. Offline, a device can hold up to ${mostHeld.toLocaleString('en')}.`,
      413,
    );
  const salt = randomBytes(12).toString('base64url');
  const { rows: passes } = await sql<{
    record_id: number;
    at: Date;
    session: string | null;
    where: string;
  }>`
    select s.record_id, s.at, s.session, c.name as where from checkpoint_scans s
      join checkpoints c on c.id = s.checkpoint_id
    where coalesce(c.circle, c.id) = ${at.circle} and s.record_id is not null and ${cameIn}
      order by s.at desc`.execute(db);
  const by = new Map<number, Packed['passes']>();
  for (const { record_id, ...pass } of passes)
    by.set(record_id, [...(by.get(record_id) ?? []), { ...pass, at: pass.at.getTime() }]);
  const records: Packed[] = [];
  for (const taken of at.taken) {
    const { take, columns, stamps } = taken;
    const holds = holdsOf(at.rule, take);
    const fixed = holds.filter((hold) => hold.is !== 'session');
    const session = holds.find((hold) => hold.is === 'session');
    await eachRecord(db, taken.id, (record, values) => {
      const codes = stamps.flatMap((stamp) => {
        const content = contentOf(stamp, values);
        return content.state === 'said' ? [codeHash(salt, content.payload)] : [];
      });
      if (codes.length === 0) return;
      const bad = failing(fixed, values, columns, null);
      records.push({
        title: titleOf(columns, values),
        shown: shownOf(taken, values),
        codes,
        ...(bad ? { bad: bad.words } : {}),
        ...(session ? { sessions: values[session.column] ?? '' } : {}),
        passes: by.get(record) ?? [],
      });
    });
  }
  const { often, session, opens, ends } = at.rule;
  return {
    salt,
    name: at.name,
    rule: { often, session, opens, ends },
    records,
    signed: at.taken.flatMap(({ stamps }) => stamps.flatMap(signedBy)),
    made: clock.now(),
  };
}

/**
 * What a device needs to check the proofs of a stamp; undefined if they are not signed, or prove
 * values that are not in the code.
 */
function signedBy({ does, proofKind, proofKey, parts, spaces, fields }: Stamp): Signed[] {
  if (!purposeOf(does).proves || proofKind !== 'public' || !proofKey || !canProve(proofKey))
    return [];
  const signed = columnsIn(fields?.signed ?? []);
  const inCode = new Set(columnsIn(parts));
  if (signed.length === 0 || !signed.every((id) => inCode.has(id))) return [];
  return [{ parts, spaces, signed, publicKey: publicKeyOf(keyBytes(proofKey)) }];
}
