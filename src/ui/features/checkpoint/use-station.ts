'use client';

import { useCallback, useEffect, useMemo, useRef, useState } from 'react';
import type { ScanAnswer, ScanGiven } from '../../../contract';
import type { Answer } from '../../../core/checkpoint/answer';
import { answerApart, packIndex, type Pack, type Packed } from '../../../core/checkpoint/offline';
import { tidyScan } from '../../../core/checkpoint/recognise';
import { ApiError, ask } from '../../kit/api';
import { newKey } from './new-key';
import { forgetPack, forgetScans, keepPack, keepScan, keptPack, waitingScans } from './outbox';
import { playAnswer } from './shapes';
import { atShort } from './words';
import { useStation as wording } from './words';

/** What the screen shows of a scan. */
export interface Outcome {
  key: string;
  answer: Answer;
  why: string;
  title: string;
  recordKey: string;
  shown: readonly (readonly [string, string])[];
  differs: string;
  twice: ScanAnswer['twice'];
  wrap: ScanAnswer['wrap'];
  text?: string;
  apart: boolean;
  back?: boolean;
}

export type Scanned = Pick<ScanGiven, 'how' | 'text' | 'record' | 'reason'> & { title?: string };

export type StationState = Awaited<ReturnType<typeof askState>>;
const askState = (checkpoint: number, device: boolean, after: number) =>
  ask(
    'checkpointState',
    { params: { id: checkpoint }, query: { after } },
    { device, signal: AbortSignal.timeout(6000) },
  );

/** How long an answer is waited for before the device answers by itself, in ms. */
const patience = 4000;
const inOneLot = 100;
/** How often it checks the network, and how old its data may be, in ms. */
const looksEvery = 5000;
const packFor = 60_000;
/** While many scans happen elsewhere, news are loaded once in so many ms. */
const newsEvery = 800;

/** Whether the server was not reached, rather than refused. */
const isAway = (error: unknown): boolean =>
  error instanceof DOMException ||
  (error instanceof ApiError &&
    (error.status === 0 || error.status >= 500 || error.status === 429));

/**
 * One scanning screen, online or offline: its requests, its data, and the scans it still has to
 * send.
 * @param device whether it is a device that joined, and not a person who is signed in
 */
export function useStation(checkpoint: number, device: boolean) {
  const [outcome, setOutcome] = useState<Outcome>();
  const [state, setState] = useState<StationState>();
  const [apart, setApart] = useState(false);
  const [waiting, setWaiting] = useState(0);
  const [shut, setShut] = useState<string>();
  const [trouble, setTrouble] = useState<string>();
  const [busy, setBusy] = useState(false);
  const pack = useRef<Pack>(undefined);
  const index = useRef<Map<string, Packed>>(new Map());
  /** By how much the clock of the server is ahead, in ms. */
  const offset = useRef(0);
  const silent = useRef(false);
  const told = useRef(0);
  const options = useMemo(() => ({ device }), [device]);

  const hold = useCallback(
    async (fresh: Pack) => {
      pack.current = fresh;
      index.current = packIndex(fresh);
      await keepPack(checkpoint, fresh).catch(() => undefined);
    },
    [checkpoint],
  );

  const refused = useCallback(
    (error: unknown): boolean => {
      if (!(error instanceof ApiError) || ![401, 403, 404].includes(error.status)) return false;
      setShut(error.message);
      void forgetPack(checkpoint).catch(() => undefined);
      return true;
    },
    [checkpoint],
  );

  /** Hands over what waits, in the order in which it was scanned. One at a time. */
  const handing = useRef<Promise<void>>(undefined);
  const handOver = useCallback((): Promise<void> => {
    handing.current ??= (async () => {
      for (;;) {
        const all = await waitingScans(checkpoint);
        setWaiting(all.length);
        if (all.length === 0) return;
        const lot = all.slice(0, inOneLot);
        await ask(
          'scanCodes',
          {
            params: { id: checkpoint },
            body: { scans: lot, now: Date.now(), waiting: all.length - lot.length },
          },
          options,
        );
        await forgetScans(lot.map((scan) => scan.key));
      }
    })().finally(() => (handing.current = undefined));
    return handing.current;
  }, [checkpoint, options]);

  const look = useCallback(async () => {
    try {
      const sent = Date.now();
      const now = await askState(checkpoint, device, told.current);
      offset.current = now.now - (sent + Date.now()) / 2;
      const fresh = now.twice.filter((t) => t.id > told.current);
      setState((before) => ({ ...now, twice: [...(before?.twice ?? []), ...fresh] }));
      told.current = Math.max(told.current, ...now.twice.map((t) => t.id));
      await handOver();
      setApart(false);
      if (!pack.current || Date.now() - pack.current.made > packFor)
        await ask('checkpointPack', { params: { id: checkpoint } }, options).then(
          hold,
          (error: unknown) => {
            if (!isAway(error) && error instanceof ApiError && error.status !== 413) throw error;
          },
        );
    } catch (error) {
      if (!refused(error)) setApart(true);
    }
  }, [checkpoint, device, handOver, hold, options, refused]);

  useEffect(() => {
    let over = false;
    void keptPack(checkpoint).then(
      (kept) => {
        if (!over && kept && !pack.current) void hold(kept);
      },
      () => undefined,
    );
    void waitingScans(checkpoint).then(
      (all) => !over && setWaiting(all.length),
      () => undefined,
    );
    void look();
    const every = setInterval(() => void look(), looksEvery);
    const news = new EventSource(
      `/api/checkpoints/${checkpoint}/news${device ? '?as=device' : ''}`,
    );
    let soon: ReturnType<typeof setTimeout> | undefined;
    news.onmessage = () => {
      soon ??= setTimeout(() => {
        soon = undefined;
        void look();
      }, newsEvery);
    };
    const back = () => void look();
    window.addEventListener('online', back);
    return () => {
      over = true;
      clearInterval(every);
      clearTimeout(soon);
      news.close();
      window.removeEventListener('online', back);
    };
  }, [checkpoint, device, hold, look]);

  const show = useCallback((next: Outcome) => {
    setOutcome(next);
    if (!silent.current) playAnswer(next.answer);
  }, []);

  /** Answers offline, and stores the scan until the server is reached. */
  const scanApart = useCallback(
    async (scan: Scanned, key: string) => {
      const held = pack.current;
      const now = Date.now() + offset.current;
      const says =
        held && scan.text !== undefined
          ? answerApart(held, index.current, tidyScan(scan.text), now, atShort)
          : {
              answer: 'not-certain' as const,
              why: held ? wording.theListCannotBe : wording.thisDeviceHasNo,
              session: null,
            };
      const record = 'record' in says ? (says as { record?: Packed }).record : undefined;
      // for an entry by hand, a person has looked
      const answer = scan.how === 'hand' ? ('comes-in' as const) : says.answer;
      await keepScan(checkpoint, {
        key,
        how: scan.how,
        ...(scan.text === undefined ? { record: scan.record } : { text: scan.text }),
        ...(scan.reason ? { reason: scan.reason } : {}),
        apart: { at: Date.now(), answer, why: says.why },
      });
      if (record && held && answer === 'comes-in') {
        record.passes.unshift({ at: now, session: says.session, where: held.name });
        await keepPack(checkpoint, held).catch(() => undefined);
      }
      setWaiting((n) => n + 1);
      setApart(true);
      show({
        key,
        answer,
        why: answer === 'comes-in' ? '' : says.why,
        title: record?.title ?? scan.title ?? '',
        recordKey: '',
        shown: record?.shown ?? [],
        differs: '',
        twice: null,
        wrap: null,
        text: scan.text,
        apart: true,
      });
    },
    [checkpoint, show],
  );

  /** Scans are answered one after the other, in the order in which they came. */
  const line = useRef<Promise<void>>(Promise.resolve());
  const scan = useCallback(
    (given: Scanned): Promise<void> => {
      const one = async () => {
        const key = newKey();
        setBusy(true);
        setTrouble(undefined);
        try {
          await handOver();
          const { answers } = await ask(
            'scanCodes',
            {
              params: { id: checkpoint },
              body: {
                scans: [
                  {
                    key,
                    how: given.how,
                    ...(given.text === undefined ? { record: given.record } : { text: given.text }),
                    ...(given.reason ? { reason: given.reason } : {}),
                  },
                ],
                now: Date.now(),
              },
            },
            { ...options, signal: AbortSignal.timeout(patience) },
          );
          setApart(false);
          show({ ...answers[0]!, text: given.text, apart: false });
        } catch (error) {
          if (refused(error)) return;
          if (isAway(error)) await scanApart(given, key);
          else setTrouble(error instanceof Error ? error.message : String(error));
        } finally {
          setBusy(false);
        }
      };
      line.current = line.current.then(one, one).catch((error: unknown) => {
        setTrouble(error instanceof Error ? error.message : String(error));
      });
      return line.current;
    },
    [checkpoint, handOver, options, refused, scanApart, show],
  );

  const takeBack = useCallback(async () => {
    if (!outcome || outcome.back) return;
    setTrouble(undefined);
    try {
      // a waiting scan is sent first, so that its line is on the tape too
      await handOver();
      await ask(
        'takeBackScan',
        { params: { id: checkpoint }, body: { key: newKey(), scan: outcome.key } },
        options,
      );
      setOutcome({ ...outcome, back: true });
      pack.current = undefined;
      await look();
    } catch (error) {
      if (!refused(error))
        setTrouble(
          isAway(error)
            ? wording.youAreOfflineSo
            : error instanceof Error
              ? error.message
              : String(error),
        );
    }
  }, [checkpoint, handOver, look, options, outcome, refused]);

  return {
    outcome,
    state,
    apart,
    waiting,
    shut,
    trouble,
    busy,
    scan,
    takeBack,
    mute: (on: boolean) => void (silent.current = on),
    seen: (id: number) =>
      setState((now) => now && { ...now, twice: now.twice.filter((t) => t.id !== id) }),
    options,
  };
}
export type Station = ReturnType<typeof useStation>;
