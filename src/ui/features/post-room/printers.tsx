'use client';
import type * as contract from '../../../contract';

import { counted } from '../../../core/base/words';
import { useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { FileTrigger } from 'react-aria-components';
import { styled } from 'styled-components';
import type { PrinterView, PrintJobView } from '../../../contract';
import { paperFaults } from '../../../core/readback/paper-faults';
import { factsInWords, farIs, onTheWay } from '../../../core/run/printer';
import { ask } from '../../kit/api';
import { greyOfSheet } from '../../kit/camera';
import {
  Check,
  ErrorLine,
  MainButton,
  Measure,
  Part,
  PlainButton,
  QuietButton,
  Sentence,
  Small,
  Words,
} from '../../kit/controls';
import { scanAll } from '../../kit/core-client';
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

const states: Record<PrintJobView['state'], { mark: MarkName; words: string }> = {
  waiting: { mark: 'none', words: 'waiting' },
  sending: { mark: 'none', words: 'being sent' },
  printing: { mark: 'none', words: 'printing' },
  held: { mark: 'look', words: 'held' },
  printed: { mark: 'ready', words: 'printed' },
  stopped: { mark: 'out', words: 'stopped' },
  failed: { mark: 'failed', words: 'not printed' },
  unsure: { mark: 'look', words: 'perhaps printed' },
};
const isOnTheWay = (job: PrintJobView) => onTheWay.some((state) => state === job.state);

/** The printers, what each of them makes out, and what it was sent. */
export function Printers() {
  const client = useQueryClient();
  const [problem, setProblem] = useState<string>();
  const { data, error } = useQuery({
    queryKey: ['printers'],
    queryFn: () => ask('listPrinters'),
    refetchInterval: ({ state }) =>
      state.data?.printers.some((p) => p.jobs.some(isOnTheWay)) ? 600 : 4000,
  });
  const act = (work: Promise<unknown>) =>
    void work.then(
      () => (setProblem(undefined), client.invalidateQueries({ queryKey: ['printers'] })),
      (e: unknown) => setProblem(e instanceof Error ? e.message : String(e)),
    );
  // what a printer is, they say who keep this Hand Stamp; it is sent to by whoever changes
  const keeps = useMay('administrator');
  if (error) return <ErrorLine>{error.message}</ErrorLine>;
  return (
    <>
      {problem && <ErrorLine role="alert">{problem}</ErrorLine>}
      {data?.printers.map((printer) => (
        <div key={printer.id}>
          <h3 style={{ font: `700 15px/1.3 ${font.title}` }}>{printer.name}</h3>
          <MayContext.Provider value={keeps ? 'administrator' : 'viewer'}>
            <PrinterSentence printer={printer} act={act} />
          </MayContext.Provider>
          <Rows aria-label={`Sent to ${printer.name}`}>
            {printer.jobs.length === 0 && (
              <li>
                <Small>Nothing was sent to it yet. Send a finished run from its job.</Small>
              </li>
            )}
            {printer.jobs.map((job) => (
              <PrintJob key={job.id} job={job} act={act} />
            ))}
          </Rows>
        </div>
      ))}
      <MayContext.Provider value={keeps ? 'administrator' : 'viewer'}>
        <AddPrinter act={act} />
      </MayContext.Provider>
    </>
  );
}

function PrintJob({ job, act }: { job: PrintJobView; act: (work: Promise<unknown>) => void }) {
  const { mark, words } = states[job.state];
  const far = isOnTheWay(job) || job.state === 'stopped' || job.state === 'failed';
  return (
    <li>
      <Mark name={mark} />
      <b style={{ padding: '6px 0' }}>
        {job.name}
        {job.reason && (
          <Small as="span" style={{ display: 'block' }}>
            {job.reason}
          </Small>
        )}
      </b>
      <span>
        {words}
        {far && job.printed > 0
          ? `, ${farIs(job.printed, job.sheets)}`
          : `, ${counted(job.sheets, 'sheet')}`}
      </span>
      <Small>{when(job.sent)}</Small>
      {isOnTheWay(job) && (
        <QuietButton onPress={() => act(ask('stopPrintJob', { params: { id: job.id } }))}>
          Stop
        </QuietButton>
      )}
    </li>
  );
}

const addressHint =
  'Most office printers use IPP (a standard for network printers). You find the address in the printer’s network menu, for example ipp://printer.example/ipp/print. For a printer in your own network, Settings must allow private addresses.';

/** A printer more: a real one at its address. */
function AddPrinter({ act }: { act: (work: Promise<unknown>) => void }) {
  const [name, setName] = useState('');
  const [address, setAddress] = useState('');
  return (
    <Sentence $minor>
      <Part
        acts
        label="Add a printer"
        editor={(close) => (
          <div style={{ display: 'grid', gap: 9, width: 340 }}>
            <Words label="Name" value={name} onChange={setName} autoFocus />
            <Words label="Address" value={address} onChange={setAddress} />
            <Small>{addressHint}</Small>
            <div>
              <MainButton
                isDisabled={name.trim() === '' || address.trim() === ''}
                onPress={() => {
                  act(
                    ask('addPrinter', {
                      body: { name, address, dpi: 300, offsetX: 0, offsetY: 0, finest: null },
                    }).then(() => (setName(''), setAddress(''))),
                  );
                  close();
                }}
              >
                Add printer
              </MainButton>
            </div>
          </div>
        )}
      >
        Add a printer by its address
      </Part>
    </Sentence>
  );
}

interface OfPrinter {
  printer: PrinterView;
  act: (work: Promise<unknown>) => void;
}

function PrinterSentence({ printer, act }: OfPrinter) {
  const { id, dpi, offsetX, offsetY, faults, intoTray } = printer;
  const keep = (next: Partial<contract.Printer>) =>
    act(ask('changePrinter', { params: { id }, body: next }));
  return (
    <>
      {printer.real && <Facts printer={printer} act={act} />}
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
                Read the number at the paper edge on the test page. If it says 2 mm right, enter −2.
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
        ; <FinestPart printer={printer} keep={keep} act={act} />
        {!printer.real && (
          <>
            ; its sheets{' '}
            <Part
              label="Its sheets"
              editor={<Faults faults={faults} intoTray={intoTray} keep={keep} />}
            >
              {intoTray
                ? `are in the In-tray as pictures, ${faults.length === 0 ? 'without a fault' : `with ${paperFaults.flatMap((f) => (faults.includes(f.id) ? [f.name] : [])).join(', ')}`}`
                : 'are not kept'}
            </Part>
          </>
        )}
        .{' '}
        <a href={`/api/printers/${id}/test-page`} target="_blank" rel="noreferrer">
          Test page
        </a>
        .
        {(printer.real || intoTray) && (
          <PlainButton
            style={{ padding: '0 6px', textDecoration: 'underline' }}
            onPress={() => act(sendTestPage(id))}
          >
            Print test page
          </PlainButton>
        )}
        {printer.real && (
          <PlainButton
            style={{ padding: '0 6px', textDecoration: 'underline' }}
            onPress={() => act(ask('removePrinter', { params: { id } }))}
          >
            Remove printer
          </PlainButton>
        )}
      </Sentence>
    </>
  );
}

async function sendTestPage(id: number): Promise<void> {
  const { sent, against } = await ask('printTestPage', { params: { id } });
  if (!sent) throw new Error(`The test page was not sent. ${against.join(' ')}`);
}

/** What a real printer says of itself, and whether it is well. */
function Facts({ printer, act }: OfPrinter) {
  const { id, facts, trouble, address, asked } = printer;
  const wrong = trouble ?? facts?.trouble;
  return (
    <p style={{ display: 'flex', gap: 7, alignItems: 'baseline', fontSize: 13.5 }}>
      <Mark name={wrong ? 'look' : facts ? 'ready' : 'none'} />
      <span>
        {facts ? factsInWords(facts) : 'No details from this printer yet'}
        {wrong ? `; last checked ${wrong}.` : '.'}{' '}
        <Small as="span">
          {address}
          {asked && `, checked ${when(asked)}`}
        </Small>
        <PlainButton
          style={{ padding: '0 6px', textDecoration: 'underline' }}
          onPress={() => act(ask('askPrinter', { params: { id } }))}
        >
          Check again
        </PlainButton>
      </span>
    </p>
  );
}

/** The finest module that a printer makes: read from a picture of its test page, or said. */
function FinestPart({
  printer: { id, dpi, finest },
  keep,
  act,
}: OfPrinter & { keep: (next: Partial<contract.Printer>) => void }) {
  return (
    <Part
      label="Finest square"
      editor={
        <>
          <FileTrigger
            acceptedFileTypes={['image/*']}
            onSelect={(files) => files && act(readTestPages(id, [...files]))}
          >
            <QuietButton>Read its printed test page</QuietButton>
          </FileTrigger>
          <Small>from a photo or a scan of it, or choose it yourself:</Small>
          <Measure
            label="Dots of the finest square that reads on its test page"
            value={finest ?? 3}
            min={1}
            max={40}
            step={1}
            onChange={(n) => keep({ finest: n })}
          />
        </>
      }
    >
      {finest === null
        ? 'its finest square is not known yet'
        : `squares from ${counted(finest, 'dot')}, ${((finest * 25.4) / dpi).toFixed(2)} mm, read`}
    </Part>
  );
}

async function readTestPages(id: number, files: readonly File[]): Promise<void> {
  const texts: string[] = [];
  for (const file of files) {
    const codes = await scanAll(await greyOfSheet(file));
    texts.push(...codes.map((code) => code.text));
  }
  await ask('readTestPage', { params: { id }, body: { texts } });
}

/** What is wrong with what a stand-in prints, chosen by name. */
function Faults({
  faults: before,
  intoTray,
  keep,
}: Pick<PrinterView, 'faults' | 'intoTray'> & {
  keep: (next: Partial<contract.Printer>) => void;
}) {
  // what is ticked one after the other counts at once, not when the answer has come
  const [faults, setFaults] = useState(before);
  const take = (next: typeof before) => (setFaults(next), keep({ faults: next }));
  return (
    <div style={{ display: 'grid', gap: 9, width: 340 }}>
      <Check on={intoTray} onChange={(on) => keep({ intoTray: on, faults: on ? faults : [] })}>
        Put pictures of its sheets into the In-tray, like a scanner
      </Check>
      {intoTray &&
        paperFaults.map(({ id, name, about }) => (
          <div key={id}>
            <Check
              on={faults.includes(id)}
              onChange={(on) => take(on ? [...faults, id] : faults.filter((one) => one !== id))}
            >
              with {name}
            </Check>
            <Small style={{ marginLeft: 23 }}>{about}</Small>
          </div>
        ))}
    </div>
  );
}
