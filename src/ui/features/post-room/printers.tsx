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
import { printers as wording } from './words';
import { filled, withParts } from '../../kit/with-parts';

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
  sending: { mark: 'none', words: wording.beingSent },
  printing: { mark: 'none', words: 'printing' },
  held: { mark: 'look', words: 'held' },
  printed: { mark: 'ready', words: 'printed' },
  stopped: { mark: 'out', words: 'stopped' },
  failed: { mark: 'failed', words: wording.notPrinted },
  unsure: { mark: 'look', words: wording.perhapsPrinted },
};
const isOnTheWay = (job: PrintJobView) => onTheWay.some((state) => state === job.state);

/** The printers, their abilities, and their jobs. */
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
  // administrators add and change printers; editors send to them
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
          <Rows aria-label={filled(wording.sentTo, printer.name)}>
            {printer.jobs.length === 0 && (
              <li>
                <Small>{wording.nothingWasSentTo}</Small>
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
          {wording.stop}
        </QuietButton>
      )}
    </li>
  );
}

const addressHint = wording.mostOfficePrintersUse;

/** A printer more: a real one at its address. */
function AddPrinter({ act }: { act: (work: Promise<unknown>) => void }) {
  const [name, setName] = useState('');
  const [address, setAddress] = useState('');
  return (
    <Sentence $minor>
      <Part
        acts
        label={wording.addAPrinter}
        editor={(close) => (
          <div style={{ display: 'grid', gap: 9, width: 340 }}>
            <Words label={wording.name} value={name} onChange={setName} autoFocus />
            <Words label={wording.address} value={address} onChange={setAddress} />
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
                {wording.addPrinter}
              </MainButton>
            </div>
          </div>
        )}
      >
        {wording.addAPrinterBy}
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
        {withParts(
          wording.printsShiftedBy,
          <Part
            label={wording.dotsPerInch2}
            editor={(close) => (
              <Pick
                label={wording.dotsPerInch2}
                choices={[203, 300, 600, 1200].map((n) => ({ id: n, name: String(n) }))}
                value={dpi}
                onChange={(next) => (keep({ dpi: next }), close())}
              />
            )}
          >
            {withParts(wording.dotsPerInch, dpi)}
          </Part>,
          <Part
            label={wording.offset}
            editor={
              <>
                <Small>{wording.readTheNumberAt}</Small>
                <Measure
                  label={wording.toTheRightMm}
                  value={offsetX}
                  min={-20}
                  max={20}
                  onChange={(x) => keep({ offsetX: x })}
                />
                <Measure
                  label={wording.downMm}
                  value={offsetY}
                  min={-20}
                  max={20}
                  onChange={(y) => keep({ offsetY: y })}
                />
              </>
            }
          >
            {withParts(wording.mmAcrossAndMm, offsetX, offsetY)}
          </Part>,
          <FinestPart printer={printer} keep={keep} act={act} />,
          !printer.real &&
            withParts(
              wording.itsSheets2,
              <Part
                label={wording.itsSheets}
                editor={<Faults faults={faults} intoTray={intoTray} keep={keep} />}
              >
                {intoTray
                  ? filled(
                      wording.areInTheIn,
                      faults.length === 0
                        ? wording.withoutAFault
                        : filled(
                            wording.with,
                            paperFaults
                              .flatMap((f) => (faults.includes(f.id) ? [f.name] : []))
                              .join(', '),
                          ),
                    )
                  : wording.areNotKept}
              </Part>,
            ),
          <a href={`/api/printers/${id}/test-page`} target="_blank" rel="noreferrer">
            {wording.testPage}
          </a>,
          (printer.real || intoTray) && (
            <PlainButton
              style={{ padding: '0 6px', textDecoration: 'underline' }}
              onPress={() => act(sendTestPage(id))}
            >
              {wording.printTestPage}
            </PlainButton>
          ),
          printer.real && (
            <PlainButton
              style={{ padding: '0 6px', textDecoration: 'underline' }}
              onPress={() => act(ask('removePrinter', { params: { id } }))}
            >
              {wording.removePrinter}
            </PlainButton>
          ),
        )}
      </Sentence>
    </>
  );
}

async function sendTestPage(id: number): Promise<void> {
  const { sent, against } = await ask('printTestPage', { params: { id } });
  if (!sent) throw new Error(filled(wording.theTestPageWas, against.join(' ')));
}

/** A real printer's description of itself, and its state. */
function Facts({ printer, act }: OfPrinter) {
  const { id, facts, trouble, address, asked } = printer;
  const wrong = trouble ?? facts?.trouble;
  return (
    <p style={{ display: 'flex', gap: 7, alignItems: 'baseline', fontSize: 13.5 }}>
      <Mark name={wrong ? 'look' : facts ? 'ready' : 'none'} />
      <span>
        {facts ? factsInWords(facts) : wording.noDetailsFromThis}
        {wrong ? filled(wording.lastChecked, wrong) : '.'}{' '}
        <Small as="span">
          {address}
          {asked && filled(wording.checked, when(asked))}
        </Small>
        <PlainButton
          style={{ padding: '0 6px', textDecoration: 'underline' }}
          onPress={() => act(ask('askPrinter', { params: { id } }))}
        >
          {wording.checkAgain}
        </PlainButton>
      </span>
    </p>
  );
}

/** The finest module that a printer prints: read from a picture of its test page, or entered. */
function FinestPart({
  printer: { id, dpi, finest },
  keep,
  act,
}: OfPrinter & { keep: (next: Partial<contract.Printer>) => void }) {
  return (
    <Part
      label={wording.finestSquare}
      editor={
        <>
          <FileTrigger
            acceptedFileTypes={['image/*']}
            onSelect={(files) => files && act(readTestPages(id, [...files]))}
          >
            <QuietButton>{wording.readItsPrintedTest}</QuietButton>
          </FileTrigger>
          <Small>{wording.fromAPhotoOr}</Small>
          <Measure
            label={wording.dotsOfTheFinest}
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
        ? wording.itsFinestSquareIs
        : filled(
            wording.squaresFromMmRead,
            counted(finest, 'dot'),
            ((finest * 25.4) / dpi).toFixed(2),
          )}
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

/** The faults of a test printer, chosen by name. */
function Faults({
  faults: before,
  intoTray,
  keep,
}: Pick<PrinterView, 'faults' | 'intoTray'> & {
  keep: (next: Partial<contract.Printer>) => void;
}) {
  // several quick ticks count at once, not when the answer has come
  const [faults, setFaults] = useState(before);
  const take = (next: typeof before) => (setFaults(next), keep({ faults: next }));
  return (
    <div style={{ display: 'grid', gap: 9, width: 340 }}>
      <Check on={intoTray} onChange={(on) => keep({ intoTray: on, faults: on ? faults : [] })}>
        {wording.putPicturesOfIts}
      </Check>
      {intoTray &&
        paperFaults.map(({ id, name, about }) => (
          <div key={id}>
            <Check
              on={faults.includes(id)}
              onChange={(on) => take(on ? [...faults, id] : faults.filter((one) => one !== id))}
            >
              {withParts(wording.with, name)}
            </Check>
            <Small style={{ marginLeft: 23 }}>{about}</Small>
          </div>
        ))}
    </div>
  );
}
