import { follow } from './news';

/** A burst is told once: how long others are waited for, in ms. */
const burst = 120;

/**
 * Tells a window as it happens that something changed (server-sent events), until it goes.
 * @param wanted what it is told of, as `job:5`
 * @param own told at once and under a name of their own
 */
export async function newsStream(
  request: Request,
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
  let waiting = false;
  // it is answered only when it hears: a window asks anew at the answer, and so misses nothing
  const stop = await follow((what) => {
    const name = own[what];
    if (name !== undefined) return send(`event: ${name}\ndata: changed\n\n`);
    if (waiting || !(wanted.has(what) || what === 'missed')) return;
    waiting = true;
    setTimeout(() => {
      waiting = false;
      send('data: changed\n\n');
    }, burst);
  });
  const beat = setInterval(() => send(': still here\n\n'), 15_000);
  leave = () => {
    clearInterval(beat);
    stop();
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
