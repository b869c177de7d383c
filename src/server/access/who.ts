import { includes, type Right } from '../../core/access/rights';
import { clock, configuration, demoMark, isOwnMachine, type Database } from '../platform';
import { authAt, isOurs, originOf, sessionDays } from './auth';

/** Who asks. */
export interface Person {
  id: string;
  name: string;
  email: string;
  /** Their role for all of Hand Stamp; shares are added to it. */
  right: Right;
  /** The id of the session, if there is one. */
  session: string | null;
  standIn: boolean;
}

const sessionCookie = 'hand-stamp.session_token';

/**
 * Remembers that a demo's visitor signed out, so that they do not become its coordinator again.
 */
export const outCookie = 'hand-stamp.out';

export const cookieIn = (headers: Headers, name: string): string | undefined =>
  (headers.get('cookie') ?? '')
    .split(/;\s*/)
    .find((pair) => pair.startsWith(`${name}=`))
    ?.slice(name.length + 1);

/**
 * The person who asks, by the session of a request; undefined without a valid one.
 * @param renewed receives the cookies of a session whose time was extended; without it (pages
 *   cannot set cookies) the session is left as it is
 */
export async function whoAsks(
  db: Database,
  headers: Headers,
  renewed?: (cookie: string) => void,
): Promise<Person | undefined> {
  const cookie = cookieIn(headers, sessionCookie) ?? cookieIn(headers, `__Secure-${sessionCookie}`);
  if (cookie !== undefined) {
    const { api } = await authAt(originOf({ headers }), db);
    const { response: found, headers: given } = await api.getSession({
      headers,
      query: { disableRefresh: renewed === undefined, disableCookieCache: true },
      returnHeaders: true,
    });
    if (found && isOver(found.session)) {
      await db.deleteFrom('sessions').where('id', '=', found.session.id).execute();
      return undefined;
    }
    if (found && renewed) for (const each of given.getSetCookie()) renewed(each);
    if (found && !found.user.ended)
      return {
        id: found.user.id,
        name: found.user.name,
        email: found.user.email,
        right: found.user.right as Right,
        session: found.session.id,
        standIn: Boolean(found.user.standIn),
      };
  }
  // a person whose session was ended is signed out, and not a visitor; a cookie of another
  // installation on this computer means nothing
  if (cookie !== undefined && (await isOurs(cookie).catch(() => true))) return undefined;
  return visitor(db, headers);
}

/** Whether a person signed in so long ago that they have to do it again. */
const isOver = ({ createdAt }: { createdAt: Date | string }): boolean =>
  clock.now() - new Date(createdAt).getTime() > sessionDays * 24 * 3_600_000;

/**
 * A demo's visitor, who is treated as its coordinator. Only if the start command allows it, the
 * database holds the demo, the request comes from this computer by its own name, and the person is
 * one of the demo's made-up people.
 */
async function visitor(db: Database, headers: Headers): Promise<Person | undefined> {
  const email = configuration().HAND_STAMP_VISITOR;
  if (!email || cookieIn(headers, outCookie) !== undefined || !isOwnMachine(headers))
    return undefined;
  const person = await db
    .selectFrom('people')
    .select(['id', 'name', 'email', 'right'])
    .where('email', '=', email)
    .where('stand_in', '=', true)
    .where('ended', '=', false)
    .where((e) => e.exists(demoMark(db)))
    .executeTakeFirst();
  return person && { ...person, session: null, standIn: true };
}

/** The demo's people whom a visitor may become; none in a real installation. */
export async function standInsFor(
  db: Database,
  headers: Headers,
): Promise<{ id: string; name: string; email: string; right: Right }[]> {
  if (!configuration().HAND_STAMP_VISITOR || !isOwnMachine(headers)) return [];
  const people = await db
    .selectFrom('people')
    .select(['id', 'name', 'email', 'right'])
    .where('stand_in', '=', true)
    .where('ended', '=', false)
    .where((e) => e.exists(demoMark(db)))
    .execute();
  return people.sort((a, b) => (includes(a.right, b.right) ? -1 : 1));
}
