import { follow } from './news';
import { slotOf } from './slots';

/** Several changes are sent together: how long to wait for more, in ms. */
const burst = 120;

/** Interval of the keep-alive, and how many of them until the right is checked again. */
const beats = { ms: 15_000, asked: 4 };

interface Listener {
  request: Request;
  /** Who listens, by a session that can end. */
  person?: { session: string | null } | undefined;
  /** Whether they still may, whatever was changed since. */
  mayStill(): Promise<boolean>;
}

/**
 * Notifies a window of changes (server-sent events) until it closes, its session ends, or it loses
 * the right.
 * @param wanted topics, such as `job:5`
 * @param own sent at once, under its own event name
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
  // answers only when it listens: the window loads afresh at that answer, and so misses nothing
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
    // nobody is signed out while the database is away
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
