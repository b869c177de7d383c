import { createHash } from 'node:crypto';
import { sql } from 'kysely';
import type { z } from 'zod';
import type { apiLinkSchema, apiListSchema, apiRunSchema, ApiRecord } from '../../contract';
import { contentOf, type Stamp } from '../../core/payload/stamp';
import { saysSecret } from '../../core/payload/secrets';
import type { LinkState } from '../../core/links/leading';
import { linkAddress, pictureAddress, tidyCode } from '../../core/links/code';
import { isSecret, type Column, type Values } from '../../core/records/columns';
import { isKeepable } from '../../core/records/keepable';
import { holdsPages } from '../../core/records/beginnings';
import type { Caller } from '../access';
import { changeLinks, givePictures, linksAfter, makeLink, viewLink } from '../links';
import { addRecords, checkAllThere, editCells, removeRecords } from '../lists';
import {
  baseAddress,
  bytesOf,
  type Database,
  drawnCode,
  joined,
  ourAddresses,
  Refusal,
} from '../platform';
import { runFileFor, startRun, viewRun } from '../runs';

/** The lists of a key. */
const ofCaller = ({ list }: Caller) =>
  list === null ? sql<boolean>`true` : sql<boolean>`l.id = ${list}`;
const seesSecrets = ({ rights }: Caller): boolean => rights.includes('secrets');

export async function apiLists(
  db: Database,
  caller: Caller,
): Promise<z.infer<typeof apiListSchema>[]> {
  const { rows } = await sql<{
    id: number;
    name: string;
    columns: Column[];
    records: number;
    jobs: { id: number; name: string }[] | null;
  }>`
    select l.id, l.name, l.columns,
      (select count(*)::int from records r where r.list_id = l.id) as records,
      (select json_agg(json_build_object('id', j.id, 'name', j.name) order by j.id) from jobs j
        where j.list_id = l.id) as jobs
    from lists l where ${ofCaller(caller)} order by l.id`.execute(db);
  return rows.map(({ columns, jobs, ...row }) => ({
    ...row,
    columns: columns.map((c) => ({
      name: c.name,
      role: c.role,
      worked: c.worked !== undefined,
      secret: isSecret(c, columns),
    })),
    jobs: jobs ?? [],
  }));
}

interface ListOf {
  id: number;
  columns: Column[];
  stamps: Stamp[];
}
const listOf = (db: Database, id: number): Promise<ListOf> =>
  db
    .selectFrom('lists')
    .select(['id', 'columns', 'stamps'])
    .where('id', '=', id)
    .executeTakeFirstOrThrow();

interface Row {
  id: number;
  position: number;
  values: Values;
}

/** Records as programs see them. A record without a picture address gets one. */
async function told(
  db: Database,
  list: ListOf,
  rows: readonly Row[],
  caller: Caller,
): Promise<ApiRecord[]> {
  const all = seesSecrets(caller);
  const { columns, stamps } = list;
  const shown = columns.filter((c) => all || !isSecret(c, columns));
  const page = columns.find(holdsPages);
  const first = stamps[0];
  // a picture reveals what its code says
  const pictures =
    first && (all || !saysSecret(first, columns))
      ? await givePictures(
          db,
          list.id,
          first.id,
          rows.map((r) => r.id),
          `the key ${caller.name}`,
        )
      : new Map<number, string>();
  const base = await baseAddress(db);
  return rows.map(({ id, position, values }) => {
    const token = pictures.get(id);
    return {
      id,
      list: list.id,
      number: position + 1,
      values: Object.fromEntries(shown.map((c) => [c.name, values[c.id] ?? ''])),
      page: (page && values[page.id]) || null,
      picture: token ? pictureAddress(base, token) : null,
      codes: stamps.map((stamp) => {
        const content = contentOf(stamp, values);
        return {
          stamp: stamp.id,
          name: stamp.name,
          symbology: stamp.symbology,
          payload:
            content.state === 'said' && (all || !saysSecret(stamp, columns))
              ? content.payload
              : null,
        };
      }),
    };
  });
}

/** Tells two states of a record apart (RFC 9110, 8.8.3). */
export const tagOf = (record: ApiRecord): string => hashTag([record.id, record.values]);

const hashTag = (value: unknown): string =>
  `"${createHash('sha256').update(JSON.stringify(value)).digest('base64url').slice(0, 22)}"`;

/** Scans do not change it: no change is based on them. */
export const linkTagOf = (link: z.infer<typeof apiLinkSchema>): string =>
  hashTag({ ...link, scans: 0 });

const writeCursor = (place: string): string => Buffer.from(place).toString('base64url');

/** @throws Refusal if we did not give this cursor */
function readCursor(cursor: string, form: RegExp): string {
  const place = Buffer.from(cursor, 'base64url').toString();
  if (!form.test(place)) throw new Refusal('This cursor is not valid. Start without a cursor.');
  return place;
}

export async function apiRecords(
  db: Database,
  caller: Caller,
  id: number,
  { cursor, limit }: { cursor?: string; limit: number },
): Promise<{ records: ApiRecord[]; next: string | null }> {
  const after = cursor === undefined ? -1 : Number(readCursor(cursor, /^\d{1,9}$/));
  const list = await listOf(db, id);
  const rows = await db
    .selectFrom('records')
    .select(['id', 'position', 'values'])
    .where('list_id', '=', id)
    .where('position', '>', after)
    .orderBy('position')
    .limit(limit)
    .execute();
  const last = rows.at(-1);
  return {
    records: await told(db, list, rows, caller),
    next: rows.length === limit && last ? writeCursor(String(last.position)) : null,
  };
}

export async function apiRecord(
  db: Database,
  caller: Caller,
  id: number,
  record: number,
): Promise<ApiRecord> {
  const list = await listOf(db, id);
  const row = await db
    .selectFrom('records')
    .select(['id', 'position', 'values'])
    .where('list_id', '=', id)
    .where('id', '=', record)
    .executeTakeFirst();
  if (!row)
    throw new Refusal('This record does not exist in this list. It may have been deleted.', 404);
  return (await told(db, list, [row], caller))[0]!;
}

/**
 * Values by column name as values by id. @throws Refusal for a column that does not exist, is
 * calculated, or is secret to the key
 */
function byIds(
  columns: readonly Column[],
  values: Readonly<Record<string, string>>,
  caller: Caller,
): Record<string, string> {
  const out: Record<string, string> = {};
  for (const [name, value] of Object.entries(values)) {
    const column = columns.find((c) => c.name.toLowerCase() === name.trim().toLowerCase());
    if (!column)
      throw new Refusal(
        `There is no column “${name}”. There are ${columns
          .filter((c) => !c.worked)
          .map((c) => c.name)
          .join(', ')}.`,
      );
    if (column.worked)
      throw new Refusal(
        `${column.name} is worked out from other columns, so you cannot write it. Write those columns.`,
      );
    if (isSecret(column, columns) && !seesSecrets(caller))
      throw new Refusal(
        `${column.name} is secret, and this API key may not see secrets. Ask an administrator for a key that may.`,
        403,
      );
    out[column.id] = value;
  }
  return out;
}

const actorOf = (caller: Caller): string => `the key ${caller.name}`;

/**
 * “A code for every record when it is created”, in one answer: the record, its page, its picture
 * and the contents of its codes.
 */
export async function apiCreateRecord(
  db: Database,
  caller: Caller,
  id: number,
  values: Readonly<Record<string, string>>,
): Promise<ApiRecord> {
  const { columns } = await listOf(db, id);
  const [record] = await addRecords(db, id, [byIds(columns, values, caller)], actorOf(caller));
  return apiRecord(db, caller, id, record!);
}

const mostLines = 10_000;

/**
 * Many records, one JSON object to a line; all of them or none. @throws Refusal that says which
 * line is wrong
 */
export async function apiCreateRecords(
  db: Database,
  caller: Caller,
  id: number,
  request: Request,
): Promise<number[]> {
  const text = (
    await bytesOf(
      request,
      32 * 2 ** 20,
      () => new Refusal('This is more than 32 MB. Send it in parts.', 413),
    )
  ).toString();
  const lines = text.split('\n').filter((line) => line.trim() !== '');
  if (lines.length === 0)
    throw new Refusal('There are no records in it. Send one JSON object per line.');
  if (lines.length > mostLines)
    throw new Refusal(
      `These are ${lines.length.toLocaleString('en')} records; 10,000 is the most at once. Send them in parts.`,
      413,
    );
  const { columns } = await listOf(db, id);
  const rows = lines.map((line, i) => {
    let parsed: unknown;
    try {
      parsed = JSON.parse(line);
    } catch {
      throw new Refusal(`Line ${i + 1} is not a JSON object. Nothing was created.`);
    }
    if (
      typeof parsed !== 'object' ||
      parsed === null ||
      Array.isArray(parsed) ||
      !Object.values(parsed).every(
        (v) => typeof v === 'string' && v.length <= 20_000 && isKeepable(v),
      )
    )
      throw new Refusal(
        `Line ${i + 1} is not an object whose values are texts of up to 20,000 characters. Nothing was created.`,
      );
    try {
      return byIds(columns, parsed as Record<string, string>, caller);
    } catch (error) {
      if (error instanceof Refusal)
        throw new Refusal(`Line ${i + 1}: ${error.message} Nothing was created.`, error.status);
      throw error;
    }
  });
  return addRecords(db, id, rows, actorOf(caller));
}

/** @throws Refusal 412 if something is not as `If-Match` says (RFC 9110) */
function checkMatch(tag: string, match: string | null, what: string): void {
  if (match === null || match.trim() === '*') return;
  const tags = match.trim().split(/\s*,\s*/);
  if (!tags.includes(tag))
    throw new Refusal(
      `The ${what} was changed since you read it. Read it again, and make your change on that.`,
      412,
    );
}

export async function apiChangeRecord(
  db: Database,
  caller: Caller,
  id: number,
  record: number,
  values: Readonly<Record<string, string>>,
  match: string | null,
): Promise<ApiRecord> {
  return unchanged(db, id, async (tx) => {
    const { columns } = await listOf(tx, id);
    const next = byIds(columns, values, caller);
    checkMatch(tagOf(await apiRecord(tx, caller, id, record)), match, 'record');
    await editCells(
      tx,
      id,
      Object.entries(next).map(([column, value]) => ({ record, column, value })),
      actorOf(caller),
    );
    return apiRecord(tx, caller, id, record);
  });
}

/**
 * Does something while nobody else changes a list, so that the state that was compared with
 * `If-Match` is the one that is changed.
 */
const unchanged = <T>(db: Database, list: number, work: (tx: Database) => Promise<T>): Promise<T> =>
  db.transaction().execute(async (tx) => {
    await tx.selectFrom('lists').select('id').where('id', '=', list).forUpdate().execute();
    return work(joined(tx));
  });

export async function apiRemoveRecord(
  db: Database,
  caller: Caller,
  id: number,
  record: number,
  match: string | null,
): Promise<void> {
  await unchanged(db, id, async (tx) => {
    checkMatch(tagOf(await apiRecord(tx, caller, id, record)), match, 'record');
    await removeRecords(tx, id, [record], actorOf(caller));
  });
}

/**
 * The code of a record as a picture. @throws Refusal if the record has none, it is secret to the
 * key, or it does not read back
 */
export async function apiCode(
  db: Database,
  caller: Caller,
  id: number,
  record: number,
  { stamp: wanted, format }: { stamp?: string; format: 'svg' | 'png' },
): Promise<Uint8Array> {
  const { columns, stamps } = await listOf(db, id);
  const row = await db
    .selectFrom('records')
    .select('values')
    .where('list_id', '=', id)
    .where('id', '=', record)
    .executeTakeFirst();
  if (!row)
    throw new Refusal('This record does not exist in this list. It may have been deleted.', 404);
  const stamp = wanted === undefined ? stamps[0] : stamps.find((s) => s.id === wanted);
  if (!stamp) throw new Refusal('The list has no such stamp. Check its id.', 404);
  if (saysSecret(stamp, columns) && !seesSecrets(caller))
    throw new Refusal(
      'This code says something secret, and this API key may not see secrets. Ask an administrator for a key that may.',
      403,
    );
  const content = contentOf(stamp, row.values);
  if (content.state !== 'said')
    throw new Refusal(
      'This record has no code: a value it needs is blank, or does not fit the code type. Change the value, then ask again.',
      404,
    );
  const made = await drawnCode(stamp, row.values, format);
  if (!made?.reads)
    throw new Refusal(
      'The code of this record does not read back, so it is not returned. Change its look in the stamp.',
      409,
    );
  return made.bytes;
}

export async function apiJobs(
  db: Database,
  caller: Caller,
): Promise<{ id: number; name: string; list: number }[]> {
  return db
    .selectFrom('jobs')
    .select(['id', 'name', 'list_id as list'])
    .where(caller.list === null ? sql<boolean>`true` : sql<boolean>`list_id = ${caller.list}`)
    .orderBy('id')
    .execute();
}

/** A job with its latest runs. */
export async function apiJob(db: Database, id: number) {
  const job = await db
    .selectFrom('jobs')
    .select(['id', 'name', 'list_id as list'])
    .where('id', '=', id)
    .executeTakeFirstOrThrow();
  const runs = await db
    .selectFrom('runs')
    .select(['id', 'name', 'state', 'finished_at'])
    .where('job_id', '=', id)
    .orderBy('id', 'desc')
    .limit(100)
    .execute();
  return {
    ...job,
    runs: runs.map(({ finished_at, ...run }) => ({
      ...run,
      finished: finished_at?.toISOString() ?? null,
    })),
  };
}

export async function apiRun(db: Database, id: number): Promise<z.infer<typeof apiRunSchema>> {
  const { name, state, pieces, made, read, failed, error, finished, files } = await viewRun(db, id);
  return {
    id,
    name,
    state,
    pieces,
    made,
    read,
    failed,
    error,
    finished,
    files: files.map((file) => ({ id: file.id, name: file.name, size: file.size })),
  };
}

export async function apiStartRun(
  db: Database,
  caller: Caller,
  job: number,
  { name, records }: { name: string; records?: number[] },
): Promise<z.infer<typeof apiRunSchema>> {
  if (records) {
    const { list_id } = await db
      .selectFrom('jobs')
      .select('list_id')
      .where('id', '=', job)
      .executeTakeFirstOrThrow();
    await checkAllThere(db, list_id, records);
  }
  const id = await startRun(
    db,
    job,
    records ? { name, which: 'ticked', ticked: records } : { name, which: 'ready', ticked: [] },
    actorOf(caller),
  );
  return apiRun(db, id);
}

/**
 * The headers of a file of a run. @throws Refusal if the file is not of that run, or contains a
 * secret that the key may not see
 */
export async function apiRunFile(db: Database, caller: Caller, run: number, file: number) {
  const of = await db
    .selectFrom('files')
    .select('run_id')
    .where('id', '=', file)
    .executeTakeFirst();
  if (of?.run_id !== run) throw new Refusal('The run has no such file. Check its number.', 404);
  return runFileFor(db, file, seesSecrets(caller) ? 'editor' : 'viewer');
}

/**
 * A link that a key may see: of its list, and not for one person if the key may not see secrets.
 */
export async function apiLink(
  db: Database,
  caller: Caller,
  code: string,
): Promise<z.infer<typeof apiLinkSchema>> {
  const link = await viewLink(db, code, seesSecrets(caller) ? 'editor' : 'viewer');
  if (caller.list !== null && link.list?.id !== caller.list)
    throw new Refusal('This link does not exist. Check its code.', 404);
  return {
    code: link.code,
    address: link.address,
    title: link.title,
    state: link.rule.state,
    leads: link.leading.kind === 'leads' ? link.leading.to : null,
    scans: link.scans,
  };
}

export async function apiMakeLink(
  db: Database,
  caller: Caller,
  wanted: { title: string; to: string },
): Promise<z.infer<typeof apiLinkSchema>> {
  if (caller.list !== null)
    throw new Refusal(
      'This API key is for one list, and a single link belongs to no list. Use a key for all lists.',
      403,
    );
  const { code } = await makeLink(db, { ...wanted, for: 'anyone' }, actorOf(caller));
  return apiLink(db, caller, code);
}

export async function apiChangeLink(
  db: Database,
  caller: Caller,
  code: string,
  { to, state }: { to?: string; state?: LinkState },
  match: string | null,
): Promise<z.infer<typeof apiLinkSchema>> {
  return db.transaction().execute(async (tx) => {
    await tx
      .selectFrom('links')
      .select('code')
      .where('code', '=', tidyCode(code))
      .forUpdate()
      .execute();
    return changeLink(joined(tx), caller, code, { to, state }, match);
  });
}

async function changeLink(
  db: Database,
  caller: Caller,
  code: string,
  { to, state }: { to?: string; state?: LinkState },
  match: string | null,
): Promise<z.infer<typeof apiLinkSchema>> {
  const link = await apiLink(db, caller, code);
  checkMatch(linkTagOf(link), match, 'link');
  await changeLinks(
    db,
    { codes: [link.code] },
    {
      ...(to === undefined ? {} : { leads: { parts: [{ kind: 'text', text: to }] } }),
      ...(state === undefined ? {} : { state }),
    },
    actorOf(caller),
  );
  return apiLink(db, caller, code);
}

export async function apiLinks(
  db: Database,
  caller: Caller,
  list: number,
  { cursor, limit }: { cursor?: string; limit: number },
) {
  const [rows, { links: base }] = await Promise.all([
    linksAfter(
      db,
      { list, after: cursor === undefined ? '' : readCursor(cursor, /^[2-9A-Z]{9,13}$/), limit },
      seesSecrets(caller) ? 'editor' : 'viewer',
    ),
    ourAddresses(db),
  ]);
  return {
    links: rows.map((row) => ({
      code: row.code,
      address: linkAddress(base, row.code),
      title: row.title,
      leads: row.leading.kind === 'leads' ? row.leading.to : null,
      scans: row.scans,
    })),
    next: rows.length === limit ? writeCursor(rows.at(-1)!.code) : null,
  };
}
