'use client';
import type * as contract from '../../../contract';

import { useQuery, useQueryClient } from '@tanstack/react-query';
import { useCallback, useEffect, useMemo, useRef, useState } from 'react';
import { styled } from 'styled-components';
import type { JobView, LedgerWindow } from '../../../contract';
import type { JobDocument } from '../../../core/job/document';
import type { CellClash } from '../../../contract';
import { onGround } from '../../../core/grounds';
import { groundOf } from '../../../core/piece/model';
import { outputOf } from '../../../core/run/outputs';
import { readsItself } from '../../../core/job/sources';
import { ask, ApiError } from '../../kit/api';
import { ErrorLine, PlainButton, QuietButton } from '../../kit/controls';
import { MayContext } from '../../kit/me';
import { includes } from '../../../core/access/rights';
import { Loupe } from '../../shell/loupe';
import { colour } from '../../kit/theme';
import type { Whereabouts } from '../../shell/ledger/address';
import {
  HandContext,
  JobScreenContext,
  type Band,
  type JobScreenState,
  type RunPlan,
  type JumpTo,
} from '../../shell/ledger/context';
import { useFocusHome } from '../../shell/ledger/focus-home';
import { JobHead } from '../../shell/ledger/job-head';
import { useKeys } from '../../shell/ledger/keys';
import { useUnsavedEdits } from './unsaved-edits';
import { FirstVisit } from './first-visit';
import { Ledger } from './ledger';
import { newest, type OnItsWay } from './newest';
import { useNews } from '../../shell/ledger/news';
import { OthersContext, usePresence } from '../../shell/ledger/presence';
import { useRows } from '../../shell/ledger/rows';
import { TickedBar } from '../../shell/ledger/ticked-bar';
import { useAddress } from '../../shell/ledger/use-whereabouts';
import { scroll } from '../../shell/ledger/scroll';
import { isWhole, viewQuery, wholeView, type View } from '../../shell/ledger/view';
import { jobScreen as wording } from './words';

const Page = styled.main`
  display: grid;
  grid-template-columns: minmax(0, 1fr);
  grid-template-rows: auto minmax(0, 1fr) auto;
  min-height: 0;
`;
const Notice = styled.div`
  position: fixed;
  left: 50%;
  bottom: 18px;
  transform: translateX(-50%);
  background: ${colour.paper};
  border: 1px solid ${colour.failed};
  border-radius: 3px;
  padding: 8px 10px 8px 16px;
  display: flex;
  gap: 12px;
  align-items: center;
  z-index: 40;
`;

const today = (): string =>
  new Intl.DateTimeFormat('en-GB', { day: 'numeric', month: 'short' }).format(new Date());

const noChange = () => undefined;
const noWork = () => Promise.resolve(undefined);

/**
 * A job as its web address describes it: the open band, the filter, the selected row and the ticks.
 */
export function JobScreen({
  initial,
  firstRows,
  at,
}: {
  initial: JobView;
  firstRows: LedgerWindow;
  at: Whereabouts;
}) {
  const client = useQueryClient();
  const id = initial.id;
  const onItsWay = useRef<OnItsWay>(undefined);
  const { data: job = initial } = useQuery({
    queryKey: ['job', id],
    queryFn: () => ask('viewJob', { params: { id } }),
    initialData: initial,
    structuralSharing: (known, found) =>
      newest(known as JobView | undefined, found as JobView, onItsWay.current),
    // a list that follows its source is looked at again now and then
    refetchInterval: ({ state }) =>
      state.data?.judging || state.data?.list.working
        ? 800
        : readsItself(state.data?.list.origin ?? null)
          ? 4000
          : false,
  });
  const [band, setBand] = useState<Band>(at.band);
  const [view, setViewRaw] = useState<View>(at.view);
  const [query, setQuery] = useState(at.view.q);
  const [problem, setProblem] = useState<string>();
  const [hand, setHandRaw] = useState(at.hand);
  const [ticked, setTicked] = useState<ReadonlySet<number>>(() => new Set(at.ticked));
  const [folded, setFolded] = useState(false);
  const [loupe, setLoupe] = useState(false);
  const [planned, setPlanRaw] = useState<RunPlan>(() => ({
    which: 'ready',
    output: { kind: onGround(initial.document.piece).usualOutput },
    name: `${initial.name}, ${today()}`,
  }));
  const setPlan = useCallback(
    (next: Partial<RunPlan>) => setPlanRaw((now) => ({ ...now, ...next })),
    [],
  );
  // settings for another ground are replaced by the usual ones of this one
  const { piece } = job.document;
  const plan = useMemo(() => {
    const offered = outputOf(planned.output.kind).grounds;
    return offered && !offered.includes(groundOf(piece))
      ? { ...planned, output: { ...planned.output, kind: onGround(piece).usualOutput } }
      : planned;
  }, [planned, piece]);
  const search = useRef<HTMLInputElement>(null);
  const [stampInHand, takeStamp] = useState('');
  const [revealed, setRevealed] = useState<ReadonlySet<string>>(new Set());
  useEffect(() => {
    const timer = setTimeout(
      () => setViewRaw((now) => (now.q === query ? now : { ...now, q: query })),
      180,
    );
    return () => clearTimeout(timer);
  }, [query]);
  const setView = useCallback((next: Partial<View>) => {
    setViewRaw((now) => ({ ...now, ...next }));
    if (next.q !== undefined) setQuery(next.q);
    setHandRaw(0);
  }, []);
  const {
    total,
    rowAt: toldAt,
    see,
    seen,
    loading,
    failed,
  } = useRows(id, view, firstRows, at.view, revealed);
  const { shownAt: rowAt, show: showEdits } = useUnsavedEdits(toldAt);
  const last = Math.max(0, total - 1);
  const inHand = Math.min(hand, last);
  const handRow = rowAt(inHand);

  // each step of the checking, and each revision from elsewhere, brings other rows
  const standing = `${job.judging} ${job.list.revision}`;
  const shown = useRef(standing);
  useEffect(() => {
    if (shown.current !== standing) void client.invalidateQueries({ queryKey: ['rows', id] });
    shown.current = standing;
  }, [client, id, standing]);

  const refresh = useCallback(
    () =>
      Promise.all([
        client.invalidateQueries({ queryKey: ['job', id] }),
        client.invalidateQueries({ queryKey: ['rows', id] }),
      ]),
    [client, id],
  );
  const explain = useCallback(
    (error: unknown) => {
      setProblem(error instanceof Error ? error.message : String(error));
      void refresh();
    },
    [refresh],
  );

  const problemNow = useRef(problem);
  useEffect(() => {
    problemNow.current = problem;
  }, [problem]);
  /**
   * When the action that begins now is done, removes the problem that is shown now; never one that
   * came up in the meantime.
   */
  const answers = useCallback(() => {
    const was = problemNow.current;
    return () => setProblem((now) => (now === was ? undefined : now));
  }, []);

  const saving = useRef(Promise.resolve());
  const save = useCallback(
    (change: (document: JobDocument) => JobDocument) => {
      const done = answers();
      // one after the other: each change starts from what the one before it left
      saving.current = saving.current.then(async () => {
        const before = client.getQueryData<JobView>(['job', id]) ?? initial;
        const document = change(before.document);
        onItsWay.current = { version: before.version, document };
        client.setQueryData(['job', id], { ...before, document });
        try {
          const kept = await ask('changeJob', {
            params: { id },
            body: { version: before.version, document, seen: seen() },
          });
          onItsWay.current = undefined;
          client.setQueryData(['job', id], kept);
          done();
          void client.invalidateQueries({ queryKey: ['rows', id] });
        } catch (error) {
          onItsWay.current = undefined;
          if (!(error instanceof ApiError && error.status === 409))
            client.setQueryData(['job', id], before);
          explain(error);
        }
      });
    },
    [client, id, initial, explain, answers, seen],
  );

  const typing = useRef(Promise.resolve());
  const kept = useCallback(() => Promise.all([saving.current, typing.current]), []);
  const changeList = useCallback(
    async <T,>(work: () => Promise<T>): Promise<T | undefined> => {
      // typing and undo before this are saved first
      await Promise.all([typing.current, saving.current]);
      const done = answers();
      try {
        const result = await work();
        done();
        await refresh();
        return result;
      } catch (error) {
        explain(error);
        return undefined;
      }
    },
    [explain, refresh, answers],
  );
  const listId = job.list.id;
  const [clash, setClash] = useState<readonly CellClash[]>([]);
  /**
   * Changes cells one after the other; each is compared with its earlier value, and shown before
   * the server has answered.
   */
  const editCells = useCallback(
    (edits: readonly Required<contract.CellEdit>[]) => {
      const saved = showEdits(edits);
      const done = answers();
      // after pending saves, also after an undo
      typing.current = kept().then(async () => {
        try {
          await ask('editCells', { params: { id: listId }, body: { edits: [...edits] } });
          done();
        } catch (error) {
          const told = error instanceof ApiError ? error.details.clashes : undefined;
          if (Array.isArray(told)) setClash(told as CellClash[]);
          explain(error);
          return saved();
        }
        await refresh();
        saved();
      });
    },
    [listId, explain, refresh, answers, kept, showEdits],
  );
  const editCell = useCallback(
    (record: number, column: string, value: string, from: string) =>
      editCells([{ record, column, value, from }]),
    [editCells],
  );
  const settle = (mine: boolean) => {
    setProblem(undefined);
    setClash([]);
    if (mine)
      editCells(
        clash.map((c) => ({ record: c.record, column: c.column, value: c.yours, from: c.here })),
      );
    else void refresh();
  };
  // the selected row is never beyond the last; a row that was just added is counted a moment later
  const setHand = useCallback((index: number) => setHandRaw(Math.max(0, index)), []);

  // a jump starts from the row that is selected when it is requested
  const from = useRef(inHand);
  useEffect(() => {
    from.current = inHand;
  }, [inHand]);
  const jump = useCallback(
    (to: JumpTo) => {
      const place = async (among: View): Promise<number | null> => {
        const more =
          typeof to === 'string'
            ? { to, after: from.current }
            : { to: 'record' as const, record: to.record };
        return (await ask('jumpInJob', { params: { id }, query: { ...viewQuery(among), ...more } }))
          .index;
      };
      const go = async () => {
        let index = await place(view);
        if (index === null && typeof to !== 'string' && !isWhole(view)) {
          // it exists, but not in this view
          index = await place(wholeView);
          setView(wholeView);
        }
        if (index === null) setProblem(wording.thisRecordNoLonger);
        else setHandRaw(index);
      };
      go().catch(explain);
    },
    [id, view, explain, setView],
  );

  const tick = useCallback((ids: readonly number[], on: boolean) => {
    setTicked((now) => {
      const next = new Set(now);
      for (const record of ids)
        if (on) next.add(record);
        else next.delete(record);
      return next;
    });
  }, []);

  const step = useCallback(
    (direction: 'undo' | 'redo') => {
      const done = answers();
      // after pending saves, and one step after the other
      saving.current = kept()
        .then(() => ask('stepJob', { params: { id }, body: { direction, seen: seen() } }))
        .then(({ job: now }) => {
          client.setQueryData(['job', id], now);
          done();
          void refresh();
        })
        .catch(explain);
    },
    [client, explain, id, kept, refresh, answers, seen],
  );
  useNews(id);
  const others = usePresence(id, handRow?.id);
  const tickedIds = useMemo(() => [...ticked], [ticked]);
  useAddress(id, { band, view, hand, ticked: tickedIds }, (to) => {
    setBand(to.band);
    setViewRaw(to.view);
    setQuery(to.view.q);
    setHandRaw(to.hand);
    setTicked(new Set(to.ticked));
  });
  const home = useFocusHome();
  const may = includes(job.may, 'editor');
  const state = useMemo<JobScreenState>(
    () => ({
      job,
      band,
      openBand: (to) => {
        scroll.leave();
        setBand(to);
      },
      setHand,
      total,
      rowAt,
      view,
      setView,
      ticked,
      tick,
      // viewers have no control that changes anything, and no key either
      save: may ? save : noChange,
      editCell: may ? editCell : noChange,
      editCells: may ? editCells : noChange,
      changeList: may ? changeList : noWork,
      folded,
      fold: setFolded,
      foldSentence: () => setFolded((now) => !now),
      stampInHand: job.document.stamps.find((s) => s.id === stampInHand) ?? job.document.stamps[0],
      takeStamp,
      revealed,
      reveal: (column, on) =>
        setRevealed((now) => {
          const next = new Set(now);
          if (on) next.add(column);
          else next.delete(column);
          return next;
        }),
      step: may ? step : noChange,
      jump,
      kept,
      openLoupe: () => setLoupe(true),
      plan,
      setPlan,
      problem,
      setProblem,
    }),
    [
      may,
      job,
      band,
      setHand,
      total,
      rowAt,
      view,
      setView,
      ticked,
      tick,
      save,
      editCell,
      editCells,
      changeList,
      folded,
      stampInHand,
      revealed,
      step,
      kept,
      jump,
      plan,
      setPlan,
      problem,
    ],
  );

  const inHandNow = useMemo(() => ({ hand: inHand, handRow }), [inHand, handRow]);
  useKeys({ ...state, ...inHandNow }, search);

  return (
    <MayContext.Provider value={job.may}>
      <OthersContext.Provider value={others}>
        <JobScreenContext value={state}>
          <Page ref={home}>
            <div>
              <JobHead query={query} setQuery={setQuery} search={search} />
              <FirstVisit />
            </div>
            <HandContext value={inHandNow}>
              {failed ? (
                <ErrorLine style={{ padding: 20 }}>{failed.message}</ErrorLine>
              ) : (
                <Ledger see={see} loading={loading} />
              )}
              {ticked.size > 0 && <TickedBar />}
              <Loupe isOpen={loupe} onOpenChange={setLoupe} />
            </HandContext>
            {problem && (
              <Notice role="alert">
                <ErrorLine>{problem}</ErrorLine>
                {clash.length > 0 ? (
                  <>
                    <QuietButton onPress={() => settle(false)}>{wording.keepTheirs}</QuietButton>
                    <QuietButton onPress={() => settle(true)}>{wording.useMine}</QuietButton>
                  </>
                ) : (
                  <PlainButton looks onPress={() => setProblem(undefined)}>
                    {wording.close}
                  </PlainButton>
                )}
              </Notice>
            )}
          </Page>
        </JobScreenContext>
      </OthersContext.Provider>
    </MayContext.Provider>
  );
}
