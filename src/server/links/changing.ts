import { randomInt, randomUUID } from 'node:crypto';
import { sql } from 'kysely';
import type { z } from 'zod';
import type { chosenLinksSchema, LinkChange } from '../../contract';
import { linkAddress, newLinkCode, tidyCode, type LinkFor } from '../../core/links/code';
import { leadsTrouble, type Leads } from '../../core/links/leading';
import { columnsIn } from '../../core/records/parts';
import { type Database, ourAddresses, ourHosts, Refusal } from '../platform';
import { hostsOf } from './rows';
import { chosen } from './views';

/** @throws Refusal in words if a link cannot lead there */
function checkLeads(leads: Leads, hosts: ReadonlySet<string>): void {
  const trouble = leadsTrouble(leads, hosts);
  if (trouble) throw new Refusal([trouble.message, trouble.mend].filter(Boolean).join(' '));
}

const fixed = (to: string): Leads => ({ parts: [{ kind: 'text', text: to.trim() }] });

/** Makes a link by itself. */
export async function makeLink(
  db: Database,
  { title, to, for: whom }: { title: string; to: string; for: LinkFor },
  actor: string,
): Promise<{ code: string; address: string }> {
  const addresses = await ourAddresses(db);
  checkLeads(fixed(to), ourHosts(addresses));
  for (;;) {
    const code = newLinkCode(whom, (most) => randomInt(most));
    const { numInsertedOrUpdatedRows } = await db
      .insertInto('links')
      .values({ code, title, leads: JSON.stringify(fixed(to)), created_by: actor })
      .onConflict((c) => c.doNothing())
      .executeTakeFirstOrThrow();
    if (numInsertedOrUpdatedRows === 1n)
      return { code, address: linkAddress(addresses.links, code) };
  }
}

/** The columns of the table that a change says something of. */
const kept = ['leads', 'state', 'opens', 'ends', 'after', 'peeks', 'title'] as const;

/**
 * Changes links in one step that can be undone. Withdrawn links stay withdrawn.
 * @throws Refusal if a link would lead in a circle, or uses columns it does not have
 */
export async function changeLinks(
  db: Database,
  links: z.output<typeof chosenLinksSchema>,
  change: LinkChange,
  actor: string,
): Promise<{ batch: string; changed: number }> {
  const said = kept.filter((field) => change[field] !== undefined);
  if (said.length === 0) throw new Refusal('Nothing was changed: the links are already like that.');
  const hosts = await hostsOf(db);
  if (change.leads) checkLeads(change.leads, hosts);
  if (change.after) checkLeads(fixed(change.after), hosts);
  if (change.opens && change.ends && change.opens > change.ends)
    throw new Refusal('The end is before the start. Swap the two days.');
  const which =
    'codes' in links
      ? sql`l.code = any(${links.codes.map(tidyCode)}::text[])`
      : chosen(links.all, 'editor');
  const batch = randomUUID();
  const changed = await db.transaction().execute(async (tx) => {
    const held = await sql<{
      code: string;
      list_id: number | null;
      alone: boolean;
      opens: string | null;
      ends: string | null;
    }>`
      select l.code, l.list_id, l.set_id is null as alone, l.opens, l.ends from links l
      where ${which} and l.state <> 'withdrawn' order by l.code for update`.execute(tx);
    const codes = held.rows.map((row) => row.code);
    if (codes.length === 0) return 0;
    await checkColumns(tx, change.leads ?? null, held.rows);
    if (change.leads === null && held.rows.some((row) => row.alone))
      throw new Refusal('A single link has no record to follow. Enter where it leads.');
    if (
      held.rows.some((row) => {
        const opens = change.opens === undefined ? row.opens : change.opens;
        const ends = change.ends === undefined ? row.ends : change.ends;
        return opens !== null && ends !== null && opens > ends;
      })
    )
      throw new Refusal('For one of them the end would be before the start. Check its days first.');
    const before = sql.join(said.flatMap((f) => [sql`${f}::text`, sql.ref(`l.${f}`)]));
    const after = JSON.stringify(Object.fromEntries(said.map((f) => [f, change[f]])));
    await sql`
      insert into link_changes (code, batch, before, after, changed_by)
      select l.code, ${batch}::uuid, json_build_object(${before}), ${after}::json, ${actor}
        from links l where l.code = any(${codes}::text[])`.execute(tx);
    await tx
      .updateTable('links')
      .set({
        ...Object.fromEntries(
          said.map((f) => [
            f,
            f === 'leads' && change.leads ? JSON.stringify(change.leads) : change[f],
          ]),
        ),
        // the result of the check belongs to the earlier target
        ...(said.includes('leads') ? { answered: null, asked_at: null } : {}),
      })
      .where(sql<boolean>`code = any(${codes}::text[])`)
      .execute();
    return codes.length;
  });
  if (changed === 0)
    throw new Refusal(
      'None of these links can be changed: they are withdrawn or were deleted. Choose others.',
      409,
    );
  return { batch, changed };
}

async function checkColumns(
  tx: Database,
  leads: Leads | null,
  links: readonly { list_id: number | null }[],
): Promise<void> {
  const used = leads ? columnsIn(leads.parts) : [];
  if (used.length === 0) return;
  const lists = new Set(links.map((link) => link.list_id));
  if (lists.size > 1 || lists.has(null))
    throw new Refusal(
      'These links belong to different lists, so they share no columns. Choose links of one list, or enter a web address.',
    );
  const list = await tx
    .selectFrom('lists')
    .select('columns')
    .where('id', '=', [...lists][0]!)
    .executeTakeFirstOrThrow();
  if (used.some((id) => !list.columns.some((c) => c.id === id)))
    throw new Refusal('A column in it no longer exists. Choose another.');
}

/**
 * Undoes a change in every link that is still as the change left it. A withdrawal cannot be undone.
 */
export async function undoLinks(
  db: Database,
  batch: string,
  actor: string,
): Promise<{ undone: number; left: number }> {
  return db.transaction().execute(async (tx) => {
    const { rows } = await sql<{
      id: number;
      code: string;
      before: Record<string, unknown>;
      after: Record<string, unknown>;
      now: Record<string, unknown>;
    }>`
      select c.id, c.code, c.before, c.after,
        json_build_object('leads', l.leads, 'state', l.state, 'opens', l.opens, 'ends', l.ends,
          'after', l.after, 'peeks', l.peeks, 'title', l.title) as now
      from link_changes c join links l on l.code = c.code
        where c.batch = ${batch}::uuid and not c.undone order by c.code
        for update of l, c`.execute(tx);
    if (rows.length === 0)
      throw new Refusal(
        'This change was already undone, or no longer exists. Reload the page.',
        409,
      );
    const same = (a: unknown, b: unknown) =>
      JSON.stringify(a ?? null) === JSON.stringify(b ?? null);
    const back = rows.filter(
      ({ after, now }) =>
        after.state !== 'withdrawn' && Object.keys(after).every((f) => same(now[f], after[f])),
    );
    if (back.length === 0)
      throw new Refusal(
        rows.every((row) => row.after.state === 'withdrawn')
          ? 'A withdrawn link stays withdrawn.'
          : 'The link was changed again since, so it stays as it is. Change it by hand.',
        409,
      );
    for (const { id, code, before } of back) {
      await tx
        .updateTable('links')
        .set({
          ...Object.fromEntries(
            Object.entries(before).map(([f, value]) => [
              f,
              f === 'leads' && value ? JSON.stringify(value) : value,
            ]),
          ),
          ...('leads' in before ? { answered: null, asked_at: null } : {}),
        })
        .where('code', '=', code)
        .execute();
      await tx.updateTable('link_changes').set({ undone: true }).where('id', '=', id).execute();
    }
    const again = randomUUID();
    for (const { code, before, after } of back)
      await tx
        .insertInto('link_changes')
        .values({
          code,
          batch: again,
          before: JSON.stringify(after),
          after: JSON.stringify(before),
          changed_by: actor,
          undone: true,
        })
        .execute();
    return { undone: back.length, left: rows.length - back.length };
  });
}

/** Marks the links in the codes of a run as printed, as far as the codes read back. */
export async function markLinksPrinted(tx: Database, run: number): Promise<void> {
  await sql`
    update links l set printed_at = now() from (
      select distinct substring(payload
        from '/([2-9B-HJ-NP-TV-Z]{9}|[2-9B-HJ-NP-TV-Z]{13})$') as code
      from receipts where run_id = ${run} and result = 'read') c where c.code = l.code`.execute(tx);
}
