'use client';
import { mailOf } from '../../../core/mail/mail';
import { needsOf } from '../../../core/run/outputs/needs';
import { counted, plural } from '../../../core/base/words';
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useEffect, useRef } from 'react';
import { styled } from 'styled-components';
import type { RunView } from '../../../contract';
import {
  imageFormats,
  imageWords,
  outputsOn,
  outputOf,
  type ImageFormat,
  type Output,
  type OutputDescription,
} from '../../../core/run/outputs';
import { ask } from '../../kit/api';
import {
  ChoicePart,
  ErrorLine,
  MainButton,
  Measure,
  Part,
  Sentence,
  Words,
} from '../../kit/controls';
import { groundOf, documentGround } from '../../../core/piece/model';
import { useHand, useJob } from '../../shell/ledger/context';
import { Mark } from '../../kit/mark';
import { Pick } from '../../kit/pick';
import { UsualSettings, type Setting } from '../../kit/usual';
import { useOptions, useSheetSettings } from '../../editors/piece/on-sheets';
import { MailNotes, MailParts, useMailServer, useMailSettings } from './mail-parts';
import { OwnPagePart } from './own-page';
import { SendMails } from './send-mails';
import { LeftOutPart } from './left-out';
import { runRequest, useProof, type Which } from './proof';

/**
 * Pieces made and read back in a second, by what the job's last run took; a guess before the first.
 */
function paceOf(runs: readonly RunView[] | undefined): number {
  const last = runs?.find((r) => r.started && r.finished && r.made > 20);
  if (!last) return 150;
  return (
    last.made /
    Math.max(0.5, (new Date(last.finished!).getTime() - new Date(last.started!).getTime()) / 1000)
  );
}

/** What a run will make: chosen records in, files out, as one sentence. */
export function RunSentence() {
  const { job, ticked, total, view, plan, setPlan, kept } = useJob();
  const { handRow } = useHand();
  const client = useQueryClient();
  const { which, output, name, printer } = plan;
  const setOutput = (next: Output) => setPlan({ output: next });
  // the ticked are taken when there are any as the band is opened
  const first = useRef(true);
  useEffect(() => {
    if (first.current && ticked.size > 0) setPlan({ which: 'ticked' });
    else if (ticked.size === 0 && which === 'ticked') setPlan({ which: 'ready' });
    first.current = false;
  }, [ticked, which, setPlan]);
  const [options, setOptions] = useOptions();
  const runs = useQuery({
    queryKey: ['runs', job.id],
    queryFn: () => ask('listRuns', { params: { id: job.id } }),
  });
  const printers = useQuery({
    queryKey: ['printers'],
    queryFn: () => ask('listPrinters'),
  });
  const start = useMutation({
    // with an address: one mail, of the record in hand, to that address instead
    mutationFn: async (instead: string | undefined) => {
      await kept();
      return ask('startRun', {
        params: { id: job.id },
        body:
          instead === undefined
            ? { name, ...runRequest({ plan, ticked, view }) }
            : {
                name: `${name}, one to try it`,
                which: 'ticked' as const,
                ticked: handRow ? [handRow.id] : [],
                output: { ...output, instead },
              },
      });
    },
    onSuccess: () => client.invalidateQueries({ queryKey: ['runs'] }),
  });
  const { counts, bands } = job;
  const { piece, stamps, mail } = job.document;
  const uses = needsOf(outputOf(output.kind), piece, stamps, mailOf(mail, job.list.columns));
  const onPieceOnly = uses.piece && !uses.codes;
  const codesOnly = uses.codes && !uses.piece;
  const withCode = onPieceOnly ? `all ${bands.drawn.toLocaleString('en')}` : 'all';
  /** How many there are, where one verdict alone says so. */
  const many = (onPiece: number, ofCodes: number) =>
    onPieceOnly
      ? `the ${onPiece.toLocaleString('en')}`
      : codesOnly
        ? `the ${ofCodes.toLocaleString('en')}`
        : 'all';
  const words: Record<Which, string> = {
    ready: `${many(counts.ready, bands.codesReady)} that are ready`,
    'with-code': `${withCode} with a code, including those that need a look`,
    ticked: ticked.size === 1 ? 'the one ticked' : `the ${ticked.size.toLocaleString('en')} ticked`,
    filtered: `the ${total.toLocaleString('en')} shown, in their order`,
    new: `${many(counts.new, bands.codesNew)} not yet printed`,
    changed: `the ${counts.changed.toLocaleString('en')} changed since they were printed`,
  };
  const tools = useQuery({ queryKey: ['tools'], queryFn: () => ask('viewTools') });
  const missing =
    tools.data?.office.there === false
      ? `This needs LibreOffice, which is not installed here. Ask an administrator to install ${tools.data.office.package}.`
      : undefined;
  const each = useEach();
  const described = outputOf(output.kind);
  const attach = job.document.mail?.attach;
  const needs =
    described.needs ??
    (described.delivers === 'mail' && attach ? outputOf(attach).needs : undefined);
  const sheetwise = described.sheets ?? false;
  const server = useMailServer(described.delivers === 'mail');
  const { data: proof } = useProof(0);
  const pieces = proof?.pieces ?? 0;
  const sheets = proof?.sheets ?? 0;
  const seconds = pieces / paceOf(runs.data?.runs);
  const chosenPrinter = printers.data?.printers.find((p) => p.id === printer);
  const nameSetting: Setting = {
    id: 'name',
    usual: true,
    words: `called ${name.trim() || '(no name)'}`,
    part: (
      <>
        called{' '}
        <Part
          label="Name of the run"
          editor={(close) => (
            <Words
              label="Name of the run"
              value={name}
              onChange={(next) => setPlan({ name: next })}
              autoFocus
              onEnter={close}
            />
          )}
        >
          {name.trim() || '(no name)'}
        </Part>
      </>
    ),
  };
  const image = useImageSettings(output, setOutput);
  const named = useNameSetting(output, setOutput);
  const sheet = useSheetSettings();
  const mailed = useMailSettings(output, setOutput);
  const settings: Setting[] = [useOrderSetting()];
  if (described.choices?.includes('image')) settings.push(...image);
  if (described.delivers === 'mail') settings.push(...mailed, nameSetting);
  if (described.choices?.includes('name')) settings.push(named);
  if (described.choices?.includes('secrets')) {
    const id = output.secrets ? 'with' : 'without';
    settings.push({
      id: 'secrets',
      usual: !output.secrets,
      words: secretWords[id],
      part: (
        <ChoicePart
          label="Secrets"
          value={id}
          onChange={(next) => setOutput({ ...output, secrets: next === 'with' || undefined })}
          choices={(['without', 'with'] as const).map((one) => ({
            id: one,
            name: secretWords[one],
          }))}
        />
      ),
    });
  }
  if (sheetwise)
    settings.push(
      ...sheet,
      {
        id: 'marks',
        usual: !options.marks,
        words: options.marks ? 'with cut marks' : 'without cut marks',
        part: (
          <ChoicePart
            label="Cut marks"
            value={options.marks ? 'with' : 'without'}
            onChange={(id) => setOptions({ marks: id === 'with' || undefined })}
            choices={[
              { id: 'without', name: 'without cut marks' },
              {
                id: 'with',
                name: 'with cut marks',
                about:
                  'Pages are 8 mm larger on each side. The file contains the trim and bleed boxes.',
              },
            ]}
          />
        ),
      },
      {
        id: 'printer',
        usual: printer === undefined,
        words: `for ${chosenPrinter?.name ?? 'any printer'}`,
        part: (
          <>
            for{' '}
            <ChoicePart
              label="Printer"
              value={printer === undefined ? 'any' : String(printer)}
              onChange={(id) => setPlan({ printer: id === 'any' ? undefined : Number(id) })}
              choices={[
                { id: 'any', name: 'any printer' },
                ...(printers.data?.printers.map((p) => ({
                  id: String(p.id),
                  name: p.name,
                  about: `${p.dpi} dpi${p.offsetX || p.offsetY ? `, shifted by ${p.offsetX} and ${p.offsetY} mm` : ''}`,
                })) ?? []),
              ]}
            >
              {chosenPrinter?.name ?? 'any printer'}
            </ChoicePart>
          </>
        ),
      },
    );
  return (
    <div style={{ display: 'flex', gap: 20, alignItems: 'start' }}>
      <Sentence style={{ flex: 1 }}>
        Make{' '}
        <ChoicePart
          label="Which records"
          value={which}
          onChange={(next) => setPlan({ which: next })}
          choices={(Object.keys(words) as Which[]).map((id) => ({ id, name: words[id] }))}
        >
          {words[which]}
        </ChoicePart>
        {' as '}
        <ChoicePart
          label="What is made"
          value={output.kind}
          onChange={(kind) => setOutput({ ...output, kind })}
          choices={outputsOn(groundOf(job.document.piece)).map(({ id, name, about, needs }) => ({
            id,
            name: name.replace('each record', each),
            about: needs && missing ? `${about} ${missing}` : about,
          }))}
        />
        {described.delivers === 'mail' && <MailParts />}
        {described.delivers !== 'mail' && <>, {nameSetting.part}</>}
        <UsualSettings key={output.kind} parts={settings} />
        <Facts>
          <b>
            {proof ? pieces.toLocaleString('en') : '…'}{' '}
            {plural(pieces, described.delivers === 'mail' ? 'email' : 'piece')}
            {sheetwise && ` on ${counted(sheets, 'sheet')}`}
            {pieces > 0 &&
              `, about ${seconds < 90 ? `${Math.max(1, Math.round(seconds))} s` : `${Math.ceil(seconds / 60)} min`}`}
          </b>
          {proof && proof.look > 0 && (
            <span>
              <Mark name="look" /> {proof.look.toLocaleString('en')} of them{' '}
              {plural(proof.look, 'needs', 'need')} a look
            </span>
          )}
          {proof && <LeftOutPart leftOut={proof.leftOut} count={proof.left} />}
          {!described.noCodes && (
            <span>
              Every code is read back from {described.readFrom ?? 'the finished artwork'}.
            </span>
          )}
          <OwnPagePart />
        </Facts>
        {proof?.stays && (
          <Note>
            <Mark name="look" /> The document for {proof.stays.madeFor} contains{' '}
            {proof.stays.values.map(({ value }) => `“${value}”`).join(', ')} from the example.{' '}
            {plural(proof.stays.values.length, 'It', 'They')} would be in every document. Mark the
            words in the document, or leave them if they are meant for everyone.
          </Note>
        )}
        {described.delivers === 'mail' && (
          <Note>
            <MailNotes proof={proof} />
          </Note>
        )}
        {needs && missing && (
          <Note>
            <Mark name="look" /> {missing}
          </Note>
        )}
        {start.error && <ErrorLine>{start.error.message}</ErrorLine>}
      </Sentence>
      {described.delivers === 'mail' ? (
        <SendMails
          count={pieces}
          server={server.data?.server ?? undefined}
          disabled={
            !server.data?.server ||
            name.trim() === '' ||
            job.judging > 0 ||
            (needs !== undefined && missing !== undefined)
          }
          starting={start.isPending}
          onSend={() => start.mutate(undefined)}
          onTry={(to) => start.mutate(to)}
        />
      ) : (
        <MainButton
          style={{ marginBottom: 22 }}
          isDisabled={
            pieces === 0 ||
            name.trim() === '' ||
            job.judging > 0 ||
            (needs !== undefined && missing !== undefined)
          }
          isPending={start.isPending}
          onPress={() => start.mutate(undefined)}
        >
          {start.isPending ? 'Starting …' : madeWords(described, sheetwise ? sheets : pieces)}
        </MainButton>
      )}
    </div>
  );
}

/** What the button makes, in the words of the sentence. */
function madeWords({ noun }: OutputDescription, n: number): string {
  return n === 0 ? 'Nothing to make' : `Make ${counted(n, ...noun)}`;
}

/** In which order the pieces are made. */
function useOrderSetting(): Setting {
  const { job, plan, setPlan } = useJob();
  const columns = job.list.columns.filter((c) => !c.hidden && !c.secret);
  const own = plan.which === 'filtered' ? 'as they are shown' : 'in the list’s order';
  const named = columns.find((c) => plan.sort?.startsWith(`${c.id}:`));
  const words = named ? `sorted by ${named.name}` : own;
  return {
    id: 'sort',
    usual: !named,
    words,
    part: (
      <ChoicePart
        label="Order of the records"
        value={plan.sort ?? 'own'}
        onChange={(sort) => setPlan({ sort: sort === 'own' ? undefined : sort })}
        choices={[
          { id: 'own', name: own },
          ...columns.map((c) => ({ id: `${c.id}:up`, name: `sorted by ${c.name}` })),
        ]}
      >
        {words}
      </ChoicePart>
    ),
  };
}

const secretWords = {
  without: 'without its secret columns',
  with: 'with its secret columns too',
} as const;

/** The kind and the size of pictures. */
function useImageSettings(output: Output, setOutput: (output: Output) => void): Setting[] {
  const { job } = useJob();
  const look = job.document.stamps[0]?.look;
  const format: ImageFormat = output.format ?? 'png';
  const mm = output.sizeMm ?? look?.sizeMm ?? 24;
  const dpi = output.dpi ?? look?.dpi ?? 600;
  return [
    {
      id: 'format',
      usual: format === 'png',
      words: imageWords[format].name,
      part: (
        <>
          as{' '}
          <ChoicePart
            label="Kind of picture"
            value={format}
            onChange={(next) => setOutput({ ...output, format: next })}
            choices={imageFormats.map((id) => ({ id, ...imageWords[id] }))}
          />
        </>
      ),
    },
    {
      id: 'image-size',
      usual: output.sizeMm === undefined && output.dpi === undefined,
      words: `${mm} mm at ${dpi} dpi`,
      part: (
        <Part
          label="Size of the pictures"
          editor={
            <>
              <Measure
                label="Width of a code, mm"
                value={mm}
                min={4}
                max={300}
                step={0.5}
                onChange={(sizeMm) => setOutput({ ...output, sizeMm })}
              />
              <Pick
                label="Dots per inch"
                choices={[96, 150, 300, 600, 1200].map((id) => ({ id, name: String(id) }))}
                value={dpi}
                onChange={(next) => setOutput({ ...output, dpi: next })}
              />
            </>
          }
        >
          {mm} mm at {dpi} dpi
        </Part>
      ),
    },
  ];
}

/** What one document is made for: each record, or those who share it. */
function useEach(): string {
  const { job } = useJob();
  const by = documentGround(job.document.piece)?.groupBy;
  if (by === undefined) return 'each record';
  if (by === '') return 'all of them';
  return `each ${job.list.columns.find((c) => c.id === by)?.name ?? 'group'}`;
}

/** How files are named. */
function useNameSetting(output: Output, setOutput: (output: Output) => void): Setting {
  const { job } = useJob();
  const columns = job.list.columns.filter((c) => !c.hidden && !c.secret);
  const by = documentGround(job.document.piece)?.groupBy;
  const usual = columns.find((c) => (by === undefined ? c.role === 'key' : c.id === by));
  const named = columns.find((c) => c.id === output.nameFrom) ?? usual;
  const words = named?.name ?? (by === '' ? 'what it is: all' : 'its number');
  return {
    id: 'file-names',
    usual: named === usual,
    words: `each named by ${words}`,
    part: (
      <>
        each named by{' '}
        <ChoicePart
          label="How files are named"
          value={named?.id}
          onChange={(nameFrom) => setOutput({ ...output, nameFrom })}
          choices={columns.map((c) => ({ id: c.id, name: c.name }))}
        >
          {words}
        </ChoicePart>
      </>
    ),
  };
}

/** Counts and reasons, on a line of their own under the sentence. */
const Facts = styled.span`
  display: flex;
  flex-wrap: wrap;
  gap: 2px 18px;
  align-items: baseline;
  font-size: 13px;
  line-height: 1.4;
  padding-top: 4px;
`;
const Note = styled.span`
  display: block;
  font-size: 13px;
`;
