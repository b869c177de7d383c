import type { Column, Values } from '../records/columns';
import { landed, landingAfter, type Spaces } from './landing';
import type { Part } from '../records/parts';

/** A stretch of a sample that is a column's value in the record the sample was made for. */
export interface Proposal {
  parts: Part[];
  spaces: Spaces;
  /** Columns found in the sample, in their order, each with what stands there. */
  found: { column: string; written: string }[];
}

interface Match {
  from: number;
  to: number;
  column: string;
  spaces: Spaces;
}

/**
 * Works out how a pasted sample is made of columns: every value of the record that stands in it, as it is or encoded for
 * its place, becomes that column; longer values win over shorter ones that lie within them.
 * @param asAddress values are encoded for where they land
 */
export function proposeParts(sample: string, values: Values, columns: readonly Column[], asAddress: boolean): Proposal {
  const matches: Match[] = [];
  for (const { id } of columns) {
    const value = (values[id] ?? '').trim();
    // one or two characters stand in too many places to mean anything
    if (value.length < 2) continue;
    for (let at = 0; at < sample.length; at++) {
      const landing = asAddress ? landingAfter(sample.slice(0, at)) : { where: 'start' as const, levels: 0 };
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
  for (const match of matches) if (taken.every((t) => match.to <= t.from || match.from >= t.to)) taken.push(match);
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
  };
}

/** A short value counts only where it is not the inside of a longer word or number. */
function wholeWord(sample: string, from: number, to: number, value: string): boolean {
  if (value.length >= 5) return true;
  const letter = /[\p{L}\p{N}]/u;
  return !(from > 0 && letter.test(sample[from - 1])) && !(to < sample.length && letter.test(sample[to]));
}

/** A proposal with one more part pointed at: where the text stands in its fixed words, the column takes its place. */
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
  };
}
