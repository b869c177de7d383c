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
import { sources as wording } from './words';
import { filled, withParts } from '../../kit/with-parts';

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
      <h2>{wording.fromASpreadsheet}</h2>
      <Drop
        aria-label={wording.dropASpreadsheetHere}
        onDrop={(e) => {
          const item = e.items.find(isFileDropItem);
          if (item) void item.getFile().then(take);
        }}
      >
        <p>{wording.dropASpreadsheetHereXLSX}</p>
        <FileTrigger onSelect={(files) => files?.[0] && take(files[0])}>
          <MainButton isDisabled={busy}>{wording.chooseAFile}</MainButton>
        </FileTrigger>
        <Small>{wording.everyValueStaysAs}</Small>
      </Drop>
    </>
  );
}

export function PasteSource({ reading: { read, busy } }: { reading: Reading }) {
  const [text, setText] = useState('');
  return (
    <>
      <h2>{wording.fromAPaste}</h2>
      <label>
        <Small as="span">{wording.copyTheRowsWith}</Small>
        <Area value={text} onChange={(e) => setText(e.target.value)} spellCheck={false} />
      </label>
      <div>
        <MainButton
          isDisabled={busy || text.trim() === ''}
          onPress={() =>
            read(() => sendFile(new Blob([text]), wording.pastedRows, { pasted: true }))
          }
        >
          {wording.readPastedRows}
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
  if (!data) return <Small>{wording.checkingTheInTray}</Small>;
  const folders = data.entries.some((e) => e.kind === 'folder');
  return (
    <>
      <h2>{wording.fromTheInTray}</h2>
      <p>
        {withParts(wording.saveASpreadsheetOr, <code>{data.folder ?? wording.theInTray}</code>)}
      </p>
      {folders && <Words label={wording.webAddressOfThe} value={base} onChange={setBase} />}
      {data.entries.length === 0 ? (
        <Small>{wording.itIsEmpty}</Small>
      ) : (
        <Entries aria-label={wording.inTheInTray}>
          {data.entries.map((e) => (
            <li key={e.name}>
              <span title={e.name}>{e.name}</span>
              <Small as="span">
                {e.kind === 'folder'
                  ? wording.aFolder
                  : filled(wording.kB, Math.max(1, Math.round(e.size / 1024)).toLocaleString('en'))}
                , {when(e.changed)}
              </Small>
              <QuietButton
                isDisabled={busy}
                aria-label={filled(wording.read2, e.name)}
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
                {wording.read}
              </QuietButton>
            </li>
          ))}
        </Entries>
      )}
      <div>
        <QuietButton onPress={() => void refetch()}>{wording.checkAgain}</QuietButton>
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
      <h2>{wording.fromADatabase}</h2>
      <Sentence>
        {withParts(
          wording.from,
          <ChoicePart
            label={wording.connection}
            value={String(current)}
            onChange={(id) => setChosen(id === 'new' ? 'new' : Number(id))}
            choices={[
              ...all.map((c) => ({
                id: String(c.id),
                name: c.name,
                about: filled(wording.atPortAs, c.database, c.host, c.port, c.username),
              })),
              { id: 'new', name: wording.anotherPostgreSQLDatabase },
            ]}
          />,
          connection && (
            <>
              ,{' '}
              <ChoicePart
                label={wording.table}
                value={tables.data?.tables.find((t) => t.query === query)?.query}
                onChange={setQuery}
                choices={tables.data?.tables.map((t) => ({ id: t.query, name: t.name })) ?? []}
              >
                {tables.data?.tables.find((t) => t.query === query)?.name ??
                  (query ? wording.theQueryBelow : wording.chooseATable)}
              </ChoicePart>
            </>
          ),
        )}
      </Sentence>
      {current === 'new' && !keeps ? (
        <Small>{wording.onlyAnAdministratorCan}</Small>
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
            <Small as="span">{wording.orWriteAQuery}</Small>
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
              {wording.readRows}
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
    const name = list[0]?.webkitRelativePath.split('/')[0] || wording.folder;
    read(() => fetchIntake({ kind: 'folder', name, base, files }));
  };
  return (
    <>
      <h2>{wording.fromAFolderOf}</h2>
      <p>{wording.eachFileBecomesA}</p>
      <Words label={wording.webAddressOfTheFiles} value={base} onChange={setBase} />
      <div>
        <FileTrigger acceptDirectory onSelect={(files) => files && files.length > 0 && take(files)}>
          <MainButton isDisabled={busy}>{wording.chooseAFolder}</MainButton>
        </FileTrigger>
      </div>
      <Small>{wording.handStampFollowsA}</Small>
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
      <h2>{wording.byTyping}</h2>
      <Sentence>
        {withParts(
          wording.forCodesWhoseScan,
          <ChoicePart
            label={wording.whatAScanDoes}
            value={purpose}
            onChange={setPurpose}
            choices={sheetPurposes.map((p) => ({ id: p.id, name: p.does }))}
          />,
        )}
      </Sentence>
      <div style={{ maxWidth: 340 }}>
        <Words label={wording.nameOfTheList} value={name} onChange={setName} />
      </div>
      <div style={{ display: 'flex', gap: 12, alignItems: 'center' }}>
        <MainButton
          isDisabled={name.trim() === '' || start.isPending}
          onPress={() => start.mutate()}
        >
          {wording.createAnEmptyList}
        </MainButton>
      </div>
      {start.error && <ErrorLine>{start.error.message}</ErrorLine>}
      <p>
        {withParts(
          wording.orDownloadABlank,
          <a href={`/api/sheets?purpose=${purpose}&as=xlsx`} download>
            {wording.xLSX}
          </a>,
          <a href={`/api/sheets?purpose=${purpose}&as=csv`} download>
            {wording.cSV}
          </a>,
        )}
      </p>
    </>
  );
}
