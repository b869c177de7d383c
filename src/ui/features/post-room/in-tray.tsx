'use client';
import { useQuery } from '@tanstack/react-query';
import { Link } from '../../kit/link';
import type { PaperFile } from '../../../contract';
import { counted } from '../../../core/base/words';
import { pagesIn, readOf, shiftInWords } from '../../../core/run/paper';
import { ask } from '../../kit/api';
import { ErrorLine, Small } from '../../kit/controls';
import { when } from '../../kit/dates';
import { Table } from '../../kit/index-table';
import { Mark } from '../../kit/mark';
import { Rows } from './printers';
import { inTray as wording } from './words';
import { filled, withParts } from '../../kit/with-parts';

/** Scans of printed sheets, each with the run it was found to be of. */
function PrintedSheets() {
  const { data } = useQuery({
    queryKey: ['tray', 'paper'],
    queryFn: () => ask('listTrayPaper'),
    refetchInterval: ({ state }) =>
      state.data?.files.some((file) => file.state === 'waiting') ? 800 : 4000,
  });
  if (!data?.folder) return null;
  return (
    <>
      <p style={{ padding: '14px 0 6px' }}>
        {withParts(wording.putPhotosOrScans, <code>{data.folder.split(/[\\/]/).at(-1)}</code>)}
      </p>
      {data.files.length > 0 && (
        <Rows aria-label={wording.printedSheets}>
          {data.files.map((file) => (
            <PrintedFile key={file.id} file={file} />
          ))}
        </Rows>
      )}
    </>
  );
}

function PrintedFile({ file }: { file: PaperFile }) {
  const codes = file.told.reduce((n, one) => n + one.codes, 0);
  const sum = (of: 'found' | 'printed') =>
    file.told.reduce((n, one) => n + (one.picture?.[of] ?? 0), 0);
  const found = sum('found');
  const printed = sum('printed');
  const odd = file.told.some(
    ({ picture }) =>
      picture &&
      (picture.other > 0 ||
        picture.misplaced.length > 0 ||
        (picture.shift && shiftInWords(picture.shift) !== '')),
  );
  const shifts = [
    ...new Set(
      file.told.flatMap(({ picture }) => {
        const words = picture?.shift ? shiftInWords(picture.shift) : '';
        return words === '' ? [] : [filled(wording.printed, words)];
      }),
    ),
  ];
  const runs = file.told.flatMap(({ run }) => (run ? [run] : []));
  const [run] = runs;
  const testPage = file.told.find((one) => one.testPage)?.testPage;
  const pages = [...new Set(file.told.flatMap(({ picture }) => picture?.pages ?? []))];
  const mark =
    file.state === 'waiting'
      ? 'none'
      : file.state === 'failed' || found < printed || (found === 0 && !testPage)
        ? 'failed'
        : odd
          ? 'look'
          : 'ready';
  return (
    <li>
      <Mark name={mark} />
      <b style={{ padding: '6px 0', overflowWrap: 'anywhere' }}>
        {file.name}
        {(file.error !== null || shifts.length > 0) && (
          <Small as="span" style={{ display: 'block' }}>
            {file.error ?? shifts.join('; ')}
          </Small>
        )}
      </b>
      <span>
        {file.state === 'waiting'
          ? 'reading'
          : file.state === 'read' &&
            (run
              ? withParts(
                  wording.of,
                  readOf({ found, printed }),
                  <Link href={`/jobs/${run.job}`}>
                    {run.name}
                    {new Set(runs.map(({ id }) => id)).size > 1 && wording.andOthers}
                  </Link>,
                  pagesIn(pages),
                  codes > found && `; ${counted(codes - found, 'other')}`,
                )
              : testPage
                ? filled(
                    wording.testPageOfSquares,
                    testPage.printer,
                    counted(testPage.finest, 'dot'),
                  )
                : codes === 0
                  ? wording.noCodeCouldBe
                  : filled(wording.noneFromARun, counted(codes, 'code')))}
      </span>
      <Small>{when(file.at)}</Small>
    </li>
  );
}

/** The contents of the watched folder. */
export function InTray() {
  const { data, error } = useQuery({
    queryKey: ['tray'],
    queryFn: () => ask('viewTray'),
    refetchInterval: 3000,
  });
  if (error) return <ErrorLine>{error.message}</ErrorLine>;
  if (!data) return null;
  if (!data.folder) return <Small>{wording.thisInstallationHasNo}</Small>;
  return (
    <>
      <p style={{ paddingBottom: 10 }}>
        {withParts(
          wording.theFolderWhenYou,
          <code>{data.folder}</code>,
          <Link href="/bring-in">{wording.bringOneIn}</Link>,
        )}
      </p>
      {data.others > 0 && (
        <p style={{ paddingBottom: 10 }}>
          {withParts(
            wording.thereSuchAsPDFs,
            counted(data.others, wording.otherFileIs, wording.otherFilesAre),
          )}
        </p>
      )}
      {data.entries.length === 0 ? (
        <Small>{data.others > 0 ? wording.thereIsNoSpreadsheet : wording.itIsEmpty}</Small>
      ) : (
        <Table style={{ maxWidth: 760 }}>
          <thead>
            <tr>
              <th>{wording.name}</th>
              <th>{wording.kind}</th>
              <th className="n">{wording.kB}</th>
              <th>{wording.saved}</th>
            </tr>
          </thead>
          <tbody>
            {data.entries.map((e) => (
              <tr key={e.name}>
                <td>{e.name}</td>
                <td>{e.kind === 'folder' ? 'folder' : 'spreadsheet'}</td>
                <td className="n">
                  {e.kind === 'folder'
                    ? ''
                    : Math.max(1, Math.round(e.size / 1024)).toLocaleString('en')}
                </td>
                <td>{when(e.changed)}</td>
              </tr>
            ))}
          </tbody>
        </Table>
      )}
      <PrintedSheets />
    </>
  );
}
