'use client';
import { useMutation, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { FileTrigger } from 'react-aria-components';
import { counted } from '../../../core/base/words';
import { keyColumn } from '../../../core/records/columns';
import { freeName } from '../../../core/run/names';
import { ask, send } from '../../kit/api';
import { ErrorLine, MainButton, QuietButton, Small, Words } from '../../kit/controls';
import { DropFiles } from '../../kit/drop-files';
import { Mark } from '../../kit/mark';
import { useJob } from '../../shell/ledger/context';
import { bringPdfs as wording } from './words';
import { filled, withParts } from '../../kit/with-parts';

interface Bringing {
  done: number;
  of: number;
  /** What could not be used, and what is special about the rest, in words. */
  told: { text: string; failed: boolean }[];
  /** PDFs that need their password, to be brought in again with it. */
  locked: (File | string)[];
}

/** PDFs that exist, many at once, or in a ZIP file; each is kept as it is. */
export function BringPdfs({ onDone, onBack }: { onDone: () => void; onBack: () => void }) {
  const { job, save } = useJob();
  const client = useQueryClient();
  const { piece } = job.document;
  const [state, setState] = useState<Bringing>();
  const [password, setPassword] = useState('');
  const [begun, setBegun] = useState<{ set: number; name: string }>();
  const bring = useMutation({
    // files of this computer, or of the In-tray; locked ones again, with their password
    mutationFn: async (files: readonly File[] | 'tray' | 'locked') => {
      const told: Bringing['told'] = [];
      const locked: Bringing['locked'] = [];
      const opens = files === 'locked' ? password : undefined;
      const pdfs: readonly (File | string)[] =
        files === 'locked'
          ? (state?.locked ?? [])
          : files === 'tray'
            ? (await ask('listTrayPdfs')).names
            : unlike((await Promise.all(files.map(unpacked))).flat());
      if (pdfs.length === 0)
        throw new Error(files === 'tray' ? wording.thereIsNoPDF : wording.thereIsNoPDFAmong);
      const known = piece.ground?.kind === 'pdfs' ? piece.ground : undefined;
      const name =
        typeof files === 'string'
          ? wording.pDFsOfTheIn
          : files.length === 1
            ? files[0]!.name
            : filled(wording.pDFs, pdfs.length.toLocaleString('en'));
      const own = known ?? begun ?? { set: (await ask('startSet', { body: { name } })).id, name };
      const { set } = own;
      if (!known) setBegun(own);
      let kept = 0;
      for (const [i, file] of pdfs.entries()) {
        setState({ done: i, of: pdfs.length, told: [...told], locked: [...locked] });
        try {
          const params = { id: set };
          const answer =
            typeof file === 'string'
              ? await ask('bringTrayPdf', { params, body: { name: file, password: opens } })
              : await send('bringPdf', file, file.name, {
                  params,
                  headers:
                    opens === undefined ? undefined : { 'x-password': encodeURIComponent(opens) },
                });
          const { note, name: called } = answer;
          if (answer.locked !== undefined) {
            locked.push(file);
            told.push({ text: answer.locked, failed: true });
            continue;
          }
          kept++;
          if (note) told.push({ text: `${called}: ${note}`, failed: false });
        } catch (error) {
          told.push({ text: error instanceof Error ? error.message : String(error), failed: true });
        }
      }
      setState({ done: pdfs.length, of: pdfs.length, told, locked });
      setPassword('');
      const fresh = known ? undefined : { set, name: own.name };
      if (kept === 0) return { told, fresh: files === 'locked' ? fresh : undefined };
      if (known) await ask('lookAgain', { params: { id: job.id } });
      await client.invalidateQueries();
      return { told, fresh };
    },
    onSuccess: ({ told, fresh }) => {
      if (told.length === 0) goOn(fresh);
    },
  });
  /**
   * Puts the piece on the new PDFs; only now, since this part of the sentence disappears with the
   * earlier ground.
   */
  const goOn = (fresh: { set: number; name: string } | undefined) => {
    if (fresh)
      save((d) => ({
        ...d,
        piece: {
          ...d.piece,
          ground: {
            kind: 'pdfs',
            ...fresh,
            knownBy: 'name',
            column: (keyColumn(job.list.columns) ?? job.list.columns[0])?.id ?? '',
            said: [],
            stamp: d.stamps[0]?.id ?? '',
            sizeMm: 18,
            corner: wording.bottomRight,
            acrossMm: 12,
            downMm: 12,
            pages: 'first',
          },
        },
      }));
    onDone();
  };
  const failed = state?.told.filter((t) => t.failed).length ?? 0;
  return (
    <div style={{ display: 'grid', gap: 10, width: 420 }}>
      <p>
        <b>{wording.pDFsThatExist}</b>
      </p>
      <Small>{wording.choosePDFsAFolder}</Small>
      <DropFiles label={wording.dropPDFsAFolder} onFiles={(files) => bring.mutate(files)}>
        <p>{wording.dropThemHereOr}</p>
        <div style={{ display: 'flex', flexWrap: 'wrap', gap: 8 }}>
          <FileTrigger
            allowsMultiple
            acceptedFileTypes={['.pdf', '.zip']}
            onSelect={(files) => files && files.length > 0 && bring.mutate([...files])}
          >
            <MainButton isPending={bring.isPending}>
              {bring.isPending
                ? state
                  ? filled(
                      wording.of,
                      state.done.toLocaleString('en'),
                      state.of.toLocaleString('en'),
                    )
                  : wording.unpacking
                : wording.choosePDFs}
            </MainButton>
          </FileTrigger>
          {!bring.isPending && !state && (
            <>
              <FileTrigger
                acceptDirectory
                onSelect={(files) => files && files.length > 0 && bring.mutate([...files])}
              >
                <QuietButton>{wording.chooseAFolder}</QuietButton>
              </FileTrigger>
              <QuietButton onPress={() => bring.mutate('tray')}>{wording.useThePDFsIn}</QuietButton>
            </>
          )}
          {state && !bring.isPending ? (
            <QuietButton onPress={() => goOn(bring.data?.fresh)}>{wording.continue}</QuietButton>
          ) : (
            <QuietButton onPress={onBack}>{wording.back}</QuietButton>
          )}
        </div>
      </DropFiles>
      {bring.error && <ErrorLine>{bring.error.message}</ErrorLine>}
      {state && state.told.length > 0 && (
        <div role="status" style={{ maxHeight: 180, overflow: 'auto', fontSize: 13.5 }}>
          {failed > 0 && !bring.isPending && (
            <p>
              {withParts(
                wording.hereNot,
                counted(state.of - failed, wording.pDFIs, wording.pDFsAre),
                counted(failed, 'is', 'are'),
              )}
            </p>
          )}
          {state.locked.length > 0 && !bring.isPending && (
            <div style={{ display: 'flex', gap: 8, alignItems: 'end', padding: '2px 0 8px' }}>
              <Words
                label={
                  state.locked.length === 1 ? wording.passwordOfThePDF : wording.passwordOfThePDFs
                }
                type="password"
                value={password}
                onChange={setPassword}
                onEnter={() => password !== '' && bring.mutate('locked')}
              />
              <QuietButton isDisabled={password === ''} onPress={() => bring.mutate('locked')}>
                {withParts(wording.open, counted(state.locked.length, wording.lockedPDF))}
              </QuietButton>
            </div>
          )}
          {state.told.map(({ text, failed: bad }) => (
            <p key={text}>
              <Mark name={bad ? 'failed' : 'ready'} /> {text}
            </p>
          ))}
        </div>
      )}
    </div>
  );
}

/** Files of one name from several folders are not one file: the second gets a number. */
function unlike(files: readonly File[]): File[] {
  const taken: string[] = [];
  return files.map((file) => {
    const base = freeName(file.name.replace(/\.pdf$/i, ''), taken);
    taken.push(base);
    const name = file.name.replace(/^.*?(\.pdf)?$/is, `${base.replaceAll('$', '$$$$')}$1`);
    return name === file.name ? file : new File([file], name);
  });
}

/** Most bytes that a ZIP file may unpack to here. */
const mostUnpacked = 500 * 2 ** 20;

async function unpacked(file: File): Promise<File[]> {
  // what other systems put beside a file is none
  if (file.name.startsWith('.')) return [];
  if (/\.pdf$/i.test(file.name)) return [file];
  if (!/\.zip$/i.test(file.name)) return [];
  const bytes = new Uint8Array(await file.arrayBuffer());
  let size = 0;
  const { unzip } = await import('fflate');
  const files = await new Promise<Record<string, Uint8Array>>((resolve, reject) =>
    unzip(
      bytes,
      {
        filter: ({ name, originalSize }) => {
          if (!/\.pdf$/i.test(name) || /(^|\/)(\.|__MACOSX\/)/.test(name)) return false;
          size += originalSize;
          return size <= mostUnpacked;
        },
      },
      (error, found) =>
        error ? reject(new Error(filled(wording.cannotBeUnpackedIt, file.name))) : resolve(found),
    ),
  );
  if (size > mostUnpacked) throw new Error(filled(wording.unpacksToMoreThan, file.name));
  return Object.entries(files).map(
    ([name, content]) => new File([Uint8Array.from(content)], name.replace(/^.*\//, '')),
  );
}
