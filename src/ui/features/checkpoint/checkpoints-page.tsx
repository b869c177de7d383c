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
import { checkpointsPage as wording } from './words';
import { withParts } from '../../kit/with-parts';

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
          <h1>{wording.checkpoints}</h1>
          <Small>{wording.placesWhereCodesAre}</Small>
        </div>
        {may && (
          <DialogTrigger>
            <MainButton>{wording.newCheckpoint}</MainButton>
            <Pop placement="bottom end" offset={4}>
              <Editor aria-label={wording.newCheckpoint}>
                <NewCheckpoint />
              </Editor>
            </Pop>
          </DialogTrigger>
        )}
      </header>
      {error && <ErrorLine>{error.message}</ErrorLine>}
      {data?.checkpoints.length === 0 && (
        <p>{may ? wording.noCheckpointsYetCreate : wording.noCheckpointsYet}</p>
      )}
      {data && data.checkpoints.length > 0 && (
        <Table>
          <thead>
            <tr>
              <th>{wording.checkpoint}</th>
              <th>{wording.checksCodesOf}</th>
              <th>{wording.session}</th>
              <th className="n">{wording.in}</th>
              <th className="n">{wording.devices}</th>
              <th>{wording.lastScan}</th>
              <th aria-label={wording.scanHere} />
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
                <td>{named(one.lists) || wording.aDeletedList}</td>
                <td>{one.session ?? ''}</td>
                <td className="n">
                  {withParts(wording.of, one.in.toLocaleString('en'), one.of.toLocaleString('en'))}
                </td>
                <td className="n">{one.devices > 0 ? one.devices.toLocaleString('en') : ''}</td>
                <td suppressHydrationWarning>{one.last ? when(one.last) : wording.noneYet}</td>
                <td>
                  <Link href={`/checkpoints/${one.id}/scan`}>{wording.scanHere}</Link>
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

/** Rounds, on which what is there is scanned location by location. */
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
          <PartTitle style={{ margin: 0 }}>{wording.rounds}</PartTitle>
          <Small>{wording.checkWhatIsThere}</Small>
        </div>
        {may && (
          <DialogTrigger>
            <QuietButton>{wording.newRound}</QuietButton>
            <Pop placement="bottom end" offset={4}>
              <Editor aria-label={wording.newRound}>
                <NewRound />
              </Editor>
            </Pop>
          </DialogTrigger>
        )}
      </header>
      {error && <ErrorLine>{error.message}</ErrorLine>}
      {data?.rounds.length === 0 && <p>{wording.noRoundsYet}</p>}
      {data && data.rounds.length > 0 && (
        <Table>
          <thead>
            <tr>
              <th>{wording.round}</th>
              <th>{wording.list}</th>
              <th className="n">{wording.found}</th>
              <th>{wording.started}</th>
              <th>{wording.closed}</th>
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
                  {withParts(
                    wording.of,
                    one.seen.toLocaleString('en'),
                    one.of.toLocaleString('en'),
                  )}
                </td>
                <td suppressHydrationWarning>
                  {when(one.begun)}, {one.by}
                </td>
                <td suppressHydrationWarning>
                  {one.closed ? when(one.closed) : wording.inProgress}
                </td>
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
      <Words
        label={wording.nameOfTheRound}
        value={name}
        onChange={setName}
        autoFocus
        onEnter={go}
      />
      <Scroll label={wording.whichListDoYou}>
        <Choose
          label={wording.list}
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
        <Scroll label={wording.whichColumnHoldsThe}>
          <Choose
            label={wording.column}
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
          {wording.startRound}
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
        label={wording.nameOfTheCheckpoint}
        value={name}
        onChange={setName}
        autoFocus
        onEnter={go}
      />
      <Scroll label={wording.whoseCodesAreScanned}>
        <Choose
          label={wording.list}
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
          {wording.createCheckpoint}
        </MainButton>
      </div>
    </div>
  );
}
