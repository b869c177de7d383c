'use client';
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { DialogTrigger } from 'react-aria-components';
import type { KeyView } from '../../../contract';
import { isSecret } from '../../../core/records/columns';
import { keyRights, keyRightWords, type KeyRight } from '../../../core/access/keys';
import { ask } from '../../kit/api';
import {
  Check,
  ChoicePart,
  Editor,
  ErrorLine,
  MainButton,
  PlainButton,
  Pop,
  QuietButton,
  Sentence,
  Small,
  VisuallyHidden,
  Words,
} from '../../kit/controls';
import { when } from '../../kit/dates';
import { Page, PartTitle, Table } from '../../kit/index-table';
import { colour, font } from '../../kit/theme';
import { Once } from './once';
import { Told } from './told';
import { programsPage as wording } from './words';
import { filled, withParts } from '../../kit/with-parts';

interface Operation {
  operationId: string;
  summary: string;
  'x-needs'?: KeyRight;
  parameters: { name: string; in: string; required: boolean; schema: { type?: string } }[];
  requestBody?: { content: Record<string, { schema: object }> };
  responses: { 200: { content: Record<string, { schema: object }> } };
}
/** The shown parts of the OpenAPI description. */
export interface Described {
  servers: { url: string }[];
  paths: Record<string, Record<string, Operation>>;
}

/** Other programs: their API keys, and the calls they can make. */
export function ProgramsPage({ described }: { described: Described }) {
  const [made, setMade] = useState<string>();
  const { data, error } = useQuery({ queryKey: ['keys'], queryFn: () => ask('listKeys') });
  return (
    <Page>
      <header>
        <h1>{wording.programs}</h1>
        <DialogTrigger>
          <MainButton>{wording.newKey}</MainButton>
          <Pop placement="bottom end" offset={4}>
            <Editor aria-label={wording.newKey}>
              {({ close }) => <NewKey onMade={(key) => (setMade(key), close())} />}
            </Editor>
          </Pop>
        </DialogTrigger>
      </header>
      <Sentence $minor style={{ maxWidth: 760, marginBottom: 14 }}>
        {wording.withAnAPIKey}
      </Sentence>
      {made && <Once what={wording.key} value={made} onDone={() => setMade(undefined)} />}
      {error && <ErrorLine>{error.message}</ErrorLine>}
      {data && data.keys.length === 0 && <p>{wording.noAPIKeysYet}</p>}
      {data && data.keys.length > 0 && <Keys keys={data.keys} />}
      <PartTitle>{wording.webhooks}</PartTitle>
      <Told />
      <PartTitle>{wording.whatAProgramCan}</PartTitle>
      <Small style={{ maxWidth: 760, marginBottom: 10 }}>
        {withParts(
          wording.describedForMachinesAt,
          <a href="/api/v1/openapi.json">{wording.apiV1OpenapiJson}</a>,
        )}
      </Small>
      <Reference described={described} />
    </Page>
  );
}

function Keys({ keys }: { keys: readonly KeyView[] }) {
  const client = useQueryClient();
  const [problem, setProblem] = useState<string>();
  const end = (id: number) =>
    ask('endKey', { params: { id } }).then(
      () => (setProblem(undefined), client.invalidateQueries({ queryKey: ['keys'] })),
      (e: unknown) => setProblem(e instanceof Error ? e.message : String(e)),
    );
  return (
    <>
      {problem && <ErrorLine>{problem}</ErrorLine>}
      <Table>
        <thead>
          <tr>
            <th>{wording.key2}</th>
            <th>{wording.itMay}</th>
            <th>{wording.list}</th>
            <th>{wording.expires}</th>
            <th>{wording.lastUsed}</th>
            <th>{wording.created}</th>
            <th>
              <VisuallyHidden>{wording.actions}</VisuallyHidden>
            </th>
          </tr>
        </thead>
        <tbody>
          {keys.map((key) => (
            <tr key={key.id}>
              <td>
                <b>{key.name}</b>{' '}
                <span style={{ font: `400 12.5px ${font.code}`, color: colour.inkSoft }}>
                  … {key.ending}
                </span>
              </td>
              <td style={{ paddingBlock: 6 }}>
                {key.rights.map((r) => keyRightWords[r].name).join('; ')}
              </td>
              <td>{key.list?.name ?? wording.allLists}</td>
              <td>{key.ends ?? 'never'}</td>
              <td suppressHydrationWarning>{key.used ? when(key.used) : 'never'}</td>
              <td suppressHydrationWarning>
                {when(key.at)}, {key.by}
              </td>
              <td>
                <EndKey name={key.name} onEnd={() => void end(key.id)} />
              </td>
            </tr>
          ))}
        </tbody>
      </Table>
    </>
  );
}

function EndKey({ name, onEnd }: { name: string; onEnd: () => void }) {
  return (
    <DialogTrigger>
      <PlainButton aria-label={filled(wording.revokeTheKey, name)}>{wording.revokeKey}</PlainButton>
      <Pop placement="bottom end" offset={4}>
        <Editor aria-label={wording.revokeKey2}>
          {({ close }) => (
            <>
              <p style={{ maxWidth: 300 }}>{wording.theProgramThatUses}</p>
              <div>
                <QuietButton onPress={() => (onEnd(), close())}>{wording.revokeKey2}</QuietButton>
              </div>
            </>
          )}
        </Editor>
      </Pop>
    </DialogTrigger>
  );
}

function NewKey({ onMade }: { onMade: (key: string) => void }) {
  const client = useQueryClient();
  const [name, setName] = useState('');
  const [rights, setRights] = useState<KeyRight[]>(['reads', 'writes']);
  const [list, setList] = useState<number | null>(null);
  const [ends, setEnds] = useState('');
  const lists = useQuery({ queryKey: ['lists'], queryFn: () => ask('listLists') });
  const make = useMutation({
    mutationFn: () =>
      ask('makeKey', { body: { name: name.trim(), rights, list, ends: ends || null } }),
    onSuccess: ({ key }) => {
      void client.invalidateQueries({ queryKey: ['keys'] });
      onMade(key);
    },
  });
  return (
    <div style={{ display: 'grid', gap: 12, width: 400 }}>
      <Words label={wording.nameOfTheProgram} value={name} onChange={setName} autoFocus />
      <div style={{ display: 'grid', gap: 6 }}>
        <Small>{wording.itMay}</Small>
        {keyRights.map((right) => (
          <Check
            key={right}
            on={rights.includes(right)}
            onChange={(on) =>
              setRights(on ? [...rights, right] : rights.filter((r) => r !== right))
            }
          >
            {keyRightWords[right].name}
          </Check>
        ))}
      </div>
      <Sentence $minor>
        {withParts(
          wording.itIsFor,
          <ChoicePart
            label={wording.list}
            value={list === null ? 'all' : String(list)}
            onChange={(id) => setList(id === 'all' ? null : Number(id))}
            choices={[
              { id: 'all', name: wording.allLists },
              ...(lists.data?.lists ?? []).map((l) => ({ id: String(l.id), name: l.name })),
            ]}
          />,
        )}
      </Sentence>
      <Words label={wording.expiresOnLeaveBlank} type="date" value={ends} onChange={setEnds} />
      {make.error && <ErrorLine>{make.error.message}</ErrorLine>}
      <div>
        <MainButton
          isDisabled={name.trim() === '' || rights.length === 0 || make.isPending}
          onPress={() => make.mutate()}
        >
          {wording.createKey}
        </MainButton>
      </div>
    </div>
  );
}

/** The calls, each with an example that runs as it is once a key is set. */
function Reference({ described }: { described: Described }) {
  const base = described.servers[0]!.url;
  const lists = useQuery({ queryKey: ['lists'], queryFn: () => ask('listLists') });
  const [chosen, setChosen] = useState<string>();
  const list =
    lists.data?.lists.find((l) => String(l.id) === chosen) ??
    lists.data?.lists.find((l) => l.jobs.length > 0);
  const job = list?.jobs[0]?.id;
  const view = useQuery({
    queryKey: ['programs-example', job],
    enabled: job !== undefined,
    queryFn: () => ask('viewJob', { params: { id: job! } }),
  });
  const rows = useQuery({
    queryKey: ['programs-example-rows', job],
    enabled: job !== undefined,
    queryFn: () => ask('jobRows', { params: { id: job! }, query: {} }),
  });
  const like: Like = {
    list: list?.id ?? 1,
    job: job ?? 1,
    record: rows.data?.rows[0]?.id ?? 1,
    values: Object.fromEntries(
      (view.data?.list.columns ?? [])
        .filter((c) => !c.worked && !isSecret(c, view.data!.list.columns))
        .slice(0, 2)
        .map((c) => [c.name, wording.aValue]),
    ),
  };
  return (
    <div style={{ display: 'grid', gap: 14, maxWidth: 900 }}>
      <Sentence $minor>
        {withParts(
          wording.theExamplesUseThey,
          <ChoicePart
            looks
            label={wording.listInTheExamples}
            value={list === undefined ? undefined : String(list.id)}
            onChange={setChosen}
            choices={(lists.data?.lists ?? [])
              .filter((l) => l.jobs.length > 0)
              .map((l) => ({ id: String(l.id), name: l.name }))}
          />,
        )}
      </Sentence>
      {inOrder(described.paths).flatMap(([path, methods]) =>
        Object.entries(methods).map(([method, of]) => (
          <section
            key={of.operationId}
            style={{ borderTop: `1px solid ${colour.rule}`, paddingTop: 8 }}
          >
            <h3 style={{ font: `700 14px/1.4 ${font.code}` }}>
              {method.toUpperCase()} {path}
            </h3>
            <p>
              {of.summary}
              {of['x-needs'] && (
                <span style={{ color: colour.inkSoft }}>
                  {withParts(wording.theKeyMay, keyRightWords[of['x-needs']].name)}
                </span>
              )}
            </p>
            {of.parameters.length > 0 && (
              <Small>
                {of.parameters
                  .map((p) => `${p.name} (${p.in}${p.required ? '' : wording.mayBeLeftOut})`)
                  .join(' · ')}
              </Small>
            )}
            <pre
              aria-label={filled(wording.exampleOf, method.toUpperCase(), path)}
              style={{
                background: colour.paper,
                border: `1px solid ${colour.rule}`,
                padding: '8px 12px',
                margin: '6px 0 0',
                font: `400 12.5px/1.5 ${font.code}`,
                whiteSpace: 'pre-wrap',
                overflowWrap: 'anywhere',
              }}
            >
              {exampleOf(base, method, path, of, like)}
            </pre>
          </section>
        )),
      )}
    </div>
  );
}

const linkExample = (method: string) => ({
  ...(method === 'post' ? { title: 'Map' } : {}),
  to: 'https://marrambay.example/map',
});

const methodOrder = ['get', 'post', 'patch', 'delete'];

/** By their paths, and reading before writing. */
const inOrder = (paths: Described['paths']): [string, Record<string, Operation>][] =>
  Object.entries(paths)
    .sort(([a], [b]) => (a < b ? -1 : 1))
    .map(([path, methods]) => [
      path,
      Object.fromEntries(
        Object.entries(methods).sort(([a], [b]) => methodOrder.indexOf(a) - methodOrder.indexOf(b)),
      ),
    ]);

/** The subject of an example, so that it runs as it is. */
interface Like {
  list: number;
  job: number;
  record: number;
  values: Readonly<Record<string, string>>;
}

function exampleOf(base: string, method: string, path: string, of: Operation, like: Like): string {
  const id = path.startsWith('/api/v1/lists/')
    ? like.list
    : path.startsWith('/api/v1/jobs/')
      ? like.job
      : '$RUN';
  const address =
    base +
    path
      .replace('{id}', String(id))
      .replace('{record}', String(like.record))
      .replace('{code}', '$LINK')
      .replace('{file}', '$FILE');
  const lines = [
    filled(wording.curl, method === 'get' ? '' : `-X ${method.toUpperCase()} `, address),
  ];
  if (of['x-needs']) lines.push('-H "Authorization: Bearer $HAND_STAMP_API_KEY"');
  const type = Object.keys(of.requestBody?.content ?? {})[0];
  if (type === 'application/json') {
    lines.push('-H "Content-Type: application/json"');
    lines.push(
      `-d '${JSON.stringify(path.includes('/links') ? linkExample(method) : path.endsWith('/runs') ? { name: wording.monday } : { values: like.values })}'`,
    );
  } else if (type) {
    lines.push(`-H "Content-Type: ${type}"`, '--data-binary @records.ndjson');
  }
  return lines.join(' \\\n  ');
}
