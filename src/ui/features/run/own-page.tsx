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
import { ownPage as wording } from './words';
import { filled, withParts } from '../../kit/with-parts';

/** The page on which people get their own code or piece: its address, and what it asks. */
export function OwnPagePart() {
  return (
    <Part acts label={wording.pageWherePeopleGet} editor={<OwnPage />}>
      {wording.pageWherePeopleGet}
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
  if (!data) return <Small>{wording.checking}</Small>;
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
    title: filled(wording.getYourCode, job.name),
    asked: asked.length > 0 ? asked : [columns[0]!.id],
    gives: groundOf(job.document.piece) === 'stock' ? ['code', 'piece'] : ['code'],
  };
}

function Start({ save }: { save: Save }) {
  const first = useFirst();
  return (
    <>
      <p>{wording.aWebPageWhere}</p>
      <div>
        <MainButton onPress={() => save(0, first)}>{wording.createThisPage}</MainButton>
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
    (id) => columns.find((c) => c.id === id)?.name ?? wording.aDeletedColumn,
  );
  const trouble = doorTrouble(page.address);
  const gives = document.gives.length > 1 ? 'both' : document.gives[0]!;
  const onSheets = groundOf(job.document.piece) === 'stock';
  const choices: readonly { id: OwnThing | 'both'; name: string }[] = [
    { id: 'code', name: wording.theirCodeAsA },
    ...(onSheets
      ? [
          { id: 'piece' as const, name: wording.theirPieceToPrint },
          { id: 'both' as const, name: wording.theirCodeAndTheir },
        ]
      : []),
  ];
  return (
    <>
      <Sentence $minor>
        {withParts(
          wording.thePageIsA,
          <TitlePart title={document.title} onUse={(title) => set({ title })} />,
          <ChoicePart
            label={wording.openOrClosed}
            value={document.open ? 'open' : 'closed'}
            onChange={(id) => set({ open: id === 'open' })}
            choices={[
              { id: 'open', name: 'open' },
              { id: 'closed', name: 'closed' },
            ]}
          />,
          <Part
            label={wording.whatPeopleEnter}
            editor={
              <div style={{ display: 'grid', gap: 6, maxHeight: 320, overflow: 'auto' }}>
                <Small style={{ maxWidth: 340 }}>{wording.chooseUpToFour}</Small>
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
          </Part>,
          <ChoicePart
            label={wording.whatPeopleGet}
            value={gives}
            onChange={(id) => set({ gives: id === 'both' ? ['code', 'piece'] : [id] })}
            choices={choices}
          />,
        )}
      </Sentence>
      <a
        href={new URL(page.address).pathname}
        target="_blank"
        rel="noreferrer"
        style={{ font: `400 13px/1.4 ${font.code}`, overflowWrap: 'anywhere' }}
      >
        {page.address}
      </a>
      {document.asked.length === 1 && <Warning>{wording.aNumberAloneCan}</Warning>}
      {trouble && (
        <Warning>
          {withParts(wording.youCanChangeThe, new URL(page.address).host, trouble.message)}
        </Warning>
      )}
      <Small>
        {withParts(
          wording.eachAttemptAppearsIn,
          page.fetched === 0
            ? wording.noOneHasUsed
            : filled(wording.used, counted(page.fetched, 'time')),
        )}
      </Small>
    </>
  );
}

function TitlePart({ title, onUse }: { title: string; onUse: (title: string) => void }) {
  const [text, setText] = useState(title);
  return (
    <Part
      label={wording.nameOfThePage}
      editor={(close) => {
        const use = () => {
          if (text.trim() === '') return;
          onUse(text.trim());
          close();
        };
        return (
          <>
            <Words
              label={wording.nameOfThePage}
              value={text}
              onChange={setText}
              autoFocus
              onEnter={use}
            />
            <div>
              <MainButton isDisabled={text.trim() === ''} onPress={use}>
                {wording.apply}
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
