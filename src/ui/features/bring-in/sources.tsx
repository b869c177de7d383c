'use client';
import type { Fetched } from '../../../core/job/sources';
import { addressPurpose } from '../../../core/payload/purposes';
import { useMutation, useQuery } from '@tanstack/react-query';
import { useRouter } from 'next/navigation';
import { useState } from 'react';
import { DropZone, FileTrigger, isFileDropItem } from 'react-aria-components';
import { styled } from 'styled-components';
import { sheetPurposes } from '../../../core/payload/sheets';
import { ask } from '../../kit/api';
import {
  ChoicePart,
  ErrorLine,
  MainButton,
  QuietButton,
  Sentence,
  Small,
  Words,
} from '../../kit/controls';
import { useMay } from '../../kit/me';
import { when } from '../../kit/dates';
import { colour, font } from '../../kit/theme';
import { ConnectionForm } from '../../editors/connection-form';
import { sendFile } from '../../kit/send';

/** How a source is read: the work sends it off and gives the number of the intake. */
export interface Reading {
  read(work: () => Promise<number>): void;
  busy: boolean;
}

const Drop = styled(DropZone)`
  border: 1.5px dashed ${colour.ruleStrong};
  border-radius: 3px;
  background: ${colour.paper};
  padding: 34px 30px;
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
const Area = styled.textarea`
  width: 100%;
  height: 150px;
  border: 1px solid ${colour.ruleStrong};
  border-radius: 3px;
  padding: 10px;
  background: ${colour.paper};
  font: 400 13px/1.5 ${font.code};
  resize: vertical;
  display: block;
  margin-top: 4px;
`;
const Entries = styled.ul`
  list-style: none;
  margin: 0;
  padding: 0;
  border-top: 1px solid ${colour.ruleStrong};
  li {
    display: flex;
    gap: 12px;
    align-items: center;
    height: 40px;
    border-bottom: 1px solid ${colour.rule};
  }
  li span:first-child {
    flex: 1;
    min-width: 0;
    overflow: hidden;
    text-overflow: ellipsis;
    white-space: nowrap;
  }
`;

const fetchIntake = async (body: Fetched): Promise<number> =>
  (await ask('startIntake', { body })).id;

export function FileSource({ reading: { read, busy } }: { reading: Reading }) {
  const take = (file: File) => read(() => sendFile(file, file.name));
  return (
    <>
      <h2>From a spreadsheet</h2>
      <Drop
        aria-label="Drop a spreadsheet here"
        onDrop={(e) => {
          const item = e.items.find(isFileDropItem);
          if (item) void item.getFile().then(take);
        }}
      >
        <p>Drop a spreadsheet here: XLSX, XLS, ODS, CSV or TSV, up to 40 MB.</p>
        <FileTrigger onSelect={(files) => files?.[0] && take(files[0])}>
          <MainButton isDisabled={busy}>Choose a file</MainButton>
        </FileTrigger>
        <Small>
          Every value stays as it is written: leading zeros, long numbers, dates as shown.
        </Small>
      </Drop>
    </>
  );
}

export function PasteSource({ reading: { read, busy } }: { reading: Reading }) {
  const [text, setText] = useState('');
  return (
    <>
      <h2>From a paste</h2>
      <label>
        <Small as="span">Copy the rows with their headings and paste them here</Small>
        <Area value={text} onChange={(e) => setText(e.target.value)} spellCheck={false} />
      </label>
      <div>
        <MainButton
          isDisabled={busy || text.trim() === ''}
          onPress={() => read(() => sendFile(new Blob([text]), 'Pasted rows', { pasted: true }))}
        >
          Read pasted rows
        </MainButton>
      </div>
    </>
  );
}

export function TraySource({ reading: { read, busy } }: { reading: Reading }) {
  const { data, error, refetch } = useQuery({
    queryKey: ['tray'],
    queryFn: () => ask('viewTray'),
    refetchInterval: 3000,
  });
  const [base, setBase] = useState('');
  if (error) return <ErrorLine>{error.message}</ErrorLine>;
  if (!data) return <Small>Checking the In-tray …</Small>;
  const folders = data.entries.some((e) => e.kind === 'folder');
  return (
    <>
      <h2>From the In-tray</h2>
      <p>
        Save a spreadsheet, or put a folder of files, into{' '}
        <code>{data.folder ?? 'the In-tray'}</code>. Hand Stamp updates the list whenever a file is
        saved.
      </p>
      {folders && (
        <Words label="Web address of the folder, if it has one" value={base} onChange={setBase} />
      )}
      {data.entries.length === 0 ? (
        <Small>It is empty.</Small>
      ) : (
        <Entries aria-label="In the In-tray">
          {data.entries.map((e) => (
            <li key={e.name}>
              <span title={e.name}>{e.name}</span>
              <Small as="span">
                {e.kind === 'folder'
                  ? 'a folder'
                  : `${Math.max(1, Math.round(e.size / 1024)).toLocaleString('en')} KB`}
                , {when(e.changed)}
              </Small>
              <QuietButton
                isDisabled={busy}
                aria-label={`Read ${e.name}`}
                onPress={() =>
                  read(() =>
                    fetchIntake(
                      e.kind === 'folder'
                        ? { kind: 'tray-folder', name: e.name, base }
                        : { kind: 'tray', name: e.name },
                    ),
                  )
                }
              >
                Read
              </QuietButton>
            </li>
          ))}
        </Entries>
      )}
      <div>
        <QuietButton onPress={() => void refetch()}>Check again</QuietButton>
      </div>
    </>
  );
}

export function DatabaseSource({ reading: { read, busy } }: { reading: Reading }) {
  const connections = useQuery({
    queryKey: ['connections'],
    queryFn: () => ask('listConnections'),
  });
  const [chosen, setChosen] = useState<number | 'new'>();
  const [query, setQuery] = useState('');
  const all = connections.data?.connections ?? [];
  const current = chosen ?? all[0]?.id ?? 'new';
  const tables = useQuery({
    queryKey: ['tables', current],
    queryFn: () => ask('listTables', { params: { id: current } }),
    enabled: current !== 'new',
    retry: false,
  });
  const connection = all.find((c) => c.id === current);
  const keeps = useMay('administrator');
  if (connections.error) return <ErrorLine>{connections.error.message}</ErrorLine>;
  return (
    <>
      <h2>From a database</h2>
      <Sentence>
        From{' '}
        <ChoicePart
          label="Connection"
          value={String(current)}
          onChange={(id) => setChosen(id === 'new' ? 'new' : Number(id))}
          choices={[
            ...all.map((c) => ({
              id: String(c.id),
              name: c.name,
              about: `${c.database} at ${c.host}, port ${c.port}, as ${c.username}`,
            })),
            { id: 'new', name: 'another PostgreSQL database' },
          ]}
        />
        {connection && (
          <>
            ,{' '}
            <ChoicePart
              label="Table"
              value={tables.data?.tables.find((t) => t.query === query)?.query}
              onChange={setQuery}
              choices={tables.data?.tables.map((t) => ({ id: t.query, name: t.name })) ?? []}
            >
              {tables.data?.tables.find((t) => t.query === query)?.name ??
                (query ? 'the query below' : 'choose a table')}
            </ChoicePart>
          </>
        )}
        .
      </Sentence>
      {current === 'new' && !keeps ? (
        <Small>Only an administrator can add a database. Ask one to add it in Settings.</Small>
      ) : current === 'new' ? (
        <ConnectionForm
          onKept={(id) => {
            void connections.refetch();
            setChosen(id);
          }}
        />
      ) : (
        <>
          {tables.error && <ErrorLine>{tables.error.message}</ErrorLine>}
          <label>
            <Small as="span">Or write a query in SQL. The database is only read.</Small>
            <Area
              value={query}
              onChange={(e) => setQuery(e.target.value)}
              spellCheck={false}
              style={{ height: 110 }}
            />
          </label>
          <div>
            <MainButton
              isDisabled={busy || query.trim() === '' || !connection}
              onPress={() =>
                read(() =>
                  fetchIntake({
                    kind: 'database',
                    connection: connection!.id,
                    query,
                    name: connection!.name,
                  }),
                )
              }
            >
              Read rows
            </MainButton>
          </div>
        </>
      )}
    </>
  );
}

export function FolderSource({ reading: { read, busy } }: { reading: Reading }) {
  const [base, setBase] = useState('');
  const take = (list: FileList) => {
    const files = [...list].map((f) => ({
      path: f.webkitRelativePath.split('/').slice(1).join('/') || f.name,
      size: f.size,
      changed: new Date(f.lastModified).toISOString(),
    }));
    const name = list[0]?.webkitRelativePath.split('/')[0] || 'Folder';
    read(() => fetchIntake({ kind: 'folder', name, base, files }));
  };
  return (
    <>
      <h2>From a folder of files</h2>
      <p>
        Each file becomes a record with its title and its address. Only names are sent, never what
        the files contain.
      </p>
      <Words label="Web address of the files, if they have one" value={base} onChange={setBase} />
      <div>
        <FileTrigger acceptDirectory onSelect={(files) => files && files.length > 0 && take(files)}>
          <MainButton isDisabled={busy}>Choose a folder</MainButton>
        </FileTrigger>
      </div>
      <Small>Hand Stamp follows a folder in the In-tray when files come and go.</Small>
    </>
  );
}

export function TypedSource() {
  const router = useRouter();
  const [purpose, setPurpose] = useState<string>(addressPurpose);
  const [name, setName] = useState('');
  const start = useMutation({
    mutationFn: () => ask('startTypedList', { body: { name, purpose } }),
    onSuccess: ({ job }) => router.push(`/jobs/${job}`),
  });
  return (
    <>
      <h2>By typing</h2>
      <Sentence>
        For codes whose scan{' '}
        <ChoicePart
          label="What a scan does"
          value={purpose}
          onChange={setPurpose}
          choices={sheetPurposes.map((p) => ({ id: p.id, name: p.does }))}
        />
        .
      </Sentence>
      <div style={{ maxWidth: 340 }}>
        <Words label="Name of the list" value={name} onChange={setName} />
      </div>
      <div style={{ display: 'flex', gap: 12, alignItems: 'center' }}>
        <MainButton
          isDisabled={name.trim() === '' || start.isPending}
          onPress={() => start.mutate()}
        >
          Create an empty list
        </MainButton>
      </div>
      {start.error && <ErrorLine>{start.error.message}</ErrorLine>}
      <p>
        Or download a blank sheet with the right headings, and bring it in when it is filled:{' '}
        <a href={`/api/sheets?purpose=${purpose}&as=xlsx`} download>
          XLSX
        </a>{' '}
        or{' '}
        <a href={`/api/sheets?purpose=${purpose}&as=csv`} download>
          CSV
        </a>
        .
      </p>
    </>
  );
}
