import { randomBytes } from 'node:crypto';
import { hashPassword } from 'better-auth/crypto';
import type { Right } from '../../src/core/access/rights';
import { addPerson, openSession } from '../../src/server/access';
import type { Database } from '../../src/server/platform/db';

export interface Signed {
  id: string;
  name: string;
  email: string;
  /** As a browser would send it. */
  cookie: string;
}

/** The password of everybody here. */
export const password = 'eleven grey herons';

/** Someone new who is signed in. */
export async function signedIn(
  db: Database,
  right: Right,
  origin = 'http://localhost',
): Promise<Signed> {
  process.env.HAND_STAMP_KEY ??= 'a key for tests only';
  const name = `${right}-${randomBytes(3).toString('hex')}`;
  const email = `${name}@marrambay.example`;
  const id = await addPerson(db, { name, email, right, hash: await hashPassword(password) });
  return { id, name, email, cookie: await sessionOf(db, id, origin) };
}

/** A session of a person. */
export async function sessionOf(db: Database, person: string, origin = 'http://localhost') {
  const answerHeaders = new Headers();
  const request = new Request(origin, { headers: { host: new URL(origin).host } });
  await openSession({ db, request, answerHeaders, number: 'test' }, person);
  return answerHeaders.get('set-cookie')!.split(';')[0]!;
}
