'use client';
import { useMutation, useQuery } from '@tanstack/react-query';
import { Link } from '../../kit/link';
import { useState } from 'react';
import { leadsTrouble } from '../../../core/links/leading';
import { ask } from '../../kit/api';
import { ChoicePart, ErrorLine, MainButton, Sentence, Small, Words } from '../../kit/controls';
import { Pick } from '../../kit/pick';

/** A link by itself; or the way to one for each record of a list. */
export function NewLink({ onMade, close }: { onMade: (code: string) => void; close: () => void }) {
  const [kind, setKind] = useState<'one' | 'list'>('one');
  return (
    <div style={{ display: 'grid', gap: 12, width: 420 }}>
      <Pick
        label="What is it for?"
        value={kind}
        onChange={setKind}
        choices={[
          { id: 'one', name: 'a single link' },
          { id: 'list', name: 'a link for each record of a list' },
        ]}
      />
      {kind === 'one' ? <Alone onMade={(code) => (onMade(code), close())} /> : <ForList />}
    </div>
  );
}

function Alone({ onMade }: { onMade: (code: string) => void }) {
  const [title, setTitle] = useState('');
  const [to, setTo] = useState('');
  const [whom, setWhom] = useState<'anyone' | 'one'>('anyone');
  const make = useMutation({
    mutationFn: () => ask('makeLink', { body: { title: title.trim(), to: to.trim(), for: whom } }),
    onSuccess: ({ code }) => onMade(code),
  });
  const trouble =
    to.trim() === ''
      ? undefined
      : leadsTrouble({ parts: [{ kind: 'text', text: to.trim() }] }, new Set());
  const ready = title.trim() !== '' && to.trim() !== '' && !trouble;
  const go = () => ready && !make.isPending && make.mutate();
  return (
    <>
      <Words
        label="Name, to find it again"
        value={title}
        onChange={setTitle}
        autoFocus
        onEnter={go}
      />
      <Words label="Web address it leads to" value={to} onChange={setTo} onEnter={go} />
      {trouble && (
        <ErrorLine style={{ fontSize: 13 }}>
          {trouble.message} {trouble.mend}
        </ErrorLine>
      )}
      <Sentence $minor>
        It is{' '}
        <ChoicePart
          label="Who it is for"
          value={whom}
          onChange={setWhom}
          choices={[
            {
              id: 'anyone',
              name: 'for anyone',
              about: '9 characters, the smallest code. Use it when anyone may see the page.',
            },
            {
              id: 'one',
              name: 'for one person',
              about: '13 characters. It cannot be guessed.',
            },
          ]}
        />
        .
      </Sentence>
      {make.error && <ErrorLine>{make.error.message}</ErrorLine>}
      <div>
        <MainButton isDisabled={!ready || make.isPending} onPress={go}>
          Create link
        </MainButton>
      </div>
    </>
  );
}

function ForList() {
  const { data, error } = useQuery({ queryKey: ['lists'], queryFn: () => ask('listLists') });
  const jobs = data?.lists.flatMap((list) => list.jobs.slice(0, 1).map((job) => ({ list, job })));
  return (
    <>
      <Small>
        Open a stamp that leads to a web page and choose “by a short link”. Each record of the list
        then gets its own link. Where is the stamp?
      </Small>
      {error && <ErrorLine>{error.message}</ErrorLine>}
      <ul style={{ margin: 0, paddingLeft: 18, maxHeight: 220, overflow: 'auto' }}>
        {jobs?.map(({ list, job }) => (
          <li key={list.id} style={{ lineHeight: '26px' }}>
            <Link href={`/jobs/${job.id}?band=stamps`}>{list.name}</Link>
          </li>
        ))}
      </ul>
    </>
  );
}
