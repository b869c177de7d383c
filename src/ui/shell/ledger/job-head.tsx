'use client';

import { counted } from '../../../core/base/words';
import { memo, type RefObject } from 'react';
import { styled } from 'styled-components';
import type { Filter } from '../../../contract';
import { MainButton, PlainButton } from '../../kit/controls';
import { useOthers } from './presence';
import { when } from '../../kit/dates';
import { Mark, type MarkName } from '../../kit/mark';
import { colour, font } from '../../kit/theme';
import { useJob } from './context';
import { useMay } from '../../kit/me';
import { LooksOnly } from './looks-only';
import { JobPart } from './job-part';
import { jobHead as wording } from '../words';
import { filled, withParts } from '../../kit/with-parts';

const Head = styled.div`
  display: flex;
  align-items: center;
  gap: 16px;
  padding: 12px 20px 12px;
  border-bottom: 1.5px solid ${colour.ink};
  h1 {
    font: 700 25px/1.15 ${font.title};
    letter-spacing: -0.01em;
    white-space: nowrap;
    overflow: hidden;
    text-overflow: ellipsis;
  }
  h1 [role='button'] {
    color: ${colour.ink};
    padding: 0;
  }
  .about {
    flex: 1;
    min-width: 0;
  }
  .about p {
    color: ${colour.inkSoft};
    font-size: 13px;
    margin-top: 2px;
    white-space: nowrap;
    overflow: hidden;
    text-overflow: ellipsis;
  }
`;
const Search = styled.input`
  width: 120px;
  padding: 7px 10px;
  border: 1px solid ${colour.ruleStrong};
  border-radius: 3px;
  background: ${colour.paper};
`;
const Filters = styled.div`
  display: flex;
  border: 1px solid ${colour.ruleStrong};
  border-radius: 3px;
  background: ${colour.paper};
  button {
    display: flex;
    align-items: center;
    gap: 7px;
    background: none;
    border: 0;
    border-right: 1px solid ${colour.rule};
    padding: 7px 11px;
    font-size: 13px;
    cursor: pointer;
    white-space: nowrap;
  }
  button:last-child {
    border-right: 0;
  }
  button[aria-pressed='true'] {
    font-weight: 700;
    box-shadow: inset 0 -2px 0 ${colour.violet};
  }
`;
const filterWords: Record<Filter, string> = {
  all: 'all',
  ready: 'ready',
  look: wording.needsALook,
  out: wording.leftOut,
  new: wording.notPrinted,
  changed: wording.changedSince,
};

const marks: Record<Filter, MarkName | undefined> = {
  all: undefined,
  ready: 'ready',
  look: 'look',
  out: 'out',
  new: 'none',
  changed: 'look',
};

/** The other people who have the job open, and their records. */
function OthersHere() {
  const others = useOthers();
  const { jump } = useJob();
  if (others.length === 0) return null;
  return (
    <span role="status">
      {others.slice(0, 4).map((other, i) => (
        <span key={i}>
          {i > 0 && ', '}
          <b>{other.oneself ? wording.youInAnotherWindow : other.name}</b>
          {other.number === null ? (
            wording.isHere
          ) : (
            <>
              {' at '}
              <PlainButton
                looks
                style={{ padding: 0, textDecoration: 'underline', textUnderlineOffset: 3 }}
                onPress={() => jump({ record: other.record! })}
              >
                {withParts(wording.record, other.number.toLocaleString('en'))}
              </PlainButton>
            </>
          )}
        </span>
      ))}
      {others.length > 4 && filled(wording.and, counted(others.length - 4, 'other', 'others'))}
      {' · '}
    </span>
  );
}

/** The name and source of the job, the search, and the filters with their counts. */
export const JobHead = memo(function JobHead({
  query,
  setQuery,
  search,
}: {
  query: string;
  setQuery: (query: string) => void;
  search: RefObject<HTMLInputElement | null>;
}) {
  const { job, band, view, setView, openBand } = useJob();
  const may = useMay();
  const printed = job.counts.ready > job.counts.new;
  // printed and not printed are shown only after the first print
  const shownFilters: Filter[] = [
    'all',
    'ready',
    'look',
    'out',
    ...(printed ? (['new', 'changed'] as const) : []),
  ].filter(
    (name): name is Filter =>
      (name !== 'new' && name !== 'changed') || job.counts[name] > 0 || view.filter === name,
  );
  return (
    <Head>
      <div className="about">
        <h1>
          <JobPart />
        </h1>
        <p>
          {withParts(
            wording.fromAsOf,
            !may && <LooksOnly />,
            <OthersHere />,
            job.list.name,
            counted(job.counts.all, 'record'),
            job.list.source,
            <time suppressHydrationWarning>{when(job.list.updated)}</time>,
            job.list.working > 0 && (
              <b>{withParts(wording.workingOutColumnsTo, job.list.working.toLocaleString('en'))}</b>
            ),
            job.judging > 0 && (
              <b>{withParts(wording.checkingToGo, job.judging.toLocaleString('en'))}</b>
            ),
          )}
        </p>
      </div>
      <Search
        ref={search}
        type="search"
        placeholder={wording.search}
        aria-label={wording.searchTheRecords}
        value={query}
        onChange={(e) => setQuery(e.target.value)}
      />
      <Filters role="group" aria-label={wording.whichRecords}>
        {shownFilters.map((name) => (
          <button
            key={name}
            type="button"
            aria-pressed={view.filter === name}
            onClick={() => setView({ filter: name })}
          >
            {marks[name] && <Mark name={marks[name]} />}
            {filterWords[name]} {job.counts[name].toLocaleString('en')}
          </button>
        ))}
      </Filters>
      {/* in the run's own band its sentence says what is made, and makes it */}
      {band !== 'run' && <MainButton onPress={() => openBand('run')}>{wording.goToRun}</MainButton>}
    </Head>
  );
});
