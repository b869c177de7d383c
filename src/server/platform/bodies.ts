import { placeOf } from './place';
import { Refusal } from './refusal';
import { slotOf } from './slots';

/** Bodies that may be on their way at a time: of everybody, and from one place. */
const most = { all: 1000, place: 100 };
/** After these seconds a body has to have come at this pace, in bytes a second. */
const pace = { seconds: 20, bytes: 4096 };

interface Coming {
  place: string;
  stop: (error: Error) => void;
}
/** The longest on their way first. */
const coming = new Set<Coming>();

const slowWords =
  'What was sent took too long to arrive, so nothing was done. Check the connection and send it again.';

/**
 * Reads the bytes of a request and counts them. Until the body is complete, the request holds no
 * slot. A body that trickles in is dropped. If too many come at once, the slowest is dropped, since
 * honest ones come quickly.
 * @throws the error of `tooMuch` before more than `limit` bytes are stored; Refusal 408
 */
export async function bytesOf(
  request: Request,
  limit: number,
  tooMuch: (bytes: number) => Error,
): Promise<Buffer> {
  const announced = Number(request.headers.get('content-length') ?? 0);
  if (announced > limit) throw tooMuch(announced);
  if (!request.body) return Buffer.alloc(0);
  const goOn = slotOf(request)?.pause();
  const reader = (request.body as ReadableStream<Uint8Array>).getReader();
  const parts: Uint8Array[] = [];
  let bytes = 0;
  let fail: (error: Error) => void = () => undefined;
  const stopped = new Promise<never>((_, reject) => (fail = reject));
  stopped.catch(() => undefined);
  const entry = { place: placeOf(request), stop: fail };
  const began = performance.now();
  const watch = setInterval(() => {
    const seconds = (performance.now() - began) / 1000;
    if (seconds > pace.seconds + bytes / pace.bytes) fail(new Refusal(slowWords, 408));
  }, 1000);
  try {
    makeRoom(entry.place);
    coming.add(entry);
    for (;;) {
      const { done, value } = await Promise.race([reader.read(), stopped]);
      if (done) return Buffer.concat(parts);
      bytes += value.length;
      if (bytes > limit) throw tooMuch(bytes);
      parts.push(value);
    }
  } finally {
    clearInterval(watch);
    coming.delete(entry);
    // does not wait for the rest
    void reader.cancel().catch(() => undefined);
    goOn?.();
  }
}

function makeRoom(place: string): void {
  const own = [...coming].filter((c) => c.place === place);
  const first = own.length >= most.place ? own[0] : coming.size >= most.all ? longest() : undefined;
  if (!first) return;
  coming.delete(first);
  first.stop(new Refusal(slowWords, 408));
}

function longest(): Coming | undefined {
  for (const each of coming) return each;
  return undefined;
}
