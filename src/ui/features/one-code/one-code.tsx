'use client';

import { addressPurpose, purposeOf, wordsPurpose } from '../../../core/payload/purposes';
import { useEffect, useRef, useState } from 'react';
import { styled } from 'styled-components';
import { maskPayload } from '../../../core/payload/secrets';
import { contentOf, firstStamp, type Stamp } from '../../../core/payload/stamp';
import type { Values } from '../../../core/records/columns';
import { CodeSvg } from '../../kit/code-picture';
import { ChoicePart, PlainButton, Sentence, Small } from '../../kit/controls';
import { MayContext } from '../../kit/me';
import { useSteadyCode } from '../../kit/core-client';
import { Mark } from '../../kit/mark';
import { OneLoupe } from '../../shell/loupe';
import {
  holdsElements,
  phoneWould,
  ReadingWords,
  UnpackedFields,
  useReading,
} from '../../kit/reading';
import { BenchContext } from '../../editors/stamp/bench';
import { CodeInHand } from '../../editors/stamp/code-in-hand';
import { SideBySide } from '../../editors/stamp/side-by-side';
import { isKeptBack, verdictOf } from '../../shell/verdict';
import { shown } from '../../../core/records/sealed';
import { StampSentence } from '../../editors/stamp/stamp-sentence';
import { fitsOfOne } from '../../editors/stamp/symbology-part';
import { colour, font } from '../../kit/theme';
import { channelName, type Message, type Shown } from './channel';
import { Comparison } from './comparison';
import { SaveRow } from './save-row';
import { SourcePart, titleOfSource, useSourceJob, type Source } from './source-part';
import { WearPanel, type Variant } from './wear-panel';
import { oneCode as wording } from './words';
import { withParts } from '../../kit/with-parts';

const Screen = styled.main`
  display: grid;
  grid-template-columns: 404px minmax(0, 1fr);
  min-height: 0;
  h2 {
    font: 700 16px/1.3 ${font.title};
  }
  h3 {
    font: 400 12.5px/1.3 ${font.text};
    color: ${colour.inkSoft};
  }
  .says {
    font: 400 13px/1.45 ${font.code};
    overflow-wrap: anywhere;
    white-space: pre-wrap;
    max-height: 92px;
    overflow: auto;
  }
`;
const Left = styled.section`
  padding: 18px 22px 30px 20px;
  border-right: 1px solid ${colour.rule};
  overflow: auto;
  display: grid;
  gap: 14px;
  align-content: start;
`;
const Right = styled.section`
  padding: 16px 26px 40px 24px;
  overflow: auto;
  display: grid;
  gap: 20px;
  align-content: start;
`;
const Paper = styled.div`
  background: ${colour.paper};
  border: 1px solid ${colour.rule};
  display: grid;
  place-items: center;
  height: 330px;
  padding: 14px;
`;
const Fits = styled.ul`
  list-style: none;
  margin: 6px 0 0;
  padding: 0;
  columns: 2;
  column-gap: 26px;
  font-size: 13.5px;
  li {
    break-inside: avoid;
    display: grid;
    grid-template-columns: 14px 1fr;
    gap: 2px 7px;
    align-items: baseline;
    padding: 3px 0;
    border-bottom: 1px solid ${colour.rule};
  }
  button {
    all: unset;
    cursor: pointer;
    font-weight: 700;
  }
  button:hover {
    text-decoration: underline;
  }
  button:focus-visible {
    outline: 2px solid ${colour.violet};
  }
  button[aria-pressed='true'] {
    color: ${colour.violetDeep};
    background: ${colour.violetWash};
  }
  small {
    grid-column: 2;
    color: ${colour.inkSoft};
    font-size: 12.5px;
    line-height: 1.35;
  }
`;

const ownStamp = (): Stamp => ({
  ...firstStamp([]),
  id: 'one',
  name: wording.oneCode,
  does: wordsPurpose,
});

/**
 * One code at a time: for a record or a typed value, its look, its code type, what it survives, and
 * downloads.
 */
export function OneCode() {
  const [source, setSource] = useState<Source>({});
  const [typed, setTyped] = useState('https://marrambay.example/visit');
  const [own, setOwn] = useState<Stamp>(() => ({ ...ownStamp(), does: addressPurpose }));
  const [changed, setChanged] = useState<Stamp>();
  const [which, setWhich] = useState(0);
  const [held, setHeld] = useState<Variant>();
  const job = useSourceJob(source.job);
  const fromJob = source.job !== undefined;
  const stamps = fromJob ? (job?.document.stamps ?? []) : [];
  const jobStamp = stamps[which] ?? stamps[0];
  const stamp: Stamp = fromJob
    ? (changed ?? jobStamp ?? own)
    : {
        ...own,
        parts: purposeOf(own.does).fields.every((f) => f.id === 'content')
          ? [{ kind: 'text', text: typed }]
          : own.parts,
      };
  const values: Values = fromJob ? (source.record?.values ?? {}) : {};
  const columns = fromJob ? (job?.list.columns ?? []) : [];
  const change = (next: Partial<Stamp>) => {
    if (fromJob) return setChanged({ ...stamp, ...next });
    if (next.parts) setTyped(next.parts.map((p) => (p.kind === 'text' ? p.text : '')).join(''));
    setOwn({ ...own, ...next });
  };
  const { now, code } = useSteadyCode(
    `${source.job ?? ''} ${source.record?.id ?? ''} ${which}`,
    stamp,
    values,
  );
  const keptBack = isKeptBack(stamp, values);
  const content = contentOf(stamp, values);
  const payload = keptBack
    ? (code?.payload ?? '')
    : content.state === 'said'
      ? content.payload
      : '';
  const verdict = verdictOf(stamp, { values, notes: source.record?.notes ?? [] }, columns);
  const report = useReading(now ? stamp : undefined, now ? values : undefined, [stamp]);
  const shownPayload = shown(maskPayload(payload, stamp, values, columns));
  const title = titleOfSource(source, job, shownPayload);
  const [loupe, setLoupe] = useState(false);
  useEffect(() => {
    const listen = (event: KeyboardEvent) => {
      if (
        event.key !== ' ' ||
        (event.target as HTMLElement).closest(
          'input, textarea, select, button, a, [role=button], [role=dialog], [role=listbox]',
        )
      )
        return;
      event.preventDefault();
      setLoupe(true);
    };
    window.addEventListener('keydown', listen);
    return () => window.removeEventListener('keydown', listen);
  }, []);
  useShown({ stamp, values, title });

  const wide = code ? Math.min(300, (300 * code.columns) / code.rows) : 300;
  // CSS pixels are 1/96 inch: at 100 % zoom this is the printed size
  const trueSize = code ? (code.widthMm / 25.4) * 96 : 0;
  return (
    // a single code belongs to the person, and changes nothing that is stored
    <MayContext.Provider value="editor">
      <BenchContext.Provider value={{ columns, values }}>
        <Screen>
          <OneLoupe
            isOpen={loupe}
            onOpenChange={setLoupe}
            stamp={stamp}
            values={values}
            columns={columns}
          />
          <Left aria-label={wording.theCode}>
            <Paper>
              {code ? (
                <CodeInHand stamp={stamp} change={change} code={code} size={Math.min(wide, 286)} />
              ) : (
                <Small style={{ maxWidth: 260, textAlign: 'center' }}>
                  {fromJob && !source.record
                    ? wording.chooseARecordTo
                    : verdict.mark === 'ready'
                      ? wording.drawing
                      : verdict.reason}
                </Small>
              )}
            </Paper>
            {code && (
              <>
                <div>
                  <h3>{wording.saveOrCopy}</h3>
                  <SaveRow stamp={stamp} values={values} title={title} />
                  <PlainButton
                    looks
                    onPress={() => setLoupe(true)}
                    style={{
                      padding: '0 16px 0 0',
                      textDecoration: 'underline',
                      textUnderlineOffset: 3,
                    }}
                  >
                    {wording.openTheLoupe}
                  </PlainButton>
                  <PlainButton
                    looks
                    onPress={() =>
                      window.open('/code/large', 'hand-stamp-large', 'width=760,height=820')
                    }
                    style={{ padding: 0, textDecoration: 'underline', textUnderlineOffset: 3 }}
                  >
                    {wording.showLargeInIts}
                  </PlainButton>
                </div>
                <div>
                  <h3>{wording.says}</h3>
                  <p className="says">{shownPayload}</p>
                </div>
                <div aria-live="polite">
                  <h3>{wording.testScanOfThis}</h3>
                  <ReadingWords report={report} payload={payload} />
                </div>
                <div>
                  <h3>{wording.aPhoneWould}</h3>
                  <p>{phoneWould(payload, holdsElements(stamp.symbology))}</p>
                  <UnpackedFields payload={shownPayload} />
                </div>
                <div>
                  <h3>
                    {withParts(
                      wording.trueSizeByMm,
                      code.widthMm.toFixed(1),
                      code.heightMm.toFixed(1),
                    )}
                  </h3>
                  <div style={{ overflow: 'auto', marginTop: 4 }}>
                    <CodeSvg code={code} size={trueSize} label={wording.theCodeAtTrue} />
                  </div>
                </div>
              </>
            )}
          </Left>
          <Right aria-label={wording.stamp}>
            <div>
              <Sentence as="h1" style={{ font: `700 21px/1.4 ${font.title}`, marginBottom: 6 }}>
                <SourcePart
                  source={source}
                  job={job}
                  onChange={(next) => {
                    setSource(next);
                    if (next.job !== source.job) setChanged(undefined);
                  }}
                />
              </Sentence>
              {fromJob && stamps.length > 1 && (
                <Sentence $minor>
                  {withParts(
                    wording.withItsStamp,
                    <ChoicePart
                      looks
                      label={wording.stamp}
                      value={jobStamp?.id}
                      onChange={(id) => {
                        setWhich(stamps.findIndex((s) => s.id === id));
                        setChanged(undefined);
                      }}
                      choices={stamps.map((s) => ({ id: s.id, name: s.name }))}
                    />,
                  )}
                </Sentence>
              )}
              <StampSentence stamp={stamp} change={change} />
              {changed && <Small>{wording.thisChangesOnlyHere}</Small>}
            </div>
            {payload && (
              <div
                style={{
                  display: 'flex',
                  flexDirection: held ? 'column' : 'row',
                  gap: 8,
                  alignItems: 'start',
                }}
              >
                <SideBySide
                  stamp={stamp}
                  values={values}
                  title={title}
                  stamps={stamps}
                  onUse={change}
                />
                <Comparison held={held} setHeld={setHeld} stamp={stamp} values={values} />
              </div>
            )}
            {payload && (
              <WearPanel
                variants={
                  held
                    ? [held, { name: wording.thisOne, stamp }]
                    : [{ name: wording.thisOne, stamp }]
                }
                values={values}
              />
            )}
            {payload && !keptBack && (
              <section aria-label={wording.codeType}>
                <h2>{wording.codeType}</h2>
                <Fits>
                  {fitsOfOne(stamp, values)
                    .sort((a, b) => a.misfits - b.misfits)
                    .map((fit) => (
                      <li key={fit.id}>
                        <Mark name={fit.misfits ? 'out' : 'ready'} />
                        {fit.misfits ? (
                          <span>{fit.name}</span>
                        ) : (
                          <span>
                            <button
                              type="button"
                              aria-pressed={stamp.symbology === fit.id}
                              onClick={() => change({ symbology: fit.id })}
                            >
                              {fit.name}
                            </button>
                          </span>
                        )}
                        <small>
                          {fit.misfits
                            ? [fit.reason, fit.mend].filter(Boolean).join(' ')
                            : fit.about}
                        </small>
                      </li>
                    ))}
                </Fits>
              </section>
            )}
          </Right>
        </Screen>
      </BenchContext.Provider>
    </MayContext.Provider>
  );
}

/** Keeps the window with the large code in step. */
function useShown(shown: Shown): void {
  const channel = useRef<BroadcastChannel>(undefined);
  const latest = useRef(shown);
  const key = JSON.stringify(shown);
  useEffect(() => {
    channel.current = new BroadcastChannel(channelName);
    channel.current.onmessage = ({ data }: MessageEvent<Message>) => {
      if (data.kind === 'ask')
        channel.current?.postMessage({ kind: 'show', shown: latest.current } satisfies Message);
    };
    return () => channel.current?.close();
  }, []);
  useEffect(() => {
    latest.current = JSON.parse(key) as Shown;
    channel.current?.postMessage({ kind: 'show', shown: latest.current } satisfies Message);
  }, [key]);
}
