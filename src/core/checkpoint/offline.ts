import { sha256 } from '@noble/hashes/sha2';
import * as z from 'zod';
import { closedWords, passBefore, type Answered, type Pass } from './answer';
import { provenBy, signedSchema, swappedCase } from './recognise';
import { ruleSchema, sessionAt, valuesIn } from './rule';

/**
 * What a device stores of a record so that it can answer offline: what it shows of it, and nothing
 * else.
 */
const packedSchema = z.object({
  title: z.string(),
  shown: z.array(z.tuple([z.string(), z.string()])),
  /** Salted hashes of its codes. */
  codes: z.array(z.string()),
  /** What keeps it out whatever the session is, in words. */
  bad: z.string().optional(),
  /** Its sessions, if they decide. */
  sessions: z.string().optional(),
  /** Where and when it was let in: ms since 1970, session, checkpoint. */
  passes: z.array(z.object({ at: z.number(), session: z.string().nullable(), where: z.string() })),
});
export type Packed = z.infer<typeof packedSchema>;

export const packSchema = z.object({
  /** Base64url. */
  salt: z.string(),
  name: z.string(),
  rule: ruleSchema.pick({ often: true, session: true, opens: true, ends: true }),
  records: z.array(packedSchema),
  /** Stamps whose proofs the device checks by itself. */
  signed: z.array(signedSchema).default([]),
  /** When it was made, in ms since 1970. */
  made: z.number(),
});
export type Pack = z.infer<typeof packSchema>;

/** A code as a device holds it: the first 96 bits of SHA-256 over salt and payload. */
export function codeHash(salt: string, payload: string): string {
  const digest = sha256(new TextEncoder().encode(`${salt}\n${payload}`)).subarray(0, 12);
  return btoa(String.fromCharCode(...digest))
    .replace(/\+/g, '-')
    .replace(/\//g, '_');
}

/** Which record of a pack each code is of. */
export function packIndex(pack: Pack): Map<string, Packed> {
  return new Map(pack.records.flatMap((record) => record.codes.map((code) => [code, record])));
}

/**
 * The answer of a device that is offline: *let in* if it knows the code and no rule is against it;
 * *already in* and *not allowed now* as far as it knows; *altered* if a proof that it can check is
 * wrong; *cannot check* for everything else, since a record may have been added since.
 */
export function answerApart(
  pack: Pack,
  index: ReadonlyMap<string, Packed>,
  payload: string,
  now: number,
  clock: (at: number) => string,
): Answered & { record?: Packed } {
  const session = sessionAt(pack.rule.session, now);
  const record =
    index.get(codeHash(pack.salt, payload)) ?? index.get(codeHash(pack.salt, swappedCase(payload)));
  if (!record) {
    const proven = provenBy(pack.signed, payload);
    if (proven === false) return { answer: 'altered', why: 'its proof is wrong', session };
    return {
      answer: 'not-certain',
      why: proven
        ? 'its proof is right, but this device does not have it: it is newer, or was removed from the list'
        : 'this device does not know the code and is offline',
      session,
    };
  }
  const not = (why: string) => ({ answer: 'not-now' as const, why, session, record });
  const closed = closedWords(pack.rule, now, clock);
  if (closed) return not(closed);
  if (record.bad !== undefined) return not(record.bad);
  if (record.sessions !== undefined || pack.rule.often === 'each-session') {
    if (session === null) return not('no session is on now');
    const low = session.toLocaleLowerCase();
    const own = record.sessions;
    if (
      own !== undefined &&
      ![own.trim(), ...valuesIn(own)].some((one) => one.toLocaleLowerCase() === low)
    )
      return not(own.trim() === '' ? 'it has no session' : `it belongs to ${own}`);
  }
  const before: Pass | undefined = passBefore(pack.rule, record.passes, session);
  if (before)
    return {
      answer: 'was-here',
      why: `${clock(before.at)}${before.where === pack.name ? '' : `, ${before.where}`}`,
      session,
      record,
    };
  return { answer: 'comes-in', why: '', session, record };
}

/**
 * A time of a device's clock, in server time.
 * @param offset by how much the server's clock is ahead of the device's, in ms
 * @param now in server time, in ms since 1970; no scan is later
 */
export const corrected = (at: number, offset: number, now: number): number =>
  Math.min(now, at + offset);
