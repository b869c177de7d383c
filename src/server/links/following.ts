import { sql } from 'kysely';
import { LRUCache } from 'lru-cache';
import { RateLimiterMemory } from 'rate-limiter-flexible';
import { escapedHtml } from '../../core/base/html';
import { isLinkCode, spokenCode, tidyCode } from '../../core/links/code';
import { deviceOf } from '../../core/links/device';
import type { Leading } from '../../core/links/leading';
import { type Database, isAway, placeOf, oncePerProcess } from '../platform';
import { countScan } from './counting';
import { plainPage, strangerHeaders } from './plain-page';
import { hostsOf, leadingNow, type LinkWithRecord } from './rows';

type Followed = Pick<
  LinkWithRecord,
  'leads' | 'set_leads' | 'values' | 'state' | 'opens' | 'ends' | 'after' | 'peeks'
>;

/**
 * The latest links, for when the database is away. And our own hosts, which hardly ever change.
 */
const { known, hosts } = oncePerProcess('links.known', () => ({
  known: new LRUCache<string, Followed>({ max: 20_000 }),
  hosts: new LRUCache<string, Set<string>>({ max: 4, ttl: 5000 }),
}));

/**
 * Codes that there are not, from one address, in a minute: a person mistypes a few, who guesses
 * needs millions.
 */
const guesses = new RateLimiterMemory({ points: 30, duration: 60 });

async function found(db: Database, code: string): Promise<Followed | undefined> {
  try {
    const { rows } = await sql<Followed>`
      select l.leads, l.state, l.opens, l.ends, l.after, l.peeks, s.leads as set_leads, r.values
      from links l left join link_sets s on s.id = l.set_id
        left join records r on r.id = l.record_id where l.code = ${code}`.execute(db);
    if (rows[0]) known.set(code, rows[0]);
    return rows[0];
  } catch (error) {
    const before = isAway(error) ? known.get(code) : undefined;
    if (!before) throw error;
    return before;
  }
}

async function hostsNow(db: Database): Promise<Set<string>> {
  const held = hosts.get('all');
  if (held) return held;
  try {
    const fresh = await hostsOf(db);
    hosts.set('all', fresh);
    return fresh;
  } catch (error) {
    if (isAway(error)) return new Set();
    throw error;
  }
}

const words: Record<
  Exclude<Leading['kind'], 'leads' | 'not-yet'>,
  [status: number, title: string, text: string]
> = {
  paused: [404, 'This link is paused', 'Please try again later.'],
  ended: [410, 'This link has ended', 'What it led to is over.'],
  withdrawn: [410, 'This link no longer works', 'Its owner has withdrawn it.'],
  nowhere: [404, 'There is no page here yet', 'Please ask the person who gave you the code.'],
};

/**
 * Leads on to the target of a link (302, RFC 9110), or says in words why not. A preview shows the
 * target and is not counted as a scan.
 */
export async function followLink(
  db: Database,
  typed: string,
  request: Request,
  { preview = false } = {},
): Promise<Response> {
  const code = tidyCode(typed.trim());
  const valid = isLinkCode(code);
  const link = valid ? await found(db, code) : undefined;
  if (!link) {
    const many = await guesses.consume(placeOf(request)).then(
      () => false,
      () => true,
    );
    if (many)
      return plainPage(429, 'Too many attempts', [
        'Too many wrong codes came from here. Wait a minute, then scan the code again.',
      ]);
    return valid
      ? plainPage(404, 'This link does not exist', [
          'Scan the code again, or ask the person who gave it to you.',
        ])
      : plainPage(404, 'The code is not right', [
          'One character is wrong, or two are swapped. Compare it with the printed code, or scan the code.',
        ]);
  }
  const leading = leadingNow(link, await hostsNow(db));
  if (!preview && request.method === 'GET') countScan(db, code, deviceOf(request.headers));
  if (leading.kind === 'leads')
    return preview || link.peeks ? whereItGoes(code, leading.to) : on(leading.to);
  if (leading.kind === 'not-yet')
    return plainPage(404, 'This opens later', [`Please come back on ${dayWords(leading.opens)}.`]);
  const [status, title, text] = words[leading.kind];
  return plainPage(status, title, [text]);
}

const dayWords = (day: string): string =>
  new Date(`${day}T12:00:00Z`).toLocaleDateString('en-GB', {
    day: 'numeric',
    month: 'long',
    year: 'numeric',
    timeZone: 'UTC',
  });

const on = (to: string): Response =>
  new Response(null, { status: 302, headers: { ...strangerHeaders, location: to } });

function whereItGoes(code: string, to: string): Response {
  const { host } = new URL(to);
  return plainPage(
    200,
    `This leads to ${host}`,
    [],
    `<p><code>${escapedHtml(to)}</code></p><p><a class="go" rel="noreferrer nofollow" href="${escapedHtml(to)}">Go there</a></p><p class="small">Link ${spokenCode(code)}</p>`,
  );
}
