import { lookup as resolve } from 'node:dns';
import { request as plainRequest, type RequestOptions } from 'node:http';
import { request as secureRequest } from 'node:https';
import { isIP } from 'node:net';
import { isPublicAddress, type DoorState } from '../core/payload/door';

/** What an address said when it was asked for. */
export interface DoorAnswer {
  state: DoorState;
  status: number | null;
  leadsTo: string | null;
}

export interface AskOptions {
  /** Addresses of this machine and of private networks may be asked. */
  privateToo: boolean;
  /** Ports of this machine that stand in for hosts. */
  standIns: Readonly<Record<string, number>>;
  /** In ms. */
  timeLimit?: number;
}

class NotPublic extends Error {}

const signIn = /(^|[/?&=._-])(log-?in|sign-?in|sso|auth|oauth2?|session)([/?&=._-]|$)/i;

/**
 * Asks a web address for its state, once, without following where it leads and without reading what it sends.
 * The name is resolved and checked in the same step in which it is connected to, so that it cannot change in between.
 */
export async function askAddress(address: string, { privateToo, standIns, timeLimit = 8000 }: AskOptions): Promise<DoorAnswer> {
  let url: URL;
  try {
    url = new URL(address);
  } catch {
    return { state: 'no-answer', status: null, leadsTo: null };
  }
  const standIn = standIns[url.host.toLowerCase()];
  if (
    standIn === undefined &&
    !privateToo &&
    isIP(url.hostname.replace(/^\[|\]$/g, '')) &&
    !isPublicAddress(url.hostname.replace(/^\[|\]$/g, ''))
  )
    return { state: 'not-asked', status: null, leadsTo: null };
  const options: RequestOptions = {
    method: 'GET',
    headers: { 'user-agent': 'hand-stamp-door-check', accept: 'text/html,*/*;q=0.5', host: url.host },
    timeout: timeLimit,
    signal: AbortSignal.timeout(timeLimit),
    agent: false,
    ...(standIn === undefined
      ? {
          lookup: (host, how, done) =>
            resolve(host, { ...how, all: true }, (error, found) => {
              const first = found?.[0];
              if (error || !first) done(error ?? new Error('not found'), '', 4);
              else if (!privateToo && found.some((a) => !isPublicAddress(a.address))) done(new NotPublic(), '', 4);
              else if (typeof how === 'object' && how.all) done(null, found);
              else done(null, first.address, first.family);
            }),
        }
      : {}),
  };
  const ask = standIn === undefined && url.protocol === 'https:' ? secureRequest : plainRequest;
  const target = standIn === undefined ? url : new URL(`http://127.0.0.1:${standIn}${url.pathname}${url.search}`);
  return new Promise<DoorAnswer>((answer) => {
    const asking = ask(target, options, (response) => {
      response.destroy();
      const status = response.statusCode ?? 0;
      const leadsTo = response.headers.location ? new URL(response.headers.location, url).href : null;
      answer({ state: stateOf(status, leadsTo), status, leadsTo });
    });
    asking.on('error', (error) => answer({ state: error instanceof NotPublic ? 'not-asked' : 'no-answer', status: null, leadsTo: null }));
    asking.on('timeout', () => asking.destroy(new Error('timeout')));
    asking.end();
  });
}

function stateOf(status: number, leadsTo: string | null): DoorState {
  if (status === 401 || status === 403 || status === 407) return 'sign-in';
  if (status >= 300 && status < 400 && leadsTo)
    return signIn.test(new URL(leadsTo).pathname + new URL(leadsTo).search) ? 'sign-in' : 'redirected';
  if (status === 404 || status === 410) return 'not-found';
  if (status >= 400) return 'fails';
  return 'opens';
}
