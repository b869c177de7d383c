import '@fontsource/atkinson-hyperlegible-mono/400.css';
import '@fontsource/atkinson-hyperlegible-mono/700.css';
import '@fontsource/atkinson-hyperlegible-next/400.css';
import '@fontsource/atkinson-hyperlegible-next/700.css';
import '@fontsource/bricolage-grotesque/700.css';
import type { Metadata, Viewport } from 'next';
import { headers } from 'next/headers';
import type { ReactNode } from 'react';

export const metadata: Metadata = { title: 'Hand Stamp', icons: { icon: '/icon.svg' } };
export const viewport: Viewport = { width: 'device-width', initialScale: 1 };

/**
 * What every page has, of the workspace or not: its language, its typefaces, and a nonce of its
 * own.
 */
export default async function Layout({ children }: { children: ReactNode }) {
  // asking for the headers has every page made when it is asked for, since each answer has a nonce
  // of its own
  const nonce = (await headers()).get('x-nonce') ?? undefined;
  return (
    <html lang="en">
      <head>{nonce && <meta property="csp-nonce" nonce={nonce} />}</head>
      <body>{children}</body>
    </html>
  );
}
