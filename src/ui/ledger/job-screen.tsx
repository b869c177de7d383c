'use client';

import { useQuery, useQueryClient } from '@tanstack/react-query';
import { useCallback, useEffect, useMemo, useRef, useState } from 'react';
import { styled } from 'styled-components';
import type { Filter, JobView } from '../../core/job/views';
import type { JobDocument } from '../../core/job/document';
import { readsItself } from '../../core/job/origin';
import { ask, ApiError } from '../api';
import { ErrorLine, MainButton, PlainButton } from '../controls';
import { when } from '../dates';
import { Mark, type MarkName } from '../mark';
import { Loupe } from '../loupe';
import { colour, font } from '../theme';
import { JobScreenContext, bands, type Band, type JobScreenState } from './context';
import { useHistory } from './history';
import { Ledger } from './ledger';
import { useRows } from './rows';
import { TickedBar } from './ticked-bar';
import { viewQuery, wholeView, type View } from './view';

const Page = styled.main`
  display: grid;
  grid-template-columns: minmax(0, 1fr);
  grid-template-rows: auto minmax(0, 1fr) auto;
  min-height: 0;
`;
const Head = styled.div`
  display: flex;
  align-items: center;
  gap: 16px;
  padding: 12px 20px 12px;
  border-bottom: 1.5px solid ${colour.ink};
  h1 {
    font: 700 25px/1.15 ${font.title};
    letter-spacing: -0.01em;
    white-space: nowrap;
    overflow: hidden;
    text-overflow: ellipsis;
  }
  .about {
    flex: 1;
    min-width: 0;
  }
  .about p {
    color: ${colour.inkSoft};
    font-size: 13px;
    margin-top: 2px;
    white-space: nowrap;
    overflow: hidden;
    text-overflow: ellipsis;
  }
`;
const Search = styled.input`
  width: 120px;
  padding: 7px 10px;
  border: 1px solid ${colour.ruleStrong};
  border-radius: 3px;
  background: ${colour.paper};
`;
const Filters = styled.div`
  display: flex;
  border: 1px solid ${colour.ruleStrong};
  border-radius: 3px;
  background: ${colour.paper};
  button {
    display: flex;
    align-items: center;
    gap: 7px;
    background: none;
    border: 0;
    border-right: 1px solid ${colour.rule};
    padding: 7px 11px;
    font-size: 13px;
    cursor: pointer;
    white-space: nowrap;
  }
  button:last-child {
    border-right: 0;
  }
  button[aria-pressed='true'] {
    font-weight: 700;
    box-shadow: inset 0 -2px 0 ${colour.violet};
  }
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

const filterWords: Record<Filter, string> = {
  all: 'all',
  ready: 'ready',
  look: 'needs a look',
  out: 'left out',
  new: 'not printed',
  changed: 'changed since',
};

export function JobScreen({ initial, openOn = 'stamps' }: { initial: JobView; openOn?: Band }) {
  const client = useQueryClient();
  const id = initial.id;
  const { data: job = initial } = useQuery({
    queryKey: ['job', id],
    queryFn: () => ask<JobView>(`/api/jobs/${id}`),
    initialData: initial,
    // a list that follows its source is looked at again now and then
    refetchInterval: ({ state }) =>
      state.data?.judging || state.data?.list.working ? 800 : readsItself(state.data?.list.origin ?? null) ? 4000 : false,
  });
  const [band, setBand] = useState<Band>(openOn);
  const [view, setViewRaw] = useState<View>(wholeView);
  const [query, setQuery] = useState('');
  const [hand, setHandRaw] = useState(0);
  const [ticked, setTicked] = useState<ReadonlySet<number>>(new Set());
  const [loupe, setLoupe] = useState(false);
  const [problem, setProblem] = useState<string>();
  const search = useRef<HTMLInputElement>(null);
  const [revealed, setRevealed] = useState<ReadonlySet<string>>(new Set());
  useEffect(() => {
    const timer = setTimeout(() => setViewRaw((now) => (now.q === query ? now : { ...now, q: query })), 180);
    return () => clearTimeout(timer);
  }, [query]);
  const setView = useCallback((next: Partial<View>) => {
    setViewRaw((now) => ({ ...now, ...next }));
    if (next.q !== undefined) setQuery(next.q);
    setHandRaw(0);
  }, []);
  const { total, rowAt, see, loading, failed } = useRows(id, view);
  const last = Math.max(0, total - 1);
  const inHand = Math.min(hand, last);
  const handRow = rowAt(inHand);

  const judging = job.judging > 0;
  useEffect(() => {
    void client.invalidateQueries({ queryKey: ['rows', id] });
    // each step of the checking, and each revision from elsewhere, brings other rows
  }, [client, id, job.judging, job.list.revision]);

  const refresh = useCallback(
    () => Promise.all([client.invalidateQueries({ queryKey: ['job', id] }), client.invalidateQueries({ queryKey: ['rows', id] })]),
    [client, id],
  );
  const explain = useCallback(
    (error: unknown) => {
      setProblem(error instanceof Error ? error.message : String(error));
      void refresh();
    },
    [refresh],
  );

  const history = useHistory();
  const saving = useRef(Promise.resolve());
  const save = useCallback(
    (change: (document: JobDocument) => JobDocument, remember = true) => {
      // one after the other: each change starts from what the one before it left
      saving.current = saving.current.then(async () => {
        const before = client.getQueryData<JobView>(['job', id]) ?? initial;
        const document = change(before.document);
        client.setQueryData(['job', id], { ...before, document });
        try {
          client.setQueryData(
            ['job', id],
            await ask<JobView>(`/api/jobs/${id}`, { method: 'PATCH', json: { version: before.version, document } }),
          );
          if (remember) history.add({ kind: 'document', document: before.document });
          setProblem(undefined);
          void client.invalidateQueries({ queryKey: ['rows', id] });
        } catch (error) {
          if (!(error instanceof ApiError && error.status === 409)) client.setQueryData(['job', id], before);
          explain(error);
        }
      });
    },
    [client, id, initial, explain, history],
  );

  const changeList = useCallback(
    async <T,>(work: () => Promise<T>): Promise<T | undefined> => {
      try {
        const result = await work();
        history.add({ kind: 'list' });
        setProblem(undefined);
        await refresh();
        return result;
      } catch (error) {
        explain(error);
        return undefined;
      }
    },
    [explain, history, refresh],
  );
  const listId = job.list.id;
  const editCell = useCallback(
    (record: number, column: string, value: string) =>
      void changeList(() => ask(`/api/lists/${listId}/cells`, { json: { edits: [{ record, column, value }] } })),
    [changeList, listId],
  );
  // the row in hand is never beyond the last; a row that was just added is counted a moment later
  const setHand = useCallback((index: number) => setHandRaw(Math.max(0, index)), []);

  const jump = useCallback(
    (to: string | { record: number }) => {
      const more: Record<string, string> = typeof to === 'string' ? { to } : { to: 'record', record: String(to.record) };
      ask<{ index: number | null }>(`/api/jobs/${id}/jump?${viewQuery(view, more)}`).then(
        ({ index }) => (index === null ? setProblem('There is no such record here.') : setHandRaw(index)),
        explain,
      );
    },
    [id, view, explain],
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
      // after what is still being kept
      void saving.current.then(() => {
        const last = history.step(direction, (client.getQueryData<JobView>(['job', id]) ?? initial).document);
        if (last?.kind === 'document') save(() => last.document, false);
        else ask(`/api/lists/${listId}/step`, { json: { direction } }).then(refresh, explain);
      });
    },
    [client, explain, history, id, initial, listId, refresh, save],
  );
  const state = useMemo<JobScreenState>(
    () => ({
      job,
      band,
      openBand: setBand,
      hand: inHand,
      handRow,
      setHand,
      total,
      rowAt,
      view,
      setView,
      ticked,
      tick,
      save,
      editCell,
      changeList,
      revealed,
      reveal: (column, on) =>
        setRevealed((now) => {
          const next = new Set(now);
          if (on) next.add(column);
          else next.delete(column);
          return next;
        }),
      step,
      jump,
      openLoupe: () => setLoupe(true),
      problem,
      setProblem,
    }),
    [
      job,
      band,
      inHand,
      handRow,
      setHand,
      total,
      rowAt,
      view,
      setView,
      ticked,
      tick,
      save,
      editCell,
      changeList,
      revealed,
      step,
      jump,
      problem,
    ],
  );

  useEffect(() => {
    const listen = (event: KeyboardEvent) => {
      const target = event.target as HTMLElement;
      if (target.closest('input, textarea, select, [role=dialog], [role=listbox]')) return;
      const key = event.key;
      if ((event.ctrlKey || event.metaKey) && (key === 'z' || key === 'y')) state.step(key === 'y' || event.shiftKey ? 'redo' : 'undo');
      else if (event.ctrlKey || event.metaKey || event.altKey) return;
      else if (key === 'ArrowDown') state.setHand(state.hand + 1);
      else if (key === 'ArrowUp') state.setHand(state.hand - 1);
      else if (key === 'PageDown') state.setHand(state.hand + 12);
      else if (key === 'PageUp') state.setHand(state.hand - 12);
      else if (key === 'Home') state.setHand(0);
      else if (key === 'End') state.setHand(state.total - 1);
      else if (/^[1-4]$/.test(key)) state.openBand(bands[Number(key) - 1]);
      else if (key === ' ' && !target.closest('button, a')) state.openLoupe();
      else if (key === 't' && state.handRow) state.tick([state.handRow.id], !state.ticked.has(state.handRow.id));
      else if (key === '/') search.current?.focus();
      else return;
      event.preventDefault();
    };
    window.addEventListener('keydown', listen);
    return () => window.removeEventListener('keydown', listen);
  }, [state]);

  const marks: Record<Filter, MarkName | undefined> = {
    all: undefined,
    ready: 'ready',
    look: 'look',
    out: 'out',
    new: 'none',
    changed: 'look',
  };
  const printed = job.counts.ready > job.counts.new;
  // what was printed is told apart once something was
  const shownFilters: Filter[] = ['all', 'ready', 'look', 'out', ...(printed ? (['new', 'changed'] as const) : [])].filter(
    (name): name is Filter => (name !== 'new' && name !== 'changed') || job.counts[name] > 0 || view.filter === name,
  );
  return (
    <JobScreenContext value={state}>
      <Page>
        <Head>
          <div className="about">
            <h1>{job.name}</h1>
            <p>
              {job.list.name}, {job.counts.all.toLocaleString('en')} records, from {job.list.source} as of{' '}
              <time suppressHydrationWarning>{when(job.list.updated)}</time>
              {job.list.working > 0 && <b> · working columns out, {job.list.working.toLocaleString('en')} to go</b>}
              {judging && <b> · checking, {job.judging.toLocaleString('en')} to go</b>}
            </p>
          </div>
          <Search
            ref={search}
            type="search"
            placeholder="Search"
            aria-label="Search the records"
            value={query}
            onChange={(e) => setQuery(e.target.value)}
          />
          <Filters role="group" aria-label="Which records">
            {shownFilters.map((name) => (
              <button key={name} type="button" aria-pressed={view.filter === name} onClick={() => setView({ filter: name })}>
                {marks[name] && <Mark name={marks[name]} />}
                {filterWords[name]} {job.counts[name].toLocaleString('en')}
              </button>
            ))}
          </Filters>
          <MainButton onPress={() => setBand('run')}>Make the run</MainButton>
        </Head>
        {failed ? <ErrorLine style={{ padding: 20 }}>{failed.message}</ErrorLine> : <Ledger see={see} loading={loading} />}
        {ticked.size > 0 && <TickedBar />}
        <Loupe isOpen={loupe} onOpenChange={setLoupe} />
        {problem && (
          <Notice role="alert">
            <ErrorLine>{problem}</ErrorLine>
            <PlainButton onPress={() => setProblem(undefined)}>Close</PlainButton>
          </Notice>
        )}
      </Page>
    </JobScreenContext>
  );
}
