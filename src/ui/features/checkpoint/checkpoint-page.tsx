'use client';

import { useQuery, useQueryClient, keepPreviousData } from '@tanstack/react-query';
import { Link } from '../../kit/link';
import { useRouter } from 'next/navigation';
import { useDeferredValue, useEffect, useState } from 'react';
import { styled } from 'styled-components';
import type { TapeLine } from '../../../contract';
import { counted } from '../../../core/base/words';
import type { Rule } from '../../../core/checkpoint/rule';
import { ask } from '../../kit/api';
import {
  ErrorLine,
  Part,
  PlainButton,
  Sentence,
  QuietButton,
  Small,
  Words,
} from '../../kit/controls';
import { Mark } from '../../kit/mark';
import { useMay } from '../../kit/me';
import { ThrowAway } from '../../kit/throw-away';
import { colour, font } from '../../kit/theme';
import { Arrivals, Tape } from './board';
import { Devices } from './devices';
import { newKey } from './new-key';
import { RuleSentence } from './rule-sentence';
import { named } from './words';
import { checkpointPage as wording } from './words';
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
    max-height: 34vh;
    overflow: auto;
  }
  .three {
    display: grid;
    grid-template-columns: minmax(0, 1fr) minmax(0, 1.05fr) minmax(0, 0.8fr);
    min-height: 0;
    > * {
      overflow: auto;
      min-height: 0;
      padding: 18px 20px 26px;
    }
  }
  .tape {
    background: ${colour.groundDeep};
    border-inline: 1px solid ${colour.rule};
  }
  .big {
    display: flex;
    gap: 10px;
    align-items: baseline;
    font-size: 16px;
    margin-bottom: 10px;
    b {
      font: 700 56px/1 ${font.title};
    }
  }
  .go {
    background: ${colour.violet};
    color: ${colour.paper};
    font-weight: 700;
    text-decoration: none;
    padding: 9px 16px;
    border-radius: 3px;
  }
`;

/** A checkpoint: its sentence, how many are in, the tape, and its devices. */
export function CheckpointPage({ id }: { id: number }) {
  const client = useQueryClient();
  const may = useMay();
  const [shown, setShown] = useState<string>();
  const [search, setSearch] = useState('');
  const [missing, setMissing] = useState(12);
  const [lines, setLines] = useState(40);
  const [problem, setProblem] = useState<string>();
  const words = useDeferredValue(search);
  const view = useQuery({
    queryKey: ['checkpoint', id],
    queryFn: () => ask('viewCheckpoint', { params: { id } }),
    refetchInterval: 15_000,
  });
  const board = useQuery({
    queryKey: ['board', id, shown, words, missing, lines],
    queryFn: () =>
      ask('viewBoard', {
        params: { id },
        query: { session: shown, search: words, missing, lines },
      }),
    placeholderData: keepPreviousData,
  });
  useEffect(() => {
    const news = new EventSource(`/api/checkpoints/${id}/news`);
    const refresh = () => {
      void client.invalidateQueries({ queryKey: ['board', id] });
      void client.invalidateQueries({ queryKey: ['checkpoint', id] });
    };
    let soon: ReturnType<typeof setTimeout> | undefined;
    // while many scans happen, the counts are loaded twice a second
    news.onmessage = () => {
      soon ??= setTimeout(() => {
        soon = undefined;
        refresh();
      }, 400);
    };
    news.onopen = refresh;
    return () => {
      clearTimeout(soon);
      news.close();
    };
  }, [client, id]);
  const refresh = () => {
    void client.invalidateQueries({ queryKey: ['checkpoint', id] });
    void client.invalidateQueries({ queryKey: ['board', id] });
  };
  const change = (next: { name?: string; rule?: Rule; together?: number[] }) => {
    if (!view.data) return;
    setProblem(undefined);
    ask('changeCheckpoint', {
      params: { id },
      body: { version: view.data.version, ...next },
    }).then(
      (fresh) => {
        client.setQueryData(['checkpoint', id], fresh);
        setShown(undefined);
        refresh();
      },
      (e: unknown) => {
        setProblem(e instanceof Error ? e.message : String(e));
        refresh();
      },
    );
  };
  if (view.error)
    return (
      <main style={{ padding: 24 }}>
        <ErrorLine>{view.error.message}</ErrorLine>
        <Link href="/checkpoints">{wording.allCheckpoints}</Link>
      </main>
    );
  if (!view.data) return <main />;
  const { name, devices, lists } = view.data;
  const at = board.data;
  const inTouch = devices.filter((d) => d.state === 'in-touch').length;
  const joined = devices.filter((d) => d.state === 'in-touch' || d.state === 'away').length;
  return (
    <Frame>
      <div className="head">
        <div style={{ flex: 1, minWidth: 0 }}>
          <h1>
            {may ? (
              <Part
                plain
                label={wording.renameOrDeleteThis}
                editor={(close) => (
                  <NameEditor
                    id={id}
                    name={name}
                    lines={at?.lines ?? 0}
                    onUse={(next) => (change({ name: next }), close())}
                  />
                )}
              >
                <span
                  style={{ font: `700 25px/1.2 ${font.title}`, color: colour.ink, marginLeft: -8 }}
                >
                  {name}
                </span>
              </Part>
            ) : (
              name
            )}
          </h1>
          <Small>
            {withParts(
              wording.checks,
              named(lists.map((l) => l.name)) || wording.aDeletedList,
              joined > 0 &&
                `; ${counted(joined, 'device')}, ${inTouch === joined ? (joined === 1 ? 'online' : wording.allOnline) : filled(wording.online, inTouch)}`,
            )}
          </Small>
        </div>
        <Link className="go" href={`/checkpoints/${id}/scan`}>
          {wording.scanHere}
        </Link>
        <Part
          plain
          looks
          label={wording.downloadTheLog}
          editor={
            <div style={{ display: 'grid', gap: 8, width: 260 }}>
              <Small>{wording.everyLineOfThe}</Small>
              <a href={`/api/checkpoints/${id}/log?as=xlsx`}>{wording.xLSXWorkbook}</a>
              <a href={`/api/checkpoints/${id}/log?as=csv`}>{wording.cSVText}</a>
            </div>
          }
        >
          {wording.downloadTheLog}
        </Part>
      </div>
      <div className="says">
        <RuleSentence
          view={view.data}
          session={at?.session ?? null}
          sessions={at?.sessions ?? []}
          change={change}
        />
        {problem && <ErrorLine role="alert">{problem}</ErrorLine>}
      </div>
      <div className="three">
        <section aria-label={wording.howManyAreIn}>
          {at && (
            <>
              <p className="big">
                {withParts(
                  wording.ofAreIn,
                  <b>{at.in.toLocaleString('en')}</b>,
                  at.of.toLocaleString('en'),
                )}
              </p>
              {at.sessions.length > 1 && (
                <Sentence $minor style={{ marginBottom: 8 }}>
                  {withParts(
                    wording.shown,
                    <Part
                      looks
                      label={wording.whichSessionIsShown}
                      editor={(close) => (
                        <div style={{ display: 'grid', gap: 2, maxHeight: 300, overflow: 'auto' }}>
                          {at.sessions.map((one) => (
                            <PlainButton
                              looks
                              key={one}
                              onPress={() => {
                                setShown(one);
                                close();
                              }}
                            >
                              {one}
                            </PlainButton>
                          ))}
                        </div>
                      )}
                    >
                      {at.session ?? wording.noSession}
                    </Part>,
                  )}
                </Sentence>
              )}
              <Arrivals arrivals={at.arrivals} />
              <h2 style={{ font: `700 16px/1.3 ${font.title}`, margin: '16px 0 6px' }}>
                {withParts(wording.notInYet, (at.of - at.in).toLocaleString('en'))}
              </h2>
              {at.of > 12 && (
                <Words label={wording.findANameOr} value={search} onChange={setSearch} />
              )}
              <ul style={{ listStyle: 'none', margin: '4px 0 0', padding: 0 }}>
                {at.missing.map((one) => (
                  <li
                    key={one.record}
                    style={{
                      display: 'grid',
                      gridTemplateColumns: '12px minmax(0, 1fr) auto',
                      gap: 8,
                      alignItems: 'center',
                      height: 36,
                      borderBottom: `1px solid ${colour.rule}`,
                    }}
                  >
                    <Mark name="none" />
                    <span
                      style={{ overflow: 'hidden', textOverflow: 'ellipsis', whiteSpace: 'nowrap' }}
                    >
                      {one.title}
                    </span>
                    <span style={{ font: `400 13px/1 ${font.code}`, color: colour.inkSoft }}>
                      {one.key}
                    </span>
                  </li>
                ))}
              </ul>
              {at.missing.length === missing && at.of - at.in > missing && missing < 500 && (
                <QuietButton looks onPress={() => setMissing(500)} style={{ marginTop: 10 }}>
                  {withParts(
                    wording.show,
                    at.of - at.in > 500 ? wording.theFirst500 : filled(wording.all, at.of - at.in),
                  )}
                </QuietButton>
              )}
            </>
          )}
          {board.error && <ErrorLine>{board.error.message}</ErrorLine>}
        </section>
        <section className="tape" aria-label={wording.tape}>
          <Tape
            lines={at?.tape ?? []}
            onLine={
              may
                ? (line) =>
                    line.answer === 'comes-in' && !line.back ? (
                      <BackPart line={line} checkpoint={id} done={refresh} />
                    ) : null
                : undefined
            }
          />
          {at && at.lines > lines && lines < 500 && (
            <QuietButton looks onPress={() => setLines(500)} style={{ marginTop: 14 }}>
              {withParts(
                wording.showLines,
                at.lines > 500 ? wording.theLast500 : filled(wording.all, at.lines),
              )}
            </QuietButton>
          )}
          <Small style={{ marginTop: 12 }}>
            {withParts(
              wording.eachScanIsSaved,
              at && at.twice > 0 && (
                <b style={{ display: 'block', color: colour.look }}>
                  {withParts(
                    wording.whileDevicesWereOffline,
                    counted(at.twice, wording.codeWasLetIn, wording.codesWereLetIn),
                  )}
                </b>
              ),
            )}
          </Small>
        </section>
        <Devices checkpoint={id} devices={devices} changed={refresh} />
      </div>
    </Frame>
  );
}

function BackPart({
  line,
  checkpoint,
  done,
}: {
  line: TapeLine;
  checkpoint: number;
  done: () => void;
}) {
  const [reason, setReason] = useState('');
  const [error, setError] = useState<string>();
  return (
    <>
      {' · '}
      <Part
        acts
        plain
        label={filled(wording.undoScan, line.title)}
        editor={(close) => (
          <div style={{ display: 'grid', gap: 10, width: 280 }}>
            <Small>{wording.itsLineStaysA}</Small>
            <Words label={wording.reason} value={reason} onChange={setReason} autoFocus />
            {error && <ErrorLine>{error}</ErrorLine>}
            <div>
              <QuietButton
                isDisabled={reason.trim() === ''}
                onPress={() =>
                  ask('takeBackScan', {
                    params: { id: checkpoint },
                    body: { key: newKey(), scan: line.key, reason: reason.trim() },
                  }).then(
                    () => (done(), close()),
                    (e: unknown) => setError(e instanceof Error ? e.message : String(e)),
                  )
                }
              >
                {wording.undoScan2}
              </QuietButton>
            </div>
          </div>
        )}
      >
        {wording.undo}
      </Part>
    </>
  );
}

function NameEditor({
  id,
  name,
  lines,
  onUse,
}: {
  id: number;
  name: string;
  lines: number;
  onUse: (name: string) => void;
}) {
  const router = useRouter();
  const [text, setText] = useState(name);
  const use = () => text.trim() !== '' && onUse(text.trim());
  return (
    <div style={{ display: 'grid', gap: 12, width: 320 }}>
      <Words label={wording.name} value={text} onChange={setText} autoFocus onEnter={use} />
      <div>
        <QuietButton isDisabled={text.trim() === ''} onPress={use}>
          {wording.rename}
        </QuietButton>
      </div>
      <ThrowAway
        what={wording.thisCheckpoint}
        says={filled(
          wording.itsDevicesAreRemoved,
          counted(lines, wording.lineOfItsTape, wording.linesOfItsTape),
        )}
        onThrow={() =>
          ask('removeCheckpoint', { params: { id } }).then(() => router.push('/checkpoints'))
        }
      />
    </div>
  );
}
