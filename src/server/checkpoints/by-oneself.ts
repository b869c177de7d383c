import { randomUUID } from 'node:crypto';
import { sql } from 'kysely';
import type { ByOneselfView } from '../../contract';
import { escapedHtml } from '../../core/base/html';
import { answerTo } from '../../core/checkpoint/answer';
import {
  answerGiven,
  askedOf,
  longestAnswer,
  nobodyByOneself,
  type ByOneself,
  type Question,
} from '../../core/checkpoint/by-oneself';
import { isSecret, type Column, type Values } from '../../core/records/columns';
import { keepable } from '../../core/records/keepable';
import { holdsPages, joined as joinedParts, partsJoined } from '../../core/records/beginnings';
import { freeName } from '../../core/run/names';
import { checkTries, takeTry } from '../access';
import { changeColumn, editCells, keepWorkedColumn } from '../lists';
import { noPageHere, plainPage, strangerPage } from '../links';
import { changePages, startPages, viewPages } from '../pages';
import { clock, bytesOf, type Database, heavy, joined, Refusal, placeOf } from '../platform';
import {
  checkpointAt,
  clockWords,
  keyOf,
  shownOf,
  titleOf,
  type CheckpointAt,
  type Taken,
} from './rows';
import { before } from './scanning';

const pathOf = (checkpoint: number): string => `/in/${checkpoint}`;

/**
 * The column of the page addresses: those of the records' own pages; the check-in is one step
 * further.
 */
const addressColumn = (columns: readonly Column[], checkpoint: number): Column | undefined =>
  columns.find((c) => {
    const last = partsJoined(c.worked?.source)?.at(-1);
    return last?.kind === 'text' && last.text === pathOf(checkpoint);
  });

async function documentOf(db: Database, id: number): Promise<ByOneself> {
  const row = await db
    .selectFrom('checkpoints')
    .select('by_oneself')
    .where('id', '=', id)
    .executeTakeFirst();
  return row?.by_oneself ?? nobodyByOneself;
}

export async function viewByOneself(db: Database, id: number): Promise<ByOneselfView> {
  const at = await checkpointAt(db, id);
  const [first] = at.taken;
  const column = first && addressColumn(first.columns, id);
  const sample =
    first && column
      ? await sql<{ address: string }>`
          select values->>${column.id} as address from records where list_id = ${first.id}
            and values->>${column.id} <> '' order by position limit 1`.execute(db)
      : undefined;
  return {
    document: await documentOf(db, id),
    version: at.version,
    column: column?.name ?? null,
    sample: sample?.rows[0]?.address ?? null,
  };
}

/**
 * Sets whether and how people check in by themselves. Every person in the list then has an address,
 * and every question has a column.
 * @throws Refusal if it was changed in the meantime (409), or a question is not possible
 */
export async function changeByOneself(
  db: Database,
  id: number,
  { version, document }: { version: number; document: ByOneself },
  actor: string,
): Promise<ByOneselfView> {
  const at = await checkpointAt(db, id);
  const [first] = at.taken;
  if (!first)
    throw new Refusal(
      'The list of this checkpoint no longer exists. Choose another in its sentence.',
    );
  for (const { kind, choices, ask, only, column } of document.questions) {
    if (kind === 'choice' && choices.length < 2)
      throw new Refusal(`${ask}: enter at least two choices.`);
    const by = only && first.columns.find((c) => c.id === only.column);
    if (only && !by)
      throw new Refusal(
        `${ask}: the column that decides who is asked no longer exists. Choose another.`,
      );
    const of = column === null ? undefined : first.columns.find((c) => c.id === column);
    if (of?.worked)
      throw new Refusal(
        `${ask}: ${of.name} is a worked column and cannot hold answers. Choose another.`,
      );
  }
  if (at.version !== version) throw saidAnew();
  if (document.open) await startAddresses(db, id, first, actor);
  const questions: Question[] = [];
  for (const question of document.questions)
    questions.push({ ...question, column: await columnFor(db, first.id, question, actor) });
  const { numUpdatedRows } = await db
    .updateTable('checkpoints')
    .set((e) => ({
      by_oneself: JSON.stringify({ ...document, questions }),
      version: e('version', '+', 1),
    }))
    .where('id', '=', id)
    .where('version', '=', version)
    .executeTakeFirst();
  if (numUpdatedRows === 0n) throw saidAnew();
  return viewByOneself(db, id);
}
const saidAnew = () =>
  new Refusal(
    'Someone changed this in another window. You now see their version. Make your change again if you still want it.',
    409,
  );

/**
 * An address for each record: its own page, which shows nothing until somebody opens it, and the
 * check-in after it.
 */
async function startAddresses(
  db: Database,
  id: number,
  { id: list, columns }: Taken,
  actor: string,
): Promise<void> {
  if (addressColumn(columns, id)) return;
  const had = (await viewPages(db, list)).pages !== null;
  const { pages } = await startPages(db, list, actor);
  if (!had && pages)
    await changePages(
      db,
      list,
      { version: pages.version, document: { ...pages.document, open: false } },
      actor,
    );
  const now = await columnsOf(db, list);
  const page = now.find(holdsPages)!;
  await keepWorkedColumn(
    db,
    list,
    {
      name: freeName(
        'Check-in page',
        now.map((c) => c.name),
      ),
      worked: {
        source: joinedParts([
          { kind: 'column', column: page.id },
          { kind: 'text', text: pathOf(id) },
        ]),
        steps: [],
      },
    },
    actor,
    (later) => addressColumn(later, id)?.id,
  );
}

const columnsOf = async (db: Database, list: number): Promise<Column[]> =>
  (await db.selectFrom('lists').select('columns').where('id', '=', list).executeTakeFirstOrThrow())
    .columns;

/** The column of a question; created if missing. */
async function columnFor(
  db: Database,
  list: number,
  { column, ask }: Question,
  actor: string,
): Promise<string> {
  const columns = await columnsOf(db, list);
  if (column !== null && columns.some((c) => c.id === column)) return column;
  const name = freeName(
    ask.slice(0, 80),
    columns.map((c) => c.name),
  );
  await changeColumn(db, list, { does: 'add', name }, actor);
  return (await columnsOf(db, list)).find((c) => c.name === name)!.id;
}

interface Page {
  at: CheckpointAt;
  document: ByOneself;
  taken: Taken;
  record: number;
  values: Values;
}

async function pageAt(db: Database, page: string, checkpoint: number): Promise<Page | undefined> {
  if (!/^[A-Za-z0-9_-]{22}$/.test(page)) return undefined;
  const row = await db
    .selectFrom('record_pages as p')
    .innerJoin('records as r', 'r.id', 'p.record_id')
    .select(['r.id', 'r.list_id', 'r.values'])
    .where('p.id', '=', page)
    .executeTakeFirst();
  const there = await db
    .selectFrom('checkpoints')
    .select('by_oneself')
    .where('id', '=', checkpoint)
    .executeTakeFirst();
  if (!row || !there?.by_oneself) return undefined;
  const at = await checkpointAt(db, checkpoint);
  const [first] = at.taken;
  if (first?.id !== row.list_id) return undefined;
  return {
    at,
    document: there.by_oneself,
    taken: first,
    record: row.id,
    values: row.values,
  };
}

/** Why nobody can check in here now, in words; undefined if they can. */
function closedWords({ at, document }: Page, now: number): string | undefined {
  if (!document.open) return 'Check-in is closed at the moment.';
  const ends = [document.ends, at.rule.ends].flatMap((end) => (end ? [Date.parse(end)] : []));
  if (ends.some((end) => end <= now)) return 'Check-in has ended.';
  if (at.rule.opens && Date.parse(at.rule.opens) > now)
    return `Check-in opens at ${clockWords(Date.parse(at.rule.opens), now)}.`;
  return undefined;
}

/** The page of one person: a form without scripts, with their name and their earlier answers. */
export async function checkInPage(db: Database, id: string, checkpoint: number): Promise<Response> {
  const page = await pageAt(db, id, checkpoint);
  if (!page) return noPageHere();
  const closed = closedWords(page, clock.now());
  const done = await isIn(db, page);
  if (closed) return plainPage(404, closed.replace(/\.$/, ''), done ? ['You are checked in.'] : []);
  return formPage(page, { done });
}

async function isIn(db: Database, { at, record }: Page): Promise<boolean> {
  const { passes } = await before(db, at, randomUUID(), record);
  return (
    answerTo(
      { ...at.rule, often: at.rule.often === 'any' ? 'once' : at.rule.often },
      {
        kind: 'record',
        take: { ...at.taken[0]!.take, holds: [], genuine: false },
        values: {},
        columns: [],
        proven: true,
      },
      passes,
      clock.now(),
      at.name,
      String,
    ).answer === 'was-here'
  );
}

function field(question: Question, value: string): string {
  const { id, kind, ask, choices, needed } = question;
  const label = `${escapedHtml(ask)}${needed && kind !== 'tick' ? '' : ' <span class="small">if you like</span>'}`;
  const must = needed ? ' required' : '';
  if (kind === 'tick')
    return `<label class="tick"><span><input type="checkbox" name="${id}" value="yes"${same(value, 'yes') ? ' checked' : ''}> ${escapedHtml(ask)}</span></label>`;
  if (kind === 'choice')
    return `<label>${label}<select name="${id}"${must}><option value=""></option>${choices
      .map(
        (choice) => `<option${choice === value ? ' selected' : ''}>${escapedHtml(choice)}</option>`,
      )
      .join('')}</select></label>`;
  return `<label>${label}<input name="${id}" maxlength="${longestAnswer}"${kind === 'number' ? ' inputmode="decimal"' : ''}${must} value="${escapedHtml(value)}"></label>`;
}
const same = (a: string, b: string): boolean => a.trim().toLowerCase() === b;

const formStyle =
  '<style>select,input{font-weight:400!important}select{font:inherit;padding:10px 12px;border:1px solid #8b8c82;border-radius:3px;background:#fff;color:inherit}input[type=checkbox]{width:22px;height:22px;vertical-align:-4px}.tick{font-weight:400}.small{font-weight:400}</style>';

function formPage(
  page: Page,
  {
    done,
    wrong = [],
    typed,
  }: { done: boolean; wrong?: readonly string[]; typed?: URLSearchParams },
): Response {
  const { at, document, taken, values } = page;
  const { columns } = taken;
  const title = titleOf(columns, values);
  const questions = askedOf(document.questions, values, columns);
  if (done && !document.again && wrong.length === 0)
    return strangerPage(
      'Thank you',
      `<p>${escapedHtml(title)} is checked in at ${escapedHtml(at.name)}.</p>`,
    );
  const said = (question: Question) =>
    typed?.get(question.id) ?? (question.column === null ? '' : (values[question.column] ?? ''));
  return strangerPage(
    done ? 'You are checked in' : at.name,
    [
      formStyle,
      `<p><b>${escapedHtml(title)}</b>${shownOf(taken, values)
        .map(([, value]) => `<br>${escapedHtml(value)}`)
        .join('')}</p>`,
      document.words === '' ? '' : `<p>${escapedHtml(document.words)}</p>`,
      wrong.length === 0
        ? ''
        : `<div role="alert">${wrong.map((words) => `<p><b>${escapedHtml(words)}</b></p>`).join('')}</div>`,
      done && questions.length === 0
        ? '<p>Thank you. You are done.</p>'
        : `<form method="post">${questions.map((q) => field(q, said(q))).join('')}<div><button>${done ? 'Change my answers' : 'Check in'}</button></div></form>`,
    ].join(''),
    wrong.length > 0 ? 400 : 200,
  );
}

/**
 * In a quarter of an hour: requests from one place for pages that do not exist, and answers at one
 * page. A hall full of guests has one address, so valid requests do not count for the place.
 */
const tries = { place: 60, page: 20 };
/**
 * Answers are kept while the line of the tape is written, from connections of their own: not so
 * many that none finds one.
 */
const keeping = heavy(3, 100);

/** Accepts a person's form: they are in, the tape says so, and their answers are in the list. */
export async function checkInByOneself(
  db: Database,
  id: string,
  checkpoint: number,
  request: Request,
): Promise<Response> {
  const place = placeOf(request);
  let page: Awaited<ReturnType<typeof pageAt>>;
  try {
    await checkTries(db, 'check-in', place, tries.place);
    page = await pageAt(db, id, checkpoint);
    if (page) await takeTry(db, 'check-in-page', id, tries.page);
    else await takeTry(db, 'check-in', place, tries.place);
  } catch (error) {
    if (error instanceof Refusal) return plainPage(429, 'Too many attempts', [error.message]);
    throw error;
  }
  if (!page) return noPageHere();
  const form = new URLSearchParams(
    (
      await bytesOf(
        request,
        65_536,
        () => new Refusal('These answers are too long. Shorten them and send them again.', 413),
      )
    ).toString(),
  );
  const closed = closedWords(page, clock.now());
  if (closed) return plainPage(404, closed.replace(/\.$/, ''), []);
  const { at, document, taken, record, values } = page;
  const questions = askedOf(document.questions, values, taken.columns);
  const given = questions.map((question) => ({
    question,
    answer: answerGiven(question, keepable(form.get(question.id) ?? '')),
  }));
  const wrong = given.flatMap(({ answer }) => ('wrong' in answer ? [answer.wrong] : []));
  if (wrong.length > 0) return formPage(page, { done: await isIn(db, page), wrong, typed: form });
  const name = titleOf(taken.columns, values);
  const refused = await keeping(() =>
    db.transaction().execute(async (tx): Promise<string | undefined> => {
      await sql`select pg_advisory_xact_lock(hashtextextended(${`checkpoint ${at.circle} ${record}`},
        0))`.execute(tx);
      const key = randomUUID();
      const { passes } = await before(tx, at, key, record);
      const now = clock.now();
      const says = answerTo(
        at.rule,
        { kind: 'record', take: taken.take, values, columns: taken.columns, proven: true },
        passes,
        now,
        at.name,
        (time) => clockWords(time, now),
      );
      if (says.answer === 'not-now')
        return `You cannot check in now${says.why ? `: ${says.why}` : ''}. Please ask at the desk.`;
      if (says.answer === 'was-here' && !document.again)
        return 'You are already checked in. To change an answer, please ask at the desk.';
      const cells = given.flatMap(({ question, answer }) =>
        question.column !== null &&
        'value' in answer &&
        taken.columns.some((c) => c.id === question.column && !isSecret(c, taken.columns)) &&
        (values[question.column] ?? '') !== answer.value
          ? [{ record, column: question.column, value: answer.value }]
          : [],
      );
      if (cells.length > 0)
        await editCells(joined(tx), taken.id, cells, `${name}, on the check-in page`);
      await tx
        .insertInto('checkpoint_scans')
        .values({
          checkpoint_id: at.id,
          key,
          device_id: null,
          who: 'self check-in',
          how: 'page',
          at: new Date(now),
          answer: says.answer,
          why: says.answer === 'was-here' ? `${says.why}; changed their answers` : '',
          session: says.session,
          list_id: taken.id,
          record_id: record,
          title: name,
          record_key: keyOf(taken.columns, values),
        })
        .execute();
      return undefined;
    }),
  );
  if (refused) return plainPage(409, 'Not checked in', [refused]);
  return new Response(null, {
    status: 303,
    headers: { location: `/r/${id}${pathOf(checkpoint)}` },
  });
}
