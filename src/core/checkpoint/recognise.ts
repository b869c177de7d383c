import { trimmedBy } from '../base/trim';
import * as z from 'zod';
import { signatureFits } from '../base/proof';
import { contentOf, type Stamp } from '../payload/stamp';
import type { Purpose } from '../payload/purposes';
import type { Column, Values } from '../records/columns';
import { partSchema, type Part } from '../records/parts';
import type { Differs } from './answer';

/** Length of a proof's name and its characters at the end of a payload. */
const proofEnd = /[?&]proof=[0-9A-Z]*$/;

/**
 * The text of a scan without the scanner's additions: the symbology identifier that some send first
 * (ISO/IEC 15424), and line ends.
 */
export const tidyScan = (text: string): string =>
  trimmedBy(text.replace(/^\][A-Za-z][0-9A-Za-z]/, ''), '\r\n\t');

/** A text with upper and lower case swapped, as a scanner sends it if Caps Lock is on. */
export const swappedCase = (text: string): string =>
  text.replace(/[a-z]+|[A-Z]+/g, (letters) =>
    letters >= 'a' ? letters.toUpperCase() : letters.toLowerCase(),
  );

/**
 * The form of a stamp's codes: its parts, whether they are an address, and whether a proof follows.
 * A device knows no purposes.
 */
export type Form = Pick<Stamp, 'parts' | 'spaces'> & Pick<Purpose, 'opens' | 'proves'>;

/**
 * Takes a payload apart by the stamp that may have made it: the values of its columns, if the
 * payload has that form; undefined if not. Only stamps whose content is one run of text and columns
 * can be taken apart.
 */
export function takeApart(stamp: Form, payload: string): Record<string, string> | undefined {
  const parts = stamp.parts;
  if (parts.length === 0 || !parts.some((part) => part.kind === 'column')) return undefined;
  const text = stamp.proves ? payload.replace(proofEnd, '') : payload;
  const found = matched(parts, text);
  if (!found) return undefined;
  const values: Record<string, string> = {};
  for (const [column, value] of found) {
    const read = stamp.opens ? decoded(value, stamp.spaces === 'plus') : value;
    // one column twice with two values is not one of ours
    if (values[column] !== undefined && values[column] !== read) return undefined;
    values[column] = read;
  }
  return values;
}

/** A stamp whose proofs anybody can check, as a device stores it: nothing of it is secret. */
export const signedSchema = z.object({
  parts: z.array(partSchema),
  spaces: z.enum(['percent', 'plus']).optional(),
  /** The columns that the proof covers, all of which are in the code. */
  signed: z.array(z.string()).min(1),
  /** In hexadecimal. */
  publicKey: z.string(),
});
export type Signed = z.infer<typeof signedSchema>;

/**
 * Whether the proof in a code is right, from the code alone; undefined if the stamp has no such
 * proof.
 */
export function provenBy(stamps: readonly Signed[], payload: string): boolean | undefined {
  let formed: boolean | undefined;
  for (const stamp of stamps) {
    const said = takeApart({ ...stamp, opens: true, proves: true }, payload);
    const proof = /[?&]proof=([0-9A-Z]*)$/.exec(payload)?.[1];
    if (!said || proof === undefined || stamp.signed.some((id) => said[id] === undefined)) continue;
    const values = stamp.signed.map((id) => said[id]!.trim());
    if (signatureFits(proof, values, stamp.publicKey)) return true;
    formed = false;
  }
  return formed;
}

/**
 * From the left, each column as short as possible; two columns next to each other cannot be
 * separated.
 */
function matched(parts: readonly Part[], text: string): [string, string][] | undefined {
  const out: [string, string][] = [];
  let at = 0;
  let open: string | undefined;
  for (const [i, part] of parts.entries()) {
    if (part.kind === 'column') {
      if (open !== undefined) return undefined;
      open = part.column;
      continue;
    }
    const last = i === parts.length - 1;
    const found =
      last && open !== undefined ? text.length - part.text.length : text.indexOf(part.text, at);
    if (found < at || !text.startsWith(part.text, found)) return undefined;
    if (open !== undefined) out.push([open, text.slice(at, found)]);
    else if (found !== at) return undefined;
    open = undefined;
    at = found + part.text.length;
  }
  if (open !== undefined) out.push([open, text.slice(at)]);
  else if (at !== text.length) return undefined;
  return out;
}

function decoded(text: string, plus: boolean): string {
  try {
    return decodeURIComponent(plus ? text.replace(/\+/g, ' ') : text);
  } catch {
    return text;
  }
}

/** Whether a payload is the current content of a stamp for a record. */
export const isOf = (stamp: Stamp, values: Values, payload: string): boolean => {
  const content = contentOf(stamp, values);
  return content.state === 'said' && content.payload === payload;
};

/** Fields of a code that say otherwise than the list. */
export const differing = (
  said: Readonly<Record<string, string>>,
  values: Values,
  columns: readonly Column[],
): Differs[] =>
  Object.entries(said).flatMap(([id, code]) => {
    const list = (values[id] ?? '').trim();
    return code === list
      ? []
      : [{ column: columns.find((c) => c.id === id)?.name ?? 'a deleted column', code, list }];
  });

/** In words, for the person at the door. */
export const differsWords = (differs: readonly Differs[]): string =>
  differs
    .map(({ column, code, list }) =>
      list === ''
        ? `${column}: the code says ${code || 'nothing'}, the list is blank`
        : `${column}: the code says ${code || 'nothing'}, the list ${list}`,
    )
    .join('; ');

/**
 * The characters a scanner adds before and after each code, if what it sent contains a known
 * payload; undefined if none, or more than one, could be meant.
 * @param known our payloads among the candidates
 */
export function wrapOf(
  text: string,
  known: readonly string[],
): { before: string; after: string } | undefined {
  const inside = known.filter((payload) => payload.length >= 4 && text.includes(payload));
  const longest = inside.sort((a, b) => b.length - a.length)[0];
  if (longest === undefined || longest === text) return undefined;
  const at = text.indexOf(longest);
  return { before: text.slice(0, at), after: text.slice(at + longest.length) };
}

/** The most characters that a scanner is expected to add before or after a code. */
const mostWrap = { before: 8, after: 4 };

/** The texts that may be inside a scanner's additions, the longest first. */
export function insides(text: string): string[] {
  const out: string[] = [];
  for (let before = 0; before <= mostWrap.before; before++)
    for (let after = 0; after <= mostWrap.after; after++) {
      const inside = text.slice(before, text.length - after);
      if (before + after > 0 && inside.length >= 4) out.push(inside);
    }
  return out.sort((a, b) => b.length - a.length);
}
