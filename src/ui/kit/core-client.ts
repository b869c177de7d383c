'use client';

import { useEffect, useMemo, useRef, useState } from 'react';
import { columnsOf, type Stamp } from '../../core/payload/stamp';
import type { WearCurve } from '../../core/readback/wear';
import type { Piece, Side } from '../../core/piece/piece';
import type { Values } from '../../core/records/columns';
import type {
  CodeFileKind,
  CodePicture,
  PiecePicture,
  ReadingReport,
  ScannedImage,
  ScanReport,
  SeenCode,
  WorkerRequest,
} from '../../workers/protocol';

interface Waiting {
  resolve(result: unknown): void;
  reject(error: Error): void;
}

let worker: Worker | undefined;
let next = 1;
const waiting = new Map<number, Waiting>();

type Request = WorkerRequest extends infer R
  ? R extends { id: number }
    ? Omit<R, 'id'>
    : never
  : never;

/** The worker ended, or never came, before it answered. */
const goneWords =
  'What draws and reads codes in this window stopped. It begins anew by itself; try it again.';

function begin(): Worker {
  const begun = new Worker(new URL('../../workers/core.worker.ts', import.meta.url), {
    type: 'module',
  });
  begun.onmessage = ({ data }: MessageEvent<{ id: number; result?: unknown; error?: string }>) => {
    const wait = waiting.get(data.id);
    waiting.delete(data.id);
    if (data.error === undefined) wait?.resolve(data.result);
    else wait?.reject(new Error(data.error));
  };
  // whoever waits would wait for ever; the next who asks gets another
  const gone = (event: Event) => {
    event.preventDefault();
    begun.terminate();
    // those who wait now wait for another one
    if (worker !== begun) return;
    worker = undefined;
    const all = [...waiting.values()];
    waiting.clear();
    for (const { reject } of all) reject(new Error(goneWords));
  };
  begun.onerror = gone;
  begun.onmessageerror = gone;
  return begun;
}

function send<T>(request: Request): Promise<T> {
  worker ??= begin();
  return new Promise<T>((resolve, reject) => {
    const id = next++;
    waiting.set(id, { resolve: resolve as (result: unknown) => void, reject });
    worker!.postMessage({ ...request, id });
  });
}

/** What was worked out lately, oldest thrown away first. */
class Memory<T> {
  private readonly held = new Map<string, T>();
  get(key: string): T | undefined {
    return this.held.get(key);
  }
  clear(): void {
    this.held.clear();
  }
  set(key: string, value: T): void {
    this.held.set(key, value);
    if (this.held.size > 600) this.held.delete(this.held.keys().next().value!);
  }
}

const codes = new Memory<CodePicture | null>();
const pieces = new Memory<PiecePicture>();

/**
 * Pauses before something is drawn again that could not be, in ms: a typeface that did not come, or
 * a worker that ended, is mostly there the next time.
 */
const drawnAgainAfter = [500, 4000];

function useWorked<T>(
  key: string | undefined,
  memory: Memory<T>,
  work: () => Promise<T>,
): T | undefined {
  const [, redraw] = useState(0);
  const known = key === undefined ? undefined : memory.get(key);
  useEffect(() => {
    if (key === undefined || memory.get(key) !== undefined) return;
    let stale = false;
    let timer: ReturnType<typeof setTimeout> | undefined;
    const attempt = (pauses: readonly number[]) =>
      work().then(
        (result) => {
          memory.set(key, result);
          if (!stale) redraw((n) => n + 1);
        },
        (error: unknown) => {
          if (stale) return;
          const [pause, ...rest] = pauses;
          if (pause === undefined) console.error(error);
          else timer = setTimeout(() => void attempt(rest), pause);
        },
      );
    void attempt(drawnAgainAfter);
    return () => {
      stale = true;
      clearTimeout(timer);
    };
    // the key stands for everything `work` depends on
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [key]);
  return known;
}

/** Only the values a stamp or piece uses, so that an unrelated edit draws nothing again. */
const used = (parts: readonly { kind: string; column?: string }[], values: Values): string[] =>
  parts.filter((p) => p.kind === 'column').map((p) => values[p.column!] ?? '');

/**
 * The code of a record, drawn in the worker. Undefined while it is worked on, null where there is
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
  return useWorked(
    key,
    codes,
    async () =>
      (await send<CodePicture | undefined>({ kind: 'code', stamp: stamp!, values: values! })) ??
      null,
  );
}

/**
 * The code of a record, and while a change of it is drawn the one before, so that what is open on
 * it stays open and a press on it is not lost. `now` is the code only once it is drawn as it is.
 * @param of what must stay the same for the one before to stand in: the record and the stamp
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
  return useWorked(key, pieces, () =>
    send<PiecePicture>({ kind: 'piece', piece, stamps, values: values!, side, list }),
  );
}

/**
 * What is being changed right now, drawn as quickly as the worker can: while one is drawn only the
 * newest waits, and the last one drawn stays until then. Undefined when there is nothing of the
 * kind.
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
          const picture = await send<PiecePicture>({
            kind: 'piece',
            piece: now,
            stamps,
            values,
            side,
            list,
          });
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

/** Forgets the pieces that were laid out, when pictures they show have come. */
export const forgetPieces = (): void => pieces.clear();

export function readCode(
  stamp: Stamp,
  values: Values,
  piece: Piece | undefined,
  stamps: Stamp[],
  list?: number,
): Promise<ReadingReport> {
  return send<ReadingReport>({ kind: 'read', stamp, values, piece, stamps, list });
}

/** A code as a file of one of the kinds in which it can be taken away. */
export function codeFile(
  stamp: Stamp,
  values: Values,
  kind: CodeFileKind,
  name: string,
): Promise<Uint8Array> {
  return send<Uint8Array>({ kind: 'file', stamp, values, file: kind, name });
}

/** All codes on a picture. */
export const scanAll = (image: ScannedImage): Promise<SeenCode[]> =>
  send<SeenCode[]>({ kind: 'scan-all', image });

/** Looks for a code of any kind in a picture. */
export const scanImage = (image: ScannedImage): Promise<ScanReport> =>
  send<ScanReport>({ kind: 'scan', image });

/** What a code survives of one kind of wear; undefined when the record has no code. */
export function measureWear(
  stamp: Stamp,
  values: Values,
  wear: string,
): Promise<WearCurve | undefined> {
  return send<WearCurve | undefined>({ kind: 'wear', stamp, values, wear });
}
