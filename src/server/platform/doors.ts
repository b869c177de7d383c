import { ourAddresses } from './addresses';
import { configuration } from './configuration';
import type { Database } from './db';
import { Refusal } from './refusal';

/** Hosts that Hand Stamp is always reached by: this machine's own. */
const loopback = new Set(['localhost', '127.0.0.1', '[::1]']);

/**
 * Whether the `Host` of a request is a name of ours. A foreign name that resolves to this computer
 * is not.
 */
function isOurHost(host: string): boolean {
  const name = /^(\[[^\]]*\]|[^:]*)(:\d+)?$/.exec(host.trim().toLowerCase())?.[1] ?? '';
  const { HAND_STAMP_HOSTS, HAND_STAMP_URL } = configuration();
  return (
    loopback.has(name) ||
    (HAND_STAMP_HOSTS ?? []).includes(name) ||
    (HAND_STAMP_URL !== undefined && new URL(HAND_STAMP_URL).hostname === name)
  );
}

/** The same, or a name under which Settings say that it is reached. */
export async function isKnownHost(db: Database, host: string): Promise<boolean> {
  if (isOurHost(host)) return true;
  const { base, links, former } = await ourAddresses(db);
  const name = host.trim().toLowerCase().replace(/:\d+$/, '');
  return [base, links, ...former].some((origin) => new URL(origin).hostname === name);
}

/**
 * Whether a request comes from this computer itself, by one of its own names and without a proxy; a
 * proxy says for whom it asks.
 */
export function isOwnMachine(headers: Headers): boolean {
  const name = /^(\[[^\]]*\]|[^:]*)(:\d+)?$/.exec((headers.get('host') ?? '').toLowerCase())?.[1];
  const through = (headers.get('x-forwarded-for') ?? '').split(',').map((part) => part.trim());
  return (
    name !== undefined &&
    loopback.has(name) &&
    headers.get('forwarded') === null &&
    through.every((address) => address === '' || ownAddress.test(address))
  );
}
const ownAddress = /^(127(\.\d+){3}|::1|::ffff:127(\.\d+){3})$/;

/**
 * Lets in requests of our own pages, addresses that were typed, and programs that are not browsers.
 * Refuses every request that a page of another origin makes a browser send, even one on this
 * computer (Fetch Metadata; RFC 6454 for browsers without it).
 * @throws Refusal 421 for a foreign `Host`, 403 for a foreign page
 */
export async function checkDoor(db: Database, request: Request): Promise<void> {
  const host = request.headers.get('host') ?? new URL(request.url).host;
  if (!(await isKnownHost(db, host)))
    throw new Refusal(
      'Hand Stamp does not know this host name. An administrator can add it to HAND_STAMP_HOSTS.',
      421,
    );
  const site = request.headers.get('sec-fetch-site');
  const reads = request.method === 'GET' || request.method === 'HEAD';
  const foreign =
    site === null
      ? isForeign(request.headers.get('origin'), host)
      : !(site === 'same-origin' || (site === 'none' && reads));
  if (foreign)
    throw new Refusal(
      'This request came from a page outside Hand Stamp, so nothing was done. Open Hand Stamp itself and try again there.',
      403,
    );
}

function isForeign(origin: string | null, host: string): boolean {
  if (origin === null) return false;
  try {
    return new URL(origin).host !== host.trim().toLowerCase();
  } catch {
    // "null": a page that hides its origin
    return true;
  }
}
