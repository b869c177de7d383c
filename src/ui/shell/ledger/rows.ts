'use client';
import { keepPreviousData, useQueries } from '@tanstack/react-query';
import { useCallback, useEffect, useMemo, useRef, useState } from 'react';
import type { LedgerWindow } from '../../../contract';
import { rowsInWindow as size } from '../../../contract/ledger';
import { ask } from '../../kit/api';
import { viewQuery, type View } from './view';

/**
 * The records of a job in windows of a hundred, loaded as they come into sight. `first` came with
 * the page.
 */
export function useRows(
  job: number,
  view: View,
  first: LedgerWindow,
  firstView: View,
  revealed: ReadonlySet<string>,
) {
  const reveal = [...revealed].sort().join(',');
  // what came with the page is as old as the page
  const [opened] = useState(() => Date.now());
  const [cameWith] = useState(() => JSON.stringify(firstView));
  const [pages, setPages] = useState<readonly number[]>([0]);
  const results = useQueries({
    queries: pages.map((page) => ({
      queryKey: ['rows', job, view, page, reveal],
      queryFn: ({ signal }: { signal: AbortSignal }) =>
        ask(
          'jobRows',
          {
            params: { id: job },
            query: {
              ...viewQuery(view),
              offset: page * size,
              limit: size,
              reveal: reveal || undefined,
            },
          },
          { signal },
        ),
      placeholderData: keepPreviousData,
      staleTime: 2000,
      ...(page === 0 && !reveal && JSON.stringify(view) === cameWith
        ? { initialData: first, initialDataUpdatedAt: opened }
        : {}),
    })),
  });
  const windows = useMemo(() => {
    const map = new Map<number, LedgerWindow>();
    results.forEach((result, i) => result.data && map.set(pages[i]!, result.data));
    return map;
    // results is new at every render; its data are what matters
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [pages, ...results.map((r) => r.data)]);
  // while a far window loads, the count stays: the list must not shrink while somebody scrolls
  const [total, setTotal] = useState(first.total);
  const latest = windows.values().next().value?.total;
  useEffect(() => {
    if (latest !== undefined) setTotal(latest);
  }, [latest]);
  const rowAt = useCallback(
    (index: number) => windows.get(Math.floor(index / size))?.rows[index % size],
    [windows],
  );
  /** Reports which rows are visible, and which one is selected. */
  const see = useCallback((from: number, to: number, hand: number) => {
    const wanted: number[] = [];
    for (
      let page = Math.floor(Math.max(0, from) / size);
      page <= Math.floor(Math.max(from, to) / size);
      page++
    )
      wanted.push(page);
    const held = Math.floor(Math.max(0, hand) / size);
    if (!wanted.includes(held)) wanted.push(held);
    setPages((now) =>
      now.length === wanted.length && now.every((p, i) => p === wanted[i]) ? now : wanted,
    );
  }, []);
  const failed = results.find((r) => r.error)?.error;
  const loaded = useRef(windows);
  useEffect(() => {
    loaded.current = windows;
  }, [windows]);
  /** Numbers of the records in sight and around them. */
  const seen = useCallback(
    () =>
      [...loaded.current.values()].flatMap(({ rows }) => rows.map((row) => row.id)).slice(0, 500),
    [],
  );
  return { total, rowAt, see, seen, loading: results.some((r) => r.isPending), failed };
}
