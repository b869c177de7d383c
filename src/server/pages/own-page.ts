import { randomBytes } from 'node:crypto';
import { sql } from 'kysely';
import type { OwnPageView } from '../../contract';
import { escapedHtml } from '../../core/base/html';
import { onGround } from '../../core/grounds';
import { groundOf } from '../../core/piece/model';
import { type FrozenRun, type JobDocument, readJob } from '../../core/job/document';
import { sameTyped, type OwnPageDocument, type OwnThing } from '../../core/links/own';
import { keyColumn, type Column, type Values } from '../../core/records/columns';
import { safeFileName } from '../../core/run/plan';
import { checkTries, inTurn, note, takeTry, triesOf } from '../access';
import { picturesNow } from '../lists';
import { makerOf } from '../outputs';
import {
  clock,
  baseAddress,
  bytesOf,
  type Database,
  drawnCode,
  fontsOf,
  heavy,
  provideReader,
  Refusal,
  placeOf,
} from '../platform';
import { noPageHere, plainPage, strangerPage } from '../links';

const withAddress = async (db: Database, token: string): Promise<string> =>
  `${await baseAddress(db)}/f/${token}`;

export async function viewOwnPage(db: Database, job: number): Promise<OwnPageView> {
  const row = await db
    .selectFrom('own_pages')
    .selectAll()
    .where('job_id', '=', job)
    .executeTakeFirst();
  return {
    page: row
      ? {
          address: await withAddress(db, row.token),
          document: row.document,
          version: row.version,
          fetched: row.fetched,
        }
      : null,
  };
}

/**
 * Sets what the page asks and what it gives.
 * @throws Refusal if it was changed in the meantime (409), asks for a missing column, or gives a
 *   piece that is a document
 */
export async function changeOwnPage(
  db: Database,
  job: number,
  { version, document }: { version: number; document: OwnPageDocument },
  actor: string,
): Promise<OwnPageView> {
  const of = await jobOf(db, job);
  if (document.asked.some((id) => !of.columns.some((c) => c.id === id)))
    throw new Refusal('A column that people enter no longer exists. Choose another.');
  if (document.gives.includes('piece') && groundOf(of.document.piece) !== 'stock')
    throw new Refusal(
      'People cannot get their document or PDF here yet, only what is printed on sheets. Let people get their code.',
    );
  const changedElsewhere = new Refusal(
    'Someone changed this in another window. You now see their version. Make your change again if you still want it.',
    409,
  );
  if (version === 0) {
    const { numInsertedOrUpdatedRows } = await db
      .insertInto('own_pages')
      .values({
        job_id: job,
        token: randomBytes(12).toString('base64url'),
        document: JSON.stringify(document),
        changed_by: actor,
      })
      .onConflict((c) => c.doNothing())
      .executeTakeFirstOrThrow();
    if (numInsertedOrUpdatedRows === 0n) throw changedElsewhere;
  } else {
    const { numUpdatedRows } = await db
      .updateTable('own_pages')
      .set((e) => ({
        document: JSON.stringify(document),
        version: e('version', '+', 1),
        changed_by: actor,
        changed_at: clock.date(),
      }))
      .where('job_id', '=', job)
      .where('version', '=', version)
      .executeTakeFirstOrThrow();
    if (numUpdatedRows === 0n) throw changedElsewhere;
  }
  return viewOwnPage(db, job);
}

interface JobOf {
  id: number;
  list: number;
  columns: Column[];
  document: JobDocument;
  version: number;
  revision: number;
}

async function jobOf(db: Database, id: number): Promise<JobOf> {
  const { stamps, document, ...row } = await db
    .selectFrom('jobs')
    .innerJoin('lists', 'lists.id', 'jobs.list_id')
    .select([
      'jobs.id',
      'jobs.version',
      'jobs.document',
      'lists.id as list',
      'lists.columns',
      'lists.stamps',
      'lists.revision',
    ])
    .where('jobs.id', '=', id)
    .executeTakeFirstOrThrow();
  return { ...row, document: { ...readJob(document), stamps } };
}

const closed = () =>
  plainPage(404, 'This page is closed at the moment', ['Please try again later.']);

const pageOfToken = (db: Database, token: string) =>
  db
    .selectFrom('own_pages')
    .select(['job_id', 'document'])
    .where('token', '=', token)
    .executeTakeFirst();

/** The page itself: a form without scripts. */
export async function ownPage(db: Database, token: string): Promise<Response> {
  const page = await pageOfToken(db, token);
  if (!page) return noPageHere();
  if (!page.document.open) return closed();
  return formPage(page.document, await jobOf(db, page.job_id));
}

const giveWords: Record<OwnThing, [button: string, of: string]> = {
  code: ['Download my code (PNG)', 'your code'],
  piece: ['Download to print (PDF)', 'what is made for you'],
};

function formPage(
  document: OwnPageDocument,
  { columns }: JobOf,
  said = '',
  status = 200,
): Response {
  const fields = document.asked
    .map((id, i) => {
      const name = escapedHtml(columns.find((c) => c.id === id)?.name ?? 'what you were given');
      return `<label>${name}<input name="a${i}" required maxlength="200" autocomplete="off" spellcheck="false"></label>`;
    })
    .join('');
  const buttons = document.gives
    .map((thing) => `<button name="as" value="${thing}">${giveWords[thing][0]}</button>`)
    .join(' ');
  const of = document.gives.map((thing) => giveWords[thing][1]).join(' and ');
  return strangerPage(
    document.title,
    `${said ? `<p role="alert"><b>${escapedHtml(said)}</b></p>` : ''}<p>Enter your details to get ${of}.</p><form method="post">${fields}<div>${buttons}</div></form>`,
    status,
  );
}

/** The same answer for wrong, unknown and impossible, so that a guess learns nothing. */
const notFoundWords = 'We found no match. Check the spelling, or ask the person who sent you here.';

/**
 * Wrong answers allowed in a quarter of an hour from one place, so that nobody tries out a list of
 * names. Right ones do not count: a hall full of guests has one address. After `many` at a page
 * from everywhere, each further place has `few`.
 */
const tries = { place: 30, many: 300, few: 3 };
const making = heavy(2, 40);

/**
 * Gives a person their own code, if they enter what only they know. @param number of the request,
 * for the journal
 */
export async function fetchOwn(
  db: Database,
  token: string,
  request: Request,
  number: string,
): Promise<Response> {
  const page = await pageOfToken(db, token);
  if (!page) return noPageHere();
  const { document } = page;
  if (!document.open) return closed();
  const job = await jobOf(db, page.job_id);
  const form = new URLSearchParams(
    (
      await bytesOf(
        request,
        16_384,
        () => new Refusal('This is more than a name and a number. Shorten it.', 413),
      )
    ).toString(),
  );
  const given = document.asked.map((_, i) => sameTyped(form.get(`a${i}`) ?? ''));
  const thing = document.gives.find((t) => t === form.get('as')) ?? document.gives[0]!;
  let record: Awaited<ReturnType<typeof recordOf>>;
  try {
    record = await recordFor(db, job, document.asked, given, {
      page: token,
      place: placeOf(request),
    });
  } catch (error) {
    if (error instanceof Refusal) return formPage(document, job, error.message, 429);
    throw error;
  }
  const made = record && (await making(() => makeOwn(db, job, record, thing)));
  await note(
    db,
    {
      person: undefined,
      what: made ? 'Got their own code' : 'Tried to get their own code; no match',
      about:
        job.document.stamps.length > 0 && record
          ? (record.values[keyColumn(job.columns)?.id ?? ''] ?? '')
          : '',
      list: job.list,
      job: job.id,
      request: number,
    },
    made ? 'done' : 'refused',
  );
  if (!made) return formPage(document, job, notFoundWords, 404);
  await db
    .updateTable('own_pages')
    .set((e) => ({ fetched: e('fetched', '+', 1) }))
    .where('job_id', '=', job.id)
    .execute();
  return new Response(Buffer.from(made.bytes), {
    headers: {
      'content-type': made.type,
      'content-disposition': `attachment; filename="${made.name}"`,
      'cache-control': 'no-store',
      'x-robots-tag': 'noindex, nofollow',
      'referrer-policy': 'no-referrer',
    },
  });
}

/** The record of the person who asks, unless there were too many wrong answers. @throws Refusal */
const recordFor = (
  db: Database,
  job: JobOf,
  asked: readonly string[],
  given: readonly string[],
  { page, place }: { page: string; place: string },
): ReturnType<typeof recordOf> =>
  inTurn(`fetch-own ${place}`, async () => {
    const many = (await triesOf(db, 'fetch-own-page', page)) >= tries.many;
    await checkTries(db, 'fetch-own', place, many ? tries.few : tries.place);
    const record = given.some((text) => text === '')
      ? undefined
      : await recordOf(db, job, asked, given);
    if (record) return record;
    await takeTry(db, 'fetch-own', place, Infinity);
    await takeTry(db, 'fetch-own-page', page, Infinity);
    return undefined;
  });

/**
 * The one record whose values equal all that was entered; undefined if there is none, or more than
 * one.
 */
async function recordOf(
  db: Database,
  job: JobOf,
  asked: readonly string[],
  given: readonly string[],
): Promise<{ id: number; values: Values } | undefined> {
  const rows = await db
    .selectFrom('records')
    .innerJoin('job_rows', 'job_rows.record_id', 'records.id')
    .select(['records.id', 'records.values'])
    .where('records.list_id', '=', job.list)
    .where('job_rows.job_id', '=', job.id)
    .where('job_rows.overall', '=', 'ready')
    .where((e) =>
      e.and(
        asked.map(
          (id, i) =>
            sql<boolean>`lower(regexp_replace(btrim(normalize(records.values->>${id}, NFC)), '\\s+',
              ' ', 'g')) = ${given[i]}`,
        ),
      ),
    )
    .limit(2)
    .execute();
  return rows.length === 1 ? rows[0] : undefined;
}

interface Made {
  bytes: Uint8Array;
  type: string;
  name: string;
}

/** The file for the person, its codes read back; undefined if one does not read. */
async function makeOwn(
  db: Database,
  job: JobOf,
  record: { values: Values },
  thing: OwnThing,
): Promise<Made | undefined> {
  const { document, columns } = job;
  const { values } = record;
  const name = safeFileName(values[keyColumn(columns)?.id ?? ''] || 'code');
  const ascii = name.replace(/[^\x20-\x7e]|["\\]/g, '_');
  const on = onGround(document.piece).stampsOn(document.piece);
  if (thing === 'code') {
    const stamp = document.stamps.find((s) => s.id === on[0]) ?? document.stamps[0];
    const made = stamp && (await drawnCode(stamp, values, 'png'));
    return made?.reads ? { bytes: made.bytes, type: 'image/png', name: `${ascii}.png` } : undefined;
  }
  provideReader();
  const frozen: FrozenRun = {
    ...document,
    columns,
    jobVersion: job.version,
    listRevision: job.revision,
    date: clock.date().toISOString(),
    output: { kind: 'pdf-each' },
  };
  const { parts, codes } = await makerOf('pdf-each').perRecord!(frozen, {
    seq: 0,
    name,
    values,
    fonts: fontsOf(document.piece, [values]),
    pictures: await picturesNow(db, job.list, document.piece, values),
  });
  return codes.every((code) => code.result === 'read')
    ? { bytes: parts[0]!.bytes, type: 'application/pdf', name: `${ascii}.pdf` }
    : undefined;
}
