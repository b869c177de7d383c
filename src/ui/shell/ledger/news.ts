'use client';

import { useQueryClient } from '@tanstack/react-query';
import { useEffect } from 'react';

/**
 * Updates the screen when the job, its list or a run is changed in another window or by a worker. A
 * hidden window does not listen; it loads afresh when it is shown again.
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
      // changes before the connection, or while it was broken, are not reported again
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
