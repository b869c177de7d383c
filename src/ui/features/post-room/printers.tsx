'use client';
import * as contract from '../../../contract';

import { counted } from '../../../core/base/words';
import { useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { styled } from 'styled-components';
import type { PrinterView, PrintJobView } from '../../../contract';
import { ask } from '../../kit/api';
import { ErrorLine, Measure, Part, QuietButton, Sentence, Small } from '../../kit/controls';
import { MayContext, useMay } from '../../kit/me';
import { when } from '../../kit/dates';
import { Mark, type MarkName } from '../../kit/mark';
import { Pick } from '../../kit/pick';
import { colour, font } from '../../kit/theme';

export const Rows = styled.ul`
  list-style: none;
  margin: 6px 0 18px;
  padding: 0;
  border-top: 1px solid ${colour.rule};
  max-width: 760px;
  li {
    display: flex;
    gap: 12px;
    align-items: center;
    min-height: 36px;
    border-bottom: 1px solid ${colour.rule};
    font-size: 13.5px;
  }
  li b {
    flex: 1;
    font-weight: 400;
    min-width: 0;
  }
`;

const marks: Record<PrintJobView['state'], MarkName> = {
  waiting: 'none',
  printing: 'none',
  printed: 'ready',
  stopped: 'out',
};

/** The printers, what each of them makes out, and what it was sent. */
export function Printers() {
  const client = useQueryClient();
  const [problem, setProblem] = useState<string>();
  const { data, error } = useQuery({
    queryKey: ['printers'],
    queryFn: () => ask(contract.listPrinters),
    refetchInterval: ({ state }) =>
      state.data?.printers.some((p) =>
        p.jobs.some((j) => j.state === 'waiting' || j.state === 'printing'),
      )
        ? 600
        : 4000,
  });
  const act = (work: Promise<unknown>) =>
    void work.then(
      () => (setProblem(undefined), client.invalidateQueries({ queryKey: ['printers'] })),
      (e: unknown) => setProblem(e instanceof Error ? e.message : String(e)),
    );
  // what a printer is, they say who keep this Hand Stamp; it is sent to by whoever changes
  const keeps = useMay('keeps');
  if (error) return <ErrorLine>{error.message}</ErrorLine>;
  return (
    <>
      {problem && <ErrorLine>{problem}</ErrorLine>}
      {data?.printers.map((printer) => (
        <div key={printer.id}>
          <h3 style={{ font: `700 15px/1.3 ${font.title}` }}>{printer.name}</h3>
          <MayContext.Provider value={keeps ? 'keeps' : 'looks'}>
            <PrinterSentence printer={printer} act={act} />
          </MayContext.Provider>
          <Rows aria-label={`Sent to ${printer.name}`}>
            {printer.jobs.length === 0 && (
              <li>
                <Small>Nothing was sent to it yet. A finished run is sent from its job.</Small>
              </li>
            )}
            {printer.jobs.map((job) => (
              <li key={job.id}>
                <Mark name={marks[job.state]} />
                <b>{job.name}</b>
                <span>
                  {job.state === 'printing' || job.state === 'stopped'
                    ? `${job.state}, ${job.printed} of ${job.sheets} sheets`
                    : `${job.state}, ${counted(job.sheets, 'sheet')}`}
                </span>
                <Small>{when(job.sent)}</Small>
                {(job.state === 'waiting' || job.state === 'printing') && (
                  <QuietButton
                    onPress={() => act(ask(contract.stopPrintJob, { params: { id: job.id } }))}
                  >
                    Stop
                  </QuietButton>
                )}
              </li>
            ))}
          </Rows>
        </div>
      ))}
    </>
  );
}

function PrinterSentence({
  printer,
  act,
}: {
  printer: PrinterView;
  act: (work: Promise<unknown>) => void;
}) {
  const { id, name, dpi, offsetX, offsetY, finest } = printer;
  const keep = (next: Partial<Omit<PrinterView, 'id' | 'jobs'>>) =>
    act(
      ask(contract.changePrinter, {
        params: { id },
        body: { name, dpi, offsetX, offsetY, finest, ...next },
      }),
    );
  return (
    <Sentence $minor>
      Prints{' '}
      <Part
        label="Dots per inch"
        editor={(close) => (
          <Pick
            label="Dots per inch"
            choices={[203, 300, 600, 1200].map((n) => ({ id: n, name: String(n) }))}
            value={dpi}
            onChange={(next) => (keep({ dpi: next }), close())}
          />
        )}
      >
        {dpi} dots per inch
      </Part>
      , shifted by{' '}
      <Part
        label="Offset"
        editor={
          <>
            <Small>
              What stands at the edge of the paper on the test page, the other way round.
            </Small>
            <Measure
              label="To the right, mm"
              value={offsetX}
              min={-20}
              max={20}
              onChange={(x) => keep({ offsetX: x })}
            />
            <Measure
              label="Down, mm"
              value={offsetY}
              min={-20}
              max={20}
              onChange={(y) => keep({ offsetY: y })}
            />
          </>
        }
      >
        {offsetX} mm across and {offsetY} mm down
      </Part>
      ;{' '}
      <Part
        label="Finest module"
        editor={
          <Measure
            label="Dots of the finest module that reads on its test page"
            value={finest ?? 3}
            min={1}
            max={40}
            step={1}
            onChange={(n) => keep({ finest: n })}
          />
        }
      >
        {finest === null
          ? 'its finest module is not known yet'
          : `modules from ${finest} dots, ${((finest * 25.4) / dpi).toFixed(2)} mm, read`}
      </Part>
      .{' '}
      <a href={`/api/printers/${id}/test-page`} target="_blank" rel="noreferrer">
        Its test page
      </a>
      .
    </Sentence>
  );
}
