import { follow } from './news';
import { slotOf } from './slots';

/** A burst is told once: how long others are waited for, in ms. */
const burst = 120;

/** A sign that the connection is there, and how many of them until it is asked whether one may. */
const beats = { ms: 15_000, asked: 4 };

interface Listener {
  request: Request;
  /** Who listens, by a session that can end. */
  person?: { session: string | null } | undefined;
  /** Whether they still may, whatever was changed since. */
  mayStill(): Promise<boolean>;
}

/**
 * Tells a window as it happens that something changed (server-sent events), until it goes, its
 * session ends, or the right to listen is taken away.
 * @param wanted what it is told of, as `job:5`
 * @param own told at once and under a name of their own
 */
export async function newsStream(
  { request, person, mayStill }: Listener,
  wanted: ReadonlySet<string>,
  own: Readonly<Record<string, string>> = {},
): Promise<Response> {
  const encoder = new TextEncoder();
  let controller: ReadableStreamDefaultController<Uint8Array> | undefined;
  let leave = () => {};
  const stream = new ReadableStream<Uint8Array>({
    start: (given) => void (controller = given),
    cancel: () => leave(),
  });
  const send = (text: string) => {
    try {
      controller?.enqueue(encoder.encode(text));
    } catch {
      leave();
    }
  };
  const end = () => {
    leave();
    try {
      controller?.close();
    } catch {
      // gone already
    }
  };
  const session = person?.session ? `session:${person.session}` : undefined;
  let waiting = false;
  // it is answered only when it hears: a window asks anew at the answer, and so misses nothing
  const stop = await follow((what) => {
    if (what === session) return end();
    const name = own[what];
    if (name !== undefined) return send(`event: ${name}\ndata: changed\n\n`);
    if (waiting || !(wanted.has(what) || what === 'missed')) return;
    waiting = true;
    setTimeout(() => {
      waiting = false;
      send('data: changed\n\n');
    }, burst);
  });
  let beaten = 0;
  const beat = setInterval(() => {
    send(': still here\n\n');
    if (++beaten % beats.asked !== 0) return;
    // while the database is away nobody is sent off
    mayStill().then(
      (may) => may || end(),
      () => undefined,
    );
  }, beats.ms);
  leave = () => {
    clearInterval(beat);
    stop();
    slotOf(request)?.free();
  };
  if (request.signal.aborted) leave();
  request.signal.addEventListener('abort', leave);
  send('retry: 2000\n\n');
  return new Response(stream, {
    headers: {
      'content-type': 'text/event-stream',
      'cache-control': 'no-store, no-transform',
      'x-accel-buffering': 'no',
    },
  });
}
