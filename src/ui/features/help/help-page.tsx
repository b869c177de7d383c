'use client';

import { useQuery } from '@tanstack/react-query';
import { useDeferredValue, useState, type ReactNode } from 'react';
import { styled } from 'styled-components';
import { ask } from '../../kit/api';
import { ErrorLine, Small, Words } from '../../kit/controls';
import { Link } from '../../kit/link';
import { colour, font } from '../../kit/theme';
import { helpPage as wording } from './words';
import { withParts } from '../../kit/with-parts';

export interface GuideEntry {
  id: string;
  title: string;
  about: string;
}

const Screen = styled.main`
  overflow: auto;
  padding: 0 20px;
`;
const Columns = styled.div`
  display: grid;
  grid-template-columns: 270px minmax(0, 720px) 220px;
  gap: 44px;
  max-width: 1360px;
  nav {
    position: sticky;
    top: 0;
    align-self: start;
    max-height: calc(100vh - 44px);
    overflow: auto;
    padding: 24px 0 40px;
  }
  nav ol {
    list-style: none;
    margin: 14px 0 0;
    padding: 0;
    border-top: 1px solid ${colour.rule};
  }
  nav li {
    border-bottom: 1px solid ${colour.rule};
  }
  nav li a {
    display: block;
    padding: 7px 10px;
    text-decoration: none;
    color: ${colour.ink};
    border-left: 3px solid transparent;
  }
  nav li a:hover {
    background: ${colour.paper};
  }
  nav li a[aria-current='page'] {
    background: ${colour.paper};
    border-left-color: ${colour.violet};
    font-weight: 700;
  }
`;

/** Text of the guide, as it comes out of Markdown. */
const Article = styled.article`
  padding: 24px 0 90px;
  font-size: 16px;
  line-height: 1.6;
  h1 {
    font: 700 30px/1.2 ${font.title};
    margin-bottom: 14px;
  }
  h2 {
    font: 700 21px/1.25 ${font.title};
    margin: 38px 0 8px;
    scroll-margin-top: 16px;
  }
  h3 {
    font: 700 17px/1.3 ${font.title};
    margin: 24px 0 6px;
  }
  p,
  ul,
  ol {
    margin: 0 0 12px;
  }
  li {
    margin-bottom: 5px;
  }
  img {
    display: block;
    width: 100%;
    height: auto;
    border: 1px solid ${colour.ruleStrong};
    margin: 16px 0 20px;
  }
  table {
    border-collapse: collapse;
    width: 100%;
    margin: 8px 0 18px;
    font-size: 14.5px;
    line-height: 1.45;
  }
  th,
  td {
    text-align: left;
    vertical-align: top;
    padding: 7px 14px 7px 0;
    border-bottom: 1px solid ${colour.rule};
  }
  code {
    font-size: 0.94em;
    background: ${colour.groundDeep};
    padding: 1px 4px;
    border-radius: 2px;
  }
  pre {
    background: ${colour.groundDeep};
    padding: 12px 14px;
    overflow: auto;
  }
  pre code {
    padding: 0;
  }
`;

/** The frame of all pages of the guide: its pages and the search at the left. */
function Help({
  pages,
  here,
  children,
  aside,
}: {
  pages: readonly GuideEntry[];
  here?: string;
  children: ReactNode;
  aside?: ReactNode;
}) {
  const [typed, setTyped] = useState('');
  const question = useDeferredValue(typed.trim());
  const found = useQuery({
    queryKey: ['guide', question],
    queryFn: () => ask('searchGuide', { query: { q: question } }),
    enabled: question !== '',
    placeholderData: (before) => before,
  });
  return (
    <Screen>
      <Columns>
        <nav aria-label={wording.guide}>
          <Words label={wording.searchTheGuide} value={typed} onChange={setTyped} />
          <ol>
            {pages.map((page) => (
              <li key={page.id}>
                <Link
                  href={`/help/${page.id}`}
                  aria-current={page.id === here ? 'page' : undefined}
                  onClick={() => setTyped('')}
                >
                  {page.title}
                </Link>
              </li>
            ))}
            <li>
              <Link href="/help/about" aria-current={here === 'about' ? 'page' : undefined}>
                {wording.aboutHandStamp}
              </Link>
            </li>
          </ol>
        </nav>
        {question === '' ? (
          children
        ) : (
          <Article aria-live="polite">
            <h1>{withParts(wording.searchResultsFor, question)}</h1>
            {found.error && <ErrorLine role="alert">{found.error.message}</ErrorLine>}
            {found.data?.hits.length === 0 && <p>{wording.noPageContainsAll}</p>}
            {found.data?.hits.map((hit) => (
              <div key={`${hit.page}#${hit.anchor}`} style={{ marginBottom: 18 }}>
                <Link
                  href={`/help/${hit.page}${hit.anchor && `#${hit.anchor}`}`}
                  onClick={() => setTyped('')}
                >
                  <b>{hit.heading}</b>
                </Link>
                {hit.heading !== hit.title && <Small>{hit.title}</Small>}
                <p>{hit.start}</p>
              </div>
            ))}
          </Article>
        )}
        {question === '' ? aside : undefined}
      </Columns>
    </Screen>
  );
}

/** One page of the guide. */
export function GuideArticle({
  pages,
  page,
}: {
  pages: readonly GuideEntry[];
  page: {
    id: string;
    title: string;
    /** Made from our own Markdown files; it holds nothing a user wrote. */
    html: string;
    headings: readonly { id: string; text: string }[];
  };
}) {
  const at = pages.findIndex((p) => p.id === page.id);
  const next = pages[at + 1];
  return (
    <Help
      pages={pages}
      here={page.id}
      aside={
        page.headings.length > 2 && (
          <nav aria-label={wording.onThisPage}>
            <Small>{wording.onThisPage}</Small>
            <ol>
              {page.headings.map((h) => (
                <li key={h.id}>
                  <a href={`#${h.id}`}>{h.text}</a>
                </li>
              ))}
            </ol>
          </nav>
        )
      }
    >
      <Article>
        <h1>{page.title}</h1>
        <div dangerouslySetInnerHTML={{ __html: page.html }} />
        {next && (
          <p style={{ marginTop: 40 }}>
            {withParts(wording.next, <Link href={`/help/${next.id}`}>{next.title}</Link>)}
          </p>
        )}
      </Article>
    </Help>
  );
}

/** The start of the guide: every page with its summary. */
export function GuideStart({ pages }: { pages: readonly GuideEntry[] }) {
  return (
    <Help pages={pages}>
      <Article>
        <h1>{wording.guide}</h1>
        <p>{wording.chooseAPageOr}</p>
        {pages.map((page) => (
          <div key={page.id} style={{ marginBottom: 16 }}>
            <Link href={`/help/${page.id}`}>
              <b>{page.title}</b>
            </Link>
            <p>{page.about}</p>
          </div>
        ))}
      </Article>
    </Help>
  );
}

/** About this program: its version and the licences of what it uses. */
export function About({
  pages,
  version,
  licences,
}: {
  pages: readonly GuideEntry[];
  version: string;
  /** Made from our own list; it holds nothing a user wrote. */
  licences: string;
}) {
  return (
    <Help pages={pages} here="about">
      <Article>
        <h1>{wording.aboutHandStamp}</h1>
        <p>{withParts(wording.handStampVersionIt, version)}</p>
        <p>{wording.handStampItselfHas}</p>
        <div dangerouslySetInnerHTML={{ __html: licences }} />
      </Article>
    </Help>
  );
}
