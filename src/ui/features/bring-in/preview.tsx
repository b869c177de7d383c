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
import { preview as wording } from './words';
import { filled, withParts } from '../../kit/with-parts';

export interface Intake {
  id: number;
  file_name: string;
  state: 'waiting' | 'read' | 'taking' | 'taken' | 'failed';
  error: string | null;
  preview: BookPreview | null;
  job_id: number | null;
  origin: Origin | null;
  /** What it waits for, in words. */
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

/**
 * A preview of what was read, before it is brought in: its sheet, its headings and the roles of its
 * columns.
 */
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
      aria-label={filled(wording.whatContains, intake.file_name)}
      style={{ outline: 'none' }}
    >
      <Sentence>
        {withParts(
          wording.fromWithWithAs,
          intake.file_name,
          preview.text ? <ReadingParts intake={intake} text={preview.text} /> : preview.kind,
          preview.sheets.length > 1 ? (
            <ChoicePart
              label={wording.sheet2}
              value={String(sheetIndex)}
              onChange={(i) => takeSheet(Number(i))}
              choices={preview.sheets.map((s, i) => ({
                id: String(i),
                name: s.name,
                about: `${s.rows === 0 ? 'empty' : counted(s.rows, 'row')}${s.hidden ? wording.hiddenInTheFile : ''}`,
              }))}
            >
              {withParts(wording.sheet, sheet.name)}
            </ChoicePart>
          ) : (
            wording.itsOneSheet
          ),
          <ChoicePart
            label={wording.headings}
            value={String(headerRow)}
            onChange={(r) => setHeaderRow(Number(r))}
            choices={[
              { id: '-1', name: wording.noHeadings },
              ...sheet.head.slice(0, 12).map((row, r) => ({
                id: String(r),
                name: filled(wording.headingsInRow, sheet.numbers[r]),
                about: row.filter(Boolean).slice(0, 4).join(', ').slice(0, 80),
              })),
            ]}
          >
            {headerRow < 0
              ? wording.noHeadings
              : filled(wording.headingsInRow, sheet.numbers[headerRow])}
          </ChoicePart>,
          sheet.sum !== undefined && (
            <>
              ,{' '}
              <ChoicePart
                label={wording.theLastRow}
                value={lastOut ? 'out' : 'in'}
                onChange={(id) => setLastOut(id === 'out')}
                choices={[
                  {
                    id: 'out',
                    name: wording.withoutTheLastRow,
                    about: filled(wording.itSaysWhichLooks, sheet.sum),
                  },
                  {
                    id: 'in',
                    name: wording.withTheLastRow,
                    about: wording.itBecomesARecord,
                  },
                ]}
              />
            </>
          ),
          sheet.hiddenRows + sheet.hiddenColumns > 0 && (
            <>
              ,{' '}
              <ChoicePart
                label={wording.hiddenRowsAndColumns}
                value={hiddenOut ? 'out' : 'in'}
                onChange={(id) => setHiddenOut(id === 'out')}
                choices={[
                  {
                    id: 'in',
                    name: filled(wording.with, hiddenWords(sheet)),
                    about: wording.nothingOfTheFile,
                  },
                  {
                    id: 'out',
                    name: filled(wording.without, hiddenWords(sheet)),
                    about: wording.onlyWhatTheFile,
                  },
                ]}
              />
            </>
          ),
          sheet.links.length > 0 && (
            <>
              ,{' '}
              <ChoicePart
                label={wording.linksInCells}
                value={linksIn ? 'in' : 'out'}
                onChange={(id) => setLinksIn(id === 'in')}
                choices={[
                  {
                    id: 'out',
                    name: wording.withTheTextOf,
                    about: wording.theAddressesThatCells,
                  },
                  {
                    id: 'in',
                    name: wording.withTheTextAnd,
                    about: filled(
                      wording.theAddressesBecome,
                      counted(sheet.links.length, 'column'),
                      sheet.links
                        .map((link) => link.name)
                        .slice(0, 5)
                        .join(', '),
                    ),
                  },
                ]}
              />
            </>
          ),
          sheet.merged > 0 && (
            <>
              ,{' '}
              <ChoicePart
                label={wording.mergedCells}
                value={fillDown ? 'fill' : 'leave'}
                onChange={(id) => setFillDown(id === 'fill')}
                choices={[
                  {
                    id: 'leave',
                    name: wording.mergedCellsAsThey,
                    about: filled(wording.belowThemStayBlank, counted(sheet.merged, 'cell')),
                  },
                  {
                    id: 'fill',
                    name: wording.mergedCellsWithThe,
                    about: wording.eachRowGetsThe,
                  },
                ]}
              />
            </>
          ),
          counted(records, 'record'),
          counted(columns, 'column'),
          <Part
            label={wording.nameOfTheJob}
            editor={(close) => (
              <Words
                label={wording.nameOfTheJob}
                value={name}
                onChange={setName}
                autoFocus
                onEnter={close}
              />
            )}
          >
            {name.trim() || wording.noName}
          </Part>,
        )}
      </Sentence>
      {notices(sheet, preview).map((note) => (
        <Warning key={note}>
          <Mark name="look" /> {note}
        </Warning>
      ))}
      {tray && (
        <Check on={follow} onChange={(on) => setFollow(on)}>
          <span>{wording.updateThisListAutomatically}</span>
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
          {busy ? wording.bringingIn : filled(wording.bringIn, counted(records, 'record'))}
        </MainButton>
        <PlainButton isDisabled={busy} onPress={again}>
          {wording.chooseAnotherSource}
        </PlainButton>
        {records < 1 && (
          <Warning>{sheet.rows === 0 ? wording.thisSheetIsEmpty : wording.thereAreNoRows}</Warning>
        )}
      </div>
    </div>
  );
}

const hiddenWords = ({ hiddenRows, hiddenColumns, filtered }: SheetPreview): string =>
  [
    hiddenRows > 0 &&
      `${counted(hiddenRows, 'row')} ${filtered ? wording.thatAFilterHides : wording.hiddenInTheFile2}`,
    hiddenColumns > 0 && counted(hiddenColumns, wording.hiddenColumn),
  ]
    .filter(Boolean)
    .join(' and ');

/** What should be looked at before the records are taken. */
function notices(sheet: SheetPreview, { text }: BookPreview): string[] {
  const notes = [...sheet.notes];
  if (text?.doubtful) notes.unshift(filled(wording.theLettersOfThis, encodingName(text.encoding)));
  if (sheet.headerRow === -1 && sheet.rows > 1) notes.push(wording.theFirstRowLooks);
  if (sheet.sum !== undefined) notes.push(filled(wording.theLastRowSays, sheet.sum));
  if (sheet.hiddenRows > 0)
    notes.push(
      filled(
        wording.hiddenInTheFileBrought,
        counted(sheet.hiddenRows, wording.rowIs, wording.rowsAre),
        sheet.filtered ? wording.byAFilter : '',
        plural(sheet.hiddenRows, wording.itIs, wording.theyAre),
      ),
    );
  if (sheet.hiddenColumns > 0)
    notes.push(
      filled(
        wording.hiddenInTheFile3,
        counted(sheet.hiddenColumns, wording.columnIs, wording.columnsAre),
        sheet.hiddenNames.join(', '),
        sheet.hiddenColumns > sheet.hiddenNames.length ? wording.andMore : '',
      ),
    );
  if (sheet.links.length > 0)
    notes.push(
      filled(
        wording.toAWebAddress,
        counted(
          sheet.links.reduce((sum, link) => sum + link.cells, 0),
          wording.cellLinks,
          wording.cellsLink,
        ),
      ),
    );
  if (sheet.merged > 0)
    notes.push(
      filled(
        wording.blankBecauseACell,
        counted(sheet.merged, wording.cellIs, wording.cellsAre),
        plural(sheet.merged, 'it', 'them'),
      ),
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
  return withParts(
    wording.textWithIn,
    <ChoicePart
      label={wording.separator}
      value={text.separator}
      onChange={(separator) => read.mutate({ ...said, separator })}
      choices={separatorIds.map((id) => ({ id, name: separators[id] }))}
    />,
    <ChoicePart
      label={wording.encoding}
      value={text.encoding}
      onChange={(encoding) => read.mutate({ ...said, encoding })}
      choices={encodings}
    />,
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
  /** Rows that are shown but not brought in. */
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
    <TableBox tabIndex={0} role="region" aria-label={wording.firstRows}>
      <table>
        <thead>
          <tr>
            <th scope="col">{wording.row}</th>
            {Array.from({ length: columns }, (_, c) => {
              const heading =
                (headerRow >= 0 ? sheet.head[headerRow]?.[c] : '')?.trim() ||
                filled(wording.column, c + 1);
              return (
                <th key={c} scope="col" className={out.columns.has(c) ? 'out' : undefined}>
                  <b>{heading}</b>
                  <ChoicePart
                    label={filled(wording.roleOf, heading)}
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
                    label={filled(wording.roleOf, link.name)}
                    choices={choices}
                    value={roles[c] ?? 'text'}
                    onChange={(role) => setRole(c, role)}
                  />
                </th>
              );
            })}
            {sheet.columns > columns && (
              <th scope="col">{withParts(wording.andMoreColumns, sheet.columns - columns)}</th>
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
