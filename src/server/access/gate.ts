import { createHash, randomUUID, timingSafeEqual } from 'node:crypto';
import { STATUS_CODES } from 'node:http';
import { NoResultError } from 'kysely';
import * as z from 'zod';
import { StoredError } from '../../core/base/stored';
import type { KeyRight } from '../../core/access/keys';
import type { AnswerOf, Route, Routes, TakenInput, Thing } from '../../contract';
import { pastWords } from '../../core/access/journal';
import { includes, type Right } from '../../core/access/rights';
import {
  askedOf,
  bytesOf,
  checkDoor,
  configuration,
  type Database,
  database,
  holdSlot,
  IntakeError,
  isAway,
  log,
  paramsOf,
  placeOf,
  Refusal,
  RunError,
  Slots,
} from '../platform';
import { beginNote, note, type Note, settleNote } from './journal';
import { checkReferences } from './references';
import { type Device, deviceAsking } from './devices';
import { type Caller, callerOf } from './keys';
import { repeated } from './repeats';
import { measured } from './metrics';
import { type Belonging, belongingOf, rightOn } from './things';
import { whoAsks, type Person } from './who';

/** What a handler gets: the request as the contract parsed it, and who sent it. */
export interface Asked<R extends Route = Route> extends TakenInput<R> {
  request: Request;
  db: Database;
  /** The person who asks. Not looked up for routes that anyone may use. */
  person: R extends { right: 'anyone' }
    ? undefined
    : R extends { device: true }
      ? Person | undefined
      : Person;
  /** The device that asks, for routes that devices may use. */
  device: R extends { device: true } ? Device | undefined : undefined;
  /** The program that asks, for routes of programs. */
  caller: R extends { key: KeyRight } ? Caller : undefined;
  /** The name under which a change is recorded. */
  actor: string;
  /** The right of the person to the thing in the path, shares included. */
  mayHere(): Promise<Right>;
  /** The number of this request, as the log, the journal and an error page give it. */
  number: string;
  /** Headers added to the answer. */
  answerHeaders: Headers;
  /** Checks the right again, for answers that last long. */
  mayStill(): Promise<boolean>;
  /** Sets what the line in the journal is about, if the path does not say it. */
  tell(about: string): void;
}

/** What one route does after the gate has let a request in. */
export type Handler<R extends Route = Route> = (asked: Asked<R>) => Promise<AnswerOf<R>>;

/** The gate of every route of the contract. */
export type Handlers = { readonly [N in keyof Routes]: Handler<Routes[N]> };

/**
 * Requests answered at the same time: in all, for strangers, and the share of one person. A request
 * beyond that is refused at once and may come again. News streams last as long as a window is open
 * and do not count.
 */
const slots = {
  own: new Slots(150, 80),
  strangers: new Slots(250, 150),
  news: new Slots(3000, 60),
};

/** The sender before the check: by session or key, otherwise by network address. */
function whoFor(request: Request, strangers: boolean): string {
  const word = strangers
    ? request.headers.get('authorization')
    : request.headers.get('cookie')?.slice(0, 2000);
  return word ? createHash('sha256').update(word).digest('base64url') : placeOf(request);
}

/**
 * The one place that every route goes through. It checks where a request comes from, who sends it
 * and whether they may; it checks request and answer against the contract, writes the journal, and
 * turns errors into words.
 * @param work returns the JSON of the answer, or a `Response` if the contract says that the route
 *   returns files
 */
export function handle<const R extends Route>(route: R, work: Handler<R>) {
  const { strangers = false, waits = true, news = false } = route;
  const room = slots[news ? 'news' : strangers ? 'strangers' : 'own'];
  const handler = async (
    request: Request,
    context: { params: Promise<Record<string, string>> },
  ): Promise<Response> => {
    const number = randomUUID().slice(0, 13);
    const answerHeaders = new Headers({ 'x-request-id': number });
    const slot = waits ? room.take(whoFor(request, strangers)) : undefined;
    if (waits && !slot) {
      answerHeaders.set('retry-after', '2');
      return Response.json(
        { error: busyWords },
        { status: strangers ? 429 : 503, headers: answerHeaders },
      );
    }
    if (slot) holdSlot(request, slot);
    let goesOn = false;
    const done = measured(route);
    let status = 200;
    try {
      const db = database();
      if (!strangers) await checkDoor(db, request);
      const given = await context.params;
      const entry = await letIn(route, request, db, given, answerHeaders);
      const params = paramsOf(route, given);
      const input = await askedOf(route, request);
      if (entry.person) await checkReferences(db, entry.person, route, input.body, entry.where);
      const asked = {
        ...input,
        params,
        request,
        db,
        ...entry,
        actor:
          entry.person?.name ??
          entry.device?.name ??
          (entry.caller ? `the key ${entry.caller.name}` : 'nobody'),
        number,
        answerHeaders,
        mayStill: () =>
          letIn(route, request, db, given, new Headers()).then(
            () => true,
            (error: unknown) => !(error instanceof Refusal),
          ),
        tell: (about: string) => void (entry.about = about.slice(0, 300)),
      } as unknown as Asked<R>;
      const { caller } = entry;
      const result =
        route.repeats && caller
          ? await onlyOnce(route, asked, entry, caller, work)
          : await noted(route, asked, entry, () => work(asked));
      if (result instanceof Response) {
        status = result.status;
        for (const [name, value] of answerHeaders) result.headers.append(name, value);
        keptByNobody(result.headers);
        // news free their slot when the window goes
        goesOn = news && result.ok;
        return result;
      }
      if (process.env.NODE_ENV !== 'production') checkAnswer(route, result);
      const shown =
        entry.person && !includes(await entry.mayHere(), 'editor') ? withoutKeys(result) : result;
      keptByNobody(answerHeaders);
      return Response.json(shown, { headers: answerHeaders });
    } catch (error) {
      const [code, message] = explain(error);
      status = code;
      if (status >= 500)
        log.error(
          // the route as it is declared: an open part of its path may be the right to enter
          { err: error, path: route.path, request: number },
          'request failed',
        );
      if (status === 503 || status === 429) answerHeaders.set('retry-after', '2');
      // does not wait for the rest of the body
      if (status === 408) answerHeaders.set('connection', 'close');
      return refusalOf(route.path, status, message, answerHeaders, {
        ...(status >= 500 ? { request: number } : {}),
        ...(error instanceof Refusal ? error.details : {}),
      });
    } finally {
      if (!goesOn) slot?.free();
      const seconds = done(status);
      log.info(
        { request: number, method: route.method, route: route.path, status, seconds },
        'answered',
      );
    }
  };
  return Object.assign(handler, { route });
}

/** Answers about people are not cached, unless a route says that they may be. */
function keptByNobody(headers: Headers): void {
  if (!headers.has('cache-control')) headers.set('cache-control', 'no-store');
}

/**
 * An answer for people who may only read: without the sealed keys of proofs. Sealed keys tell
 * nothing, but a person with a list of their own could put one there and prove codes that are not
 * theirs.
 */
export const withoutKeys = <T>(answer: T): T =>
  JSON.parse(JSON.stringify(answer).replace(/"sealed:[^"]+"/g, `"sealed:${'A'.repeat(40)}"`)) as T;

interface LetIn {
  person: Person | undefined;
  caller?: Caller;
  device?: Device;
  mayHere(): Promise<Right>;
  /** The list or job to which the thing in the path belongs. */
  where(): Promise<Belonging>;
  about?: string;
}
const nowhere: Belonging = { list: null, jobs: [] };

/**
 * Checks the right. @throws Refusal 401 if nobody is signed in, 403 if the right is missing; the
 * same whether or not the thing exists
 */
async function letIn(
  route: Route,
  request: Request,
  db: Database,
  given: Record<string, string>,
  answerHeaders: Headers,
): Promise<LetIn> {
  // without the right, one does not learn either whether the number is possible
  const place = route.params?.safeParse(given);
  const id = place?.success ? (place.data as { id?: number }).id : undefined;
  // a device is only itself, even if a person is signed in in the same browser
  if (route.device && new URL(request.url).searchParams.get('as') === 'device') {
    const device = await deviceAsking(db, request.headers, id);
    return {
      person: undefined,
      device,
      mayHere: async () => 'scanner',
      where: async () => nowhere,
    };
  }
  const { of } = route as { of?: Thing };
  let known: Promise<Belonging> | undefined;
  const where = () =>
    (known ??= of && id !== undefined ? belongingOf(db, of, id) : Promise.resolve(nowhere));
  if (route.key) {
    const caller = await callerOf(db, request, route.key, where, of !== undefined, answerHeaders);
    return { person: undefined, caller, mayHere: async () => 'editor', where };
  }
  if (route.right === 'anyone')
    return { person: undefined, mayHere: async () => 'scanner', where: async () => nowhere };
  if (route.bearer && hasWord(request, configuration()[route.bearer]))
    return { person: undefined, mayHere: async () => 'scanner', where: async () => nowhere };
  const person = await whoAsks(db, request.headers, (cookie) =>
    answerHeaders.append('set-cookie', cookie),
  );
  if (!person) throw new Refusal('Sign in first.', 401);
  const mayHere = async () =>
    of && id !== undefined ? rightOn(db, person, of, await where()) : person.right;
  if (route.right !== 'signed-in' && !includes(person.right, route.right)) {
    const right = await mayHere();
    if (!includes(right, route.right)) throw new Refusal(mayNotWords[route.right], 403);
  }
  return { person, mayHere, where };
}

/** Whether a program sends the configured secret (RFC 6750). */
function hasWord(request: Request, word: string | undefined): boolean {
  const given = /^Bearer (\S+)$/i.exec(request.headers.get('authorization') ?? '')?.[1];
  if (!word || given === undefined) return false;
  const hash = (text: string) => createHash('sha256').update(text).digest();
  return timingSafeEqual(hash(given), hash(word));
}

const mayNotWords: Record<Right, string> = {
  scanner: 'Your role does not include this. Ask an administrator for access.',
  viewer: 'This is not shared with you. Ask an administrator for access.',
  editor:
    'You can see this, but your role cannot change it. Ask an administrator to make you an Editor.',
  administrator: 'Only administrators can do this. Ask one of them.',
};

/** Every change is in the journal: that it began, who made it, and how it ended. */
async function noted<R extends Route, T>(
  route: R,
  asked: Asked<R>,
  entry: LetIn,
  work: () => Promise<T>,
): Promise<T> {
  const { person, caller } = entry;
  if (route.method === 'GET' || route.asks || route.tape || !(person || caller)) return work();
  const line = await beginNote(asked.db, await lineFor(asked.db, route, asked.number, entry));
  try {
    const result = await work();
    await settleNote(asked.db, line, 'done', entry.about);
    return result;
  } catch (error) {
    await settleNote(asked.db, line, outcomeOf(error), entry.about).catch(() => undefined);
    throw error;
  }
}

/** The text of a journal line about a request, without its result. */
async function lineFor(
  db: Database,
  route: Route,
  request: string,
  { person, caller, where }: LetIn,
): Promise<Note> {
  const { list, jobs } = await where();
  const ofList = route.of === 'list';
  return {
    person,
    ...(caller ? { who: `the key ${caller.name}` } : {}),
    what: pastWords(route.about) ?? route.about,
    about: await namesOf(db, list, ofList ? [] : jobs),
    list,
    job: ofList || jobs.length !== 1 ? null : jobs[0],
    request,
  };
}

function outcomeOf(error: unknown): string {
  const [status, message] = explain(error);
  return status >= 500 ? 'failed' : `refused: ${message.slice(0, 300)}`;
}

/** What the change is about, by the names at that time. */
async function namesOf(
  db: Database,
  list: number | null,
  jobs: readonly number[],
): Promise<string> {
  if (jobs.length === 1) {
    const job = await db
      .selectFrom('jobs')
      .select('name')
      .where('id', '=', jobs[0]!)
      .executeTakeFirst();
    if (job) return job.name;
  }
  if (list === null) return '';
  const row = await db.selectFrom('lists').select('name').where('id', '=', list).executeTakeFirst();
  return row?.name ?? '';
}

/** @throws Error if an answer does not match the contract; in development and in tests only */
function checkAnswer(route: Route, result: unknown): void {
  if ('files' in route.answer)
    throw new Error(`${route.path} gives files, and gave something else`);
  const told = route.answer.safeParse(JSON.parse(JSON.stringify(result)));
  if (!told.success)
    throw new Error(`${route.method} ${route.path} answers otherwise than the contract says`, {
      cause: told.error,
    });
}

/**
 * Answers a program's request that may be repeated (`Idempotency-Key`), in one transaction with its
 * line in the journal. A refused request leaves only the line.
 */
async function onlyOnce<const R extends Route>(
  route: R,
  asked: Asked<R>,
  entry: LetIn,
  caller: Caller,
  work: (asked: Asked<R>) => Promise<AnswerOf<R>>,
): Promise<AnswerOf<R>> {
  const { db, request } = asked;
  // bytes are read once, for the name and for the work
  const bytes =
    route.upload && asked.body === undefined
      ? await bytesOf(request, route.upload.most, () => new Refusal(tooMuchWords, 413))
      : undefined;
  const again = bytes
    ? new Request(request.url, {
        method: request.method,
        headers: request.headers,
        body: new Uint8Array(bytes),
      })
    : request;
  let begun = false;
  try {
    return await repeated(db, request, caller, bytes ?? asked.body, (within) => {
      begun = true;
      return noted(route, { ...asked, db: within, request: again }, entry, () =>
        work({ ...asked, db: within, request: again }),
      );
    });
  } catch (error) {
    // the rollback removed the line too
    if (begun && request.headers.has('idempotency-key')) {
      const line = await lineFor(db, route, asked.number, entry);
      await note(db, line, outcomeOf(error)).catch(() => undefined);
    }
    throw error;
  }
}

/** An error for programs, as problem details (RFC 9457). */
export function refusalOf(
  path: string,
  status: number,
  detail: string,
  headers: Headers,
  details: Record<string, unknown> = {},
): Response {
  if (!path.startsWith('/api/v1/'))
    return Response.json({ error: detail, ...details }, { status, headers });
  const answer = Response.json(
    {
      type: 'about:blank',
      title: STATUS_CODES[status] ?? 'Error',
      status,
      detail,
      instance: `urn:uuid:${headers.get('x-request-id')}`,
    },
    { status, headers },
  );
  answer.headers.set('content-type', 'application/problem+json');
  return answer;
}

const tooMuchWords = 'This is too much at once. Send it in parts.';
const busyWords = 'Hand Stamp is busy at the moment. Try again in a few seconds.';

function explain(error: unknown): [number, string] {
  if (error instanceof Refusal) return [error.status, error.message];
  if (error instanceof IntakeError || error instanceof RunError) return [400, error.message];
  if (error instanceof z.ZodError)
    return [
      400,
      error.issues[0]?.message ?? 'Something in the request is wrong. Check it and send it again.',
    ];
  if (error instanceof StoredError) return [500, error.message];
  if (error instanceof NoResultError)
    return [404, 'This no longer exists. It may have been deleted.'];
  if (isAway(error))
    return [503, 'The database is restarting. Nothing was changed. Try again in a few seconds.'];
  const data = dataWords(error);
  if (data) return data;
  return [500, 'Something went wrong in Hand Stamp. Nothing was changed. Try again.'];
}

/** Errors of PostgreSQL about a value it cannot hold or find: the request is at fault. */
function dataWords(error: unknown): [number, string] | undefined {
  const code = error instanceof Error && 'code' in error ? String(error.code) : '';
  if (code === '57014')
    return [
      503,
      'This took too long and was stopped. Nothing was changed. Choose fewer records, or try again later.',
    ];
  // class 22: numbers out of range, text that is none of the type, NUL and half characters
  if (/^22/.test(code))
    return [
      400,
      'The request contains a value that cannot be stored. Nothing was changed. Check it and send it again.',
    ];
  if (code === '23503')
    return [
      404,
      'Something this belongs to no longer exists. Nothing was changed. Reload the page.',
    ];
  if (code === '23505') return [409, 'That name is already used. Choose another name.'];
  return undefined;
}
