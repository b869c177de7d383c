'use client';

import { QueryClient, QueryClientProvider } from '@tanstack/react-query';
import Link from 'next/link';
import { usePathname } from 'next/navigation';
import { useState, type ReactNode } from 'react';
import { createGlobalStyle, styled } from 'styled-components';
import { ApiError } from '../kit/api';
import { ShortcutsButton } from './shortcuts';
import { colour, font } from '../kit/theme';

// other scripts in the typefaces that also print them; each is fetched only when a name needs it
const scripts = [
  ['noto', 'U+0100-024F, U+0370-052F, U+1E00-1FFF'],
  ['noto-hebrew', 'U+0590-05FF'],
  ['noto-arabic', 'U+0600-06FF'],
  ['noto-devanagari', 'U+0900-097F'],
  ['noto-jp', 'U+3000-30FF, U+4E00-9FFF, U+FF00-FFEF'],
  ['noto-kr', 'U+1100-11FF, U+3130-318F, U+AC00-D7AF'],
]
  .map(
    ([key, range]) =>
      `@font-face { font-family: 'Scripts'; src: url('/api/fonts/${key}'); unicode-range: ${range}; font-weight: 100 900; }`,
  )
  .join('');

const Global = createGlobalStyle`
  ${scripts}
  *, *::before, *::after { box-sizing: border-box; }
  html, body { height: 100%; margin: 0; }
  body { background: ${colour.ground}; color: ${colour.ink}; font: 400 14px/1.4 ${font.text}; -webkit-font-smoothing: antialiased; }
  h1, h2, h3, p { margin: 0; }
  button, input, select, textarea { font: inherit; color: inherit; }
  a { color: ${colour.violetDeep}; text-underline-offset: 3px; }
  :focus-visible, [data-focus-visible] { outline: 2px solid ${colour.violet}; outline-offset: 1px; }
  code, .code { font-family: ${font.code}; }
`;

const Shell = styled.div`
  height: 100vh;
  min-width: 1080px;
  /* at 200% zoom the page scrolls and nothing is cut off */
  min-height: 560px;
  display: grid;
  grid-template-rows: 44px minmax(0, 1fr);
`;

const Bar = styled.header`
  display: flex;
  align-items: center;
  gap: 22px;
  padding: 0 20px;
  border-bottom: 1px solid ${colour.rule};
  font-size: 13.5px;
  a {
    color: ${colour.inkSoft};
    text-decoration: none;
    padding: 4px 0;
  }
  a:hover {
    color: ${colour.ink};
  }
  a[aria-current='page'] {
    color: ${colour.ink};
    font-weight: 700;
  }
  nav {
    display: flex;
    gap: 22px;
    flex: 1;
  }
`;

const Brand = styled.span`
  display: flex;
  align-items: center;
  gap: 9px;
  font: 700 18px/1 ${font.title};
  color: ${colour.ink};
`;

const places = [
  ['/jobs', 'Jobs'],
  ['/lists', 'Lists'],
  ['/code', 'One code'],
  ['/bring-in', 'Bring in records'],
  ['/post-room', 'Post room'],
  ['/settings', 'Settings'],
] as const;

export function Frame({ children }: { children: ReactNode }) {
  const [client] = useState(
    () =>
      new QueryClient({
        defaultOptions: {
          queries: {
            // a server or database that is being started again is waited for
            retry: (failures, error) =>
              failures < (error instanceof ApiError && [0, 503].includes(error.status) ? 20 : 1),
            retryDelay: (failures) => Math.min(3000, 300 * 2 ** failures),
            staleTime: 2000,
            refetchOnWindowFocus: true,
          },
        },
      }),
  );
  const path = usePathname();
  // a code shown large has the window to itself
  const bare = path.startsWith('/code/large');
  return (
    <QueryClientProvider client={client}>
      <Global />
      <Shell style={bare ? { minWidth: 0, gridTemplateRows: 'minmax(0, 1fr)' } : undefined}>
        {!bare && (
          <Bar>
            <Link href="/jobs" aria-label="Hand Stamp, all jobs">
              <Brand>
                <svg width="22" height="22" viewBox="0 0 22 22" aria-hidden>
                  <circle
                    cx="11"
                    cy="11"
                    r="9.5"
                    fill="none"
                    stroke={colour.violet}
                    strokeWidth="2.2"
                  />
                  <circle cx="11" cy="11" r="5" fill={colour.violet} />
                </svg>
                Hand Stamp
              </Brand>
            </Link>
            <nav aria-label="Main">
              {places.map(([href, name]) => (
                <Link
                  key={href}
                  href={href}
                  aria-current={path.startsWith(href) ? 'page' : undefined}
                >
                  {name}
                </Link>
              ))}
            </nav>
            <ShortcutsButton />
          </Bar>
        )}
        {children}
      </Shell>
    </QueryClientProvider>
  );
}
