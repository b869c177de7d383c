'use client';
import { counted, plural } from '../../../core/base/words';
import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { Dialog, DialogTrigger, Heading } from 'react-aria-components';
import { styled } from 'styled-components';
import type { ReceiptLine, RunView } from '../../../contract';
import { stockOf } from '../../../core/piece/stock';
import { ask } from '../../kit/api';
import { useOptions } from '../../editors/piece/on-sheets';
import { PlacePicker } from '../../editors/piece/place-picker';
import { Check, ErrorLine, Part, PlainButton, Small } from '../../kit/controls';
import { useJob } from '../../shell/ledger/context';
import { Mark } from '../../kit/mark';
import { PaperProof } from './paper-proof';
import { Card, Veil } from '../../shell/shortcuts';
import { colour, font } from '../../kit/theme';
import { receipt as wording } from './words';
import { filled, withParts } from '../../kit/with-parts';

const Sheet = styled(Dialog)`
  outline: none;
  padding: 20px 24px 22px;
  width: min(1060px, calc(100vw - 80px));
  display: grid;
  gap: 12px;
  .pages {
    display: flex;
    flex-wrap: wrap;
    gap: 3px;
    max-height: 96px;
    overflow: auto;
    padding: 2px;
  }
  .pages button {
    all: unset;
    box-sizing: border-box;
    min-width: 34px;
    height: 24px;
    padding: 0 5px;
    display: flex;
    gap: 4px;
    align-items: center;
    justify-content: center;
    font: 400 12px/1 ${font.code};
    border: 1px solid ${colour.rule};
    cursor: pointer;
  }
  .pages button:hover {
    border-color: ${colour.ink};
  }
  .pages button[aria-pressed='true'] {
    border-color: ${colour.violet};
    background: ${colour.violetWash};
  }
  .pages button:focus-visible {
    outline: 2px solid ${colour.violet};
  }
  .lines {
    overflow: auto;
    max-height: 46vh;
    border-top: 1px solid ${colour.ruleStrong};
  }
  table {
    border-collapse: collapse;
    width: 100%;
    font-size: 13px;
  }
  th {
    text-align: left;
    font-weight: 400;
    color: ${colour.inkSoft};
    font-size: 12.5px;
    position: sticky;
    top: 0;
    background: ${colour.paper};
  }
  th,
  td {
    padding: 4px 14px 4px 0;
    border-bottom: 1px solid ${colour.rule};
    vertical-align: top;
  }
  .code {
    overflow-wrap: anywhere;
  }
`;

/**
 * The receipt of a run on the screen: how each page read back, and each code of a page with what
 * failed and why.
 */
export function ReceiptButton({ run }: { run: RunView }) {
  return (
    <DialogTrigger>
      <PlainButton
        looks
        aria-label={wording.receiptPageByPage}
        style={{ padding: 0, fontSize: 13 }}
      >
        {wording.pageByPage}
      </PlainButton>
      <Veil isDismissable>
        <Card>
          <Sheet>{({ close }) => <Receipt run={run} close={close} />}</Sheet>
        </Card>
      </Veil>
    </DialogTrigger>
  );
}

function Receipt({ run, close }: { run: RunView; close: () => void }) {
  const pages = useQuery({
    queryKey: ['receipt', run.id],
    queryFn: () => ask('runPages', { params: { id: run.id } }),
  });
  const [chosen, setChosen] = useState<number | 'failed' | undefined>(
    run.failed > 0 ? 'failed' : undefined,
  );
  const part = chosen ?? pages.data?.pages[0]?.page;
  const lines = useQuery({
    queryKey: ['receipt', run.id, part],
    queryFn: () =>
      ask('runLines', {
        params: { id: run.id },
        query: { page: part === 'failed' ? undefined : part },
      }),
    enabled: part !== undefined,
  });
  const [ticked, setTicked] = useState<ReadonlySet<number>>(new Set());
  const what = run.sheets > 0 ? 'page' : 'file';
  const onPaper = pages.data?.pages.some((page) => page.paper > 0) ?? false;
  const unreadOnPaper = lines.data?.lines.filter((line) => line.paper === 'not-read') ?? [];
  return (
    <>
      <div style={{ display: 'flex', justifyContent: 'space-between', gap: 20 }}>
        <div>
          <Heading slot="title" level={2}>
            {withParts(wording.receiptOf, run.name)}
          </Heading>
          <Small>
            {withParts(
              wording.readBackFromThe,
              counted(run.pieces, 'piece'),
              run.codes.toLocaleString('en'),
              plural(run.codes, 'code'),
              run.read.toLocaleString('en'),
              run.failed > 0 && filled(wording.didNot, run.failed.toLocaleString('en')),
            )}
          </Small>
        </div>
        <PlainButton looks onPress={close} style={{ margin: '-4px -10px 0 0', alignSelf: 'start' }}>
          {wording.close}
        </PlainButton>
      </div>
      {pages.error && <ErrorLine>{pages.error.message}</ErrorLine>}
      {pages.data && (
        <div className="pages" role="group" aria-label={`By ${what}`}>
          {run.failed > 0 && (
            <button
              type="button"
              aria-pressed={part === 'failed'}
              onClick={() => setChosen('failed')}
            >
              {withParts(wording.allThatFailed, <Mark name="failed" />)}
            </button>
          )}
          {pages.data.pages.map(({ page, codes, failed }) => (
            <button
              key={page}
              type="button"
              aria-pressed={part === page}
              aria-label={`${what} ${page}: ${failed > 0 ? filled(wording.ofFailed, failed, codes) : filled(wording.allRead, codes)}`}
              title={
                failed > 0
                  ? filled(wording.ofFailed, failed, codes)
                  : filled(wording.allRead, codes)
              }
              onClick={() => setChosen(page)}
            >
              <Mark name={failed > 0 ? 'failed' : 'ready'} /> {page}
            </button>
          ))}
        </div>
      )}
      <div className="lines" tabIndex={0} role="group" aria-label={wording.codes}>
        <table>
          <thead>
            <tr>
              <th aria-label={wording.tickedToPrintAgain} />
              <th>{wording.record}</th>
              <th>{run.sheets > 0 ? wording.seat : wording.file}</th>
              <th>{wording.stamp}</th>
              <th>{wording.says}</th>
              <th>{wording.readBack}</th>
              {onPaper && <th>{wording.onPaper}</th>}
            </tr>
          </thead>
          <tbody>
            {lines.data?.lines.map((line) => (
              <Line
                key={`${line.piece} ${line.stamp}`}
                line={line}
                onSheets={run.sheets > 0}
                withPage={part === 'failed'}
                onPaper={onPaper}
                ticked={ticked.has(line.record)}
                tick={(on) => {
                  const next = new Set(ticked);
                  if (on) next.add(line.record);
                  else next.delete(line.record);
                  setTicked(next);
                }}
                close={close}
              />
            ))}
          </tbody>
        </table>
        {lines.isPending && <Small style={{ padding: 8 }}>{wording.loading}</Small>}
      </div>
      {run.sheets > 0 && pages.data && (
        <PaperProof
          run={run}
          pages={pages.data.pages}
          unread={unreadOnPaper.length}
          tick={() => setTicked(new Set([...ticked, ...unreadOnPaper.map((line) => line.record)]))}
        />
      )}
      {run.sheets > 0 && <Again run={run} ticked={ticked} close={close} />}
    </>
  );
}

function Line({
  line,
  onSheets,
  withPage,
  onPaper,
  ticked,
  tick,
  close,
}: {
  line: ReceiptLine;
  onSheets: boolean;
  withPage: boolean;
  onPaper: boolean;
  ticked: boolean;
  tick: (on: boolean) => void;
  close: () => void;
}) {
  const { jump, openBand } = useJob();
  const title = line.title || line.key || wording.noTitle;
  return (
    <tr>
      <td>
        <Check on={ticked} onChange={tick} label={filled(wording.printAgain, title)} />
      </td>
      <td>
        <PlainButton
          looks
          style={{
            padding: 0,
            color: colour.ink,
            textDecoration: 'underline',
            textUnderlineOffset: 3,
            textAlign: 'left',
          }}
          onPress={() => {
            close();
            jump({ record: line.record });
            openBand('stamps');
          }}
        >
          {title}
        </PlainButton>{' '}
        {line.key !== title && (
          <Small as="span" style={{ whiteSpace: 'nowrap' }}>
            {line.key}
          </Small>
        )}
      </td>
      <td style={{ whiteSpace: 'nowrap' }}>
        {onSheets
          ? filled(wording.seat2, withPage ? filled(wording.page, line.page) : '', line.place)
          : line.piece}
      </td>
      <td>{line.stamp}</td>
      <td className="code">{line.payload}</td>
      <td>
        <span style={{ display: 'inline-flex', gap: 6, alignItems: 'baseline' }}>
          <Mark name={line.result === 'read' ? 'ready' : 'failed'} />
          {line.result === 'read' ? (
            <span style={{ whiteSpace: 'nowrap' }}>{wording.correct}</span>
          ) : line.result === 'unread' ? (
            wording.doesNotReadSomething
          ) : (
            <span>{withParts(wording.readsAs, <span className="code">{line.readsAs}</span>)}</span>
          )}
        </span>
      </td>
      {onPaper && (
        <td style={{ whiteSpace: 'nowrap' }}>
          {line.paper !== null && (
            <span style={{ display: 'inline-flex', gap: 6, alignItems: 'baseline' }}>
              <Mark name={line.paper === 'read' ? 'ready' : 'failed'} />
              {line.paper === 'read' ? 'read' : wording.notRead}
            </span>
          )}
        </td>
      )}
    </tr>
  );
}

/** The chosen pieces once more, onto a started sheet. */
function Again({
  run,
  ticked,
  close,
}: {
  run: RunView;
  ticked: ReadonlySet<number>;
  close: () => void;
}) {
  const { job, setProblem } = useJob();
  const [options] = useOptions();
  const stock = stockOf(job.document.piece);
  if (ticked.size === 0) return <Small>{wording.tickWhatToPrint}</Small>;
  return (
    <Part
      acts
      label={wording.printTheTickedOnes}
      editor={() => (
        <PlacePicker
          stock={stock}
          order={options.order}
          start={options.start}
          onPick={(start) =>
            void ask('startRun', {
              params: { id: job.id },
              body: {
                name: filled(wording.again, run.name, ticked.size),
                which: 'ticked',
                ticked: [...ticked],
                start,
              },
            }).then(close, (e: unknown) => setProblem(e instanceof Error ? e.message : String(e)))
          }
        />
      )}
    >
      {withParts(wording.printTheTickedAgain, ticked.size === 1 ? 'one' : ticked.size)}
    </Part>
  );
}
