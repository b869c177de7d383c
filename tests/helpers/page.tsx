import { QueryClient, QueryClientProvider } from '@tanstack/react-query';
import { render } from '@testing-library/react';
import type { ReactNode } from 'react';
import type { Me } from '../../src/contract';
import type { Right } from '../../src/core/access/rights';
import { MayContext, MeContext } from '../../src/ui/kit/me';

export const meAs = (right: Right): Me => ({
  person: {
    id: 'p-ida',
    name: 'Ida Fennel',
    email: 'ida@marrambay.example',
    right,
  },
  standIns: [],
});

/** A part of the interface in its page, for a person with a role. */
export function show(part: ReactNode, right: Right = 'administrator') {
  const me = meAs(right);
  // a refused request fails at once, and is not repeated
  const client = new QueryClient({ defaultOptions: { queries: { retry: false } } });
  return render(
    <QueryClientProvider client={client}>
      <MeContext.Provider value={me}>
        <MayContext.Provider value={me.person.right}>{part}</MayContext.Provider>
      </MeContext.Provider>
    </QueryClientProvider>,
  );
}
