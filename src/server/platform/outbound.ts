import { lookup as resolve } from 'node:dns';
import { request as plainRequest, type IncomingMessage, type RequestOptions } from 'node:http';
import { request as secureRequest } from 'node:https';
import { isIP } from 'node:net';
import { pipeline } from 'node:stream/promises';
import type { DoorState } from '../../core/payload/door';
import { isPublicAddress } from '../../core/payload/public-address';

/** The answer of an address. */
export interface DoorAnswer {
  state: DoorState;
  status: number | null;
  leadsTo: string | null;
}

export interface AskOptions {
  /** Addresses of this machine and of private networks may be asked. */
  privateToo: boolean;
  /** Ports of this computer that stand in for hosts. */
  standIns: Readonly<Record<string, number>>;
  /** In ms. */
  timeLimit?: number;
}

class NotPublic extends Error {}

/** The body: so many bytes, in parts. */
interface Sent {
  /** POST by default. */
  method?: string;
  parts: Iterable<Uint8Array> | AsyncIterable<Uint8Array>;
  size: number;
  headers: Record<string, string>;
}

const signIn = /(^|[/?&=._-])(log-?in|sign-?in|sso|auth|oauth2?|session)([/?&=._-]|$)/i;

/**
 * Opens a web address without following redirects. The name is resolved and checked in the same
 * step as the connection, so that it cannot change in between.
 * @throws NotPublic for a private address that is not allowed; Error if nothing answers
 */
function open(
  address: string,
  { privateToo, standIns, timeLimit = 8000 }: AskOptions,
  sent?: Sent,
): Promise<{ url: URL; response: IncomingMessage }> {
  const url = new URL(address);
  const standIn = standIns[url.host.toLowerCase()];
  const literal = url.hostname.replace(/^\[|\]$/g, '');
  if (standIn === undefined && !privateToo && isIP(literal) && !isPublicAddress(literal))
    return Promise.reject(new NotPublic());
  const options: RequestOptions = {
    method: sent ? (sent.method ?? 'POST') : 'GET',
    headers: {
      'user-agent': 'hand-stamp',
      accept: '*/*',
      host: url.host,
      ...sent?.headers,
      ...(sent ? { 'content-length': sent.size } : {}),
    },
    timeout: timeLimit,
    signal: AbortSignal.timeout(timeLimit),
    agent: false,
    ...(standIn === undefined
      ? {
          lookup: (host, how, done) =>
            resolve(host, { ...how, all: true }, (error, found) => {
              const first = found?.[0];
              if (error || !first) done(error ?? new Error('not found'), '', 4);
              else if (!privateToo && found.some((a) => !isPublicAddress(a.address)))
                done(new NotPublic(), '', 4);
              else if (typeof how === 'object' && how.all) done(null, found);
              else done(null, first.address, first.family);
            }),
        }
      : {}),
  };
  const ask = standIn === undefined && url.protocol === 'https:' ? secureRequest : plainRequest;
  const target =
    standIn === undefined
      ? url
      : new URL(`http://127.0.0.1:${standIn}${url.pathname}${url.search}`);
  return new Promise((answer, refuse) => {
    const asking = ask(target, options, (response) => answer({ url, response }));
    asking.on('error', refuse);
    asking.on('timeout', () => asking.destroy(new Error('timeout')));
    if (sent) pipeline(sent.parts, asking).catch(refuse);
    else asking.end();
  });
}

/** Asks a web address for its status once, without reading the body. */
export async function askAddress(address: string, options: AskOptions): Promise<DoorAnswer> {
  try {
    const { url, response } = await open(address, options);
    response.destroy();
    const status = response.statusCode ?? 0;
    const leadsTo = response.headers.location ? new URL(response.headers.location, url).href : null;
    return { state: stateOf(status, leadsTo), status, leadsTo };
  } catch (error) {
    return {
      state: error instanceof NotPublic ? 'not-asked' : 'no-answer',
      status: null,
      leadsTo: null,
    };
  }
}

/** Characters of an answer that are kept. */
const mostAnswer = 500;

/**
 * Calls another program without following redirects. @returns its status and the beginning of its
 * answer, or in words why there is none
 */
export async function postTo(
  address: string,
  options: AskOptions,
  body: string,
  headers: Record<string, string>,
): Promise<{ status: number | null; words: string }> {
  try {
    const bytes = Buffer.from(body);
    const { response } = await open(address, options, {
      parts: [bytes],
      size: bytes.length,
      headers,
    });
    let text = '';
    for await (const part of response as AsyncIterable<Buffer>) {
      text += part.toString();
      if (text.length > mostAnswer) break;
    }
    response.destroy();
    const words = text.replaceAll('\0', '').slice(0, mostAnswer);
    return { status: response.statusCode ?? null, words };
  } catch (error) {
    return {
      status: null,
      words: error instanceof NotPublic ? notPublicWords : 'No server answers there.',
    };
  }
}
const notPublicWords = 'This address is not public, and Settings allow only public servers.';

/** Why a device was not reached. */
export class Unreached extends Error {
  constructor(
    message: string,
    /** Trying again makes no difference. */
    readonly lasting = false,
  ) {
    super(message);
  }
}

/**
 * Sends bytes to a device and reads all that it answers, up to a size. @throws Unreached in words
 */
export async function exchange(
  address: string,
  options: AskOptions,
  sent: Sent,
  mostBytes: number,
): Promise<{ status: number; bytes: Buffer }> {
  try {
    const { response } = await open(address, options, sent);
    const parts: Buffer[] = [];
    let size = 0;
    for await (const part of response as AsyncIterable<Buffer>) {
      size += part.length;
      if (size > mostBytes) {
        response.destroy();
        throw new Unreached('its answer is far too large', true);
      }
      parts.push(part);
    }
    return { status: response.statusCode ?? 0, bytes: Buffer.concat(parts) };
  } catch (error) {
    if (error instanceof Unreached) throw error;
    if (error instanceof NotPublic) throw new Unreached(notPublicWords, true);
    const { code = '' } = error as NodeJS.ErrnoException;
    if (/CERT|SELF_SIGNED|ALTNAME|SSL|TLS/.test(code))
      throw new Unreached('its certificate is not trusted here', true);
    throw new Unreached('it does not answer');
  }
}

const mostPictureBytes = 10 * 1024 * 1024;

/** Fetches a picture from its address. @throws Error in the user's words */
export async function askPicture(address: string, options: AskOptions): Promise<Buffer> {
  const { response } = await open(address, options).catch((error: unknown) => {
    throw new Error(
      error instanceof NotPublic ? 'it is not a public address' : 'no server answers there',
    );
  });
  if (response.statusCode !== 200) {
    response.destroy();
    throw new Error(`the server answers ${response.statusCode}`);
  }
  const parts: Buffer[] = [];
  let size = 0;
  for await (const part of response as AsyncIterable<Buffer>) {
    size += part.length;
    if (size > mostPictureBytes) {
      response.destroy();
      throw new Error('it is larger than 10 MB');
    }
    parts.push(part);
  }
  return Buffer.concat(parts);
}

function stateOf(status: number, leadsTo: string | null): DoorState {
  if (status === 401 || status === 403 || status === 407) return 'sign-in';
  if (status >= 300 && status < 400 && leadsTo)
    return signIn.test(new URL(leadsTo).pathname + new URL(leadsTo).search)
      ? 'sign-in'
      : 'redirected';
  if (status === 404 || status === 410) return 'not-found';
  if (status >= 400) return 'fails';
  return 'opens';
}
