import { follow, numberParam, route } from '@/server/platform';

/** Server-sent events: a line whenever the job, its list or one of its runs was changed, by whomever. */
export const GET = route(async (asked) => {
  const id = numberParam(asked);
  const { list_id: list } = await asked.db
    .selectFrom('jobs')
    .select('list_id')
    .where('id', '=', id)
    .executeTakeFirstOrThrow();
  const wanted = new Set([`job:${id}`, `list:${list}`]);
  const encoder = new TextEncoder();
  let leave = () => {};
  const stream = new ReadableStream<Uint8Array>({
    async start(controller) {
      const send = (text: string) => {
        try {
          controller.enqueue(encoder.encode(text));
        } catch {
          leave();
        }
      };
      let waiting = false;
      const stop = await follow((what) => {
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
      asked.request.signal.addEventListener('abort', leave);
      send('retry: 2000\n\n');
    },
    cancel: () => leave(),
  });
  return new Response(stream, {
    headers: {
      'content-type': 'text/event-stream',
      'cache-control': 'no-store, no-transform',
      'x-accel-buffering': 'no',
    },
  });
});
