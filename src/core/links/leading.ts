import { trimmedEnd } from '../base/trim';
import * as z from 'zod';
import { writtenAddress } from '../payload/address';
import { partSchema, saidOf } from '../records/parts';
import type { Values } from '../records/columns';
import { EncodeError } from '../symbology';
import { isLinkCode, tidyCode } from './code';

/**
 * The target of a link: text and columns of its record; or text alone, which is a fixed address.
 */
export const leadsSchema = z.object({
  parts: z.array(partSchema).min(1).max(40),
  spaces: z.enum(['percent', 'plus']).optional(),
});
export type Leads = z.infer<typeof leadsSchema>;

export const linkStates = ['open', 'paused', 'withdrawn'] as const;
export type LinkState = (typeof linkStates)[number];

const daySchema = z.iso.date('Write the day as 2026-11-23.');

/** What can be changed of a link after it was printed. */
export const linkRuleSchema = z.object({
  /** Its own target; null if it follows its column. */
  leads: leadsSchema.nullable(),
  state: z.enum(linkStates),
  /** First day on which it leads anywhere, and the last; in the calendar of the server. */
  opens: daySchema.nullable(),
  ends: daySchema.nullable(),
  /** Where it leads after its last day. */
  after: z.string().max(2000).nullable(),
  /** People who follow it see first where it leads. */
  peeks: z.boolean(),
});
export type LinkRule = z.infer<typeof linkRuleSchema>;

export const openRule: LinkRule = {
  leads: null,
  state: 'open',
  opens: null,
  ends: null,
  after: null,
  peeks: false,
};

export type Leading =
  | { kind: 'leads'; to: string }
  | { kind: 'paused' | 'withdrawn' | 'ended' }
  /** On which day it begins. */
  | { kind: 'not-yet'; opens: string }
  /**
   * Its record is gone; something it is made of is blank; what it comes to is no address; or it
   * comes back to a link of ours.
   */
  | { kind: 'nowhere'; why: 'gone' | 'blank' | 'no-address' | 'ring' };

/** An address that a phone can open, as it is written down. @throws EncodeError in words */
function webAddress(text: string): string {
  const address = writtenAddress(text.trim());
  if (!/^https?:\/\/[^/?#\s]/i.test(address) || !URL.canParse(address))
    throw new EncodeError('character', 'A link needs a web address with http:// or https://.', {
      mend: 'Put https:// in front.',
    });
  return address;
}

/**
 * Whether an address is one of our links, in whatever way it is written. @param ours hosts of our
 * links, in lower case
 */
export function isOurLink(address: string, ours: ReadonlySet<string>): boolean {
  if (!URL.canParse(address)) return false;
  const { host, pathname } = new URL(address);
  let path = pathname;
  try {
    path = decodeURIComponent(pathname);
  } catch {
    // as it is written then
  }
  const last = trimmedEnd(path.replace(/\/preview\/?$/, ''), '/')
    .split('/')
    .at(-1)!;
  return ours.has(host.toLowerCase()) && isLinkCode(tidyCode(last));
}

/**
 * What is wrong with the target of a link, as far as it shows without a record; undefined if
 * nothing is.
 */
export function leadsTrouble(
  { parts }: Leads,
  ours: ReadonlySet<string>,
): { message: string; mend?: string } | undefined {
  if (parts.every((part) => part.kind === 'text')) {
    try {
      const address = webAddress(parts.map((part) => part.text).join(''));
      return isOurLink(address, ours)
        ? {
            message:
              'This is a link of this Hand Stamp, so it would lead in a circle. Enter the address of the page.',
            mend: 'Enter the web address it leads to.',
          }
        : undefined;
    } catch (error) {
      if (!(error instanceof EncodeError)) throw error;
      return { message: error.message, mend: error.mend };
    }
  }
  return undefined;
}

/** The target of a link for a record, before any check; undefined if a value it needs is blank. */
function addressFor({ parts, spaces }: Leads, values: Values | null): string | undefined {
  const said = saidOf(parts, values ?? {}, { address: true, spaces });
  return said.blank.length > 0 || !said.any ? undefined : said.text;
}

/**
 * Where a link leads.
 * @param leads its own target, or that of its column
 * @param values of its record; null if it was deleted, or there never was one
 * @param today in the calendar of the server, such as `2026-11-23`
 * @param ours hosts of our links
 */
export function leadingOf(
  rule: Omit<LinkRule, 'leads' | 'peeks'>,
  leads: Leads,
  values: Values | null,
  today: string,
  ours: ReadonlySet<string>,
): Leading {
  if (rule.state !== 'open') return { kind: rule.state };
  if (rule.opens !== null && today < rule.opens) return { kind: 'not-yet', opens: rule.opens };
  const over = rule.ends !== null && today > rule.ends;
  if (over && rule.after === null) return { kind: 'ended' };
  const fixed = leads.parts.every((part) => part.kind === 'text');
  if (!over && !fixed && values === null) return { kind: 'nowhere', why: 'gone' };
  const text = over ? rule.after! : addressFor(leads, values);
  if (text === undefined) return { kind: 'nowhere', why: 'blank' };
  try {
    const to = webAddress(text);
    return isOurLink(to, ours) ? { kind: 'nowhere', why: 'ring' } : { kind: 'leads', to };
  } catch (error) {
    if (!(error instanceof EncodeError)) throw error;
    return { kind: 'nowhere', why: 'no-address' };
  }
}
