import type { Column, Values } from '../records/columns';
import { landed, landingAfter, type Spaces } from '../base/landing';
import type { Part } from '../records/parts';
import { dateForms, readDate, writeDate } from '../records/dates';

/** A stretch of a sample that is a column's value in the record the sample was made for. */
export interface Proposal {
  parts: Part[];
  spaces: Spaces;
  /** Columns found in the sample, in their order, each with what stands there. */
  found: { column: string; written: string }[];
  /**
   * Stretches of what stays fixed that are probably a column's value in another form: to be marked
   * by the person, never taken silently.
   */
  otherwise: Otherwise[];
}

/** A value that stands in the sample in another form than it would be written in. */
export interface Otherwise {
  column: string;
  written: string;
  /** What would stand there for this record. */
  becomes: string;
}

interface Match {
  from: number;
  to: number;
  column: string;
  spaces: Spaces;
}

/**
 * Works out how a pasted sample is made of columns: every value of the record that stands in it, as
 * it is or encoded for its place, becomes that column; longer values win over shorter ones that lie
 * within them.
 * @param asAddress values are encoded for where they land
 */
export function proposeParts(
  sample: string,
  values: Values,
  columns: readonly Column[],
  asAddress: boolean,
): Proposal {
  const matches: Match[] = [];
  for (const { id } of columns) {
    const value = (values[id] ?? '').trim();
    // one or two characters stand in too many places to mean anything
    if (value.length < 2) continue;
    for (let at = 0; at < sample.length; at++) {
      const landing = asAddress
        ? landingAfter(sample.slice(0, at))
        : { where: 'start' as const, levels: 0 };
      for (const spaces of ['percent', 'plus'] as const) {
        const written = landed(value, landing, spaces);
        if (sample.startsWith(written, at) && wholeWord(sample, at, at + written.length, value)) {
          matches.push({ from: at, to: at + written.length, column: id, spaces });
          break;
        }
      }
    }
  }
  matches.sort((a, b) => b.to - b.from - (a.to - a.from) || a.from - b.from);
  const taken: Match[] = [];
  for (const match of matches)
    if (taken.every((t) => match.to <= t.from || match.from >= t.to)) taken.push(match);
  taken.sort((a, b) => a.from - b.from);
  const parts: Part[] = [];
  let at = 0;
  for (const { from, to, column } of taken) {
    if (from > at) parts.push({ kind: 'text', text: sample.slice(at, from) });
    parts.push({ kind: 'column', column });
    at = to;
  }
  if (at < sample.length) parts.push({ kind: 'text', text: sample.slice(at) });
  return {
    parts,
    spaces: taken.some((t) => t.spaces === 'plus') ? 'plus' : 'percent',
    found: taken.map(({ column, from, to }) => ({ column, written: sample.slice(from, to) })),
    otherwise: otherForms(sample, taken, values, columns, asAddress),
  };
}

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
  values: Values,
  columns: readonly Column[],
  asAddress: boolean,
): Otherwise[] {
  const low = sample.toLowerCase();
  const found: (Otherwise & { from: number; to: number })[] = [];
  for (const { id } of columns) {
    const value = (values[id] ?? '').trim();
    if (value.length < 3 || taken.some((t) => t.column === id)) continue;
    for (const form of formsOf(value)) {
      const from = low.indexOf(form.toLowerCase());
      const to = from + form.length;
      if (from < 0 || !wholeWord(sample, from, to, form)) continue;
      if ([...taken, ...found].some((t) => from < t.to && to > t.from)) continue;
      const becomes = asAddress
        ? landed(value, landingAfter(sample.slice(0, from)), 'percent')
        : value;
      found.push({ column: id, written: sample.slice(from, to), becomes, from, to });
      break;
    }
  }
  return found
    .sort((a, b) => a.from - b.from)
    .map(({ column, written, becomes }) => ({ column, written, becomes }));
}

/** A short value counts only where it is not the inside of a longer word or number. */
function wholeWord(sample: string, from: number, to: number, value: string): boolean {
  if (value.length >= 5) return true;
  const letter = /[\p{L}\p{N}]/u;
  return (
    !(from > 0 && letter.test(sample[from - 1]!)) &&
    !(to < sample.length && letter.test(sample[to]!))
  );
}

/**
 * A proposal with one more part pointed at: where the text stands in its fixed words, the column
 * takes its place.
 */
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
    found: [...proposal.found, { column, written: text }],
    otherwise: proposal.otherwise.filter((o) => o.written !== text),
  };
}
