import type { Column, Values } from '../records/columns';
import { landed, landingAfter, type Landing, type Spaces } from '../base/landing';
import type { Part } from '../records/parts';
import { dateForms, readDate, writeDate } from '../records/dates';

/** A stretch of a sample that is a column's value in the record the sample was made for. */
export interface Proposal {
  parts: Part[];
  spaces: Spaces;
  /** Columns found in the sample, in their order, each with its text there. */
  found: Found[];
  /**
   * Stretches of what stays fixed that are probably a column's value in another form: to be marked
   * by the person, never taken silently.
   */
  otherwise: Otherwise[];
}

export interface Found {
  column: string;
  written: string;
  /** The position of its column in the parts. */
  part: number;
  /** Other columns with the same value in this record: only a person knows which one is meant. */
  also: string[];
}

/** A value that is in the sample in another form than it would be written in. */
export interface Otherwise {
  column: string;
  written: string;
  /** What would be written there for this record. */
  becomes: string;
}

interface Match {
  from: number;
  to: number;
  column: string;
  spaces: Spaces;
}

/**
 * Most characters of a sample. No code holds more (ISO/IEC 18004: 7,089 digits), and no part of a
 * stamp may be longer than 5,000.
 */
export const mostSample = 5000;
/** Most addresses inside one another that are looked into. */
const mostLevels = 5;
/** Most places in one sample at which one value is looked at. */
const mostPlaces = 200;

/**
 * Finds how a pasted sample is made of columns: every value of the record in it, as it is or
 * encoded, becomes that column. Longer values win over shorter ones inside them.
 * @param asAddress values are encoded for their position
 */
export function proposeParts(
  sample: string,
  values: Values,
  columns: readonly Column[],
  asAddress: boolean,
): Proposal {
  const matches: Match[] = [];
  const inside: Inside[] = [];
  const landings = landingsIn(sample, asAddress);
  for (const { id } of columns) {
    const value = (values[id] ?? '').trim();
    if (value === '' || sample.length > mostSample) continue;
    for (const { from, to, spaces, levels } of placesOf(sample, value, landings, asAddress)) {
      // one character is found in too many places to be taken without a question
      if (value.length > 1 && wholeWord(sample, from, to, value, levels))
        matches.push({ from, to, column: id, spaces });
      else if (value.length > 1 || wholeWord(sample, from, to, value, levels))
        inside.push({ from, to, column: id });
    }
  }
  matches.sort((a, b) => b.to - b.from - (a.to - a.from) || a.from - b.from);
  const taken: Match[] = [];
  for (const match of matches)
    if (taken.every((t) => match.to <= t.from || match.from >= t.to)) taken.push(match);
  taken.sort((a, b) => a.from - b.from);
  const parts: Part[] = [];
  const found: Found[] = [];
  let at = 0;
  for (const { from, to, column } of taken) {
    if (from > at) parts.push({ kind: 'text', text: sample.slice(at, from) });
    const also = matches.filter((m) => m.from === from && m.to === to && m.column !== column);
    found.push({
      column,
      written: sample.slice(from, to),
      part: parts.length,
      also: [...new Set(also.map((m) => m.column))],
    });
    parts.push({ kind: 'column', column });
    at = to;
  }
  if (at < sample.length) parts.push({ kind: 'text', text: sample.slice(at) });
  return {
    parts,
    spaces: taken.some((t) => t.spaces === 'plus') ? 'plus' : 'percent',
    found,
    otherwise: otherForms(sample, taken, inside, values, columns, landings),
  };
}

/** A place at which a value is written, but inside a longer word or as one character. */
type Inside = Pick<Match, 'from' | 'to' | 'column'>;

/** The encoding at each position of the sample, calculated once. */
function landingsIn(sample: string, asAddress: boolean): (at: number) => Landing {
  const known = new Map<number, Landing>();
  return (at) => {
    if (!asAddress) return { where: 'start', levels: 0 };
    let landing = known.get(at);
    if (!landing) known.set(at, (landing = landingAfter(sample.slice(0, at))));
    return landing;
  };
}

/** Every place at which a value is written as it would be written there. */
function placesOf(
  sample: string,
  value: string,
  landings: (at: number) => Landing,
  asAddress: boolean,
): { from: number; to: number; spaces: Spaces; levels: number }[] {
  const places = new Map<number, { from: number; to: number; spaces: Spaces; levels: number }>();
  const most = asAddress ? mostLevels : 0;
  for (let levels = 0; levels <= most; levels++)
    for (const spaces of ['percent', 'plus'] as const) {
      const written = landed(value, { where: 'query', levels }, spaces);
      if (written.length > sample.length) continue;
      let looks = 0;
      for (
        let at = sample.indexOf(written);
        at >= 0 && looks < mostPlaces;
        at = sample.indexOf(written, at + 1)
      ) {
        looks++;
        const landing = landings(at);
        if (landing.levels !== levels || landed(value, landing, spaces) !== written) continue;
        const to = at + written.length;
        if (withinEscape(sample, at, levels) || withinEscape(sample, to, levels)) continue;
        if (!places.has(at)) places.set(at, { from: at, to, spaces, levels });
      }
    }
  return [...places.values()].sort((a, b) => a.from - b.from);
}

/** An escape of an address at so many levels: %2F, %252F and so on. */
const escapeAt = (levels: number): RegExp =>
  new RegExp(`%(?:25){0,${Math.max(0, levels - 1)}}[0-9a-f]{2}`, 'giy');

/** The escape that a place is inside of, or that ends or begins there. */
function escapeRound(
  sample: string,
  place: number,
  levels: number,
  where: 'inside' | 'before' | 'after',
): string | undefined {
  if (levels === 0) return undefined;
  const escape = escapeAt(levels);
  const longest = 1 + 2 * levels;
  for (let from = Math.max(0, place - longest); from <= place; from++) {
    escape.lastIndex = from;
    const found = escape.exec(sample)?.[0];
    if (found === undefined) continue;
    const end = from + found.length;
    if (
      where === 'inside'
        ? from < place && end > place
        : where === 'before'
          ? end === place
          : from === place
    )
      return found;
    // the text after an escape is not a part of it
    if (end <= place) from = end - 1;
  }
  return undefined;
}

const withinEscape = (sample: string, place: number, levels: number): boolean =>
  escapeRound(sample, place, levels, 'inside') !== undefined;

/**
 * How people and programs write a value otherwise: unencoded, encoded, in another case, without its
 * signs, a date in another order.
 */
function formsOf(value: string): string[] {
  const plain = value.normalize('NFKD').replace(/\p{M}/gu, '');
  const joined = (by: string) => value.trim().replace(/[\s_-]+/g, by);
  const forms = [
    value,
    encodeURIComponent(value),
    encodeURIComponent(value).replaceAll('%20', '+'),
    plain,
    joined('-'),
    joined('_'),
    joined(''),
  ];
  if (/\d/.test(value))
    forms.push(
      value.replace(/[^\p{L}\p{N}]/gu, ''),
      value.replace(/[.,](?=\d{3}\b)/g, ''),
      value.replace(/^0+/, ''),
    );
  for (const first of ['day', 'month'] as const) {
    const date = readDate(value, first);
    if (!date) continue;
    for (const form of dateForms) forms.push(writeDate(date, form));
    const [y, m, d] = date;
    const two = (n: number) => String(n).padStart(2, '0');
    const month = new Date(Date.UTC(y, m - 1, d)).toLocaleDateString('en', {
      month: 'long',
      timeZone: 'UTC',
    });
    forms.push(
      `${y}${two(m)}${two(d)}`,
      `${d} ${month} ${y}`,
      `${month} ${d}, ${y}`,
      `${d}.${m}.${y}`,
      `${d}/${m}/${y}`,
      `${m}/${d}/${y}`,
    );
  }
  return [...new Set(forms)].filter((form) => form.length >= 3).sort((a, b) => b.length - a.length);
}

function otherForms(
  sample: string,
  taken: readonly Match[],
  inside: readonly Inside[],
  values: Values,
  columns: readonly Column[],
  landings: (at: number) => Landing,
): Otherwise[] {
  const low = sample.toLowerCase();
  const found: (Otherwise & { from: number; to: number })[] = [];
  for (const { id } of columns) {
    const value = (values[id] ?? '').trim();
    if (value === '' || value.length > sample.length * 4 || taken.some((t) => t.column === id))
      continue;
    const free = (from: number, to: number) =>
      ![...taken, ...found].some((t) => from < t.to && to > t.from);
    const own = inside.find((place) => place.column === id && free(place.from, place.to));
    if (own) {
      const written = sample.slice(own.from, own.to);
      found.push({ ...own, written, becomes: written });
      continue;
    }
    if (value.length < 3) continue;
    for (const form of formsOf(value)) {
      const from = low.indexOf(form.toLowerCase());
      const to = from + form.length;
      if (from < 0) continue;
      const landing = landings(from);
      if (!wholeWord(sample, from, to, form, landing.levels) || !free(from, to)) continue;
      const becomes = landed(value, landing, 'percent');
      found.push({ column: id, written: sample.slice(from, to), becomes, from, to });
      break;
    }
  }
  return found
    .sort((a, b) => a.from - b.from)
    .map(({ column, written, becomes }) => ({ column, written, becomes }));
}

/**
 * A short value counts only if it is not inside a longer word or number. An escape next to it
 * counts as its character: the D of %3D is not a letter of a word.
 */
function wholeWord(
  sample: string,
  from: number,
  to: number,
  value: string,
  levels: number,
): boolean {
  if (value.length >= 5) return true;
  const before = escapeRound(sample, from, levels, 'before') ?? sample.slice(0, from).at(-1);
  const after = escapeRound(sample, to, levels, 'after') ?? sample[to];
  return !isOfWord(before) && !isOfWord(after);
}

/** Whether a character, or the character of an escape, is a part of a word. */
function isOfWord(sign: string | undefined): boolean {
  if (sign === undefined) return false;
  if (sign.length < 3) return /[\p{L}\p{N}]/u.test(sign);
  const code = parseInt(sign.slice(-2), 16);
  // a byte of a letter beyond ASCII
  return code >= 0x80 || /[A-Za-z0-9]/.test(String.fromCharCode(code));
}

/** A proposal with one more part marked: the column replaces the text in the fixed words. */
export function markPart(proposal: Proposal, text: string, column: string): Proposal {
  const at = proposal.parts.findIndex((part) => part.kind === 'text' && part.text.includes(text));
  const part = proposal.parts[at];
  if (text === '' || part?.kind !== 'text') return proposal;
  const from = part.text.indexOf(text);
  const [before, after] = [part.text.slice(0, from), part.text.slice(from + text.length)];
  return {
    ...proposal,
    parts: [
      ...proposal.parts.slice(0, at),
      ...(before ? [{ kind: 'text' as const, text: before }] : []),
      { kind: 'column', column },
      ...(after ? [{ kind: 'text' as const, text: after }] : []),
      ...proposal.parts.slice(at + 1),
    ],
    found: [
      ...proposal.found.map((f) =>
        f.part > at ? { ...f, part: f.part + (before ? 1 : 0) + (after ? 1 : 0) } : f,
      ),
      { column, written: text, part: at + (before ? 1 : 0), also: [] },
    ],
    otherwise: proposal.otherwise.filter((o) => o.written !== text),
  };
}

/** A proposal in which another column is meant at one of its places. */
export function meantBy(proposal: Proposal, part: number, column: string): Proposal {
  return {
    ...proposal,
    parts: proposal.parts.map((p, i) => (i === part ? { kind: 'column', column } : p)),
    found: proposal.found.map((f) =>
      f.part === part
        ? { ...f, column, also: [f.column, ...f.also].filter((other) => other !== column) }
        : f,
    ),
  };
}
