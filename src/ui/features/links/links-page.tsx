'use client';
import { keepPreviousData, useQueries, useQuery, useQueryClient } from '@tanstack/react-query';
import { useVirtualizer } from '@tanstack/react-virtual';
import { useDeferredValue, useEffect, useRef, useState, type ReactNode } from 'react';
import { DialogTrigger } from 'react-aria-components';
import { styled } from 'styled-components';
import type { LinkChange, LinkCounts, LinkFilter, LinkRow } from '../../../contract';
import { counted, plural } from '../../../core/base/words';
import { spokenCode } from '../../../core/links/code';
import { doorTrouble } from '../../../core/payload/door';
import { ask } from '../../kit/api';
import {
  Check,
  ChoicePart,
  Editor,
  ErrorLine,
  MainButton,
  Part,
  PlainButton,
  Pop,
  QuietButton,
  Sentence,
  Small,
  Warning,
  Words,
} from '../../kit/controls';
import { when } from '../../kit/dates';
import { Mark } from '../../kit/mark';
import { useMay } from '../../kit/me';
import { colour, font } from '../../kit/theme';
import { Spark } from './charts';
import { LinkInHand } from './link-in-hand';
import { NewLink } from './new-link';
import { LeadsEditor, PeekPart, SpanEditor } from './rule-parts';
import { leadingWords, markOf, shortDay } from './words';
import { linksPage as wording } from './words';
import { filled, withParts } from '../../kit/with-parts';

const Frame = styled.main`
  display: grid;
  grid-template-rows: auto auto minmax(0, 1fr) auto;
  min-height: 0;
  .head {
    display: flex;
    align-items: center;
    gap: 18px;
    padding: 12px 20px;
    border-bottom: 1.5px solid ${colour.ink};
  }
  h1 {
    font: 700 25px/1.2 ${font.title};
  }
  .says {
    padding: 12px 20px;
    border-bottom: 1px solid ${colour.rule};
    display: grid;
    gap: 6px;
  }
  .both {
    display: grid;
    grid-template-columns: minmax(0, 1.46fr) minmax(0, 1fr);
    min-height: 0;
  }
  .table {
    overflow: auto;
    outline: none;
    position: relative;
  }
  .ticked {
    display: flex;
    gap: 10px;
    align-items: center;
    padding: 7px 20px;
    border-top: 1.5px solid ${colour.ink};
    background: ${colour.paper};
    font-size: 13.5px;
  }
`;

const Row = styled.div`
  position: absolute;
  left: 0;
  right: 0;
  display: grid;
  grid-template-columns: 22px 12px 108px minmax(0, 1fr) minmax(0, 1.4fr) 116px 52px;
  gap: 8px;
  align-items: center;
  padding: 0 16px 0 14px;
  border-bottom: 1px solid ${colour.rule};
  cursor: pointer;
  font-size: 13.5px;
  > span {
    overflow: hidden;
    text-overflow: ellipsis;
    white-space: nowrap;
  }
  .code {
    font: 400 13.5px/1 ${font.code};
  }
  .where {
    color: ${colour.inkSoft};
  }
  .n {
    text-align: right;
    font: 400 13.5px/1 ${font.code};
  }
  &[aria-selected='true'] {
    background: ${colour.violetWash};
    .name {
      font-weight: 700;
    }
  }
`;

const rowHeight = 38;
const pageSize = 100;

/** Links: a ledger of them, and next to it the selected one. */
export function LinksPage() {
  const client = useQueryClient();
  const may = useMay();
  const [filter, setFilter] = useState<LinkFilter>('all');
  const [search, setSearch] = useState('');
  const [list, setList] = useState<number>();
  const [order, setOrder] = useState<'new' | 'scans' | 'title'>('new');
  const [hand, setHand] = useState(0);
  const [ticked, setTicked] = useState<ReadonlySet<string>>(new Set());
  const [problem, setProblem] = useState<string>();
  const [told, setTold] = useState<{ words: string; batch?: string }>();
  const words = useDeferredValue(search);
  const which = { filter, search: words, list };
  const counts = useQuery({
    queryKey: ['links', 'counts'],
    queryFn: () => ask('linkCounts', { query: {} }),
    refetchInterval: ({ state }) => (state.data?.asking ? 1000 : 15_000),
  });
  const rows = useRows(which, order);
  const row = rows.at(hand);
  // the selected link stays within the filter
  if (rows.of !== undefined && hand > 0 && hand >= rows.of) setHand(Math.max(0, rows.of - 1));
  const show = (next: LinkFilter) => {
    setFilter(next === filter ? 'all' : next);
    setHand(0);
    setTicked(new Set());
  };
  const explain = (e: unknown) => setProblem(e instanceof Error ? e.message : String(e));
  const after = () => client.invalidateQueries({ queryKey: ['links'] });
  const change = (links: { codes: string[] } | { all: typeof which }, next: LinkChange) => {
    setProblem(undefined);
    ask('changeLinks', { body: { links, change: next } }).then(
      ({ batch, changed }) => {
        setTold({
          words: filled(wording.changed, counted(changed, 'link')),
          batch: next.state === 'withdrawn' ? undefined : batch,
        });
        void after();
      },
      (e: unknown) => (explain(e), void after()),
    );
  };
  const undo = (batch: string) => {
    setProblem(undefined);
    ask('undoLinks', { body: { batch } }).then(
      ({ undone, left }) => {
        setTold({
          words:
            left > 0
              ? filled(
                  wording.undoneWereChangedSince,
                  counted(undone, 'link'),
                  left.toLocaleString('en'),
                )
              : filled(wording.undone, counted(undone, 'link')),
        });
        void after();
      },
      (e: unknown) => (explain(e), void after()),
    );
  };
  const tick = (code: string, on: boolean) => {
    const next = new Set(ticked);
    if (on) next.add(code);
    else next.delete(code);
    setTicked(next);
  };
  return (
    <Frame>
      <div className="head">
        <div style={{ flex: 1 }}>
          <h1>{wording.links}</h1>
          <Small>{wording.shortAddressesYouCan}</Small>
        </div>
        {may && (
          <DialogTrigger>
            <MainButton>{wording.newLink}</MainButton>
            <Pop placement="bottom end" offset={4}>
              <Editor aria-label={wording.newLink}>
                {({ close }) => (
                  <NewLink
                    close={close}
                    onMade={() => {
                      setFilter('all');
                      setSearch('');
                      setOrder('new');
                      setHand(0);
                      void after();
                    }}
                  />
                )}
              </Editor>
            </Pop>
          </DialogTrigger>
        )}
      </div>
      <div className="says">
        {counts.error && <ErrorLine>{counts.error.message}</ErrorLine>}
        {counts.data && (
          <CountsSentence
            counts={counts.data}
            filter={filter}
            show={show}
            onProblem={explain}
            again={after}
          />
        )}
        <div style={{ display: 'flex', gap: 18, alignItems: 'baseline' }}>
          <Sentence $minor style={{ flex: 1 }}>
            {withParts(
              wording.shownOf,
              <b>{filterWords[filter]}</b>,
              <ChoicePart
                looks
                label={wording.list}
                value={list === undefined ? 'all' : String(list)}
                onChange={(id) => {
                  setList(id === 'all' ? undefined : Number(id));
                  setHand(0);
                }}
                choices={[
                  { id: 'all', name: wording.allLists },
                  ...(counts.data?.lists ?? []).map((l) => ({
                    id: String(l.id),
                    name: l.name,
                    about: counted(l.links, 'link'),
                  })),
                ]}
              />,
              <ChoicePart
                looks
                label={wording.sortBy}
                value={order}
                onChange={(id) => (setOrder(id), setHand(0))}
                choices={[
                  { id: 'new', name: wording.newestFirst },
                  { id: 'scans', name: wording.mostScannedFirst },
                  { id: 'title', name: wording.byTitle },
                ]}
              />,
              rows.of !== undefined && `, ${counted(rows.of, 'link')}`,
            )}
          </Sentence>
          <div style={{ width: 280 }}>
            <Words
              label={wording.searchByNameCode}
              value={search}
              onChange={(text) => (setSearch(text), setHand(0))}
            />
          </div>
        </div>
        {told && (
          <p
            role="status"
            style={{ fontSize: 13.5, display: 'flex', gap: 10, alignItems: 'center' }}
          >
            {told.words}.{' '}
            {told.batch && (
              <PlainButton
                onPress={() => undo(told.batch!)}
                style={{ textDecoration: 'underline' }}
              >
                {wording.undo}
              </PlainButton>
            )}
          </p>
        )}
        {(problem ?? rows.error) && <ErrorLine role="alert">{problem ?? rows.error}</ErrorLine>}
      </div>
      <div className="both">
        <LinkTable
          rows={rows}
          hand={hand}
          setHand={setHand}
          ticked={ticked}
          tick={may ? tick : undefined}
          empty={
            filter === 'all' && words === '' && list === undefined
              ? wording.noLinksYetA
              : wording.noLinkMatches
          }
        />
        {row ? (
          <LinkInHand
            key={row.code}
            code={row.code}
            change={(next) => change({ codes: [row.code] }, next)}
            undo={undo}
          />
        ) : (
          <section style={{ background: colour.paper, borderLeft: `1px solid ${colour.rule}` }} />
        )}
      </div>
      {ticked.size > 0 && (
        <TickedBar
          count={ticked.size}
          of={rows.of ?? 0}
          change={(next) => change({ codes: [...ticked] }, next)}
          changeAll={(next) => change({ all: which }, next)}
          untick={() => setTicked(new Set())}
        />
      )}
    </Frame>
  );
}

const filterWords: Record<LinkFilter, string> = {
  all: wording.allLinks,
  open: wording.openLinks,
  'not-found': wording.linksWhoseWebPage,
  nowhere: wording.linksWhoseRecordWas,
  ending: wording.linksThatEndToday,
  paused: wording.pausedLinks,
  over: wording.endedOrWithdrawnLinks,
  unscanned: wording.linksPrintedButNever,
  alone: wording.linksWithoutARecord,
};

/** Counts of links by state; each count filters. */
function CountsSentence({
  counts,
  filter,
  show,
  onProblem,
  again,
}: {
  counts: LinkCounts;
  filter: LinkFilter;
  show: (filter: LinkFilter) => void;
  onProblem: (e: unknown) => void;
  again: () => Promise<unknown>;
}) {
  const { host } = new URL(counts.base);
  const trouble = doorTrouble(counts.base);
  const kinds: readonly [LinkFilter, number, ReactNode][] = [
    ['open', counts.open, filled(wording.open, counts.open.toLocaleString('en'))],
    [
      'not-found',
      counts.notFound,
      `${counts.notFound.toLocaleString('en')} ${plural(counts.notFound, wording.leadsToAMissing, wording.leadToAMissing)}`,
    ],
    [
      'ending',
      counts.ending,
      filled(
        wording.byTomorrow,
        counts.ending.toLocaleString('en'),
        plural(counts.ending, 'ends', 'end'),
      ),
    ],
    ['paused', counts.paused, filled(wording.paused, counts.paused.toLocaleString('en'))],
    ['over', counts.over, filled(wording.ended, counts.over.toLocaleString('en'))],
    [
      'unscanned',
      counts.unscanned,
      filled(wording.printedAndNeverScanned, counts.unscanned.toLocaleString('en')),
    ],
  ];
  const shown = kinds.filter(([, n], i) => n > 0 || i === 0);
  return (
    <>
      <Sentence>
        {withParts(
          wording.onInTheLast,
          counted(counts.all, 'link'),
          <Part looks label={wording.addressOfLinks} editor={<HostWords counts={counts} />}>
            {host}
          </Part>,
          ': ',
          shown.map(([id, , words], i) => (
            <span key={id}>
              {i > 0 && ', '}
              {id === 'not-found' && (
                <>
                  <Mark name="look" />{' '}
                </>
              )}
              <FilterWords type="button" aria-pressed={filter === id} onClick={() => show(id)}>
                {words}
              </FilterWords>
            </span>
          )),
          counted(counts.scans, 'scan'),
          counts.week.toLocaleString('en'),
          <AskPart counts={counts} onProblem={onProblem} again={again} />,
        )}
      </Sentence>
      {trouble && counts.all > 0 && (
        <Warning>{withParts(wording.youCanChangeThe, host, trouble.message, trouble.mend)}</Warning>
      )}
    </>
  );
}

const FilterWords = styled.button`
  all: unset;
  display: inline;
  cursor: pointer;
  font-weight: 700;
  color: ${colour.violetDeep};
  border-bottom: 1.5px solid ${colour.violet};
  &[aria-pressed='true'] {
    background: ${colour.violetWash};
  }
  &:focus-visible {
    outline: 2px solid ${colour.violet};
    outline-offset: 1px;
  }
`;

function HostWords({ counts }: { counts: LinkCounts }) {
  return (
    <div style={{ display: 'grid', gap: 6, maxWidth: 380 }}>
      <p>
        {withParts(
          wording.codesContainInCapitals,
          <span style={{ fontFamily: font.code }}>{counts.base.toUpperCase()}/…</span>,
        )}
      </p>
      <Small>{wording.anAdministratorCanChange}</Small>
    </div>
  );
}

/** Checks whether the pages of the links open, slowly and with consent. */
function AskPart({
  counts,
  onProblem,
  again,
}: {
  counts: LinkCounts;
  onProblem: (e: unknown) => void;
  again: () => Promise<unknown>;
}) {
  const { asking } = counts;
  const turn = (on: boolean, close: () => void) => {
    close();
    (on ? ask('askLinks') : ask('stopAskingLinks')).then(() => void again(), onProblem);
  };
  return (
    <Part
      acts
      label={wording.checkWhetherTheyOpen}
      editor={(close) => (
        <div style={{ display: 'grid', gap: 10, maxWidth: 380 }}>
          {asking ? (
            <p>
              {withParts(
                wording.ofChecked,
                asking.done.toLocaleString('en'),
                asking.of.toLocaleString('en'),
              )}
            </p>
          ) : (
            <p>{wording.handStampOpensEach}</p>
          )}
          {counts.asked && !asking && (
            <Small>{withParts(wording.lastCheckedOn, when(counts.asked))}</Small>
          )}
          <div>
            {asking ? (
              <QuietButton onPress={() => turn(false, close)}>{wording.stopChecking}</QuietButton>
            ) : (
              <MainButton onPress={() => turn(true, close)}>{wording.checkNow}</MainButton>
            )}
          </div>
        </div>
      )}
    >
      {asking
        ? filled(
            wording.checkingOf,
            asking.done.toLocaleString('en'),
            asking.of.toLocaleString('en'),
          )
        : wording.checkWhetherTheyOpen}
    </Part>
  );
}

interface Rows {
  of: number | undefined;
  at(index: number): LinkRow | undefined;
  see(from: number, to: number): void;
  error: string | undefined;
}

/** The visible rows, loaded in windows. */
function useRows(
  which: { filter: LinkFilter; search: string; list: number | undefined },
  order: 'new' | 'scans' | 'title',
): Rows {
  const [seen, setSeen] = useState<readonly [number, number]>([0, 0]);
  const pages: number[] = [];
  for (let page = seen[0]; page <= seen[1]; page++) pages.push(page);
  const asked = useQueries({
    queries: pages.map((page) => ({
      queryKey: ['links', 'rows', which, order, page],
      queryFn: () => ask('listLinks', { query: { ...which, order, from: page * pageSize } }),
      placeholderData: keepPreviousData,
      refetchInterval: 15_000,
    })),
  });
  const first = asked.find((page) => page.data);
  return {
    of: first?.data?.of,
    at: (index) => {
      const page = pages.indexOf(Math.floor(index / pageSize));
      return page < 0 ? undefined : asked[page]?.data?.rows[index % pageSize];
    },
    see: (from, to) => {
      const next = [Math.floor(from / pageSize), Math.floor(to / pageSize)] as const;
      if (next[0] !== seen[0] || next[1] !== seen[1]) setSeen(next);
    },
    error: asked.find((page) => page.error)?.error?.message,
  };
}

function LinkTable({
  rows,
  hand,
  setHand,
  ticked,
  tick,
  empty,
}: {
  rows: Rows;
  hand: number;
  setHand: (index: number) => void;
  ticked: ReadonlySet<string>;
  tick: ((code: string, on: boolean) => void) | undefined;
  empty: string;
}) {
  const scroller = useRef<HTMLDivElement>(null);
  const of = rows.of ?? 0;
  const virtual = useVirtualizer({
    count: of,
    getScrollElement: () => scroller.current,
    estimateSize: () => rowHeight,
    overscan: 8,
    initialRect: { width: 760, height: 620 },
  });
  const items = virtual.getVirtualItems();
  const first = items[0]?.index ?? 0;
  const last = items.at(-1)?.index ?? 0;
  useEffect(() => rows.see(first, last));
  const move = (to: number) => {
    const next = Math.max(0, Math.min(of - 1, to));
    setHand(next);
    virtual.scrollToIndex(next, { align: 'auto' });
  };
  const keys: Record<string, number> = {
    ArrowDown: hand + 1,
    ArrowUp: hand - 1,
    PageDown: hand + 15,
    PageUp: hand - 15,
    Home: 0,
    End: of - 1,
  };
  return (
    <div
      className="table"
      ref={scroller}
      role="grid"
      aria-rowcount={of}
      aria-label={wording.links}
      aria-activedescendant={rows.at(hand) ? `link-${hand}` : undefined}
      tabIndex={0}
      onKeyDown={(e) => {
        const to = keys[e.key];
        if (to !== undefined) {
          e.preventDefault();
          move(to);
        }
        const row = rows.at(hand);
        if (e.key === 'x' && tick && row) tick(row.code, !ticked.has(row.code));
      }}
    >
      {rows.of === 0 && <p style={{ padding: '16px 20px', maxWidth: 460 }}>{empty}</p>}
      <div style={{ height: virtual.getTotalSize(), position: 'relative' }}>
        {items.map(({ index, start, size }) => {
          const row = rows.at(index);
          return (
            <Row
              key={index}
              id={`link-${index}`}
              role="row"
              aria-rowindex={index + 1}
              aria-selected={index === hand}
              style={{ top: start, height: size }}
              onClick={() => setHand(index)}
            >
              {row && (
                <>
                  <span role="gridcell">
                    {tick && (
                      <Check
                        on={ticked.has(row.code)}
                        onChange={(on) => tick(row.code, on)}
                        label={filled(wording.tick, row.title || spokenCode(row.code))}
                      />
                    )}
                  </span>
                  <span role="gridcell">
                    <Mark {...markOf(row)} />
                  </span>
                  <span role="gridcell" className="code">
                    {spokenCode(row.code)}
                  </span>
                  <span role="gridcell" className="name" title={row.title}>
                    {row.title}
                  </span>
                  <span role="gridcell" className="where" title={leadingWords(row.leading)}>
                    {leadingWords(row.leading)}
                    {row.ends &&
                      row.leading.kind === 'leads' &&
                      filled(wording.until, shortDay(row.ends))}
                  </span>
                  <span role="gridcell">
                    <Spark days={row.days} />
                  </span>
                  <span role="gridcell" className="n">
                    {row.scans.toLocaleString('en')}
                  </span>
                </>
              )}
            </Row>
          );
        })}
      </div>
    </div>
  );
}

function TickedBar({
  count,
  of,
  change,
  changeAll,
  untick,
}: {
  count: number;
  of: number;
  change: (next: LinkChange) => void;
  changeAll: (next: LinkChange) => void;
  untick: () => void;
}) {
  const [all, setAll] = useState(false);
  const go = all ? changeAll : change;
  const n = all ? of : count;
  return (
    <div className="ticked" role="region" aria-label={wording.theTickedLinks}>
      <b>
        {counted(n, 'link')} {all ? wording.shownAllOfThem : 'ticked'}
      </b>
      <DialogTrigger>
        <QuietButton>{wording.changeWhereTheyLead}</QuietButton>
        <Pop placement="top start" offset={4}>
          <Editor aria-label={wording.changeWhereTheyLead}>
            {({ close }) => <LeadsEditor now={null} onUse={(leads) => (go({ leads }), close())} />}
          </Editor>
        </Pop>
      </DialogTrigger>
      <QuietButton onPress={() => go({ leads: null })}>{wording.letThemFollowTheir}</QuietButton>
      <DialogTrigger>
        <QuietButton>{wording.pauseEndOrWithdraw}</QuietButton>
        <Pop placement="top start" offset={4}>
          <Editor aria-label={wording.pauseEndOrWithdraw}>
            {({ close }) => (
              <SpanEditor
                now={{ state: 'open', opens: null, ends: null, after: null }}
                onUse={(next) => (go(next), close())}
              />
            )}
          </Editor>
        </Pop>
      </DialogTrigger>
      <span>
        {withParts(
          wording.peopleWhoScanOne,
          <PeekPart peeks={false} onUse={(peeks) => go({ peeks })} />,
        )}
      </span>
      <span style={{ flex: 1 }} />
      {count < of && (
        <PlainButton onPress={() => setAll(!all)}>
          {all ? wording.onlyTheTickedOnes : filled(wording.allShown, of.toLocaleString('en'))}
        </PlainButton>
      )}
      <PlainButton onPress={untick}>{wording.untick}</PlainButton>
    </div>
  );
}
