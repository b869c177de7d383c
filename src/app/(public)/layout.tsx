import type { ReactNode } from 'react';
import { Queries } from '@/ui/kit/queries';
import { StyleRegistry } from '@/ui/kit/registry';

/** Pages for whoever is not signed in: nothing of the workspace is loaded. */
export default function Layout({ children }: { children: ReactNode }) {
  return (
    <StyleRegistry>
      <Queries>{children}</Queries>
    </StyleRegistry>
  );
}
