'use client';

import { useMutation, useQuery } from '@tanstack/react-query';
import { Link } from '../../kit/link';
import { useRouter } from 'next/navigation';
import { useState } from 'react';
import { DialogTrigger } from 'react-aria-components';
import { counted } from '../../../core/base/words';
import { ask } from '../../kit/api';
import {
  Choose,
  Editor,
  ErrorLine,
  MainButton,
  Pop,
  QuietButton,
  Small,
  Words,
} from '../../kit/controls';
import { when } from '../../kit/dates';
import { Page, PartTitle, Table } from '../../kit/index-table';
import { useMay } from '../../kit/me';
import { Scroll } from '../../kit/scroll';
import { isSecret } from '../../../core/records/columns';
import { named } from './words';

/** The places where codes are scanned. */
export function CheckpointsPage() {
  const looks = useMay('viewer');
  const may = useMay();
  const { data, error } = useQuery({
    queryKey: ['checkpoints'],
    queryFn: () => ask('listCheckpoints'),
    refetchInterval: 10_000,
  });
  return (
    <Page>
      <header>
        <div style={{ flex: 1 }}>
          <h1>Checkpoints</h1>
          <Small>places where codes are scanned and checked against a list</Small>
        </div>
        {may && (
          <DialogTrigger>
            <MainButton>New checkpoint</MainButton>
            <Pop placement="bottom end" offset={4}>
              <Editor aria-label="New checkpoint">
                <NewCheckpoint />
              </Editor>
            </Pop>
          </DialogTrigger>
        )}
      </header>
      {error && <ErrorLine>{error.message}</ErrorLine>}
      {data?.checkpoints.length === 0 && (
        <p>
          {may
            ? 'No checkpoints yet. Create one for the list whose codes are scanned: at a door, a desk, a shelf.'
            : 'No checkpoints yet.'}
        </p>
      )}
      {data && data.checkpoints.length > 0 && (
        <Table>
          <thead>
            <tr>
              <th>Checkpoint</th>
              <th>Checks codes of</th>
              <th>Session</th>
              <th className="n">In</th>
              <th className="n">Devices</th>
              <th>Last scan</th>
              <th aria-label="Scan here" />
            </tr>
          </thead>
          <tbody>
            {data.checkpoints.map((one) => (
              <tr key={one.id}>
                <td>
                  <Link href={looks ? `/checkpoints/${one.id}` : `/checkpoints/${one.id}/scan`}>
                    {one.name}
                  </Link>
                </td>
                <td>{named(one.lists) || 'a deleted list'}</td>
                <td>{one.session ?? ''}</td>
                <td className="n">
                  {one.in.toLocaleString('en')} of {one.of.toLocaleString('en')}
                </td>
                <td className="n">{one.devices > 0 ? one.devices.toLocaleString('en') : ''}</td>
                <td suppressHydrationWarning>{one.last ? when(one.last) : 'none yet'}</td>
                <td>
                  <Link href={`/checkpoints/${one.id}/scan`}>Scan here</Link>
                </td>
              </tr>
            ))}
          </tbody>
        </Table>
      )}
      <Rounds />
    </Page>
  );
}

/** Rounds on which what is there is scanned place after place. */
function Rounds() {
  const may = useMay();
  const { data, error } = useQuery({
    queryKey: ['rounds'],
    queryFn: () => ask('listRounds'),
  });
  return (
    <section style={{ marginTop: 34 }}>
      <header style={{ alignItems: 'center' }}>
        <div style={{ flex: 1 }}>
          <PartTitle style={{ margin: 0 }}>Rounds</PartTitle>
          <Small>
            check what is there: scan one location after the other and compare with the list
          </Small>
        </div>
        {may && (
          <DialogTrigger>
            <QuietButton>New round</QuietButton>
            <Pop placement="bottom end" offset={4}>
              <Editor aria-label="New round">
                <NewRound />
              </Editor>
            </Pop>
          </DialogTrigger>
        )}
      </header>
      {error && <ErrorLine>{error.message}</ErrorLine>}
      {data?.rounds.length === 0 && <p>No rounds yet.</p>}
      {data && data.rounds.length > 0 && (
        <Table>
          <thead>
            <tr>
              <th>Round</th>
              <th>List</th>
              <th className="n">Found</th>
              <th>Started</th>
              <th>Closed</th>
            </tr>
          </thead>
          <tbody>
            {data.rounds.map((one) => (
              <tr key={one.id}>
                <td>
                  <Link href={`/rounds/${one.id}`}>{one.name}</Link>
                </td>
                <td>{one.list}</td>
                <td className="n">
                  {one.seen.toLocaleString('en')} of {one.of.toLocaleString('en')}
                </td>
                <td suppressHydrationWarning>
                  {when(one.begun)}, {one.by}
                </td>
                <td suppressHydrationWarning>{one.closed ? when(one.closed) : 'in progress'}</td>
              </tr>
            ))}
          </tbody>
        </Table>
      )}
    </section>
  );
}

function NewRound() {
  const router = useRouter();
  const [name, setName] = useState('');
  const [list, setList] = useState<string>();
  const [column, setColumn] = useState<string>();
  const lists = useQuery({ queryKey: ['lists'], queryFn: () => ask('listLists') });
  const one = lists.data?.lists.find((l) => String(l.id) === list);
  const job = one?.jobs[0]?.id;
  const columns = useQuery({
    queryKey: ['round-columns', job],
    enabled: job !== undefined,
    queryFn: () => ask('viewJob', { params: { id: job! } }),
  });
  const make = useMutation({
    mutationFn: () =>
      ask('startRound', {
        body: { name: name.trim(), list: Number(list), column: column! },
      }),
    onSuccess: ({ id }) => router.push(`/rounds/${id}`),
  });
  const ready = name.trim() !== '' && list !== undefined && column !== undefined;
  const go = () => ready && !make.isPending && make.mutate();
  return (
    <div style={{ display: 'grid', gap: 12, width: 360 }}>
      <Words label="Name of the round" value={name} onChange={setName} autoFocus onEnter={go} />
      <Scroll label="Which list do you want to check?">
        <Choose
          label="List"
          value={list}
          onChange={(id) => (setList(id), setColumn(undefined))}
          choices={(lists.data?.lists ?? []).map((l) => ({
            id: String(l.id),
            name: l.name,
            about: counted(l.records, 'record'),
          }))}
        />
      </Scroll>
      {columns.data && (
        <Scroll label="Which column holds the location?">
          <Choose
            label="Column"
            value={column}
            onChange={setColumn}
            choices={columns.data.list.columns
              .filter((c) => !c.worked && !isSecret(c, columns.data.list.columns))
              .map((c) => ({ id: c.id, name: c.name }))}
          />
        </Scroll>
      )}
      {make.error && <ErrorLine>{make.error.message}</ErrorLine>}
      <div>
        <MainButton isDisabled={!ready || make.isPending} onPress={go}>
          Start round
        </MainButton>
      </div>
    </div>
  );
}

function NewCheckpoint() {
  const router = useRouter();
  const [name, setName] = useState('');
  const [list, setList] = useState<string>();
  const lists = useQuery({ queryKey: ['lists'], queryFn: () => ask('listLists') });
  const make = useMutation({
    mutationFn: () => ask('makeCheckpoint', { body: { name: name.trim(), list: Number(list) } }),
    onSuccess: ({ id }) => router.push(`/checkpoints/${id}`),
  });
  const ready = name.trim() !== '' && list !== undefined;
  const go = () => ready && !make.isPending && make.mutate();
  return (
    <div style={{ display: 'grid', gap: 12, width: 360 }}>
      <Words
        label="Name of the checkpoint"
        value={name}
        onChange={setName}
        autoFocus
        onEnter={go}
      />
      <Scroll label="Whose codes are scanned there?">
        <Choose
          label="List"
          value={list}
          onChange={setList}
          choices={(lists.data?.lists ?? []).map((one) => ({
            id: String(one.id),
            name: one.name,
            about: counted(one.records, 'record'),
          }))}
        />
      </Scroll>
      {make.error && <ErrorLine>{make.error.message}</ErrorLine>}
      <div>
        <MainButton isDisabled={!ready || make.isPending} onPress={go}>
          Create checkpoint
        </MainButton>
      </div>
    </div>
  );
}
