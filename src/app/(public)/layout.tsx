import { headers } from 'next/headers';
import type { ReactNode } from 'react';
import { Queries } from '@/ui/kit/queries';
import { StyleRegistry } from '@/ui/kit/registry';

/** Pages for people who are not signed in: nothing of the workspace is loaded. */
export default async function Layout({ children }: { children: ReactNode }) {
  const nonce = (await headers()).get('x-nonce') ?? undefined;
  return (
    <StyleRegistry nonce={nonce}>
      <Queries>{children}</Queries>
    </StyleRegistry>
  );
}
