'use client';

import { QueryClient, QueryClientProvider } from '@tanstack/react-query';
import { useState, type ReactNode } from 'react';
import { ApiError } from './api';

/** Cache of requests to the server. */
export function Queries({ children }: { children: ReactNode }) {
  const [client] = useState(
    () =>
      new QueryClient({
        defaultOptions: {
          queries: {
            // waits for a server or database that is restarting; a refused request is not repeated
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
