import { sql } from 'kysely';
import {
  leadingOf,
  type Leading,
  type Leads,
  type LinkRule,
  type LinkState,
} from '../../core/links/leading';
import { isSecret, type Column, type Values } from '../../core/records/columns';
import { dots } from '../../core/records/sealed';
import { columnsIn } from '../../core/records/parts';
import type { DoorState } from '../../core/payload/door';
import { clock, type Database, ourAddresses, ourHosts } from '../platform';

/** A link with everything that decides where it leads. */
export interface LinkWithRecord extends LinkRule {
  code: string;
  title: string;
  set_leads: Leads | null;
  values: Values | null;
  columns: Column[] | null;
  scans: number;
  printed_at: Date | null;
  answered: DoorState | null;
}

const two = (n: number) => String(n).padStart(2, '0');

/** A day in the calendar of the server, such as `2026-11-23`. */
export const dayOf = (at: Date): string =>
  `${at.getFullYear()}-${two(at.getMonth() + 1)}-${two(at.getDate())}`;

/** Of the links that `which` picks out, in the order of `which`. */
export const linkRows = sql`
  l.code, l.title, l.leads, l.state, l.opens, l.ends, l.after, l.peeks, l.scans, l.printed_at,
    l.answered,
  s.leads as set_leads, r.values, li.columns
  from links l left join link_sets s on s.id = l.set_id left join records r on r.id = l.record_id
    left join lists li on li.id = l.list_id`;

/** A link by itself that was given no address leads nowhere. */
const nothing: Leads = { parts: [{ kind: 'text', text: '' }] };

/** Where a link leads today. */
export const leadingNow = (
  link: Pick<LinkWithRecord, 'leads' | 'set_leads' | 'values'> & {
    state: LinkState;
    opens: string | null;
    ends: string | null;
    after: string | null;
  },
  hosts: ReadonlySet<string>,
  now = clock.date(),
): Leading =>
  leadingOf(link, link.leads ?? link.set_leads ?? nothing, link.values, dayOf(now), hosts);

/** The same as a person may see it: for viewers, secrets in an address are dots. */
export function shownLeading(link: LinkWithRecord, leading: Leading, all: boolean): Leading {
  if (all || leading.kind !== 'leads' || !link.columns) return leading;
  const { columns } = link;
  const made = columnsIn((link.leads ?? link.set_leads ?? nothing).parts);
  return columns.some((c) => made.includes(c.id) && isSecret(c, columns))
    ? { kind: 'leads', to: dots }
    : leading;
}

export const hostsOf = async (db: Database): Promise<Set<string>> =>
  ourHosts(await ourAddresses(db));
