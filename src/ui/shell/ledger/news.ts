'use client';

import { useQueryClient } from '@tanstack/react-query';
import { useEffect } from 'react';

/**
 * Brings what is shown up to date when the job, its list or a run of it is changed in another
 * window or by a worker. A window that is not looked at does not listen; it asks anew when it is
 * looked at again.
 */
export function useNews(job: number): void {
  const client = useQueryClient();
  useEffect(() => {
    let source: EventSource | undefined;
    const refresh = () => {
      for (const key of ['job', 'rows', 'runs'])
        void client.invalidateQueries({ queryKey: [key, job] });
    };
    const follow = () => {
      if (document.visibilityState !== 'visible') {
        source?.close();
        source = undefined;
        return;
      }
      if (source) return;
      source = new EventSource(`/api/jobs/${job}/news`);
      source.onmessage = refresh;
      source.addEventListener('here', () => {
        void client.invalidateQueries({ queryKey: ['here', job] });
      });
      // what was changed before it was heard, or while the line was broken, nobody tells again
      source.onopen = refresh;
    };
    follow();
    document.addEventListener('visibilitychange', follow);
    return () => {
      source?.close();
      document.removeEventListener('visibilitychange', follow);
    };
  }, [client, job]);
}
