/**
 * A stand-in for an app of the garden's: it creates accessions through the API and shows the code
 * that comes back in the same answer, and hears of what happens to them; and it stands in for the
 * seed vault, which standing orders call. On this machine only. Ships with the demo.
 */
import { randomUUID } from 'node:crypto';
import { createServer } from 'node:http';
import { Webhook } from 'standardwebhooks';
import { sql } from 'kysely';
import type { ApiRecord } from '../../src/contract';
import { escapedHtml } from '../../src/core/base/html';
import { makeKey } from '../../src/server/access';
import { databaseUrl, openDatabase } from '../../src/server/platform/db';
import { log } from '../../src/server/platform';
import { makeWebhook } from '../../src/server/webhooks';
import { photographFirstPrint } from './phone';

const name = 'The garden’s app, a stand-in';
const host = 'app.marrambay.example';
const vault = 'vault.marrambay.example';
const fields = ['Accession', 'Plant', 'Common name', 'Bed', 'Site'];
const most = 20;

const { db } = openDatabase(databaseUrl(), 2);
const made: ApiRecord[] = [];
const heard: string[] = [];
let key = '';
let list = 0;
let secret = '';

/** A key and a secret of its own, anew at each start, since neither is kept here. */
async function introduce(port: number): Promise<void> {
  await db.deleteFrom('api_keys').where('name', '=', name).execute();
  await db.deleteFrom('webhooks').where('name', '=', name).execute();
  const found = await db
    .selectFrom('lists')
    .select('id')
    .where('name', '=', 'Accessions')
    .executeTakeFirst();
  if (!found) return;
  list = found.id;
  ({ key } = await makeKey(db, { name, rights: ['reads', 'writes'], list, ends: null }, 'demo'));
  ({ secret } = await makeWebhook(
    db,
    {
      name,
      address: `https://${host}/hooks`,
      events: ['record.came', 'record.changed', 'record.went'],
      list,
    },
    'demo',
  ));
  await db
    .insertInto('settings')
    .values([
      { name: 'door.stand-ins', value: JSON.stringify({ [host]: port, [vault]: port }) },
      { name: 'stand-in.app', value: `http://localhost:${port}` },
    ])
    .onConflict((c) =>
      c.column('name').doUpdateSet({
        value: sql<string>`case when excluded.name = 'door.stand-ins' then (settings.value::jsonb || excluded.value::jsonb)::text else excluded.value end`,
      }),
    )
    .execute();
}

/** Asks Hand Stamp as any program would: over the network, by its key. */
async function create(values: Record<string, string>): Promise<string | undefined> {
  const answer = await fetch(
    `http://localhost:${process.env.HAND_STAMP_PORT ?? 3000}/api/v1/lists/${list}/records`,
    {
      method: 'POST',
      headers: {
        authorization: `Bearer ${key}`,
        'content-type': 'application/json',
        'idempotency-key': randomUUID(),
      },
      body: JSON.stringify({ values }),
    },
  );
  if (!answer.ok) return ((await answer.json()) as { detail: string }).detail;
  made.unshift((await answer.json()) as ApiRecord);
  made.length = Math.min(made.length, most);
  return undefined;
}

const shown = (record: ApiRecord): string => `<article>
<img width="120" height="120" alt="Code of ${escapedHtml(record.values.Plant ?? '')}" src="${escapedHtml(record.picture ?? '')}">
<div><h2>${escapedHtml(record.values.Plant ?? '')}</h2>
<p>The code says <code>${escapedHtml(record.codes[0]?.payload ?? 'nothing')}</code></p>
<p><a href="${escapedHtml(record.page ?? '#')}">Its page</a></p></div></article>`;

const page = (problem = ''): string => `<!doctype html><html lang="en"><meta charset="utf-8">
<meta name="viewport" content="width=device-width, initial-scale=1"><title>The garden’s app</title>
<style>body{font:16px/1.5 system-ui,sans-serif;max-width:44rem;margin:2rem auto;padding:0 1rem;color:#1d2a22;background:#fbfcfa}
form{display:grid;grid-template-columns:repeat(2,1fr);gap:10px}label{display:grid}input,button{font:inherit;padding:6px 10px}
article{display:flex;gap:16px;align-items:center;border-top:1px solid #cfd6cf;padding:12px 0}h1{font-size:1.4rem}h2{font-size:1.1rem;margin:0}
code{overflow-wrap:anywhere}p{margin:.3em 0}</style>
<h1>The garden’s app, a stand-in</h1><p>It creates an accession in Hand Stamp, and shows the code that comes back.</p>
${problem ? `<p role="alert"><b>${escapedHtml(problem)}</b></p>` : ''}
<form method="post">${fields.map((f) => `<label>${f}<input name="${f}" ${f === 'Accession' || f === 'Plant' ? 'required' : ''}></label>`).join('')}
<div><button>Create it</button></div></form>${made.map(shown).join('')}
<h2>What it heard</h2><ul aria-label="What it heard">${heard.map((line) => `<li>${escapedHtml(line)}</li>`).join('') || '<li>Nothing yet.</li>'}</ul></html>`;

const server = createServer((request, response) => {
  const parts: Buffer[] = [];
  request.on('data', (part: Buffer) => parts.push(part));
  request.on('end', () => {
    const body = Buffer.concat(parts).toString();
    const say = (status: number, html: string) =>
      response
        .writeHead(status, {
          'content-type': 'text/html; charset=utf-8',
          'cache-control': 'no-store',
        })
        .end(html);
    if (request.url === '/hooks' && request.method === 'POST') {
      try {
        const told = new Webhook(secret).verify(
          body,
          request.headers as Record<string, string>,
        ) as {
          type: string;
          data: { records?: number[] };
        };
        heard.unshift(`${told.type}: ${told.data.records?.join(', ') ?? ''}`);
        heard.length = Math.min(heard.length, most);
        return say(200, 'heard');
      } catch {
        return say(401, 'not signed by Hand Stamp');
      }
    }
    if (request.headers.host === vault) {
      heard.unshift(`the vault was told: ${body.slice(0, 300)}`);
      heard.length = Math.min(heard.length, most);
      return say(200, 'The vault knows.');
    }
    if (request.method !== 'POST') return say(200, page());
    const form = new URLSearchParams(body);
    const values = Object.fromEntries(fields.map((f) => [f, form.get(f) ?? '']));
    create(values).then(
      (problem) => say(problem ? 400 : 200, page(problem)),
      () => say(502, page('Hand Stamp does not answer.')),
    );
  });
});

server.listen(0, '127.0.0.1', () => {
  const address = server.address();
  if (!address || typeof address === 'string') return;
  introduce(address.port).catch((error: unknown) => {
    console.error(error);
    process.exit(1);
  });
});
process.on('SIGTERM', () => process.exit(0));
process.on('SIGINT', () => process.exit(0));

/** Looks whether there is something to be photographed, until it was. One look after the other. */
async function untilPhotographed(): Promise<void> {
  while (!(await photographFirstPrint(db, 'Badges, first print')))
    await new Promise((next) => setTimeout(next, 2000));
}
untilPhotographed().catch((error: unknown) =>
  log.warn({ err: error }, 'the stand-in for a telephone took no photograph'),
);
