'use client';

import { counted } from '../../../core/base/words';
import { useMutation, useQueryClient } from '@tanstack/react-query';
import { useEffect, useRef } from 'react';
import { styled } from 'styled-components';
import type { RunView } from '../../../contract';
import { saysSecret } from '../../../core/payload/secrets';
import { secretsOf } from '../../../core/records/columns';
import { useMay } from '../../kit/me';
import { ask } from '../../kit/api';
import { ErrorLine, PlainButton, QuietButton, Small } from '../../kit/controls';
import { useJob } from '../../shell/ledger/context';
import { MailAccount } from './mail-account';
import { RunTools } from './tools';
import { when } from '../../kit/dates';
import { Mark } from '../../kit/mark';
import { colour, font } from '../../kit/theme';
import { history as wording } from './words';
import { filled, withParts } from '../../kit/with-parts';

const Entry = styled.article`
  padding: 12px 0 14px;
  border-bottom: 1px solid ${colour.rule};
  display: grid;
  gap: 6px;
  position: relative;
  h3 {
    font: 700 15px/1.25 ${font.title};
    padding-right: 62px;
  }
  progress {
    width: 100%;
    height: 8px;
    accent-color: ${colour.violet};
  }
  .files {
    display: flex;
    flex-wrap: wrap;
    gap: 4px 14px;
    font-size: 13.5px;
  }
  .row {
    display: flex;
    flex-wrap: wrap;
    gap: 3px 14px;
    align-items: baseline;
    font-size: 13px;
    color: ${colour.inkSoft};
  }
  /* what can be done with it, all alike */
  .row [role='button'],
  .row button,
  .row a {
    font-weight: 400;
    color: ${colour.violetDeep};
    border: 0;
    text-decoration: underline;
    text-underline-offset: 3px;
    text-decoration-thickness: 1px;
    line-height: 24px;
  }
  .files a {
    font-weight: 700;
    line-height: 24px;
  }
  .state {
    display: flex;
    gap: 7px;
    align-items: baseline;
    font-size: 13.5px;
  }
  details {
    font-size: 13px;
  }
  summary {
    cursor: pointer;
    color: ${colour.inkSoft};
  }
  ul {
    margin: 4px 0 0;
    padding-left: 18px;
    max-height: 150px;
    overflow: auto;
  }
`;

export function RunHistory({ runs, loading }: { runs: readonly RunView[]; loading: boolean }) {
  const client = useQueryClient();
  const busy = runs.some((run) => run.state === 'waiting' || run.state === 'running');
  const wasBusy = useRef(busy);
  useEffect(() => {
    // a finished run gives every printed row its page and mark
    if (wasBusy.current && !busy) {
      void client.invalidateQueries({ queryKey: ['rows'] });
      void client.invalidateQueries({ queryKey: ['job'] });
    }
    wasBusy.current = busy;
  }, [busy, client]);
  if (loading) return <Small>{wording.loading}</Small>;
  if (runs.length === 0) return <Small>{wording.noRunsYetEach}</Small>;
  return (
    <>
      {runs.map((run) => (
        <RunEntry
          key={run.id}
          run={run}
          others={runs.filter((r) => r.id !== run.id && r.state === 'done')}
        />
      ))}
    </>
  );
}

function RunEntry({ run, others }: { run: RunView; others: readonly RunView[] }) {
  const client = useQueryClient();
  const { jump, openBand } = useJob();
  const cancel = useMutation({
    mutationFn: () => ask('cancelRun', { params: { id: run.id } }),
    onSettled: () => client.invalidateQueries({ queryKey: ['runs'] }),
  });
  const finish = useMutation({
    mutationFn: () => ask('finishRun', { params: { id: run.id } }),
    onSettled: () => client.invalidateQueries({ queryKey: ['runs'] }),
  });
  const keptBack = useKeptBack();
  const receipt = run.files.find((f) => f.name.endsWith('-receipt.csv'));
  const files = run.files.filter((f) => f !== receipt);
  const going = run.state === 'waiting' || run.state === 'running';
  return (
    <Entry aria-label={filled(wording.run, run.name)}>
      <h3>{run.name}</h3>
      <Small suppressHydrationWarning style={{ paddingRight: 62 }}>
        {when(run.created)} ·{' '}
        {run.mail ? counted(run.pieces, 'email') : counted(run.pieces, 'piece')}
        {run.sheets > 0
          ? filled(wording.on, counted(run.sheets, 'sheet', 'sheets'))
          : run.mail
            ? ''
            : `, ${run.makes}`}
        {run.again !== null && wording.printedAgain}
      </Small>
      {going && (
        <>
          <progress
            max={run.pieces}
            value={run.made}
            aria-label={filled(wording.progressOf, run.name)}
          />
          <div className="state" style={{ justifyContent: 'space-between' }}>
            <span>
              {run.state === 'waiting' && run.ahead > 0
                ? withParts(wording.waitingForItsTurn, counted(run.ahead, 'piece'))
                : withParts(
                    wording.ofMadeAndRead,
                    run.made.toLocaleString('en'),
                    run.pieces.toLocaleString('en'),
                    pace(run),
                    timeLeft(run),
                  )}
            </span>
            <QuietButton isDisabled={cancel.isPending} onPress={() => cancel.mutate()}>
              {wording.stop}
            </QuietButton>
          </div>
        </>
      )}
      {run.state === 'cancelled' && (
        <>
          <p className="state">
            {withParts(
              wording.stoppedAfterOfNo,
              <Mark name="out" />,
              run.made.toLocaleString('en'),
              counted(run.pieces, 'piece', 'pieces'),
            )}
          </p>
          {run.made > 0 && !run.mail && (
            <div>
              <QuietButton isDisabled={finish.isPending} onPress={() => finish.mutate()}>
                {wording.keepTheFinishedPart}
              </QuietButton>
              {finish.error && <ErrorLine>{finish.error.message}</ErrorLine>}
            </div>
          )}
        </>
      )}
      {run.filesGone && (
        <p className="state">
          {withParts(wording.itsFilesWereKept, <Mark name="out" />, when(run.filesGone))}
        </p>
      )}
      {run.state === 'failed' && (
        <ErrorLine>
          <Mark name="failed" /> {run.error ?? wording.theRunCouldNot}
        </ErrorLine>
      )}
      {run.state === 'done' && run.failed === 0 && run.codes === 0 && (
        <p className="state">{withParts(wording.doneThereAreNo, <Mark name="ready" />)}</p>
      )}
      {run.state === 'done' && run.failed === 0 && run.codes > 0 && (
        <>
          <p className="state">
            {withParts(
              wording.allReadBack,
              <Mark name="ready" />,
              run.codes === 1
                ? counted(1, 'code')
                : filled(wording.allCodes, counted(run.codes, 'code')),
            )}
          </p>
          <ReadStamp codes={run.codes} />
        </>
      )}
      {run.state === 'done' && run.failed > 0 && (
        <>
          <p className="state" style={{ color: colour.failed, fontWeight: 700 }}>
            {withParts(
              wording.notReadReadBack,
              <Mark name="failed" />,
              counted(run.failed, wording.codeDoes, wording.codesDo),
              run.read.toLocaleString('en'),
            )}
          </p>
          <ul style={{ fontSize: 13 }}>
            {run.failures.map((f) => (
              <li key={`${f.page}-${f.place}-${f.key}`}>
                {withParts(
                  wording.pageSeat,
                  <PlainButton
                    looks
                    style={{ padding: 0, textDecoration: 'underline' }}
                    onPress={() => (jump({ record: f.record }), openBand('stamps'))}
                  >
                    {f.title || f.key}
                  </PlainButton>,
                  f.page,
                  f.place,
                  f.result === 'differs' ? filled(wording.readsAs, f.readAs) : wording.doesNotRead,
                )}
              </li>
            ))}
          </ul>
        </>
      )}
      <MailAccount run={run} />
      {files.length > 0 && (
        <div className="files">
          {files.map((file) =>
            keptBack ? (
              <span key={file.id} title={wording.thisRunContainsSecrets}>
                {withParts(wording.containsSecrets, fileWords(file.name))}
              </span>
            ) : (
              <a key={file.id} href={`/api/files/${file.id}`} download title={file.name}>
                {fileWords(file.name)}, {size(file.size)}
              </a>
            ),
          )}
        </div>
      )}
      {run.state === 'done' && (
        <RunTools run={run} others={others} csv={keptBack ? undefined : receipt} />
      )}
      {run.leftOut.length > 0 && (
        <details>
          <summary>
            {withParts(wording.leftOut, counted(run.leftOut.length, 'record', 'records'))}
          </summary>
          <ul>
            {run.leftOut.map((row, i) => (
              <li key={i}>
                {row.record === undefined ? (
                  row.title || wording.noTitle
                ) : (
                  <PlainButton
                    looks
                    style={{ padding: 0, textDecoration: 'underline' }}
                    onPress={() => (jump({ record: row.record! }), openBand('records'))}
                  >
                    {row.title || wording.noTitle}
                  </PlainButton>
                )}
                : {row.reason}
              </li>
            ))}
          </ul>
        </details>
      )}
    </Entry>
  );
}

/** Pieces per second, once it is known. */
function pace(run: RunView): string {
  if (!run.started || run.made === 0) return '';
  const seconds = (Date.now() - new Date(run.started).getTime()) / 1000;
  return seconds > 1
    ? filled(wording.aSecond, Math.round(run.made / seconds).toLocaleString('en'))
    : '';
}

function timeLeft(run: RunView): string {
  if (!run.started || run.made === 0) return '';
  const passed = (Date.now() - new Date(run.started).getTime()) / 1000;
  const left = (passed / run.made) * (run.pieces - run.made);
  return left < 2
    ? wording.nearlyDone
    : filled(
        wording.aboutLeft,
        left < 90 ? `${Math.ceil(left)} s` : filled(wording.min, Math.ceil(left / 60)),
      );
}

const fileWords = (name: string): string =>
  ({
    pdf: wording.pDFForPrint,
    zip: 'ZIP',
    xlsx: 'XLSX',
    csv: 'CSV',
    html: wording.hTMLPage,
    docx: 'DOCX',
  })[name.split('.').at(-1)!] ?? name;

const size = (bytes: number): string =>
  bytes < 1024 * 1024
    ? filled(wording.kB, Math.max(1, Math.round(bytes / 1024)))
    : filled(wording.mB, (bytes / 1024 / 1024).toFixed(1));

/** The one motif: a slightly turned round stamp on a run whose every code was read back. */
function ReadStamp({ codes }: { codes: number }) {
  return (
    <svg
      width="58"
      height="58"
      viewBox="0 0 58 58"
      aria-hidden
      style={{ position: 'absolute', right: 0, top: 9, transform: 'rotate(-11deg)' }}
    >
      <g fill="none" stroke={colour.violet}>
        <circle cx="29" cy="29" r="26.5" strokeWidth="2" />
        <circle cx="29" cy="29" r="22.5" strokeWidth="0.8" />
      </g>
      <text
        x="29"
        y="27"
        textAnchor="middle"
        fill={colour.violet}
        style={{ font: `700 9.5px ${font.title}` }}
      >
        {wording.aLLREAD}
      </text>
      <text
        x="29"
        y="40"
        textAnchor="middle"
        fill={colour.violet}
        style={{ font: `400 11px ${font.code}` }}
      >
        {codes.toLocaleString('en')}
      </text>
    </svg>
  );
}

/**
 * Whether files of runs contain secrets that this person may not have; the server decides again for
 * each file.
 */
function useKeptBack(): boolean {
  const { job } = useJob();
  const may = useMay();
  const { columns } = job.list;
  return (
    !may &&
    (secretsOf(columns).length > 0 || job.document.stamps.some((s) => saysSecret(s, columns)))
  );
}
