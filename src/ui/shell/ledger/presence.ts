'use client';
import type { Other } from '../../../contract';

import { useQuery, useQueryClient } from '@tanstack/react-query';
import { createContext, useContext, useEffect, useRef, useState } from 'react';
import { ask } from '../../kit/api';

/** How often a window says that it is still there, in ms. */
const every = 10_000;

const nobody: readonly Other[] = [];

/** Who else has the job open. */
export const OthersContext = createContext(nobody);
export const useOthers = (): readonly Other[] => useContext(OthersContext);

/**
 * Reports to others that this window has a job open, and at which record, and returns the others.
 */
export function usePresence(job: number, record: number | undefined): readonly Other[] {
  const client = useQueryClient();
  const [own] = useState(() => crypto.randomUUID());
  const at = useRef(record);
  useEffect(() => {
    at.current = record;
    // while somebody runs through the rows, only the place where they stop is reported
    const timer = setTimeout(() => say(), 250);
    return () => clearTimeout(timer);
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [record]);
  const say = (leaves = false) => {
    if (!leaves && document.visibilityState !== 'visible') return;
    ask('sayHere', {
      params: { id: job },
      body: { window: own, record: at.current ?? null, ...(leaves ? { leaves } : {}) },
      // nothing is lost where it is not told
    }).catch(() => undefined);
  };
  useEffect(() => {
    const timer = setInterval(() => say(), every);
    const seen = () => say(document.visibilityState !== 'visible');
    const leave = () => say(true);
    document.addEventListener('visibilitychange', seen);
    window.addEventListener('pagehide', leave);
    return () => {
      clearInterval(timer);
      document.removeEventListener('visibilitychange', seen);
      window.removeEventListener('pagehide', leave);
      say(true);
      void client.removeQueries({ queryKey: ['here', job] });
    };
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [job]);
  const { data } = useQuery({
    queryKey: ['here', job],
    queryFn: () => ask('whoIsHere', { params: { id: job }, query: { window: own } }),
    refetchInterval: every * 2,
    retry: false,
  });
  return data?.others ?? nobody;
}
