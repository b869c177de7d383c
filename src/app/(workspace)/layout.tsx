import { headers } from 'next/headers';
import type { ReactNode } from 'react';
import { earlyKeysScript } from '@/ui/kit/early-keys';
import { StyleRegistry } from '@/ui/kit/registry';
import { Frame } from '@/ui/shell/frame';

/** The workspace: what the coordinator works in. Nothing of it is loaded by pages that others see. */
export default async function Layout({ children }: { children: ReactNode }) {
  const nonce = (await headers()).get('x-nonce') ?? undefined;
  return (
    <>
      <script
        nonce={nonce}
        suppressHydrationWarning
        dangerouslySetInnerHTML={{ __html: earlyKeysScript }}
      />
      <StyleRegistry>
        <Frame>{children}</Frame>
      </StyleRegistry>
    </>
  );
}
