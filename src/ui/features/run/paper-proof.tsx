'use client';

import { useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { FileTrigger } from 'react-aria-components';
import * as contract from '../../../contract';
import type { PaperPicture, ReceiptPage, RunView } from '../../../contract';
import { counted } from '../../../core/base/words';
import { ask } from '../../kit/api';
import { greyOf } from '../../kit/camera';
import { ErrorLine, PlainButton, QuietButton, Small } from '../../kit/controls';
import { scanAll } from '../../kit/core-client';
import { Mark } from '../../kit/mark';
import { useMay } from '../../kit/me';

/** A photograph is looked at up to so many px across, so that a sheet of many small codes is told apart. */
const largest = 4000;

/** Pages in words: `pages 1, 2 and 5`. */
const pagesIn = (pages: readonly number[]): string =>
  pages.length === 1
    ? `page ${pages[0]}`
    : `pages ${pages.slice(0, -1).join(', ')} and ${pages.at(-1)}`;

/** The paper itself read back: photographs or scans of the printed sheets, and what reads on them. */
export function PaperProof({
  run,
  pages,
  unread,
  tick,
}: {
  run: RunView;
  pages: readonly ReceiptPage[];
  /** Codes of the page that is shown that a picture did not show readable. */
  unread: number;
  tick: () => void;
}) {
  const client = useQueryClient();
  const may = useMay();
  const [told, setTold] = useState<readonly PaperPicture[]>();
  const [state, setState] = useState<string>();
  const [error, setError] = useState<string>();
  const read = async (files: readonly File[]) => {
    setError(undefined);
    setTold(undefined);
    const out: PaperPicture[] = [];
    for (const [i, file] of files.entries()) {
      setState(`Reading ${file.name}, ${i + 1} of ${files.length} …`);
      try {
        const bitmap = await createImageBitmap(file).catch(() => {
          throw new Error(
            `${file.name} is not a picture that can be opened here. Choose a PNG, JPEG or WebP file.`,
          );
        });
        const codes = await scanAll(greyOf(bitmap, bitmap.width, bitmap.height, largest));
        const { pictures } = await ask(contract.readPaper, {
          params: { id: run.id },
          body: { pictures: [{ name: file.name.slice(0, 200), codes }] },
        });
        out.push(...pictures);
        setTold([...out]);
      } catch (e) {
        setError(e instanceof Error ? e.message : String(e));
      }
    }
    setState(undefined);
    await client.invalidateQueries({ queryKey: ['receipt', run.id] });
  };
  const seen = pages.filter((page) => page.paper > 0);
  const codes = seen.reduce((n, page) => n + page.codes, 0);
  const right = seen.reduce((n, page) => n + page.paper, 0);
  const missing = pages.filter((page) => page.paper === 0).map((page) => page.page);
  return (
    <div style={{ display: 'grid', gap: 6 }}>
      {seen.length > 0 && (
        <p style={{ display: 'flex', gap: 7, alignItems: 'baseline' }}>
          <Mark name={right === codes ? 'ready' : 'failed'} />
          <span>
            Read from the paper: {right.toLocaleString('en')} of {codes.toLocaleString('en')} on{' '}
            {counted(seen.length, 'page')}.
            {missing.length > 0 &&
              ` No picture shows ${missing.length > 8 ? counted(missing.length, 'page') : pagesIn(missing)}.`}
            {unread > 0 && may && (
              <PlainButton onPress={tick} style={{ padding: '0 6px', textDecoration: 'underline' }}>
                Tick the {unread} that did not read
              </PlainButton>
            )}
          </span>
        </p>
      )}
      {may && (
        <div style={{ display: 'flex', gap: 12, alignItems: 'center' }}>
          <FileTrigger
            allowsMultiple
            acceptedFileTypes={['image/*']}
            onSelect={(files) => files && void read([...files])}
          >
            <QuietButton isDisabled={state !== undefined}>Read the printed sheets</QuietButton>
          </FileTrigger>
          <Small role="status">
            {state ?? 'from photographs or scans of them, taken as straight and as near as can be'}
          </Small>
        </div>
      )}
      {told?.map((picture, i) => (
        <Small key={i}>
          {picture.name}:{' '}
          {picture.found === 0
            ? 'no code of this run reads on it'
            : `${counted(picture.found, 'code')} of ${pagesIn(picture.pages)}`}
          {picture.pages.length > 1 && ', more than one sheet'}
          {picture.other > 0 &&
            `; ${counted(picture.other, 'code')} not of this run${picture.otherRuns.length > 0 ? `, printed by ${picture.otherRuns.join(', ')}` : ''}`}
          {picture.misplaced.length > 0 &&
            `; on a wrong place: ${picture.misplaced.map((one) => `${one.title || 'no name'}, which belongs on place ${one.place}`).join('; ')}`}
          .
        </Small>
      ))}
      {error && <ErrorLine role="alert">{error}</ErrorLine>}
    </div>
  );
}
