'use client';

import { useEffect, useState, type ReactNode } from 'react';
import { createGlobalStyle, styled } from 'styled-components';
import { Brand } from '../../kit/brand';
import { colour, font } from '../../kit/theme';

const Global = createGlobalStyle`
  *, *::before, *::after { box-sizing: border-box; }
  html, body { height: 100%; margin: 0; }
  body { background: ${colour.ground}; color: ${colour.ink}; font: 400 15px/1.45 ${font.text}; -webkit-font-smoothing: antialiased; }
  h1, h2, p { margin: 0; }
  button, input { font: inherit; color: inherit; }
  a { color: ${colour.violetDeep}; text-underline-offset: 3px; }
  :focus-visible, [data-focus-visible] { outline: 2px solid ${colour.violet}; outline-offset: 1px; }
`;
const Main = styled.main`
  max-width: 420px;
  margin: 0 auto;
  padding: 9vh 20px 40px;
  display: grid;
  gap: 20px;
  h1 {
    font: 700 27px/1.2 ${font.title};
  }
  form {
    display: grid;
    gap: 13px;
    background: ${colour.paper};
    border: 1px solid ${colour.rule};
    border-top: 1.5px solid ${colour.ink};
    padding: 18px 20px 20px;
  }
  input {
    padding: 8px 10px !important;
    font-size: 16px;
  }
  .row {
    display: flex;
    flex-wrap: wrap;
    gap: 12px;
    align-items: center;
    justify-content: space-between;
  }
`;

/** The frame of the pages for signing in. */
export function Door({ title, children }: { title: string; children: ReactNode }) {
  return (
    <>
      <Global />
      <Main>
        <Brand />
        <h1>{title}</h1>
        {children}
      </Main>
    </>
  );
}

/** Does something at the door, once at a time; what went wrong in words. */
export function useAtTheDoor() {
  const [problem, setProblem] = useState<string>();
  const [busy, setBusy] = useState(false);
  // a form that is sent before the page is hydrated would be lost
  const [ready, setReady] = useState(false);
  useEffect(() => setReady(true), []);
  const act = (work: () => Promise<unknown>) => {
    if (busy) return;
    setBusy(true);
    setProblem(undefined);
    work()
      .catch((error: unknown) => setProblem(error instanceof Error ? error.message : String(error)))
      .finally(() => setBusy(false));
  };
  return { problem, busy: busy || !ready, act, setProblem };
}

/** Where to go after signing in: the page that was asked for, on this very site. */
export function goOn(): void {
  location.assign(wayOn(location.search, location.origin));
}

/**
 * The address in the query's `to`, if it is on this very site; otherwise the first page.
 * @param origin such as `https://stamp.example`
 */
export function wayOn(query: string, origin: string): string {
  const to = new URLSearchParams(query).get('to') ?? '/';
  if (!URL.canParse(to, origin)) return `${origin}/`;
  const target = new URL(to, origin);
  // two strokes at the beginning would be read as another host
  return target.origin === origin && !target.pathname.startsWith('//') ? target.href : `${origin}/`;
}
