import { createHash, randomUUID } from 'node:crypto';
import { sql } from 'kysely';
import type { PeopleView } from '../../contract';
import { rightWords, type Right } from '../../core/access/rights';
import { clock, baseAddress, type Database, randomText, placeOf, Refusal } from '../platform';
import { authAt, originOf } from './auth';
import { note } from './journal';
import { checkPassword } from './passwords';
import { type AtTheDoor, openSession } from './sign-in';
import { takeTry } from './tries';
import { withoutWelcomes } from './welcomes';

/** How long a sign-in link is valid, in hours. */
const goodFor = { first: 24 * 7, invitation: 24 * 7, reset: 2 } as const;

const hashOf = (token: string): string => createHash('sha256').update(token).digest('hex');

export async function listPeople(db: Database): Promise<PeopleView> {
  const people = await db
    .selectFrom('people')
    .leftJoin('sessions', 'sessions.person_id', 'people.id')
    .select((e) => [
      'people.id',
      'people.name',
      'people.email',
      'people.right',
      'people.ended',
      'people.two_factor_enabled',
      e.fn.max('sessions.updated_at').as('seen'),
    ])
    .groupBy('people.id')
    .orderBy('people.ended')
    .orderBy('people.name')
    .execute();
  const invited = await db
    .selectFrom('welcomes')
    .selectAll()
    .where('kind', '=', 'invitation')
    .where('expires_at', '>', sql<Date>`now()`)
    .orderBy('created_at')
    .execute();
  return {
    people: people.map((p) => ({
      id: p.id,
      name: p.name,
      email: p.email,
      right: p.right,
      ended: p.ended,
      secondFactor: p.two_factor_enabled,
      seen: (p.seen as Date | null)?.toISOString() ?? null,
    })),
    invited: invited.map((w) => ({
      id: w.token_hash,
      email: w.email ?? '',
      name: w.name ?? '',
      right: w.right ?? 'viewer',
      by: w.made_by,
      until: w.expires_at.toISOString(),
    })),
  };
}

interface NewWelcome {
  kind: keyof typeof goodFor;
  email?: string;
  name?: string;
  right?: Right;
  person?: string;
  by: string;
}

/** A sign-in link that works once. Only a hash of its token is stored. */
async function makeWelcome(db: Database, origin: string, welcome: NewWelcome): Promise<string> {
  const token = randomText(32);
  await db
    .insertInto('welcomes')
    .values({
      token_hash: hashOf(token),
      kind: welcome.kind,
      email: welcome.email ?? null,
      name: welcome.name ?? null,
      right: welcome.right ?? null,
      person_id: welcome.person ?? null,
      made_by: welcome.by,
      expires_at: sql<Date>`now() + ${goodFor[welcome.kind]} * interval '1 hour'`,
    })
    .execute();
  return `${origin}/welcome/${token}`;
}

/**
 * The sign-in link for the first person of an empty installation, who becomes its administrator;
 * undefined if there is anybody. An earlier link stops working.
 */
export async function firstWelcome(db: Database, origin: string): Promise<string | undefined> {
  const somebody = await db.selectFrom('people').select('id').limit(1).executeTakeFirst();
  if (somebody) return undefined;
  await db.deleteFrom('welcomes').where('kind', '=', 'first').execute();
  return makeWelcome(db, origin, {
    kind: 'first',
    right: 'administrator',
    by: 'the start command',
  });
}

/** @throws Refusal if a person with that email address exists */
export async function invite(
  db: Database,
  origin: string,
  who: { email: string; name: string; right: Right },
  by: string,
): Promise<string> {
  const known = await db
    .selectFrom('people')
    .select(['name', 'ended'])
    .where('email', '=', who.email)
    .executeTakeFirst();
  if (known)
    throw new Refusal(
      known.ended
        ? `${known.name} had an account with this email address. Reactivate it below instead.`
        : `${known.name} already has an account with this email address.`,
      409,
    );
  // a later invitation replaces an earlier one
  await db
    .deleteFrom('welcomes')
    .where('kind', '=', 'invitation')
    .where('email', '=', who.email)
    .execute();
  return makeWelcome(db, origin, { kind: 'invitation', ...who, by });
}

export async function takeBackInvitation(db: Database, id: string): Promise<void> {
  await db
    .deleteFrom('welcomes')
    .where('token_hash', '=', id)
    .where('kind', '=', 'invitation')
    .execute();
}

/**
 * A link by which a person sets a new password. @throws Refusal if they are not an active person
 */
export async function resetFor(
  db: Database,
  origin: string,
  person: string,
  by: string,
): Promise<{ address: string; name: string; email: string }> {
  const found = await db
    .selectFrom('people')
    .select(['id', 'name', 'email'])
    .where('id', '=', person)
    .where('ended', '=', false)
    .executeTakeFirst();
  if (!found) throw new Refusal('This person no longer has an account. Reload the page.', 404);
  return {
    ...found,
    address: await makeWelcome(db, origin, { kind: 'reset', person: found.id, by }),
  };
}

/**
 * Counts that someone asked for a new password, whether or not the email address is known. @throws
 * Refusal 429 after too many
 */
export async function countForgotten({ db, request }: AtTheDoor, email: string): Promise<void> {
  await takeTry(db, 'forgotten-place', placeOf(request), 60);
  await takeTry(db, 'forgotten', email, 3);
}

/**
 * The link for a person who forgot their password; undefined if the email address is unknown. The
 * person who asks does not learn which.
 */
export async function forgottenBy(
  { db }: Pick<AtTheDoor, 'db'>,
  email: string,
): Promise<{ address: string; name: string; email: string } | undefined> {
  const found = await db
    .selectFrom('people')
    .select('id')
    .where('email', '=', email)
    .where('ended', '=', false)
    .executeTakeFirst();
  return found && resetFor(db, await baseAddress(db), found.id, 'a person who forgot the password');
}

const gone =
  'This link was already used, was cancelled, or is too old. Ask an administrator for a new one.';

export async function viewWelcome(db: Database, token: string) {
  const found = await db
    .selectFrom('welcomes')
    .leftJoin('people', 'people.id', 'welcomes.person_id')
    .select([
      'welcomes.kind',
      'welcomes.email',
      'welcomes.name',
      'welcomes.made_by',
      'people.email as hers',
      'people.name as called',
    ])
    .where('token_hash', '=', hashOf(token))
    .where('expires_at', '>', sql<Date>`now()`)
    .executeTakeFirst();
  if (!found) throw new Refusal(gone, 404);
  return {
    kind: found.kind,
    email: found.email ?? found.hers ?? '',
    name: found.name ?? found.called ?? '',
    by: found.made_by,
  };
}

/**
 * Signs in by a link that works once. The link is used up in the same transaction as the change it
 * is for, so two visits at once do not both work.
 * @throws Refusal if the link is not valid, or the password is refused
 */
export async function takeWelcome(
  at: AtTheDoor,
  token: string,
  given: { name?: string; email?: string; password: string },
): Promise<void> {
  const { db, request } = at;
  const tried = await takeTry(db, 'welcome', placeOf(request), 50);
  const shown = await viewWelcome(db, token);
  const email = shown.kind === 'first' ? given.email : shown.email;
  const name = shown.kind === 'reset' ? shown.name : (given.name ?? shown.name);
  if (!email) throw new Refusal('Enter your email address. You sign in with it.');
  if (!name) throw new Refusal('Enter your name. Others see it next to your changes.');
  await checkPassword(given.password, [name, email]);
  const { password } = await (await authAt(originOf(request), db)).$context;
  const hash = await password.hash(given.password);
  const person = await db.transaction().execute(async (tx) => {
    const used = await tx
      .deleteFrom('welcomes')
      .where('token_hash', '=', hashOf(token))
      .where('expires_at', '>', sql<Date>`now()`)
      .returning(['kind', 'right', 'person_id'])
      .executeTakeFirst();
    if (!used) throw new Refusal(gone, 404);
    if (used.kind === 'reset') {
      await setPassword(tx, used.person_id!, hash);
      await withoutSessions(tx, used.person_id!);
      await withoutWelcomes(tx, used.person_id!);
      return used.person_id!;
    }
    if (used.kind === 'first') {
      // the first person waits for nobody, and cannot be created twice
      await sql`select pg_advisory_xact_lock(hashtextextended('first person', 0))`.execute(tx);
      const somebody = await tx.selectFrom('people').select('id').limit(1).executeTakeFirst();
      if (somebody) throw new Refusal(gone, 404);
    }
    // earlier links for the same person stop working
    await tx
      .deleteFrom('welcomes')
      .where((e) => e.or([e('email', '=', email), e('kind', '=', 'first')]))
      .execute();
    return addPerson(tx, { name, email, right: used.right ?? 'viewer', hash });
  });
  await tried.back();
  await note(db, {
    person: { id: person, name },
    what: shown.kind === 'reset' ? 'Set a new password' : 'Created their account',
    about: email,
    request: at.number,
  });
  // with a second factor, the password alone is not enough: the person signs in as always
  if (shown.kind !== 'reset') await openSession(at, person);
}

/** A new person, with the hash of their password. Returns their id. */
export async function addPerson(
  tx: Database,
  {
    name,
    email,
    right,
    hash,
    standIn = false,
  }: { name: string; email: string; right: Right; hash: string; standIn?: boolean },
): Promise<string> {
  const id = randomUUID();
  await tx
    .insertInto('people')
    .values({ id, name, email, email_verified: true, right, stand_in: standIn })
    .execute();
  await setPassword(tx, id, hash);
  return id;
}

async function setPassword(tx: Database, person: string, hash: string): Promise<void> {
  await tx
    .deleteFrom('sign_ins')
    .where('person_id', '=', person)
    .where('provider_id', '=', 'credential')
    .execute();
  await tx
    .insertInto('sign_ins')
    .values({
      id: randomUUID(),
      account_id: person,
      provider_id: 'credential',
      person_id: person,
      password: hash,
      updated_at: clock.date(),
    })
    .execute();
}

/** Ends all of someone's sessions. */
async function withoutSessions(db: Database, person: string): Promise<void> {
  await db.deleteFrom('sessions').where('person_id', '=', person).execute();
}

/**
 * Changes a person's role, or deactivates them. Effective with their next request.
 * @returns what changed, for the journal
 * @throws Refusal if no administrator would be left
 */
export async function changePerson(
  db: Database,
  id: string,
  { right, ended }: { right?: Right; ended?: boolean },
): Promise<string> {
  return db.transaction().execute(async (tx) => {
    // two administrators who demote each other at the same time wait for one another
    const keepers = await tx
      .selectFrom('people')
      .select('id')
      .where('right', '=', 'administrator')
      .where('ended', '=', false)
      .orderBy('id')
      .forUpdate()
      .execute();
    const person = await tx
      .selectFrom('people')
      .select(['id', 'name', 'right', 'ended'])
      .where('id', '=', id)
      .forUpdate()
      .executeTakeFirst();
    if (!person) throw new Refusal('This person no longer has an account. Reload the page.', 404);
    const keeps = (right ?? person.right) === 'administrator' && !(ended ?? person.ended);
    if (!keeps && keepers.length === 1 && keepers[0]!.id === id)
      throw new Refusal(
        'This is the only administrator. Nothing was changed. Make someone else an administrator first.',
        409,
      );
    await tx
      .updateTable('people')
      .set({
        updated_at: clock.date(),
        ...(right === undefined ? {} : { right }),
        ...(ended === undefined ? {} : { ended }),
      })
      .where('id', '=', id)
      .execute();
    if (ended) {
      await withoutSessions(tx, id);
      await withoutWelcomes(tx, id);
    }
    return [
      person.name,
      ...(right === undefined
        ? []
        : [`${rightWords[person.right].role} to ${rightWords[right].role}`]),
      ...(ended === undefined ? [] : [ended ? 'deactivated' : 'active again']),
    ].join(', ');
  });
}
