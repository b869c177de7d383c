'use client';

import { useMutation } from '@tanstack/react-query';
import { useRouter } from 'next/navigation';
import { useState } from 'react';
import { styled } from 'styled-components';
import type { Origin } from '../../core/job/origin';
import { roleWords, type ColumnRole } from '../../core/records/columns';
import type { BookPreview, SheetPreview } from '../../core/job/views';
import { ask } from '../api';
import { ChoicePart, ErrorLine, MainButton, Part, PlainButton, Sentence, Warning, Words } from '../controls';
import { Mark } from '../mark';
import { colour, font } from '../theme';

export interface Intake {
  id: number;
  file_name: string;
  state: 'waiting' | 'read' | 'taking' | 'taken' | 'failed';
  error: string | null;
  preview: BookPreview | null;
  job_id: number | null;
  origin: Origin | null;
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
  const firstFilled = Math.max(
    0,
    preview.sheets.findIndex((s) => s.rows > 1 && !s.hidden),
  );
  const [sheetIndex, setSheetIndex] = useState(firstFilled);
  const sheet = preview.sheets[sheetIndex];
  const [headerRow, setHeaderRow] = useState(sheet.headerRow);
  const [roles, setRoles] = useState<ColumnRole[]>(sheet.roles);
  const [name, setName] = useState(intake.file_name.replace(/\.[^.]+$/, ''));
  const [follow, setFollow] = useState(true);
  const tray = intake.origin?.kind === 'tray';
  const take = useMutation({
    mutationFn: () =>
      ask(`/api/intakes/${intake.id}/take`, { json: { sheet: sheetIndex, headerRow, roles, name, ...(tray ? { follow } : {}) } }),
    onSuccess: onTaking,
  });
  if (intake.state === 'taken' && intake.job_id) router.push(`/jobs/${intake.job_id}`);
  const records = sheet.rows - headerRow - 1;
  const takeSheet = (index: number) => {
    setSheetIndex(index);
    setHeaderRow(preview.sheets[index].headerRow);
    setRoles(preview.sheets[index].roles);
  };
  const setRole = (column: number, role: ColumnRole) =>
    setRoles(roles.map((now, c) => (c === column ? role : (role === 'key' || role === 'name') && now === role ? 'text' : now)));
  const busy = take.isPending || intake.state === 'taking' || intake.state === 'taken';
  return (
    <>
      <Sentence>
        From {intake.file_name} ({preview.kind}),{' '}
        {preview.sheets.length > 1 ? (
          <ChoicePart
            label="Which sheet"
            value={String(sheetIndex)}
            onChange={(i) => takeSheet(Number(i))}
            choices={preview.sheets.map((s, i) => ({
              id: String(i),
              name: s.name,
              about: `${s.rows.toLocaleString('en')} rows${s.hidden ? ', hidden in the file' : ''}`,
            }))}
          >
            sheet {sheet.name}
          </ChoicePart>
        ) : (
          'its one sheet'
        )}
        , with{' '}
        <ChoicePart
          label="Where the headings are"
          value={String(headerRow)}
          onChange={(r) => setHeaderRow(Number(r))}
          choices={[
            { id: '-1', name: 'no headings' },
            ...sheet.head.slice(0, 12).map((row, r) => ({
              id: String(r),
              name: `headings in row ${r + 1}`,
              about: row.filter(Boolean).slice(0, 4).join(', ').slice(0, 80),
            })),
          ]}
        >
          {headerRow < 0 ? 'no headings' : `headings in row ${headerRow + 1}`}
        </ChoicePart>
        : {records.toLocaleString('en')} records with {sheet.columns} columns, as the job{' '}
        <Part
          label="Name of the job"
          editor={(close) => <Words label="Name of the job" value={name} onChange={setName} autoFocus onEnter={close} />}
        >
          {name.trim() || 'no name yet'}
        </Part>
        .
      </Sentence>
      {sheet.notes.map((note) => (
        <Warning key={note}>
          <Mark name="look" /> {note}
        </Warning>
      ))}
      {tray && (
        <label style={{ display: 'flex', gap: 8, alignItems: 'baseline', paddingTop: 6 }}>
          <input type="checkbox" checked={follow} onChange={(e) => setFollow(e.target.checked)} />
          <span>It is read again whenever it is saved. Take what is new by itself where nothing is lost by it.</span>
        </label>
      )}
      <PreviewTable sheet={sheet} headerRow={headerRow} roles={roles} setRole={setRole} />
      {(take.error || (intake.state === 'failed' && intake.error)) && (
        <ErrorLine style={{ marginBottom: 10 }}>{take.error?.message ?? intake.error}</ErrorLine>
      )}
      <div style={{ display: 'flex', gap: 12, alignItems: 'center' }}>
        <MainButton isDisabled={busy || records < 1 || name.trim() === ''} onPress={() => take.mutate()}>
          {busy ? 'Bringing in …' : `Bring in ${records.toLocaleString('en')} records`}
        </MainButton>
        <PlainButton isDisabled={busy} onPress={again}>
          Choose something else
        </PlainButton>
        {records < 1 && <Warning>Below the headings there is no row.</Warning>}
      </div>
    </>
  );
}

const shownColumns = 40;

function PreviewTable({
  sheet,
  headerRow,
  roles,
  setRole,
}: {
  sheet: SheetPreview;
  headerRow: number;
  roles: readonly ColumnRole[];
  setRole: (column: number, role: ColumnRole) => void;
}) {
  const choices = (Object.keys(roleWords) as ColumnRole[]).map((id) => ({ id, name: roleWords[id] }));
  const columns = Math.min(sheet.columns, shownColumns);
  return (
    <TableBox tabIndex={0} role="region" aria-label="The first rows">
      <table>
        <thead>
          <tr>
            <th scope="col">row</th>
            {Array.from({ length: columns }, (_, c) => {
              const heading = (headerRow >= 0 ? sheet.head[headerRow]?.[c] : '')?.trim() || `Column ${c + 1}`;
              return (
                <th key={c} scope="col">
                  <b>{heading}</b>
                  <ChoicePart
                    label={`What ${heading} is for`}
                    choices={choices}
                    value={roles[c] ?? 'text'}
                    onChange={(role) => setRole(c, role)}
                  />
                </th>
              );
            })}
            {sheet.columns > columns && <th scope="col">and {sheet.columns - columns} more columns</th>}
          </tr>
        </thead>
        <tbody>
          {sheet.head.map((row, r) =>
            r === headerRow ? null : (
              <tr key={r} className={r < headerRow ? 'above' : undefined}>
                <td>{r + 1}</td>
                {row.slice(0, columns).map((cell, c) => (
                  <td key={c} title={cell}>
                    {cell}
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
