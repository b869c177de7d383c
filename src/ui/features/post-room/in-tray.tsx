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
        Put photos or scans of printed sheets into the folder{' '}
        <code>{data.folder.split(/[\\/]/).at(-1)}</code>. The results appear in the run’s receipt.
      </p>
      {data.files.length > 0 && (
        <Rows aria-label="Printed sheets">
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
        return words === '' ? [] : [`printed ${words}`];
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
            (run ? (
              <>
                {readOf({ found, printed })} of{' '}
                <Link href={`/jobs/${run.job}`}>
                  {run.name}
                  {new Set(runs.map(({ id }) => id)).size > 1 && ' and others'}
                </Link>
                , {pagesIn(pages)}
                {codes > found && `; ${counted(codes - found, 'other')}`}
              </>
            ) : testPage ? (
              `test page of ${testPage.printer}: squares from ${counted(testPage.finest, 'dot')} read`
            ) : codes === 0 ? (
              'no code could be read'
            ) : (
              `${counted(codes, 'code')}, none from a run that is still kept`
            ))}
      </span>
      <Small>{when(file.at)}</Small>
    </li>
  );
}

/** What lies in the watched folder. */
export function InTray() {
  const { data, error } = useQuery({
    queryKey: ['tray'],
    queryFn: () => ask('viewTray'),
    refetchInterval: 3000,
  });
  if (error) return <ErrorLine>{error.message}</ErrorLine>;
  if (!data) return null;
  if (!data.folder)
    return <Small>This installation has no In-tray. Ask an administrator to set one up.</Small>;
  return (
    <>
      <p style={{ paddingBottom: 10 }}>
        The folder <code>{data.folder}</code>. When you save a spreadsheet there, the lists made
        from it are updated. <Link href="/bring-in">Bring one in</Link>.
      </p>
      {data.others > 0 && (
        <p style={{ paddingBottom: 10 }}>
          {counted(data.others, 'other file is', 'other files are')} there, such as PDFs and
          pictures. Standing orders and runs of PDFs use them from there.
        </p>
      )}
      {data.entries.length === 0 ? (
        <Small>{data.others > 0 ? 'There is no spreadsheet in it.' : 'It is empty.'}</Small>
      ) : (
        <Table style={{ maxWidth: 760 }}>
          <thead>
            <tr>
              <th>Name</th>
              <th>Kind</th>
              <th className="n">KB</th>
              <th>Saved</th>
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
