import type { Metadata } from 'next';
import { headers } from 'next/headers';
import type { ReactNode } from 'react';
import { Queries } from '@/ui/kit/queries';
import { StyleRegistry } from '@/ui/kit/registry';

export const metadata: Metadata = { title: 'Checkpoint', manifest: '/device.webmanifest' };

/** Devices at checkpoints: nobody is signed in there, and nothing of the workspace is loaded. */
export default async function Layout({ children }: { children: ReactNode }) {
  const nonce = (await headers()).get('x-nonce') ?? undefined;
  return (
    <StyleRegistry nonce={nonce}>
      <Queries>{children}</Queries>
    </StyleRegistry>
  );
}
