import * as contract from '@/contract';
import { handle } from '@/server/access';
import { listIdOf } from '@/server/jobs';
import { follow } from '@/server/platform';

export const GET = handle(contract.jobNews, async ({ request, db, params }) => {
  const { id } = params;
  const list = await listIdOf(db, id);
  const wanted = new Set([`job:${id}`, `list:${list}`]);
  const here = `here:${id}`;
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
    if (what === here) return send('event: here\ndata: changed\n\n');
    if (waiting || !(wanted.has(what) || what === 'missed')) return;
    // a burst is told once
    waiting = true;
    setTimeout(() => {
      waiting = false;
      send('data: changed\n\n');
    }, 120);
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
});
