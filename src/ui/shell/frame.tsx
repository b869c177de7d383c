'use client';

import { Link } from '../kit/link';
import { usePathname } from 'next/navigation';
import { useLayoutEffect, type ReactNode } from 'react';
import { createGlobalStyle, styled } from 'styled-components';
import type { Me } from '../../contract';
import { slicesOf } from '../../core/artwork/font-catalogue';
import { includes, type Right } from '../../core/access/rights';
import { Brand } from '../kit/brand';
import { addressTo } from '../kit/api';
import { takePresses } from '../kit/early-hands';
import { MayContext, MeContext } from '../kit/me';
import { Queries } from '../kit/queries';
import { MeMenu } from './me-menu';
import { HelpMenu } from './help-menu';
import { SignedOut } from './signed-out';
import { colour, font } from '../kit/theme';
import { frame as wording } from './words';
import { withParts } from '../kit/with-parts';

// other scripts in the typefaces that also print them; each, or the part of it, is fetched only
// when a name needs it
const whole = [
  ['noto', 'U+0100-024F, U+0370-052F, U+1E00-1FFF'],
  ['noto-hebrew', 'U+0590-05FF'],
  ['noto-arabic', 'U+0600-06FF'],
  ['noto-devanagari', 'U+0900-097F'],
].map(([key, range]) => ({
  address: addressTo('typeface', { params: { key } }),
  range,
}));
const inParts = (key: string, from: number, to: number) =>
  slicesOf(key)
    .filter((slice) => slice >= from && slice <= to)
    .map((slice) => ({
      address: addressTo('typefacePart', { params: { key, slice } }),
      range: `U+${slice.toString(16)}00-${slice.toString(16)}FF`,
    }));
const scripts = [
  ...whole,
  ...inParts('noto-kr', 0x11, 0x11),
  ...inParts('noto-kr', 0x31, 0x31),
  ...inParts('noto-kr', 0xac, 0xd7),
  ...inParts('noto-jp', 0, 0xff),
]
  .map(
    ({ address, range }) =>
      `@font-face { font-family: 'Scripts'; src: url('${address}'); unicode-range: ${range}; font-weight: 100 900; }`,
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

const places: readonly (readonly [href: string, name: string, wants: Right])[] = [
  ['/jobs', wording.jobs, 'scanner'],
  ['/lists', wording.lists, 'scanner'],
  ['/code', wording.oneCode, 'viewer'],
  ['/links', wording.links, 'viewer'],
  ['/checkpoints', wording.checkpoints, 'scanner'],
  ['/orders', wording.standingOrders, 'editor'],
  ['/bring-in', wording.bringInRecords, 'editor'],
  ['/post-room', wording.postRoom, 'editor'],
  ['/settings', wording.settings, 'administrator'],
];

/** Rounds belong to checkpoints. */
const placeOf = (path: string): string => path.replace(/^\/rounds/, '/checkpoints');

/** Pages that are opened from menus. */
const more: readonly (readonly [href: string, wants: Right])[] = [
  ['/people', 'administrator'],
  ['/journal', 'administrator'],
  ['/programs', 'administrator'],
];
const wantedAt = (path: string): Right =>
  [...places.map(([href, , wants]) => [href, wants] as const), ...more].find(([href]) =>
    path.startsWith(href),
  )?.[1] ?? 'scanner';

function NotYours() {
  return (
    <main style={{ padding: 30, display: 'grid', gap: 8, alignContent: 'start' }}>
      <h1 style={{ font: `700 25px/1.2 ${font.title}` }}>{wording.youDoNotHave}</h1>
      <p>{withParts(wording.askAnAdministratorTo, <Link href="/jobs">{wording.allJobs}</Link>)}</p>
    </main>
  );
}

/** The frame of every page of the workspace. */
export function Frame({ me, children }: { me: Me | undefined; children: ReactNode }) {
  const path = usePathname();
  useLayoutEffect(takePresses, []);
  const right = me?.person.right ?? 'scanner';
  // a code shown large has the window to itself
  const bare = path.startsWith('/code/large');
  return (
    <Queries>
      <MeContext.Provider value={me}>
        <MayContext.Provider value={right}>
          <Global />
          <Shell style={bare ? { minWidth: 0, gridTemplateRows: 'minmax(0, 1fr)' } : undefined}>
            {!bare && (
              <Bar>
                <Link href="/jobs" aria-label={wording.handStampAllJobs}>
                  <Brand />
                </Link>
                <nav aria-label={wording.main}>
                  {places
                    .filter(([, , wants]) => includes(right, wants))
                    .map(([href, name]) => (
                      <Link
                        key={href}
                        href={href}
                        aria-current={placeOf(path).startsWith(href) ? 'page' : undefined}
                      >
                        {name}
                      </Link>
                    ))}
                </nav>
                <HelpMenu />
                {me && <MeMenu me={me} />}
              </Bar>
            )}
            {includes(right, wantedAt(path)) || !me ? children : <NotYours />}
            <SignedOut />
          </Shell>
        </MayContext.Provider>
      </MeContext.Provider>
    </Queries>
  );
}
