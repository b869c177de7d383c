import { createHash } from 'node:crypto';
import { sql } from 'kysely';
import type { SignInView } from '../../contract';
import { clock, configuration, type Database, placeOf, randomText, Refusal } from '../platform';
import { type Auth, authAt, originOf, signed, signInSecret } from './auth';
import { note } from './journal';
import { checkPassword } from './passwords';
import { withoutWelcomes } from './welcomes';
import { takeTry, triesOf } from './tries';
import { cookieIn, outCookie, type Person, standInsFor } from './who';

/** The input of these functions: a request, and the headers of its answer. */
export interface AtTheDoor {
  db: Database;
  request: Request;
  answerHeaders: Headers;
  number: string;
}

const wrongWords = 'The email address or the password is wrong. Try again, or set a new password.';
/**
 * Wrong tries in a quarter of an hour: for one email address from one place, and from one place.
 * After `many` for an email address from everywhere, each further place has `few`: tries from many
 * places are slowed, and cannot shut out the owner of the address.
 */
const mostTries = { person: 10, place: 100, many: 50, few: 3 };

const secondsInDay = 24 * 3600;

/**
 * Lets better-auth do something, and adds its cookies to our answer. Its errors become our words.
 */
async function done(
  { request, db, answerHeaders }: AtTheDoor,
  work: (api: Auth['api']) => Promise<Response>,
  words: string,
  status = 401,
): Promise<Record<string, unknown>> {
  const { api } = await authAt(originOf(request), db);
  let response: Response;
  try {
    response = await work(api);
  } catch (error) {
    const { APIError } = await import('better-auth/api');
    if (error instanceof APIError) throw new Refusal(words, status);
    throw error;
  }
  if (!response.ok) {
    if (response.status >= 500) throw new Error(`signing in failed with ${response.status}`);
    throw new Refusal(
      response.status === 429 ? 'Too many attempts. Wait a few minutes, then try again.' : words,
      response.status === 429 ? 429 : status,
    );
  }
  for (const cookie of response.headers.getSetCookie()) answerHeaders.append('set-cookie', cookie);
  return ((await response.json().catch(() => ({}))) ?? {}) as Record<string, unknown>;
}

/** A person who signs in is no longer the demo's visitor who signed out. */
const forgetOut = ({ answerHeaders }: AtTheDoor): void =>
  answerHeaders.append('set-cookie', `${outCookie}=; Path=/; Max-Age=0; HttpOnly; SameSite=Lax`);

/**
 * Signs a person in by email address and password. An unknown person, a deactivated one and a wrong
 * password get the same answer, in words and in time.
 * @throws Refusal 401, or 429 after too many tries
 */
export async function signInByPassword(
  at: AtTheDoor,
  { email, password }: { email: string; password: string },
): Promise<{ next: 'in' | 'second' }> {
  const { db, request } = at;
  const ofPlace = await takeTry(db, 'place', placeOf(request), mostTries.place);
  const wide = await takeTry(db, 'sign-in', email, Infinity);
  const many = (await triesOf(db, 'sign-in', email)) > mostTries.many;
  // a browser in which they signed in before keeps its own count, whatever others try
  const known = await knownAs(request, email);
  const ofPerson = await takeTry(
    db,
    'sign-in-from',
    `${email} ${known ?? placeOf(request)}`,
    known === undefined && many ? mostTries.few : mostTries.person,
  );
  const person = await db
    .selectFrom('people')
    .select(['id', 'name', 'ended'])
    .where('email', '=', email)
    .executeTakeFirst();
  const told = (what: string) =>
    note(db, { person: undefined, what, about: email, request: at.number }, 'refused');
  try {
    const answer = await done(
      at,
      (api) =>
        api.signInEmail({
          // for a deactivated person, no password is right
          body: { email, password: person?.ended ? randomText(30) : password },
          headers: request.headers,
          asResponse: true,
        }),
      wrongWords,
    );
    await Promise.all([ofPlace.back(), wide.back(), ofPerson.forgive()]);
    at.answerHeaders.append('set-cookie', await knownCookie(request, email));
    if (answer.twoFactorRedirect) return { next: 'second' };
    forgetOut(at);
    await note(db, { person, what: 'Signed in with a password', about: email, request: at.number });
    return { next: 'in' };
  } catch (error) {
    if (error instanceof Refusal) await told('Tried to sign in');
    throw error;
  }
}

const knownName = 'hand-stamp.known';

/**
 * The name by which a browser is recognized in which somebody signed in before; undefined for
 * others.
 */
async function knownAs(request: Request, email: string): Promise<string | undefined> {
  const given = cookieIn(request.headers, knownName);
  if (given === undefined || given.length > 200) return undefined;
  const name = given.split('.')[0]!;
  return (await knownValue(name, email)) === given ? name : undefined;
}

const knownValue = async (name: string, email: string): Promise<string> =>
  `${name}.${Buffer.from(await signed(`known:${name}:${email}`, signInSecret())).toString('base64url')}`;

async function knownCookie(request: Request, email: string): Promise<string> {
  const value =
    (await knownAs(request, email)) === undefined
      ? await knownValue(randomText(20), email)
      : cookieIn(request.headers, knownName)!;
  const secure = originOf(request).startsWith('https:') ? '; Secure' : '';
  return `${knownName}=${value}; Path=/; Max-Age=${180 * secondsInDay}; HttpOnly; SameSite=Lax${secure}`;
}

/** Whether a code of a second factor was not used before; it counts as used from now on. */
async function spendCode(db: Database, person: string, code: string): Promise<boolean> {
  const hash = createHash('sha256').update(`${person} ${code}`).digest('base64url');
  await db
    .deleteFrom('used_codes')
    .where('at', '<', sql<Date>`now() - interval '10 minutes'`)
    .execute();
  const { numInsertedOrUpdatedRows } = await db
    .insertInto('used_codes')
    .values({ person_id: person, code_hash: hash })
    .onConflict((c) => c.doNothing())
    .executeTakeFirstOrThrow();
  return numInsertedOrUpdatedRows === 1n;
}

const codeWords =
  'The code is wrong or has expired. If you waited more than a few minutes, sign in again.';

/** The second factor, after the password was right. A code works once. @throws Refusal */
export async function signInBySecond(
  at: AtTheDoor,
  { code, kind }: { code: string; kind: 'app' | 'spare' },
): Promise<void> {
  const tried = await takeTry(at.db, 'place', placeOf(at.request), mostTries.place);
  const asked = { headers: at.request.headers, asResponse: true as const };
  const typed = code.replace(/\s/g, '');
  const answer = await done(
    at,
    (api) =>
      kind === 'app'
        ? api.verifyTOTP({ body: { code: typed }, ...asked })
        : api.verifyBackupCode({ body: { code }, ...asked }),
    codeWords,
  );
  const user = answer.user as { id: string; name: string } | undefined;
  if (kind === 'app' && user && !(await spendCode(at.db, user.id, typed))) {
    at.answerHeaders.delete('set-cookie');
    await at.db.deleteFrom('sessions').where('token', '=', String(answer.token)).execute();
    throw new Refusal(
      'This code was already used. Each code works once: wait for the next one in your app.',
      401,
    );
  }
  await tried.back();
  forgetOut(at);
  await note(at.db, {
    person: user,
    what: kind === 'app' ? 'Signed in with a sign-in code' : 'Signed in with a backup code',
    request: at.number,
  });
}

export async function passkeyOptions(at: AtTheDoor): Promise<Record<string, unknown>> {
  return done(
    at,
    (api) =>
      api.generatePasskeyAuthenticationOptions({
        headers: at.request.headers,
        asResponse: true,
      }),
    'Passkeys cannot be used here. Sign in with your email address and password.',
  );
}

export async function signInByPasskey(at: AtTheDoor, response: unknown): Promise<void> {
  const tried = await takeTry(at.db, 'place', placeOf(at.request), mostTries.place);
  const answer = await done(
    at,
    (api) =>
      api.verifyPasskeyAuthentication({
        body: { response: response as never },
        headers: withOrigin(at.request),
        asResponse: true,
      }),
    'This passkey belongs to no account here. Sign in with your email address and password.',
  );
  await tried.back();
  forgetOut(at);
  const { userId } = (answer.session ?? {}) as { userId?: string };
  const person = await at.db
    .selectFrom('people')
    .select(['id', 'name'])
    .where('id', '=', userId ?? '')
    .executeTakeFirst();
  await note(at.db, { person, what: 'Signed in with a passkey', request: at.number });
}

/** the passkey library needs the origin of the request; the gate has checked that it is ours */
function withOrigin(request: Request): Headers {
  const headers = new Headers(request.headers);
  if (!headers.has('origin')) headers.set('origin', originOf(request));
  return headers;
}

export async function signOut(at: AtTheDoor): Promise<void> {
  await done(
    at,
    (api) =>
      api.signOut({
        headers: at.request.headers,
        asResponse: true,
      }),
    'You are already signed out there. Reload the page.',
  ).catch((error: unknown) => {
    if (!(error instanceof Refusal)) throw error;
  });
  if (configuration().HAND_STAMP_VISITOR)
    at.answerHeaders.append(
      'set-cookie',
      `${outCookie}=yes; Path=/; Max-Age=${secondsInDay}; HttpOnly; SameSite=Lax`,
    );
}

/** A visitor of the demo becomes another of its people. @throws Refusal 404 outside the demo */
export async function becomeStandIn(at: AtTheDoor, person: string): Promise<void> {
  const people = await standInsFor(at.db, at.request.headers);
  if (!people.some((p) => p.id === person))
    throw new Refusal('This no longer exists. It may have been deleted.', 404);
  await openSession(at, person);
  forgetOut(at);
}

/** A session for a person whose identity is proven. */
export async function openSession(at: AtTheDoor, person: string): Promise<void> {
  const auth = await authAt(originOf(at.request), at.db);
  const context = await auth.$context;
  const session = await context.internalAdapter.createSession(person, undefined, {
    userAgent: at.request.headers.get('user-agent')?.slice(0, 300) ?? '',
  });
  const { name, attributes } = context.authCookies.sessionToken;
  at.answerHeaders.append(
    'set-cookie',
    signedCookie(name, await signed(session.token, context.secret), attributes),
  );
}

const signedCookie = (
  name: string,
  value: string,
  { secure, maxAge }: { secure?: boolean; maxAge?: number },
): string =>
  `${name}=${value}; Path=/; HttpOnly; SameSite=Lax${maxAge ? `; Max-Age=${maxAge}` : ''}${secure ? '; Secure' : ''}`;

/** Where a person is signed in, and by which method. */
export async function viewSignIn({ db, request }: AtTheDoor, person: Person): Promise<SignInView> {
  const sessions = await db
    .selectFrom('sessions')
    .select(['id', 'user_agent', 'created_at', 'updated_at'])
    .where('person_id', '=', person.id)
    .where('expires_at', '>', clock.date())
    .orderBy('created_at', 'desc')
    .execute();
  const passkeys = await db
    .selectFrom('passkeys')
    .select(['id', 'name', 'created_at'])
    .where('person_id', '=', person.id)
    .orderBy('created_at')
    .execute();
  const { two_factor_enabled } = await db
    .selectFrom('people')
    .select('two_factor_enabled')
    .where('id', '=', person.id)
    .executeTakeFirstOrThrow();
  const { hostname, protocol } = new URL(originOf(request));
  return {
    sessions: sessions.map((s) => ({
      id: s.id,
      agent: s.user_agent ?? '',
      begun: s.created_at.toISOString(),
      used: s.updated_at.toISOString(),
      here: s.id === person.session,
    })),
    passkeys: passkeys.map((p) => ({
      id: p.id,
      name: p.name ?? 'a passkey',
      made: p.created_at?.toISOString() ?? null,
    })),
    secondFactor: two_factor_enabled,
    passkeysHere:
      hostname === 'localhost' || (protocol === 'https:' && !/^[\d.]+$|^\[/.test(hostname)),
  };
}

export async function endSessions(
  db: Database,
  person: Person,
  which: { id: string } | 'others',
): Promise<void> {
  let query = db.deleteFrom('sessions').where('person_id', '=', person.id);
  query =
    which === 'others'
      ? query.where('id', '!=', person.session ?? '')
      : query.where('id', '=', which.id);
  await query.execute();
}

/** @throws Refusal if the current password is wrong, or the new one is refused */
export async function changePassword(
  at: AtTheDoor,
  person: Person,
  { now, next }: { now: string; next: string },
): Promise<void> {
  await checkPassword(next, [person.name, person.email]);
  const { forgive } = await takeTry(at.db, 'password', person.id, mostTries.person);
  await done(
    at,
    (api) =>
      api.changePassword({
        body: { currentPassword: now, newPassword: next, revokeOtherSessions: true },
        headers: at.request.headers,
        asResponse: true,
      }),
    'Your current password is wrong. Try again.',
    400,
  );
  await forgive();
  await withoutWelcomes(at.db, person.id);
}

export async function newPasskeyOptions(at: AtTheDoor): Promise<Record<string, unknown>> {
  return done(
    at,
    (api) =>
      api.generatePasskeyRegistrationOptions({
        query: {},
        headers: at.request.headers,
        asResponse: true,
      }),
    'To add a passkey, sign out and sign in again first.',
    409,
  );
}

export async function addPasskey(
  at: AtTheDoor,
  { name, response }: { name: string; response: unknown },
): Promise<void> {
  await done(
    at,
    (api) =>
      api.verifyPasskeyRegistration({
        body: { name, response: response as never },
        headers: withOrigin(at.request),
        asResponse: true,
      }),
    'The passkey could not be saved. Try again.',
    400,
  );
}

export async function removePasskey(db: Database, person: Person, id: string): Promise<void> {
  await db.deleteFrom('passkeys').where('id', '=', id).where('person_id', '=', person.id).execute();
}

/**
 * Lets better-auth do something that needs the password again. @throws Refusal if the password is
 * wrong
 */
async function withPassword(
  at: AtTheDoor,
  person: Person,
  work: (api: Auth['api']) => Promise<Response>,
): Promise<Record<string, unknown>> {
  const { forgive } = await takeTry(at.db, 'password', person.id, mostTries.person);
  const answer = await done(at, work, 'This password is wrong. Try again.', 400);
  await forgive();
  return answer;
}

export async function startSecondFactor(
  at: AtTheDoor,
  person: Person,
  password: string,
): Promise<{ address: string; spares: string[] }> {
  const { headers } = at.request;
  const answer = await withPassword(at, person, (api) =>
    api.enableTwoFactor({ body: { password }, headers, asResponse: true }),
  );
  return { address: String(answer.totpURI), spares: answer.backupCodes as string[] };
}

export async function confirmSecondFactor(
  at: AtTheDoor,
  person: Person,
  code: string,
): Promise<void> {
  const typed = code.replace(/\s/g, '');
  await done(
    at,
    (api) =>
      api.verifyTOTP({
        body: { code: typed },
        headers: at.request.headers,
        asResponse: true,
      }),
    'The code is wrong or has expired. Check the clock of your phone, then enter the next code.',
    400,
  );
  await spendCode(at.db, person.id, typed);
}

export async function stopSecondFactor(
  at: AtTheDoor,
  person: Person,
  password: string,
): Promise<void> {
  const { headers } = at.request;
  await withPassword(at, person, (api) =>
    api.disableTwoFactor({ body: { password }, headers, asResponse: true }),
  );
}
