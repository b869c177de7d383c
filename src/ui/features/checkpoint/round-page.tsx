'use client';

import { useQuery, useQueryClient } from '@tanstack/react-query';
import { Link } from '../../kit/link';
import { useRouter } from 'next/navigation';
import { useEffect, useRef, useState } from 'react';
import { DialogTrigger } from 'react-aria-components';
import { styled } from 'styled-components';
import type { RoundScan, RoundView } from '../../../contract';
import { counted } from '../../../core/base/words';
import {
  outcomeOf,
  outcomeWords,
  roundOutcomes,
  roundWords,
  samePlace,
} from '../../../core/checkpoint/round';
import { ask } from '../../kit/api';
import {
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
  Words,
} from '../../kit/controls';
import { when } from '../../kit/dates';
import { Table } from '../../kit/index-table';
import { Mark, type MarkName } from '../../kit/mark';
import { useMay } from '../../kit/me';
import { ThrowAway } from '../../kit/throw-away';
import { colour, font } from '../../kit/theme';
import { CameraEye } from './camera';
import { newKey } from './new-key';
import { playAnswer } from './shapes';
import { useTypedReader } from './typed-reader';
import { atClock } from './words';
import { roundPage as wording } from './words';
import { filled, withParts } from '../../kit/with-parts';

const Frame = styled.main`
  display: grid;
  grid-template-rows: auto auto minmax(0, 1fr);
  min-height: 0;
  .head {
    display: flex;
    align-items: center;
    gap: 14px;
    padding: 12px 20px;
    border-bottom: 1.5px solid ${colour.ink};
    h1 {
      font: 700 25px/1.2 ${font.title};
    }
  }
  .says {
    padding: 12px 20px;
    border-bottom: 1px solid ${colour.ruleStrong};
  }
  .three {
    display: grid;
    grid-template-columns: minmax(0, 0.8fr) minmax(0, 1.15fr) minmax(0, 0.9fr);
    min-height: 0;
    > * {
      overflow: auto;
      min-height: 0;
      padding: 16px 20px 26px;
    }
  }
  .middle {
    background: ${colour.paper};
    border-inline: 1px solid ${colour.rule};
  }
  h2 {
    font: 700 16px/1.3 ${font.title};
    margin-bottom: 6px;
  }
  ul,
  ol {
    list-style: none;
    margin: 0;
    padding: 0;
  }
`;

const PlaceRow = styled.button`
  all: unset;
  box-sizing: border-box;
  width: 100%;
  display: grid;
  grid-template-columns: minmax(0, 1fr) auto;
  gap: 10px;
  align-items: center;
  min-height: 38px;
  padding: 0 8px;
  cursor: pointer;
  border-bottom: 1px solid ${colour.rule};
  &[aria-pressed='true'] {
    background: ${colour.violetWash};
    font-weight: 700;
  }
  &:focus-visible {
    outline: 2px solid ${colour.violet};
  }
  .n {
    font: 400 13px/1 ${font.code};
    color: ${colour.inkSoft};
  }
`;

const marks: Readonly<Record<RoundScan['answer'], MarkName>> = {
  here: 'ready',
  elsewhere: 'look',
  twice: 'out',
  unknown: 'failed',
};
const sounds = {
  here: 'comes-in',
  elsewhere: 'not-now',
  twice: 'was-here',
  unknown: 'unknown',
} as const;

const noPlace = wording.noLocation;

/** A round: choose a location, scan what is there, and see what is missing. */
export function RoundPage({ id }: { id: number }) {
  const client = useQueryClient();
  const view = useQuery({
    queryKey: ['round', id],
    queryFn: () => ask('viewRound', { params: { id } }),
    refetchInterval: 20_000,
  });
  useEffect(() => {
    const news = new EventSource(`/api/rounds/${id}/news`);
    const refresh = () => {
      for (const key of ['round', 'unseen', 'round-report'])
        void client.invalidateQueries({ queryKey: [key, id] });
    };
    news.onmessage = refresh;
    news.onopen = refresh;
    return () => news.close();
  }, [client, id]);
  if (view.error)
    return (
      <main style={{ padding: 24 }}>
        <ErrorLine>{view.error.message}</ErrorLine>
        <Link href="/checkpoints">{wording.allCheckpointsAndRounds}</Link>
      </main>
    );
  if (!view.data) return <main />;
  return view.data.closed === null ? (
    <OpenRound view={view.data} />
  ) : (
    <ClosedRound view={view.data} />
  );
}

function OpenRound({ view }: { view: RoundView }) {
  const { id } = view;
  const client = useQueryClient();
  const may = useMay();
  const [place, setPlace] = useState<string>();
  const [last, setLast] = useState<RoundScan>();
  const [camera, setCamera] = useState(false);
  const [problem, setProblem] = useState<string>();
  const refresh = () => {
    void client.invalidateQueries({ queryKey: ['round', id] });
    void client.invalidateQueries({ queryKey: ['unseen', id] });
  };
  const unseen = useQuery({
    queryKey: ['unseen', id, place],
    enabled: place !== undefined,
    queryFn: () => ask('unseenOnRound', { params: { id }, query: { place: place! } }),
  });
  /** One after the other, in the order in which they came. */
  const line = useRef<Promise<void>>(Promise.resolve());
  const scan = (given: { how: 'camera' | 'reader' | 'hand'; text?: string; record?: number }) => {
    if (place === undefined) return setProblem(wording.chooseALocationFirst);
    const key = newKey();
    const one = async () => {
      setProblem(undefined);
      try {
        const answer = await ask('scanOnRound', {
          params: { id },
          body: { key, place, ...given },
        });
        setLast(answer);
        playAnswer(sounds[answer.answer]);
        refresh();
      } catch (e) {
        setProblem(filled(wording.scanItAgain, e instanceof Error ? e.message : String(e)));
      }
    };
    line.current = line.current.then(one, one);
  };
  useTypedReader((text) => scan({ how: 'reader', text }));
  const settle = (scanned: RoundScan, does: 'move' | 'make', title?: string) => {
    setProblem(undefined);
    ask('settleOnRound', {
      params: { id },
      body: { scan: scanned.key, does, ...(title ? { title } : {}) },
    }).then(
      (answer) => {
        setLast((now) => (now?.key === answer.key ? answer : now));
        refresh();
      },
      (e: unknown) => setProblem(e instanceof Error ? e.message : String(e)),
    );
  };
  return (
    <Frame>
      <Head view={view}>
        {may && (
          <DialogTrigger>
            <MainButton>{wording.closeTheRound}</MainButton>
            <Pop placement="bottom end" offset={4}>
              <Editor aria-label={wording.closeTheRound}>
                {({ close }) => <CloseRound view={view} done={() => (refresh(), close())} />}
              </Editor>
            </Pop>
          </DialogTrigger>
        )}
      </Head>
      <div className="says">
        <Sentence>
          {withParts(
            wording.checkingByNowAt,
            <b>{view.list.name}</b>,
            <b>{view.column}</b>,
            <ChoicePart
              looks
              label={wording.whereAreYou}
              value={place}
              onChange={setPlace}
              choices={view.places.map((p) => ({ id: p.place, name: p.place || noPlace }))}
            >
              {place === undefined ? wording.chooseALocation : place || noPlace}
            </ChoicePart>,
          )}
        </Sentence>
        {problem && <ErrorLine role="alert">{problem}</ErrorLine>}
      </div>
      <div className="three">
        <section aria-label={wording.locations}>
          <h2>
            {withParts(
              wording.ofFound,
              view.seen.toLocaleString('en'),
              view.of.toLocaleString('en'),
            )}
          </h2>
          <ul>
            {view.places.map((p) => (
              <li key={p.place}>
                <PlaceRow
                  aria-pressed={place !== undefined && samePlace(place, p.place)}
                  onClick={() => {
                    setPlace(p.place);
                    setProblem(undefined);
                  }}
                >
                  <span>{p.place || noPlace}</span>
                  <span className="n">{withParts(wording.of, p.seen, p.of)}</span>
                </PlaceRow>
              </li>
            ))}
          </ul>
          <Another onUse={setPlace} />
        </section>
        <section className="middle" aria-label={wording.whatWasFound}>
          <div style={{ display: 'flex', gap: 8, marginBottom: 12, alignItems: 'center' }}>
            <QuietButton looks aria-pressed={camera} onPress={() => setCamera(!camera)}>
              {camera ? wording.stopCamera : 'camera'}
            </QuietButton>
            <Small>{wording.orAHandHeld}</Small>
          </div>
          {camera && (
            <div style={{ height: 220, marginBottom: 12 }}>
              <CameraEye
                paused={place === undefined}
                onCode={(text) => scan({ how: 'camera', text })}
              />
            </div>
          )}
          {last && <Seen scan={last} may={may} settle={settle} />}
          <ol aria-label={wording.whatWasFoundThe}>
            {view.tape.map((one) => (
              <li
                key={one.id}
                style={{
                  display: 'grid',
                  gridTemplateColumns: '68px 12px minmax(0, 1fr) auto',
                  gap: 6,
                  alignItems: 'baseline',
                  padding: '7px 0',
                  borderBottom: `1px solid ${colour.rule}`,
                }}
              >
                <span
                  suppressHydrationWarning
                  style={{ font: `400 13px/1.3 ${font.code}`, color: colour.inkSoft }}
                >
                  {atClock(one.at)}
                </span>
                <Mark name={one.done ? 'ready' : marks[one.answer]} />
                <span style={{ overflow: 'hidden', textOverflow: 'ellipsis' }}>
                  {one.title || one.text}
                  <Small>
                    {[one.place || noPlace, one.why, one.who].filter(Boolean).join(' · ')}
                  </Small>
                </span>
                <span style={{ fontSize: 12.5, color: colour.inkSoft, textAlign: 'right' }}>
                  {one.done === 'moved'
                    ? wording.movedHere
                    : one.done === 'made'
                      ? wording.addedAsARecord
                      : roundWords[one.answer]}
                  {may &&
                    one.done === null &&
                    one.answer === 'elsewhere' &&
                    one.key !== last?.key && (
                      <PlainButton onPress={() => settle(one, 'move')}>
                        {wording.moveItHere}
                      </PlainButton>
                    )}
                </span>
              </li>
            ))}
          </ol>
        </section>
        <section aria-label={wording.notFoundYet}>
          {place === undefined ? (
            <Small>{wording.chooseALocationTo}</Small>
          ) : (
            <>
              <h2>
                {withParts(
                  wording.notFoundYetAt,
                  place || noPlace,
                  unseen.data && `, ${unseen.data.of.toLocaleString('en')}`,
                )}
              </h2>
              {unseen.data?.of === 0 && <Small>{wording.everythingThatBelongsHere}</Small>}
              <ul>
                {unseen.data?.unseen.map((one) => (
                  <li
                    key={one.record}
                    style={{
                      display: 'grid',
                      gridTemplateColumns: '12px minmax(0, 1fr) auto auto',
                      gap: 8,
                      alignItems: 'center',
                      minHeight: 36,
                      borderBottom: `1px solid ${colour.rule}`,
                    }}
                  >
                    <Mark name="none" />
                    <span>{one.title}</span>
                    <span style={{ font: `400 13px/1 ${font.code}`, color: colour.inkSoft }}>
                      {one.key}
                    </span>
                    <PlainButton
                      looks
                      onPress={() => scan({ how: 'hand', record: one.record })}
                      aria-label={filled(wording.itIsHere2, one.title)}
                    >
                      {wording.itIsHere}
                    </PlainButton>
                  </li>
                ))}
              </ul>
            </>
          )}
        </section>
      </div>
    </Frame>
  );
}

function Head({ view, children }: { view: RoundView; children?: React.ReactNode }) {
  const router = useRouter();
  const may = useMay();
  return (
    <div className="head">
      <div style={{ flex: 1, minWidth: 0 }}>
        <h1>{view.name}</h1>
        <Small suppressHydrationWarning>
          {withParts(
            wording.started,
            view.list.job === null ? (
              view.list.name
            ) : (
              <Link href={`/jobs/${view.list.job}?band=records`}>{view.list.name}</Link>
            ),
            when(view.begun),
            view.closed && filled(wording.closed, when(view.closed)),
          )}
        </Small>
      </div>
      {may && (
        <Part
          plain
          label={wording.deleteThisRound}
          editor={
            <div style={{ width: 300 }}>
              <ThrowAway
                what={wording.thisRound}
                says={wording.whatWasFoundOn}
                onThrow={() =>
                  ask('removeRound', { params: { id: view.id } }).then(() =>
                    router.push('/checkpoints'),
                  )
                }
              />
            </div>
          }
        >
          {wording.deleteRound}
        </Part>
      )}
      {children}
    </div>
  );
}

function Another({ onUse }: { onUse: (place: string) => void }) {
  const [text, setText] = useState('');
  const use = () => {
    if (text.trim() === '') return;
    onUse(text.trim());
    setText('');
  };
  return (
    <div style={{ marginTop: 14 }}>
      <Words label={wording.typeANewLocation} value={text} onChange={setText} onEnter={use} />
    </div>
  );
}

function Seen({
  scan,
  may,
  settle,
}: {
  scan: RoundScan;
  may: boolean;
  settle: (scan: RoundScan, does: 'move' | 'make', title?: string) => void;
}) {
  const [title, setTitle] = useState('');
  return (
    <div
      role="status"
      key={scan.key}
      style={{
        border: `2px solid ${colour.ink}`,
        padding: '12px 14px',
        marginBottom: 14,
        display: 'grid',
        gap: 6,
      }}
    >
      <p
        style={{
          font: `700 24px/1.2 ${font.title}`,
          display: 'flex',
          gap: 10,
          alignItems: 'center',
        }}
      >
        <Mark name={scan.done ? 'ready' : marks[scan.answer]} size={20} />
        {scan.done === 'moved'
          ? wording.movedHere
          : scan.done === 'made'
            ? wording.addedAsARecord
            : roundWords[scan.answer]}
      </p>
      <p>
        <b>{scan.title || scan.text}</b> {scan.recordKey !== scan.title && scan.recordKey}
      </p>
      {scan.why && <p>{scan.why}</p>}
      {may && scan.done === null && scan.answer === 'elsewhere' && (
        <div>
          <QuietButton onPress={() => settle(scan, 'move')}>
            {withParts(wording.moveItTo, scan.place || noPlace)}
          </QuietButton>
        </div>
      )}
      {may && scan.done === null && scan.answer === 'unknown' && (
        <div style={{ display: 'flex', gap: 8, alignItems: 'end' }}>
          <Words label={wording.whatIsIt} value={title} onChange={setTitle} />
          <QuietButton onPress={() => settle(scan, 'make', title.trim())}>
            {wording.addAsARecord}
          </QuietButton>
        </div>
      )}
    </div>
  );
}

function CloseRound({ view, done }: { view: RoundView; done: () => void }) {
  const [error, setError] = useState<string>();
  const left = view.of - view.seen;
  return (
    <div style={{ display: 'grid', gap: 10, width: 320 }}>
      <p>
        {withParts(
          wording.theReportIsSaved,
          left === 0
            ? wording.everythingWasFound
            : filled(
                wording.notFoundAndWill,
                counted(left, wording.recordWas, wording.recordsWere),
              ),
        )}
      </p>
      {error && <ErrorLine>{error}</ErrorLine>}
      <div>
        <MainButton
          onPress={() =>
            ask('closeRound', { params: { id: view.id } }).then(done, (e: unknown) =>
              setError(e instanceof Error ? e.message : String(e)),
            )
          }
        >
          {wording.closeRound}
        </MainButton>
      </div>
    </div>
  );
}

function ClosedRound({ view }: { view: RoundView }) {
  const { id } = view;
  const [before, setBefore] = useState<number | undefined>(view.before[0]?.id);
  const report = useQuery({
    queryKey: ['round-report', id, before],
    queryFn: () => ask('roundReport', { params: { id }, query: { before } }),
  });
  const lines = report.data?.lines ?? [];
  return (
    <Frame style={{ gridTemplateRows: 'auto minmax(0, 1fr)' }}>
      <Head view={view}>
        <a href={`/api/rounds/${id}/file?as=pdf`}>{wording.downloadReportPDF}</a>
        <a href={`/api/rounds/${id}/file?as=xlsx`}>{wording.downloadWorkbook}</a>
      </Head>
      <div style={{ overflow: 'auto', padding: '16px 20px 30px' }}>
        {report.error && <ErrorLine>{report.error.message}</ErrorLine>}
        {report.data && (
          <>
            <Sentence>
              {roundOutcomes
                .filter((outcome) => (report.data.counts[outcome] ?? 0) > 0)
                .map(
                  (outcome) =>
                    `${report.data.counts[outcome]!.toLocaleString('en')} ${outcomeWords[outcome]}`,
                )
                .join(' · ')}
            </Sentence>
            {view.before.length > 0 && (
              <Sentence $minor style={{ marginTop: 6 }}>
                {withParts(
                  wording.comparedWith,
                  <ChoicePart
                    looks
                    label={wording.earlierRoundToCompare}
                    value={before === undefined ? undefined : String(before)}
                    onChange={(one) => setBefore(Number(one))}
                    choices={view.before.map((one) => ({ id: String(one.id), name: one.name }))}
                  />,
                  report.data.compared &&
                    filled(
                      wording.foundAgainStillMissing,
                      counted(
                        report.data.compared.back.length,
                        wording.recordIs,
                        wording.recordsAre,
                      ),
                      report.data.compared.still.length.toLocaleString('en'),
                      report.data.compared.anew.length.toLocaleString('en'),
                    ),
                )}
              </Sentence>
            )}
            {lines.length === 0 ? (
              <p style={{ marginTop: 14 }}>{wording.everythingWasFoundWhere}</p>
            ) : (
              <Table style={{ marginTop: 14 }}>
                <thead>
                  <tr>
                    <th>{wording.result}</th>
                    <th>{wording.title}</th>
                    <th>{wording.key}</th>
                    <th>{wording.location}</th>
                    <th>{wording.foundAt}</th>
                  </tr>
                </thead>
                <tbody>
                  {lines.map((one, i) => (
                    <tr key={i}>
                      <td>
                        <span className="m">
                          <Mark
                            name={
                              one.outcome === 'missing'
                                ? 'failed'
                                : one.outcome === 'moved'
                                  ? 'ready'
                                  : 'look'
                            }
                          />{' '}
                          {outcomeOf(one)}
                        </span>
                      </td>
                      <td>{one.title}</td>
                      <td style={{ fontFamily: font.code }}>{one.key}</td>
                      <td>{one.place}</td>
                      <td>{one.seenAt ?? ''}</td>
                    </tr>
                  ))}
                </tbody>
              </Table>
            )}
          </>
        )}
      </div>
    </Frame>
  );
}
