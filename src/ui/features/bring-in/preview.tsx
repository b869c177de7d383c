'use client';
import { useMutation, useQueryClient } from '@tanstack/react-query';
import { useRouter } from 'next/navigation';
import { useEffect, useRef, useState } from 'react';
import { styled } from 'styled-components';
import { type Origin, sourceOf } from '../../../core/job/sources';
import { roleWords, type ColumnRole } from '../../../core/records/columns';
import {
  encodingName,
  encodings,
  separatorIds,
  separators,
  type TextReading,
} from '../../../core/records/reading';
import { counted, plural } from '../../../core/base/words';
import type { BookPreview, SheetPreview } from '../../../contract';
import { ask } from '../../kit/api';
import {
  Check,
  ChoicePart,
  ErrorLine,
  MainButton,
  Part,
  PlainButton,
  Sentence,
  Warning,
  Words,
} from '../../kit/controls';
import { Mark } from '../../kit/mark';
import { colour, font } from '../../kit/theme';

export interface Intake {
  id: number;
  file_name: string;
  state: 'waiting' | 'read' | 'taking' | 'taken' | 'failed';
  error: string | null;
  preview: BookPreview | null;
  job_id: number | null;
  origin: Origin | null;
  /** What it waits behind, in words. */
  waits?: string;
}

const TableBox = styled.div`
  overflow: auto;
  max-height: 46vh;
  background: ${colour.paper};
  border: 1px solid ${colour.ruleStrong};
  margin: 14px 0 16px;
  table {
    border-collapse: collapse;
    font-size: 13.5px;
  }
  th,
  td {
    border-right: 1px solid ${colour.rule};
    border-bottom: 1px solid ${colour.rule};
    padding: 0 10px;
    height: 32px;
    text-align: left;
    white-space: nowrap;
    max-width: 260px;
    overflow: hidden;
    text-overflow: ellipsis;
    font-weight: 400;
  }
  thead th {
    position: sticky;
    top: 0;
    background: ${colour.paper};
    height: 50px;
    box-shadow: inset 0 -1px 0 ${colour.ruleStrong};
    font-size: 12.5px;
  }
  thead b {
    display: block;
    font-size: 14px;
  }
  td.out {
    color: ${colour.out};
    text-decoration: line-through;
  }
  th.out {
    color: ${colour.out};
  }
  tr.above td {
    color: ${colour.out};
    text-decoration: line-through;
  }
  td:first-child,
  th:first-child {
    color: ${colour.inkSoft};
    font: 400 12px/1 ${font.code};
  }
`;

/** What was read: its sheet, its headings and what its columns are for, before it is taken. */
export function Preview({
  intake,
  preview,
  onTaking,
  again,
}: {
  intake: Intake;
  preview: BookPreview;
  onTaking: () => void;
  again: () => void;
}) {
  const router = useRouter();
  const [sheetIndex, setSheetIndex] = useState(preview.suggested);
  const sheet = preview.sheets[sheetIndex]!;
  const [headerRow, setHeaderRow] = useState(sheet.headerRow);
  const [lastOut, setLastOut] = useState(sheet.sum !== undefined);
  const [fillDown, setFillDown] = useState(false);
  const [hiddenOut, setHiddenOut] = useState(false);
  const [linksIn, setLinksIn] = useState(false);
  const [roles, setRoles] = useState<ColumnRole[]>(sheet.roles);
  const [name, setName] = useState(intake.file_name.replace(/\.[^.]+$/, ''));
  const [follow, setFollow] = useState(true);
  const tray = intake.origin !== null && sourceOf(intake.origin).takes !== undefined;
  const take = useMutation({
    mutationFn: () =>
      ask('takeIntake', {
        params: { id: intake.id },
        body: {
          sheet: sheetIndex,
          headerRow,
          lastOut,
          fillDown,
          hiddenOut,
          linksIn,
          roles,
          name,
          ...(tray ? { follow } : {}),
        },
      }),
    onSuccess: onTaking,
  });
  // once, and not at every drawing: each push would be a page to go back through
  const made = intake.state === 'taken' ? intake.job_id : null;
  useEffect(() => {
    if (made !== null) router.push(`/jobs/${made}`);
  }, [made, router]);
  const start = useRef<HTMLDivElement>(null);
  useEffect(() => start.current?.focus(), []);
  const records = Math.max(
    0,
    sheet.rows - headerRow - 1 - (lastOut ? 1 : 0) - (hiddenOut ? sheet.hiddenRows : 0),
  );
  const hiddenAt = new Set(hiddenOut ? sheet.hiddenAt : []);
  const links = linksIn ? sheet.links.filter(({ at }) => !hiddenAt.has(at)) : [];
  const columns = sheet.columns - hiddenAt.size + links.length;
  const takeSheet = (index: number) => {
    setSheetIndex(index);
    setHeaderRow(preview.sheets[index]!.headerRow);
    setLastOut(preview.sheets[index]!.sum !== undefined);
    setFillDown(false);
    setHiddenOut(false);
    setLinksIn(false);
    setRoles(preview.sheets[index]!.roles);
  };
  const setRole = (column: number, role: ColumnRole) =>
    setRoles(
      roles.map((now, c) =>
        c === column ? role : (role === 'key' || role === 'name') && now === role ? 'text' : now,
      ),
    );
  const busy = take.isPending || intake.state === 'taking' || intake.state === 'taken';
  return (
    <div
      ref={start}
      tabIndex={-1}
      role="region"
      aria-label={`What ${intake.file_name} contains`}
      style={{ outline: 'none' }}
    >
      <Sentence>
        From {intake.file_name} (
        {preview.text ? <ReadingParts intake={intake} text={preview.text} /> : preview.kind}),{' '}
        {preview.sheets.length > 1 ? (
          <ChoicePart
            label="Sheet"
            value={String(sheetIndex)}
            onChange={(i) => takeSheet(Number(i))}
            choices={preview.sheets.map((s, i) => ({
              id: String(i),
              name: s.name,
              about: `${s.rows === 0 ? 'empty' : counted(s.rows, 'row')}${s.hidden ? ', hidden in the file' : ''}`,
            }))}
          >
            sheet {sheet.name}
          </ChoicePart>
        ) : (
          'its one sheet'
        )}
        , with{' '}
        <ChoicePart
          label="Headings"
          value={String(headerRow)}
          onChange={(r) => setHeaderRow(Number(r))}
          choices={[
            { id: '-1', name: 'no headings' },
            ...sheet.head.slice(0, 12).map((row, r) => ({
              id: String(r),
              name: `headings in row ${sheet.numbers[r]}`,
              about: row.filter(Boolean).slice(0, 4).join(', ').slice(0, 80),
            })),
          ]}
        >
          {headerRow < 0 ? 'no headings' : `headings in row ${sheet.numbers[headerRow]}`}
        </ChoicePart>
        {sheet.sum !== undefined && (
          <>
            ,{' '}
            <ChoicePart
              label="The last row"
              value={lastOut ? 'out' : 'in'}
              onChange={(id) => setLastOut(id === 'out')}
              choices={[
                {
                  id: 'out',
                  name: 'without the last row',
                  about: `It says ${sheet.sum}, which looks like a sum.`,
                },
                {
                  id: 'in',
                  name: 'with the last row',
                  about: 'It becomes a record like the others.',
                },
              ]}
            />
          </>
        )}
        {sheet.hiddenRows + sheet.hiddenColumns > 0 && (
          <>
            ,{' '}
            <ChoicePart
              label="Hidden rows and columns"
              value={hiddenOut ? 'out' : 'in'}
              onChange={(id) => setHiddenOut(id === 'out')}
              choices={[
                {
                  id: 'in',
                  name: `with ${hiddenWords(sheet)}`,
                  about: 'Nothing of the file is left behind.',
                },
                {
                  id: 'out',
                  name: `without ${hiddenWords(sheet)}`,
                  about: 'Only what the file shows.',
                },
              ]}
            />
          </>
        )}
        {sheet.links.length > 0 && (
          <>
            ,{' '}
            <ChoicePart
              label="Links in cells"
              value={linksIn ? 'in' : 'out'}
              onChange={(id) => setLinksIn(id === 'in')}
              choices={[
                {
                  id: 'out',
                  name: 'with the text of links',
                  about: 'The addresses that cells link to are not brought in.',
                },
                {
                  id: 'in',
                  name: 'with the text and the address of links',
                  about: `The addresses become ${counted(sheet.links.length, 'column')}: ${sheet.links
                    .map((link) => link.name)
                    .slice(0, 5)
                    .join(', ')}.`,
                },
              ]}
            />
          </>
        )}
        {sheet.merged > 0 && (
          <>
            ,{' '}
            <ChoicePart
              label="Merged cells"
              value={fillDown ? 'fill' : 'leave'}
              onChange={(id) => setFillDown(id === 'fill')}
              choices={[
                {
                  id: 'leave',
                  name: 'merged cells as they are',
                  about: `${counted(sheet.merged, 'cell')} below them stay blank.`,
                },
                {
                  id: 'fill',
                  name: 'merged cells with the value repeated',
                  about: 'Each row gets the value of the cell it is merged with.',
                },
              ]}
            />
          </>
        )}
        : {counted(records, 'record')} with {counted(columns, 'column')}, as the job{' '}
        <Part
          label="Name of the job"
          editor={(close) => (
            <Words
              label="Name of the job"
              value={name}
              onChange={setName}
              autoFocus
              onEnter={close}
            />
          )}
        >
          {name.trim() || '(no name)'}
        </Part>
        .
      </Sentence>
      {notices(sheet, preview).map((note) => (
        <Warning key={note}>
          <Mark name="look" /> {note}
        </Warning>
      ))}
      {tray && (
        <Check on={follow} onChange={(on) => setFollow(on)}>
          <span>
            Update this list automatically when the file is saved, if nothing would be lost.
          </span>
        </Check>
      )}
      <PreviewTable
        sheet={sheet}
        headerRow={headerRow}
        out={{
          rows: new Set(hiddenOut ? sheet.hiddenRowsAt : []),
          columns: hiddenAt,
          last: lastOut,
        }}
        links={links}
        roles={roles}
        setRole={setRole}
      />
      {(take.error || (intake.state === 'failed' && intake.error)) && (
        <ErrorLine style={{ marginBottom: 10 }}>{take.error?.message ?? intake.error}</ErrorLine>
      )}
      <div style={{ display: 'flex', gap: 12, alignItems: 'center' }}>
        <MainButton
          isDisabled={busy || records < 1 || name.trim() === ''}
          onPress={() => take.mutate()}
        >
          {busy ? 'Bringing in …' : `Bring in ${counted(records, 'record')}`}
        </MainButton>
        <PlainButton isDisabled={busy} onPress={again}>
          Choose another source
        </PlainButton>
        {records < 1 && (
          <Warning>
            {sheet.rows === 0
              ? 'This sheet is empty. Choose another one.'
              : 'There are no rows below the headings.'}
          </Warning>
        )}
      </div>
    </div>
  );
}

const hiddenWords = ({ hiddenRows, hiddenColumns, filtered }: SheetPreview): string =>
  [
    hiddenRows > 0 &&
      `${counted(hiddenRows, 'row')} ${filtered ? 'that a filter hides' : 'hidden in the file'}`,
    hiddenColumns > 0 && counted(hiddenColumns, 'hidden column'),
  ]
    .filter(Boolean)
    .join(' and ');

/** What should be looked at before the records are taken. */
function notices(sheet: SheetPreview, { text }: BookPreview): string[] {
  const notes = [...sheet.notes];
  if (text?.doubtful)
    notes.unshift(
      `The letters of this file can be read in more than one way. Check names with accents. If they are wrong, change ${encodingName(text.encoding)} above.`,
    );
  if (sheet.headerRow === -1 && sheet.rows > 1)
    notes.push(
      'The first row looks like a record, not like headings, so the columns have numbers as names. If it does contain the headings, choose that above.',
    );
  if (sheet.sum !== undefined)
    notes.push(`The last row says ${sheet.sum}, which looks like a sum and not like a record.`);
  if (sheet.hiddenRows > 0)
    notes.push(
      `${counted(sheet.hiddenRows, 'row is', 'rows are')} hidden in the file${sheet.filtered ? ' by a filter' : ''}. ${plural(sheet.hiddenRows, 'It is', 'They are')} brought in unless you choose otherwise above.`,
    );
  if (sheet.hiddenColumns > 0)
    notes.push(
      `${counted(sheet.hiddenColumns, 'column is', 'columns are')} hidden in the file: ${sheet.hiddenNames.join(', ')}${sheet.hiddenColumns > sheet.hiddenNames.length ? ' and more' : ''}.`,
    );
  if (sheet.links.length > 0)
    notes.push(
      `${counted(
        sheet.links.reduce((sum, link) => sum + link.cells, 0),
        'cell links',
        'cells link',
      )} to a web address that the sheet does not show. To bring in the addresses too, choose “with the text and the address of links” above.`,
    );
  if (sheet.merged > 0)
    notes.push(
      `${counted(sheet.merged, 'cell is', 'cells are')} blank because a cell above is merged with ${plural(sheet.merged, 'it', 'them')}. You can repeat its value above.`,
    );
  return notes;
}

/**
 * How a text was read, each a part of the sentence: changed, the file is read again and the preview
 * follows.
 */
function ReadingParts({
  intake,
  text,
}: {
  intake: Intake;
  text: NonNullable<BookPreview['text']>;
}) {
  const client = useQueryClient();
  const read = useMutation({
    mutationFn: (reading: TextReading) =>
      ask('readIntakeAs', { params: { id: intake.id }, body: reading }),
    onSettled: () => client.invalidateQueries({ queryKey: ['intake', intake.id] }),
  });
  const said = intake.origin && 'reading' in intake.origin ? intake.origin.reading : undefined;
  return (
    <>
      text with{' '}
      <ChoicePart
        label="Separator"
        value={text.separator}
        onChange={(separator) => read.mutate({ ...said, separator })}
        choices={separatorIds.map((id) => ({ id, name: separators[id] }))}
      />
      , in{' '}
      <ChoicePart
        label="Encoding"
        value={text.encoding}
        onChange={(encoding) => read.mutate({ ...said, encoding })}
        choices={encodings}
      />
    </>
  );
}

const shownColumns = 40;

function PreviewTable({
  sheet,
  headerRow,
  out,
  links,
  roles,
  setRole,
}: {
  sheet: SheetPreview;
  headerRow: number;
  /** What is shown but not brought in. */
  out: { rows: ReadonlySet<number>; columns: ReadonlySet<number>; last: boolean };
  /** Columns of addresses that cells link to. */
  links: SheetPreview['links'];
  roles: readonly ColumnRole[];
  setRole: (column: number, role: ColumnRole) => void;
}) {
  const choices = (Object.keys(roleWords) as ColumnRole[]).map((id) => ({
    id,
    name: roleWords[id],
  }));
  const columns = Math.min(sheet.columns, shownColumns);
  return (
    <TableBox tabIndex={0} role="region" aria-label="First rows">
      <table>
        <thead>
          <tr>
            <th scope="col">row</th>
            {Array.from({ length: columns }, (_, c) => {
              const heading =
                (headerRow >= 0 ? sheet.head[headerRow]?.[c] : '')?.trim() || `Column ${c + 1}`;
              return (
                <th key={c} scope="col" className={out.columns.has(c) ? 'out' : undefined}>
                  <b>{heading}</b>
                  <ChoicePart
                    label={`Role of ${heading}`}
                    choices={choices}
                    value={roles[c] ?? 'text'}
                    onChange={(role) => setRole(c, role)}
                  />
                </th>
              );
            })}
            {links.map((link) => {
              const c = sheet.columns + sheet.links.indexOf(link);
              return (
                <th key={c} scope="col">
                  <b>{link.name}</b>
                  <ChoicePart
                    label={`Role of ${link.name}`}
                    choices={choices}
                    value={roles[c] ?? 'text'}
                    onChange={(role) => setRole(c, role)}
                  />
                </th>
              );
            })}
            {sheet.columns > columns && (
              <th scope="col">and {sheet.columns - columns} more columns</th>
            )}
          </tr>
        </thead>
        <tbody>
          {sheet.head.map((row, r) =>
            r === headerRow ? null : (
              <tr
                key={r}
                className={
                  r < headerRow || out.rows.has(r) || (out.last && r === sheet.rows - 1)
                    ? 'above'
                    : undefined
                }
              >
                <td>{sheet.numbers[r]}</td>
                {row.slice(0, columns).map((cell, c) => (
                  <td key={c} title={cell} className={out.columns.has(c) ? 'out' : undefined}>
                    {cell}
                  </td>
                ))}
                {links.map((link) => (
                  <td key={link.at} title={link.head[r]}>
                    {link.head[r]}
                  </td>
                ))}
                {sheet.columns > columns && <td />}
              </tr>
            ),
          )}
        </tbody>
      </table>
    </TableBox>
  );
}
