'use client';

import { useMutation, useQuery } from '@tanstack/react-query';
import { useRouter } from 'next/navigation';
import { useState } from 'react';
import { DropZone, FileTrigger, isFileDropItem } from 'react-aria-components';
import { styled } from 'styled-components';
import { roleWords, type ColumnRole } from '../../core/records/columns';
import type { BookPreview, SheetPreview } from '../../core/job/views';
import { ask } from '../api';
import { ChoicePart, ErrorLine, MainButton, Part, PlainButton, QuietButton, Sentence, Small, Warning, Words } from '../controls';
import { Mark } from '../mark';
import { colour, font } from '../theme';

interface Intake {
  id: number;
  file_name: string;
  state: 'waiting' | 'read' | 'taking' | 'taken' | 'failed';
  error: string | null;
  preview: BookPreview | null;
  job_id: number | null;
}

const Page = styled.main`
  overflow: auto;
  padding: 20px 20px 40px;
  h1 {
    font: 700 25px/1.2 ${font.title};
    margin-bottom: 14px;
  }
`;
const Drop = styled(DropZone)`
  border: 1.5px dashed ${colour.ruleStrong};
  border-radius: 3px;
  background: ${colour.paper};
  padding: 38px 30px;
  display: grid;
  gap: 12px;
  justify-items: start;
  &[data-drop-target] {
    border-color: ${colour.violet};
    background: ${colour.violetWash};
  }
  &[data-focus-visible] {
    outline: 2px solid ${colour.violet};
  }
`;
const Two = styled.div`
  display: grid;
  grid-template-columns: minmax(0, 1fr) minmax(0, 1fr);
  gap: 24px;
  textarea {
    width: 100%;
    height: 150px;
    border: 1px solid ${colour.ruleStrong};
    border-radius: 3px;
    padding: 10px;
    background: ${colour.paper};
    font: 400 13px/1.5 ${font.code};
    resize: vertical;
    display: block;
    margin: 4px 0 10px;
  }
  h2 {
    font: 700 16px/1.3 ${font.title};
    margin-bottom: 8px;
  }
`;

/** Where records come in: a file or a paste, then what its sheet, headings and columns are. */
export function BringIn() {
  const [id, setId] = useState<number>();
  const send = useMutation({
    mutationFn: async ({ name, body }: { name: string; body: Blob }) => {
      const response = await fetch('/api/intakes', {
        method: 'POST',
        headers: { 'x-file-name': encodeURIComponent(name), 'content-type': 'application/octet-stream' },
        body,
      });
      const data = (await response.json().catch(() => ({}))) as { id?: number; error?: string };
      if (!response.ok || data.id === undefined)
        throw new Error(data.error ?? `${name} could not be sent. Look whether Hand Stamp is still running.`);
      return data.id;
    },
    onSuccess: setId,
  });
  const intake = useQuery({
    queryKey: ['intake', id],
    queryFn: () => ask<Intake>(`/api/intakes/${id}`),
    enabled: id !== undefined,
    refetchInterval: ({ state }) => (state.data && ['waiting', 'taking'].includes(state.data.state) ? 300 : false),
  });
  const again = () => {
    setId(undefined);
    send.reset();
  };
  const current = id === undefined ? undefined : intake.data;
  return (
    <Page>
      <h1>Bring in records</h1>
      {current?.preview ? (
        <Preview key={current.id} intake={current} preview={current.preview} onTaking={() => void intake.refetch()} again={again} />
      ) : (
        <Choose
          onFile={(file) => send.mutate({ name: file.name, body: file })}
          onPaste={(text) => send.mutate({ name: 'Pasted rows', body: new Blob([text]) })}
          busy={send.isPending || current?.state === 'waiting'}
        />
      )}
      <div role="status" aria-live="polite">
        {(send.isPending || (id !== undefined && !current) || current?.state === 'waiting') && <p style={{ marginTop: 14 }}>Reading …</p>}
        {(send.error || (current?.state === 'failed' && !current.preview)) && (
          <ErrorLine style={{ marginTop: 14 }}>
            <Mark name="failed" /> {send.error?.message ?? current?.error}
          </ErrorLine>
        )}
        {intake.error && <ErrorLine style={{ marginTop: 14 }}>{intake.error.message}</ErrorLine>}
      </div>
    </Page>
  );
}

function Choose({ onFile, onPaste, busy }: { onFile: (file: File) => void; onPaste: (text: string) => void; busy: boolean }) {
  const [text, setText] = useState('');
  return (
    <Two>
      <section>
        <h2>From a file</h2>
        <Drop
          aria-label="Drop a spreadsheet here"
          onDrop={(e) => {
            const item = e.items.find(isFileDropItem);
            if (item) void item.getFile().then(onFile);
          }}
        >
          <p>Drop a spreadsheet here: XLSX, XLS, ODS, CSV or TSV, up to 40 MB.</p>
          <FileTrigger onSelect={(files) => files?.[0] && onFile(files[0])}>
            <MainButton isDisabled={busy}>Choose a file</MainButton>
          </FileTrigger>
          <Small>Every value stays as it is written: leading zeros, long numbers, dates as shown.</Small>
        </Drop>
      </section>
      <section>
        <h2>From a paste</h2>
        <label>
          <Small as="span">Copy the rows with their headings and paste them here</Small>
          <textarea value={text} onChange={(e) => setText(e.target.value)} spellCheck={false} />
        </label>
        <QuietButton isDisabled={busy || text.trim() === ''} onPress={() => onPaste(text)}>
          Read the pasted rows
        </QuietButton>
      </section>
    </Two>
  );
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

function Preview({ intake, preview, onTaking, again }: { intake: Intake; preview: BookPreview; onTaking: () => void; again: () => void }) {
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
  const take = useMutation({
    mutationFn: () => ask(`/api/intakes/${intake.id}/take`, { json: { sheet: sheetIndex, headerRow, roles, name } }),
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
      <PreviewTable sheet={sheet} headerRow={headerRow} roles={roles} setRole={setRole} />
      {(take.error || (intake.state === 'failed' && intake.error)) && (
        <ErrorLine style={{ marginBottom: 10 }}>{take.error?.message ?? intake.error}</ErrorLine>
      )}
      <div style={{ display: 'flex', gap: 12, alignItems: 'center' }}>
        <MainButton isDisabled={busy || records < 1 || name.trim() === ''} onPress={() => take.mutate()}>
          {busy ? 'Bringing in …' : `Bring in ${records.toLocaleString('en')} records`}
        </MainButton>
        <PlainButton isDisabled={busy} onPress={again}>
          Choose another file
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
