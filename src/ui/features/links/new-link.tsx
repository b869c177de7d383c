'use client';
import { useMutation, useQuery } from '@tanstack/react-query';
import { Link } from '../../kit/link';
import { useState } from 'react';
import { leadsTrouble } from '../../../core/links/leading';
import { ask } from '../../kit/api';
import { ChoicePart, ErrorLine, MainButton, Sentence, Small, Words } from '../../kit/controls';
import { Pick } from '../../kit/pick';
import { newLink as wording } from './words';
import { withParts } from '../../kit/with-parts';

/** A link by itself; or the way to one for each record of a list. */
export function NewLink({ onMade, close }: { onMade: (code: string) => void; close: () => void }) {
  const [kind, setKind] = useState<'one' | 'list'>('one');
  return (
    <div style={{ display: 'grid', gap: 12, width: 420 }}>
      <Pick
        label={wording.whatIsItFor}
        value={kind}
        onChange={setKind}
        choices={[
          { id: 'one', name: wording.aSingleLink },
          { id: 'list', name: wording.aLinkForEach },
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
        label={wording.nameToFindIt}
        value={title}
        onChange={setTitle}
        autoFocus
        onEnter={go}
      />
      <Words label={wording.webAddressItLeads} value={to} onChange={setTo} onEnter={go} />
      {trouble && (
        <ErrorLine style={{ fontSize: 13 }}>
          {trouble.message} {trouble.mend}
        </ErrorLine>
      )}
      <Sentence $minor>
        {withParts(
          wording.itIs,
          <ChoicePart
            label={wording.whoItIsFor}
            value={whom}
            onChange={setWhom}
            choices={[
              {
                id: 'anyone',
                name: wording.forAnyone,
                about: wording.n9CharactersTheSmallest,
              },
              {
                id: 'one',
                name: wording.forOnePerson,
                about: wording.n13CharactersItCannot,
              },
            ]}
          />,
        )}
      </Sentence>
      {make.error && <ErrorLine>{make.error.message}</ErrorLine>}
      <div>
        <MainButton isDisabled={!ready || make.isPending} onPress={go}>
          {wording.createLink}
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
      <Small>{wording.openAStampThat}</Small>
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
