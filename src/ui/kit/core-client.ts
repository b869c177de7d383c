'use client';

import { QueryClient, useQuery } from '@tanstack/react-query';
import { type Remote, wrap } from 'comlink';
import pLimit from 'p-limit';
import { useEffect, useMemo, useRef, useState } from 'react';
import { columnsOf, type Stamp } from '../../core/payload/stamp';
import type { WearCurve } from '../../core/readback/wear';
import type { Piece, Side } from '../../core/piece/model';
import type { Values } from '../../core/records/columns';
import type { CoreWorker } from '../../workers/core.worker';
import type {
  CodeFileKind,
  CodePicture,
  CodeToRead,
  PiecePicture,
  ReadingReport,
  ScannedImage,
  ScanReport,
  SeenCode,
} from '../../workers/protocol';

/** A worker, and what is notified when it ends or cannot be started. */
interface Begun {
  core: Remote<CoreWorker>;
  waiting: Set<(error: Error) => void>;
}
let begun: Begun | undefined;

/** The worker ended, or never came, before it answered. */
const goneWords = 'Drawing codes stopped and is restarting. Try again in a moment.';

function begin(): Begun {
  const worker = new Worker(new URL('../../workers/core.worker.ts', import.meta.url), {
    type: 'module',
  });
  const made: Begun = { core: wrap<CoreWorker>(worker), waiting: new Set() };
  const ended = (event: Event) => {
    event.preventDefault();
    worker.terminate();
    // the next call gets another worker; waiting calls would wait for good
    if (begun === made) begun = undefined;
    for (const tell of made.waiting) tell(new Error(goneWords));
  };
  worker.onerror = ended;
  worker.onmessageerror = ended;
  return made;
}

/**
 * Runs something in the worker.
 * @throws Error in words, also if the worker ends in the meantime
 */
function away<T>(work: (core: Remote<CoreWorker>) => Promise<T>): Promise<T> {
  const { core, waiting } = (begun ??= begin());
  // not a race with one promise of its end, which would hold every answer as long as it lives
  return new Promise<T>((resolve, reject) => {
    waiting.add(reject);
    work(core)
      .then(resolve, reject)
      .finally(() => waiting.delete(reject));
  });
}

/** Drawings, separate from answers of the server: they never get stale. */
const drawings = new QueryClient();
/** How long a drawing that nothing shows is cached, in ms. */
const heldFor = 120_000;
/**
 * So much is handed to the worker at once; the rest waits here, where it can be cancelled. More
 * than a window shows, so that requests to the server go together.
 */
const inHand = pLimit(64);
/**
 * Pauses before something is drawn again that could not be, in ms: a typeface that did not come, or
 * a worker that ended, is mostly there the next time.
 */
const drawnAgainAfter = [500, 4000];

/**
 * The worker's drawings by the key of everything they depend on: drawn once however many components
 * show it, and not at all once none does. Undefined while it is being drawn.
 */
function useDrawn<T>(
  kind: 'code' | 'piece',
  key: string | undefined,
  work: (core: Remote<CoreWorker>) => Promise<T>,
): T | undefined {
  const { data, error } = useQuery(
    {
      queryKey: [kind, key],
      // the key is long if a look has a logo, and is a string already
      queryKeyHashFn: () => key ?? 'nothing',
      queryFn: ({ signal }) =>
        inHand(() => {
          signal.throwIfAborted();
          return away(work);
        }),
      enabled: key !== undefined,
      staleTime: Infinity,
      gcTime: heldFor,
      networkMode: 'always',
      structuralSharing: false,
      retry: (failures) => failures < drawnAgainAfter.length,
      retryDelay: (failures) => drawnAgainAfter[failures]!,
    },
    drawings,
  );
  useEffect(() => {
    if (error) console.error(error);
  }, [error]);
  return data;
}

/** Only the values that a stamp or piece uses, so that an unrelated edit draws nothing again. */
const used = (parts: readonly { kind: string; column?: string }[], values: Values): string[] =>
  parts.filter((p) => p.kind === 'column').map((p) => values[p.column!] ?? '');

/**
 * The code of a record, drawn in the worker. Undefined while it is being drawn, null if there is
 * none.
 */
export function useCode(
  stamp: Stamp | undefined,
  values: Values | undefined,
): CodePicture | null | undefined {
  const key = useMemo(
    () =>
      stamp && values
        ? JSON.stringify([stamp, columnsOf(stamp).map((id) => values[id] ?? '')])
        : undefined,
    [stamp, values],
  );
  return useDrawn('code', key, async (core) => (await core.code(stamp!, values!)) ?? null);
}

/**
 * The code of a record, and while a change is being drawn the one before, so that open editors stay
 * open and no press is lost. `now` is the code only once it is current.
 * @param of what must stay the same for the one before to be shown: the record and the stamp
 */
export function useSteadyCode(of: string, stamp: Stamp | undefined, values: Values | undefined) {
  const now = useCode(stamp, values);
  const [last, setLast] = useState<{ of: string; code: CodePicture | null }>();
  if (now !== undefined && (last?.code !== now || last.of !== of)) setLast({ of, code: now });
  return { now, code: now === undefined && last?.of === of ? last.code : now };
}

/**
 * One side of the piece of a record, laid out in the worker; `list` is where its pictures are
 * found.
 */
export function usePiece(
  piece: Piece,
  stamps: Stamp[],
  values: Values | undefined,
  { side = 'front', list }: { side?: Side; list?: number } = {},
): PiecePicture | undefined {
  const key = useMemo(
    () =>
      values &&
      JSON.stringify([
        side,
        piece,
        stamps,
        piece.elements.map((e) =>
          e.kind === 'text'
            ? used(e.parts, values)
            : e.kind === 'picture' && e.column
              ? values[e.column]
              : 0,
        ),
        stamps.map((s) => columnsOf(s).map((id) => values[id] ?? '')),
      ]),
    [piece, stamps, values, side],
  );
  return useDrawn('piece', key, (core) =>
    core.piece({ piece, stamps, values: values!, side, list }),
  );
}

/**
 * A drawing that is being changed right now, as quickly as the worker can: while one is drawn, only
 * the newest waits, and the last one is shown until then. Undefined if nothing is being changed.
 */
export function useLivePiece(
  piece: Piece | undefined,
  stamps: Stamp[],
  values: Values | undefined,
  side: Side,
  list: number,
) {
  const [drawn, setDrawn] = useState<PiecePicture>();
  if (!piece && drawn) setDrawn(undefined);
  const wanted = useRef<Piece>(undefined);
  const busy = useRef(false);
  useEffect(() => {
    wanted.current = piece;
    if (!piece || !values || busy.current) return;
    busy.current = true;
    void (async () => {
      try {
        while (wanted.current) {
          const now = wanted.current;
          const picture = await away((core) =>
            core.piece({ piece: now, stamps, values, side, list }),
          );
          if (wanted.current === now) wanted.current = undefined;
          setDrawn(picture);
        }
      } finally {
        busy.current = false;
      }
    })();
  }, [piece, stamps, values, side, list]);
  return piece && drawn;
}

/** The last that was there, until the next is; what belongs to another `of` is not held. */
export function useHeld<T>(value: T | undefined, of: unknown): T | undefined {
  const [held, setHeld] = useState({ value, of });
  if (value !== undefined && (held.value !== value || held.of !== of)) setHeld({ value, of });
  return value ?? (held.of === of ? held.value : undefined);
}

/** Lays the pieces out again when their pictures have arrived. */
export const forgetPieces = (): void => void drawings.invalidateQueries({ queryKey: ['piece'] });

/** Reads the code of a stamp, from its piece if it is on one. */
export const readCode = (code: CodeToRead): Promise<ReadingReport> =>
  away(async (core) => core.read(code));

/** A code as a file in one of the formats for download. */
export const codeFile = (
  stamp: Stamp,
  values: Values,
  kind: CodeFileKind,
  name: string,
): Promise<Uint8Array> => away((core) => core.file(stamp, values, kind, name));

/** All codes on a picture. */
export const scanAll = (image: ScannedImage): Promise<SeenCode[]> =>
  away((core) => core.scanAll(image));

/** Looks for a code of any kind in a picture. */
export const scanImage = (image: ScannedImage): Promise<ScanReport> =>
  away(async (core) => core.scan(image));

/** The result of one kind of wear for a code; undefined if the record has no code. */
export const measureWear = (
  stamp: Stamp,
  values: Values,
  wear: string,
): Promise<WearCurve | undefined> => away((core) => core.wear(stamp, values, wear));
