import type { Metadata } from 'next';
import type { ReactNode } from 'react';
import { Queries } from '@/ui/kit/queries';
import { StyleRegistry } from '@/ui/kit/registry';

export const metadata: Metadata = { title: 'Checkpoint', manifest: '/device.webmanifest' };

/** Devices at checkpoints: nobody is signed in there, and nothing of the workspace is loaded. */
export default function Layout({ children }: { children: ReactNode }) {
  return (
    <StyleRegistry>
      <Queries>{children}</Queries>
    </StyleRegistry>
  );
}
