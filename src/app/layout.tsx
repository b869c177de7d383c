import '@fontsource/atkinson-hyperlegible-mono/400.css';
import '@fontsource/atkinson-hyperlegible-mono/700.css';
import '@fontsource/atkinson-hyperlegible-next/400.css';
import '@fontsource/atkinson-hyperlegible-next/700.css';
import '@fontsource/bricolage-grotesque/700.css';
import type { Metadata } from 'next';
import { headers } from 'next/headers';
import type { ReactNode } from 'react';
import { earlyKeysScript } from '@/ui/kit/early-keys';
import { Frame } from '@/ui/shell/frame';
import { StyleRegistry } from '@/ui/kit/registry';

export const metadata: Metadata = { title: 'Hand Stamp', icons: { icon: '/icon.svg' } };

export default async function Layout({ children }: { children: ReactNode }) {
  // every page is made when it is asked for, since each answer has a nonce of its own
  const nonce = (await headers()).get('x-nonce') ?? undefined;
  return (
    <html lang="en">
      <body>
        <script
          nonce={nonce}
          suppressHydrationWarning
          dangerouslySetInnerHTML={{ __html: earlyKeysScript }}
        />
        <StyleRegistry>
          <Frame>{children}</Frame>
        </StyleRegistry>
      </body>
    </html>
  );
}
