'use client';

import { QueryClient, QueryClientProvider } from '@tanstack/react-query';
import { useState, type ReactNode } from 'react';
import { ApiError } from './api';

/** What is asked of the server and kept for a moment. */
export function Queries({ children }: { children: ReactNode }) {
  const [client] = useState(
    () =>
      new QueryClient({
        defaultOptions: {
          queries: {
            // a server or database that is being started again is waited for; what one may not see
            // is not asked for again
            retry: (failures, error) =>
              error instanceof ApiError && [401, 403].includes(error.status)
                ? false
                : failures <
                  (error instanceof ApiError && [0, 503].includes(error.status) ? 20 : 1),
            retryDelay: (failures) => Math.min(3000, 300 * 2 ** failures),
            staleTime: 2000,
            refetchOnWindowFocus: true,
          },
        },
      }),
  );
  return <QueryClientProvider client={client}>{children}</QueryClientProvider>;
}
