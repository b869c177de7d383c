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

/** The root of every page: its language, its typefaces, and its nonce. */
export default async function Layout({ children }: { children: ReactNode }) {
  // reading the headers makes every page dynamic, since each answer has its own nonce
  const nonce = (await headers()).get('x-nonce') ?? undefined;
  return (
    <html lang="en">
      <head>{nonce && <meta property="csp-nonce" nonce={nonce} />}</head>
      <body>{children}</body>
    </html>
  );
}
