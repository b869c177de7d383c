'use client';
import { useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import type { OwnPageView } from '../../../contract';
import { counted } from '../../../core/base/words';
import type { OwnPageDocument, OwnThing } from '../../../core/links/own';
import { doorTrouble } from '../../../core/payload/door';
import { groundOf } from '../../../core/piece/model';
import { keyColumn } from '../../../core/records/columns';
import { ask } from '../../kit/api';
import {
  Check,
  ChoicePart,
  ErrorLine,
  MainButton,
  Part,
  Sentence,
  Small,
  Warning,
  Words,
} from '../../kit/controls';
import { font } from '../../kit/theme';
import { useJob } from '../../shell/ledger/context';

/** The page on which people fetch their own code or piece: the way to it, and what it asks. */
export function OwnPagePart() {
  return (
    <Part acts label="Page where people get their own code" editor={<OwnPage />}>
      Page where people get their own code
    </Part>
  );
}

function OwnPage() {
  const { job } = useJob();
  const client = useQueryClient();
  const [problem, setProblem] = useState<string>();
  const params = { id: job.id };
  const key = ['own-page', job.id];
  const { data, error } = useQuery({
    queryKey: key,
    queryFn: () => ask('viewOwnPage', { params }),
  });
  if (error) return <ErrorLine>{error.message}</ErrorLine>;
  if (!data) return <Small>Checking …</Small>;
  const save = (version: number, document: OwnPageDocument) => {
    setProblem(undefined);
    ask('changeOwnPage', { params, body: { version, document } }).then(
      (now) => client.setQueryData(key, now),
      (e: unknown) => {
        setProblem(e instanceof Error ? e.message : String(e));
        void client.invalidateQueries({ queryKey: key });
      },
    );
  };
  return (
    <div style={{ display: 'grid', gap: 12, width: 440 }}>
      {data.page ? <Shown page={data.page} save={save} /> : <Start save={save} />}
      {problem && <ErrorLine>{problem}</ErrorLine>}
    </div>
  );
}

type Save = (version: number, document: OwnPageDocument) => void;

function useFirst(): OwnPageDocument {
  const { job } = useJob();
  const { columns } = job.list;
  const key = keyColumn(columns);
  const mail = columns.find((c) => c.role === 'email');
  const asked = [key, mail].flatMap((c) => (c ? [c.id] : []));
  return {
    open: true,
    title: `Get your code: ${job.name}`,
    asked: asked.length > 0 ? asked : [columns[0]!.id],
    gives: groundOf(job.document.piece) === 'stock' ? ['code', 'piece'] : ['code'],
  };
}

function Start({ save }: { save: Save }) {
  const first = useFirst();
  return (
    <>
      <p>
        A web page where each person enters what only they know and gets their own code, or what
        this job makes for them.
      </p>
      <div>
        <MainButton onPress={() => save(0, first)}>Create this page</MainButton>
      </div>
    </>
  );
}

function Shown({ page, save }: { page: NonNullable<OwnPageView['page']>; save: Save }) {
  const { job } = useJob();
  const { document } = page;
  const { columns } = job.list;
  const set = (next: Partial<OwnPageDocument>) => save(page.version, { ...document, ...next });
  const names = document.asked.map(
    (id) => columns.find((c) => c.id === id)?.name ?? 'a deleted column',
  );
  const trouble = doorTrouble(page.address);
  const gives = document.gives.length > 1 ? 'both' : document.gives[0]!;
  const onSheets = groundOf(job.document.piece) === 'stock';
  const choices: readonly { id: OwnThing | 'both'; name: string }[] = [
    { id: 'code', name: 'their code, as a picture' },
    ...(onSheets
      ? [
          { id: 'piece' as const, name: 'their piece, to print' },
          { id: 'both' as const, name: 'their code and their piece' },
        ]
      : []),
  ];
  return (
    <>
      <Sentence $minor>
        The page <TitlePart title={document.title} onUse={(title) => set({ title })} /> is{' '}
        <ChoicePart
          label="Open or closed"
          value={document.open ? 'open' : 'closed'}
          onChange={(id) => set({ open: id === 'open' })}
          choices={[
            { id: 'open', name: 'open' },
            { id: 'closed', name: 'closed' },
          ]}
        />
        . A person who enters{' '}
        <Part
          label="What people enter"
          editor={
            <div style={{ display: 'grid', gap: 6, maxHeight: 320, overflow: 'auto' }}>
              <Small style={{ maxWidth: 340 }}>
                Choose up to four values that only the person knows together, for example a number
                and an email address.
              </Small>
              {columns
                .filter((c) => !c.hidden)
                .map((c) => (
                  <Check
                    key={c.id}
                    on={document.asked.includes(c.id)}
                    onChange={(on) =>
                      set({
                        asked: on
                          ? [...document.asked, c.id]
                          : document.asked.filter((id) => id !== c.id),
                      })
                    }
                  >
                    {c.name}
                  </Check>
                ))}
            </div>
          }
        >
          {names.join(' and ')}
        </Part>{' '}
        exactly as in a record that is ready gets{' '}
        <ChoicePart
          label="What people get"
          value={gives}
          onChange={(id) => set({ gives: id === 'both' ? ['code', 'piece'] : [id] })}
          choices={choices}
        />
        .
      </Sentence>
      <a
        href={new URL(page.address).pathname}
        target="_blank"
        rel="noreferrer"
        style={{ font: `400 13px/1.4 ${font.code}`, overflowWrap: 'anywhere' }}
      >
        {page.address}
      </a>
      {document.asked.length === 1 && (
        <Warning>A number alone can be guessed by trying. Ask for a second value.</Warning>
      )}
      {trouble && (
        <Warning>
          {new URL(page.address).host} {trouble.message}. You can change the address in Settings.
        </Warning>
      )}
      <Small>
        {page.fetched === 0
          ? 'No one has used this page yet.'
          : `Used ${counted(page.fetched, 'time')}.`}{' '}
        Each attempt appears in the journal. After a dozen attempts from one network address, people
        wait 15 minutes.
      </Small>
    </>
  );
}

function TitlePart({ title, onUse }: { title: string; onUse: (title: string) => void }) {
  const [text, setText] = useState(title);
  return (
    <Part
      label="Name of the page"
      editor={(close) => {
        const use = () => {
          if (text.trim() === '') return;
          onUse(text.trim());
          close();
        };
        return (
          <>
            <Words
              label="Name of the page"
              value={text}
              onChange={setText}
              autoFocus
              onEnter={use}
            />
            <div>
              <MainButton isDisabled={text.trim() === ''} onPress={use}>
                Apply
              </MainButton>
            </div>
          </>
        );
      }}
    >
      {title}
    </Part>
  );
}
