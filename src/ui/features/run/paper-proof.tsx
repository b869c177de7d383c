'use client';

import { useQuery, useQueryClient } from '@tanstack/react-query';
import { useEffect, useState } from 'react';
import { FileTrigger } from 'react-aria-components';
import type { PaperFile, PaperPicture, ReceiptPage, RunView } from '../../../contract';
import { counted, listed } from '../../../core/base/words';
import { pagesIn, readOf, shiftInWords } from '../../../core/run/paper';
import { ask, send } from '../../kit/api';
import { greyOfSheet } from '../../kit/camera';
import { ErrorLine, PlainButton, QuietButton, Small } from '../../kit/controls';
import { scanAll } from '../../kit/core-client';
import { Mark } from '../../kit/mark';
import { useMay } from '../../kit/me';
import { paperProof as wording } from './words';
import { filled, withParts } from '../../kit/with-parts';

/**
 * The paper itself read back: photographs or scans of the printed sheets, and what reads on them.
 */
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
      setState(filled(wording.readingOf, file.name, i + 1, files.length));
      try {
        if (!isPicture(file)) {
          await send('readPaperFile', file, file.name, { params: { id: run.id } });
          await client.invalidateQueries({ queryKey: ['paper-files', run.id] });
          continue;
        }
        const image = await greyOfSheet(file);
        const { width, height } = image;
        const codes = await scanAll(image);
        const { pictures } = await ask('readPaper', {
          params: { id: run.id },
          body: { pictures: [{ name: file.name.slice(0, 200), width, height, codes }] },
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
  const scans = useQuery({
    queryKey: ['paper-files', run.id],
    queryFn: () => ask('listPaperFiles', { params: { id: run.id } }),
    refetchInterval: ({ state: { data } }) => (data?.files.some(isWaiting) ? 700 : false),
  });
  const waiting = scans.data?.files.filter(isWaiting).length ?? 0;
  // the receipt has what a worker has read
  useEffect(() => {
    void client.invalidateQueries({ queryKey: ['receipt', run.id] });
  }, [client, run.id, waiting]);
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
            {withParts(
              wording.readFromThePaper,
              right.toLocaleString('en'),
              codes.toLocaleString('en'),
              counted(seen.length, 'page'),
              missing.length > 0 &&
                filled(
                  wording.noPictureShows,
                  missing.length > 8 ? counted(missing.length, 'page') : pagesIn(missing),
                ),
              unread > 0 && may && (
                <PlainButton
                  onPress={tick}
                  style={{ padding: '0 6px', textDecoration: 'underline' }}
                >
                  {withParts(wording.tickTheThatDid, unread)}
                </PlainButton>
              ),
            )}
          </span>
        </p>
      )}
      {may && (
        <div style={{ display: 'flex', gap: 12, alignItems: 'center' }}>
          <FileTrigger
            allowsMultiple
            acceptedFileTypes={['image/*', 'application/pdf']}
            onSelect={(files) => files && void read([...files])}
          >
            <QuietButton isDisabled={state !== undefined}>
              {wording.readThePrintedSheets}
            </QuietButton>
          </FileTrigger>
          <Small role="status">{state ?? wording.fromPhotosScansPDF}</Small>
        </div>
      )}
      {told?.map((picture, i) => (
        <PictureTold key={i} picture={picture} />
      ))}
      {scans.data?.files.map((file) => (
        <Scan key={file.id} file={file} />
      ))}
      {error && <ErrorLine role="alert">{error}</ErrorLine>}
    </div>
  );
}

const isWaiting = (file: PaperFile) => file.state === 'waiting';

/**
 * Pictures that a browser opens are read in it; scans of many pages, and pictures that it cannot
 * open, on the server.
 */
const isPicture = (file: File) => /^image\/(png|jpeg|webp|gif|bmp|avif)$/.test(file.type);

/** A scan that the server reads, and what its pages came to. */
function Scan({ file }: { file: PaperFile }) {
  if (file.state === 'waiting')
    return <Small role="status">{withParts(wording.reading, file.name)}</Small>;
  if (file.state === 'failed') return <ErrorLine>{file.error}</ErrorLine>;
  return file.told.map(({ picture }, i) => picture && <PictureTold key={i} picture={picture} />);
}

/** The result of one picture of printed sheets. */
function PictureTold({ picture }: { picture: PaperPicture }) {
  return (
    <Small>
      {picture.name}:{' '}
      {picture.found === 0
        ? wording.noCodeOfThis
        : filled(wording.of, readOf(picture), pagesIn(picture.pages))}
      {picture.pages.length > 1 && wording.moreThanOneSheet}
      {picture.shift &&
        shiftInWords(picture.shift) &&
        filled(wording.printed, shiftInWords(picture.shift))}
      {picture.before.length > 0 && filled(wording.alreadyShownBySo, listed(picture.before))}
      {picture.other > 0 &&
        filled(
          wording.notFromThisRun,
          counted(picture.other, 'code'),
          picture.otherRuns.length > 0
            ? filled(wording.printedBy, picture.otherRuns.join(', '))
            : '',
        )}
      {picture.misplaced.length > 0 &&
        filled(
          wording.inTheWrongSeat,
          picture.misplaced
            .map((one) =>
              filled(wording.whichBelongsInSeat, one.title || wording.noTitle, one.place),
            )
            .join('; '),
        )}
      .
    </Small>
  );
}
