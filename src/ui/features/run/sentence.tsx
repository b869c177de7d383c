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
import { sentence as wording } from './words';
import { filled, withParts } from '../../kit/with-parts';

/**
 * Pieces made and read back per second, by the time of the job's last run; a guess before the
 * first.
 */
function paceOf(runs: readonly RunView[] | undefined): number {
  const last = runs?.find((r) => r.started && r.finished && r.made > 20);
  if (!last) return 150;
  return (
    last.made /
    Math.max(0.5, (new Date(last.finished!).getTime() - new Date(last.started!).getTime()) / 1000)
  );
}

/** A run as one sentence: chosen records in, files out. */
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
    // with an address: one email, of the selected record, to that address instead
    mutationFn: async (instead: string | undefined) => {
      await kept();
      return ask('startRun', {
        params: { id: job.id },
        body:
          instead === undefined
            ? { name, ...runRequest({ plan, ticked, view }) }
            : {
                name: filled(wording.oneToTryIt, name),
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
  const withCode = onPieceOnly ? filled(wording.all, bands.drawn.toLocaleString('en')) : 'all';
  /** How many there are, where one verdict alone says so. */
  const many = (onPiece: number, ofCodes: number) =>
    onPieceOnly
      ? filled(wording.the, onPiece.toLocaleString('en'))
      : codesOnly
        ? filled(wording.the, ofCodes.toLocaleString('en'))
        : 'all';
  const words: Record<Which, string> = {
    ready: filled(wording.thatAreReady, many(counts.ready, bands.codesReady)),
    'with-code': filled(wording.withACodeIncluding, withCode),
    ticked:
      ticked.size === 1
        ? wording.theOneTicked
        : filled(wording.theTicked, ticked.size.toLocaleString('en')),
    filtered: filled(wording.theShownInTheir, total.toLocaleString('en')),
    new: filled(wording.notYetPrinted, many(counts.new, bands.codesNew)),
    changed: filled(wording.theChangedSinceThey, counts.changed.toLocaleString('en')),
  };
  const tools = useQuery({ queryKey: ['tools'], queryFn: () => ask('viewTools') });
  const missing =
    tools.data?.office.there === false
      ? filled(wording.thisNeedsLibreOfficeWhich, tools.data.office.package)
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
    words: filled(wording.called, name.trim() || wording.noName),
    part: withParts(
      wording.called,
      <Part
        label={wording.nameOfTheRun}
        editor={(close) => (
          <Words
            label={wording.nameOfTheRun}
            value={name}
            onChange={(next) => setPlan({ name: next })}
            autoFocus
            onEnter={close}
          />
        )}
      >
        {name.trim() || wording.noName}
      </Part>,
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
          label={wording.secrets}
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
        words: options.marks ? wording.withCutMarks : wording.withoutCutMarks,
        part: (
          <ChoicePart
            label={wording.cutMarks}
            value={options.marks ? 'with' : 'without'}
            onChange={(id) => setOptions({ marks: id === 'with' || undefined })}
            choices={[
              { id: 'without', name: wording.withoutCutMarks },
              {
                id: 'with',
                name: wording.withCutMarks,
                about: wording.pagesAre8Mm,
              },
            ]}
          />
        ),
      },
      {
        id: 'printer',
        usual: printer === undefined,
        words: filled(wording.for, chosenPrinter?.name ?? wording.anyPrinter),
        part: withParts(
          wording.for,
          <ChoicePart
            label={wording.printer}
            value={printer === undefined ? 'any' : String(printer)}
            onChange={(id) => setPlan({ printer: id === 'any' ? undefined : Number(id) })}
            choices={[
              { id: 'any', name: wording.anyPrinter },
              ...(printers.data?.printers.map((p) => ({
                id: String(p.id),
                name: p.name,
                about: filled(
                  wording.dpi,
                  p.dpi,
                  p.offsetX || p.offsetY
                    ? filled(wording.shiftedByAndMm, p.offsetX, p.offsetY)
                    : '',
                ),
              })) ?? []),
            ]}
          >
            {chosenPrinter?.name ?? wording.anyPrinter}
          </ChoicePart>,
        ),
      },
    );
  return (
    <div style={{ display: 'flex', gap: 20, alignItems: 'start' }}>
      <Sentence style={{ flex: 1 }}>
        {withParts(
          wording.make2,
          <ChoicePart
            label={wording.whichRecords}
            value={which}
            onChange={(next) => setPlan({ which: next })}
            choices={(Object.keys(words) as Which[]).map((id) => ({ id, name: words[id] }))}
          >
            {words[which]}
          </ChoicePart>,
          ' as ',
          <ChoicePart
            label={wording.whatIsMade}
            value={output.kind}
            onChange={(kind) => setOutput({ ...output, kind })}
            choices={outputsOn(groundOf(job.document.piece)).map(({ id, name, about, needs }) => ({
              id,
              name: name.replace(wording.eachRecord, each),
              about: needs && missing ? `${about} ${missing}` : about,
            }))}
          />,
          described.delivers === 'mail' && <MailParts />,
          described.delivers !== 'mail' && <>, {nameSetting.part}</>,
          <UsualSettings key={output.kind} parts={settings} />,
          <Facts>
            <b>
              {proof ? pieces.toLocaleString('en') : '…'}{' '}
              {plural(pieces, described.delivers === 'mail' ? 'email' : 'piece')}
              {sheetwise && filled(wording.on, counted(sheets, 'sheet'))}
              {pieces > 0 &&
                filled(
                  wording.about,
                  seconds < 90
                    ? `${Math.max(1, Math.round(seconds))} s`
                    : filled(wording.min, Math.ceil(seconds / 60)),
                )}
            </b>
            {proof && proof.look > 0 && (
              <span>
                {withParts(
                  wording.ofThemALook,
                  <Mark name="look" />,
                  proof.look.toLocaleString('en'),
                  plural(proof.look, 'needs', 'need'),
                )}
              </span>
            )}
            {proof && <LeftOutPart leftOut={proof.leftOut} count={proof.left} />}
            {!described.noCodes && (
              <span>
                {withParts(
                  wording.everyCodeIsRead,
                  described.readFrom ?? wording.theFinishedArtwork,
                )}
              </span>
            )}
            <OwnPagePart />
          </Facts>,
          proof?.stays && (
            <Note>
              {withParts(
                wording.theDocumentForContains,
                <Mark name="look" />,
                proof.stays.madeFor,
                proof.stays.values.map(({ value }) => `“${value}”`).join(', '),
                plural(proof.stays.values.length, wording.it, wording.they),
              )}
            </Note>
          ),
          described.delivers === 'mail' && (
            <Note>
              <MailNotes proof={proof} />
            </Note>
          ),
          needs && missing && (
            <Note>
              <Mark name="look" /> {missing}
            </Note>
          ),
          start.error && <ErrorLine>{start.error.message}</ErrorLine>,
        )}
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
          {start.isPending ? wording.starting : madeWords(described, sheetwise ? sheets : pieces)}
        </MainButton>
      )}
    </div>
  );
}

/** The words of the button. */
function madeWords({ noun }: OutputDescription, n: number): string {
  return n === 0 ? wording.nothingToMake : filled(wording.make, counted(n, ...noun));
}

/** In which order the pieces are made. */
function useOrderSetting(): Setting {
  const { job, plan, setPlan } = useJob();
  const columns = job.list.columns.filter((c) => !c.hidden && !c.secret);
  const own = plan.which === 'filtered' ? wording.asTheyAreShown : wording.inTheListsOrder;
  const named = columns.find((c) => plan.sort?.startsWith(`${c.id}:`));
  const words = named ? filled(wording.sortedBy, named.name) : own;
  return {
    id: 'sort',
    usual: !named,
    words,
    part: (
      <ChoicePart
        label={wording.orderOfTheRecords}
        value={plan.sort ?? 'own'}
        onChange={(sort) => setPlan({ sort: sort === 'own' ? undefined : sort })}
        choices={[
          { id: 'own', name: own },
          ...columns.map((c) => ({ id: `${c.id}:up`, name: filled(wording.sortedBy, c.name) })),
        ]}
      >
        {words}
      </ChoicePart>
    ),
  };
}

const secretWords = {
  without: wording.withoutItsSecretColumns,
  with: wording.withItsSecretColumns,
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
      part: withParts(
        wording.as,
        <ChoicePart
          label={wording.kindOfPicture}
          value={format}
          onChange={(next) => setOutput({ ...output, format: next })}
          choices={imageFormats.map((id) => ({ id, ...imageWords[id] }))}
        />,
      ),
    },
    {
      id: 'image-size',
      usual: output.sizeMm === undefined && output.dpi === undefined,
      words: filled(wording.mmAtDpi, mm, dpi),
      part: (
        <Part
          label={wording.sizeOfThePictures}
          editor={
            <>
              <Measure
                label={wording.widthOfACode}
                value={mm}
                min={4}
                max={300}
                step={0.5}
                onChange={(sizeMm) => setOutput({ ...output, sizeMm })}
              />
              <Pick
                label={wording.dotsPerInch}
                choices={[96, 150, 300, 600, 1200].map((id) => ({ id, name: String(id) }))}
                value={dpi}
                onChange={(next) => setOutput({ ...output, dpi: next })}
              />
            </>
          }
        >
          {withParts(wording.mmAtDpi, mm, dpi)}
        </Part>
      ),
    },
  ];
}

/** What one document is made for: each record, or those who share it. */
function useEach(): string {
  const { job } = useJob();
  const by = documentGround(job.document.piece)?.groupBy;
  if (by === undefined) return wording.eachRecord;
  if (by === '') return wording.allOfThem;
  return filled(wording.each, job.list.columns.find((c) => c.id === by)?.name ?? 'group');
}

/** How files are named. */
function useNameSetting(output: Output, setOutput: (output: Output) => void): Setting {
  const { job } = useJob();
  const columns = job.list.columns.filter((c) => !c.hidden && !c.secret);
  const by = documentGround(job.document.piece)?.groupBy;
  const usual = columns.find((c) => (by === undefined ? c.role === 'key' : c.id === by));
  const named = columns.find((c) => c.id === output.nameFrom) ?? usual;
  const words = named?.name ?? (by === '' ? wording.whatItIsAll : wording.itsNumber);
  return {
    id: 'file-names',
    usual: named === usual,
    words: filled(wording.eachNamedBy, words),
    part: withParts(
      wording.eachNamedBy,
      <ChoicePart
        label={wording.howFilesAreNamed}
        value={named?.id}
        onChange={(nameFrom) => setOutput({ ...output, nameFrom })}
        choices={columns.map((c) => ({ id: c.id, name: c.name }))}
      >
        {words}
      </ChoicePart>,
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
