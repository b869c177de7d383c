'use client';
import { useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import type { RunView } from '../../../contract';
import { stockOf } from '../../../core/piece/stock';
import { factsInWords } from '../../../core/run/printer';
import { ask } from '../../kit/api';
import { ChoicePart, ErrorLine, Part, PlainButton, Small } from '../../kit/controls';
import { useJob } from '../../shell/ledger/context';
import { ReceiptButton } from './receipt';
import { PlacePicker } from '../../editors/piece/place-picker';
import { useOptions } from '../../editors/piece/on-sheets';
import { tools as wording } from './words';
import { filled, withParts } from '../../kit/with-parts';

const link = {
  padding: 0,
  textDecoration: 'underline',
  textUnderlineOffset: 3,
  fontSize: 13,
} as const;

/**
 * Actions for a finished run: its receipt in other formats, failed codes again, the same again,
 * compare, print, delete.
 */
export function RunTools({
  run,
  others,
  csv,
}: {
  run: RunView;
  others: readonly RunView[];
  csv: RunView['files'][number] | undefined;
}) {
  const { job, setProblem } = useJob();
  const client = useQueryClient();
  const [confirm, setConfirm] = useState(false);
  const act = (work: Promise<unknown>) =>
    void work.then(
      () => client.invalidateQueries({ queryKey: ['runs', job.id] }),
      (e: unknown) => setProblem(e instanceof Error ? e.message : String(e)),
    );
  const receipt = `/api/runs/${run.id}/receipt`;
  return (
    <>
      {run.codes > 0 && (
        <p className="row">
          {withParts(
            wording.receipt,
            <ReceiptButton run={run} />,
            csv && (
              <a href={`/api/files/${csv.id}`} download aria-label={wording.receiptCSV}>
                {wording.cSV}
              </a>
            ),
            <a href={`${receipt}?as=json`} download aria-label={wording.receiptJSON}>
              {wording.jSON}
            </a>,
            <a href={`${receipt}?as=pdf`} download aria-label={wording.receiptPDF}>
              {wording.pDF}
            </a>,
          )}
        </p>
      )}
      {run.failed > 0 && <Reprint run={run} act={act} />}
      <div className="row">
        <PlainButton style={link} onPress={() => act(ask('runAgain', { params: { id: run.id } }))}>
          {wording.runAgain}
        </PlainButton>
        {run.sheets > 0 && <SendPart run={run} />}
        {others.length > 0 && <ComparePart run={run} others={others} />}
        {confirm ? (
          <span>
            {withParts(
              wording.deleteThisRunAnd,
              <PlainButton
                style={link}
                onPress={() => act(ask('removeRun', { params: { id: run.id } }))}
              >
                {wording.deleteRun}
              </PlainButton>,
              <PlainButton style={link} onPress={() => setConfirm(false)}>
                {wording.cancel}
              </PlainButton>,
            )}
          </span>
        ) : (
          <PlainButton style={link} onPress={() => setConfirm(true)}>
            {wording.deleteRun}
          </PlainButton>
        )}
      </div>
    </>
  );
}

/** Only what failed, onto a started sheet. */
function Reprint({ run, act }: { run: RunView; act: (work: Promise<unknown>) => void }) {
  const { job } = useJob();
  const [options] = useOptions();
  const stock = stockOf(job.document.piece);
  return (
    <Part
      acts
      label={wording.printTheFailedOnes}
      editor={(close) => (
        <PlacePicker
          stock={stock}
          order={options.order}
          start={options.start}
          onPick={(start) => {
            act(
              ask('startRun', {
                params: { id: job.id },
                body: {
                  name: filled(wording.failedOnesAgain, run.name),
                  which: 'failed',
                  from: run.id,
                  start,
                },
              }),
            );
            close();
          }}
        />
      )}
    >
      {wording.printOnlyTheFailed}
    </Part>
  );
}

/** What came of sending a run to a printer. */
type Sending =
  | { state: 'sent'; to: string; waits: string | null }
  | { state: 'against'; id: number; to: string; against: readonly string[] };

function SendPart({ run }: { run: RunView }) {
  const printers = useQuery({
    queryKey: ['printers'],
    queryFn: () => ask('listPrinters'),
  });
  const { setProblem } = useJob();
  const [came, setCame] = useState<Sending>();
  const send = (id: number, to: string, anyway: boolean) =>
    void ask('sendToPrinter', { params: { id }, body: { run: run.id, anyway } }).then(
      ({ sent, against, waits }) =>
        setCame(sent ? { state: 'sent', to, waits } : { state: 'against', id, to, against }),
      (e: unknown) => setProblem(e instanceof Error ? e.message : String(e)),
    );
  if (came?.state === 'sent')
    return (
      <Small as="span" role="status">
        {withParts(wording.sentToSeeThe, came.to, came.waits && `: ${came.waits}`)}
      </Small>
    );
  if (came?.state === 'against')
    return (
      <span role="alert" style={{ flexBasis: '100%' }}>
        {withParts(
          wording.notSentTo,
          came.to,
          came.against.join(' '),
          <PlainButton style={link} onPress={() => send(came.id, came.to, true)}>
            {wording.sendAnyway}
          </PlainButton>,
          <PlainButton style={link} onPress={() => setCame(undefined)}>
            {wording.cancel}
          </PlainButton>,
        )}
      </span>
    );
  return (
    <ChoicePart
      acts
      label={wording.sendToAPrinter}
      value={undefined}
      choices={
        printers.data?.printers.map((p) => ({
          id: String(p.id),
          name: p.name,
          about: p.facts ? factsInWords(p.facts) : filled(wording.dpi, p.dpi),
        })) ?? []
      }
      onChange={(id) =>
        send(
          Number(id),
          printers.data?.printers.find((p) => p.id === Number(id))?.name ?? '',
          false,
        )
      }
    >
      {wording.sendToAPrinter}
    </ChoicePart>
  );
}

function ComparePart({ run, others }: { run: RunView; others: readonly RunView[] }) {
  const [other, setOther] = useState(others[0]!.id);
  return (
    <Part
      looks
      label={wording.compareWithAnotherRun}
      editor={<Compared run={run} others={others} other={other} setOther={setOther} />}
    >
      {wording.compare}
    </Part>
  );
}

function Compared({
  run,
  others,
  other,
  setOther,
}: {
  run: RunView;
  others: readonly RunView[];
  other: number;
  setOther: (id: number) => void;
}) {
  const { data, error } = useQuery({
    queryKey: ['compare', run.id, other],
    queryFn: () => ask('compareRuns', { params: { id: run.id }, query: { with: other } }),
  });
  const names = (rows: readonly { title: string; key: string }[]) =>
    rows
      .slice(0, 12)
      .map((r) => r.title || r.key)
      .join(', ') + (rows.length > 12 ? filled(wording.andMore, rows.length - 12) : '');
  return (
    <div style={{ display: 'grid', gap: 9, width: 420, fontSize: 13.5 }}>
      <p>
        {withParts(
          wording.nextTo,
          run.name,
          <ChoicePart
            looks
            label={wording.theOtherRun}
            value={String(other)}
            choices={others.map((r) => ({
              id: String(r.id),
              name: r.name,
              about: filled(wording.pieces, r.pieces.toLocaleString('en')),
            }))}
            onChange={(id) => setOther(Number(id))}
          />,
        )}
      </p>
      {error && <ErrorLine>{error.message}</ErrorLine>}
      {data && (
        <>
          <p>{withParts(wording.recordsAreInBoth, data.both.toLocaleString('en'))}</p>
          {data.onlySecond.length > 0 && (
            <p>{withParts(wording.onlyInThisOne, names(data.onlySecond))}</p>
          )}
          {data.onlyFirst.length > 0 && (
            <p>{withParts(wording.onlyInTheOther, names(data.onlyFirst))}</p>
          )}
          {data.differ.length === 0 ? (
            <p>{wording.recordsThatAreIn}</p>
          ) : (
            <ul style={{ margin: 0, paddingLeft: 18, maxHeight: 220, overflow: 'auto' }}>
              {data.differ.map((d, i) => (
                <li key={i} style={{ overflowWrap: 'anywhere' }}>
                  {d.title || d.key}, {d.stamp}: {d.first} → {d.second}
                </li>
              ))}
            </ul>
          )}
        </>
      )}
    </div>
  );
}
