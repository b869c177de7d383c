import { bands, filters, type Band } from '../../../contract/ledger';
import { problemKinds } from '../../../core/records/problems';
import { wholeView, type Condition, type View } from './view';

/**
 * The part of a job's screen that is in its web address, so that reloading and going back lose
 * nothing.
 */
export interface Whereabouts {
  band: Band;
  view: View;
  /** Index of the selected row. */
  hand: number;
  ticked: readonly number[];
}

const firstWhereabouts: Whereabouts = {
  band: 'stamps',
  view: wholeView,
  hand: 0,
  ticked: [],
};

/** Ticks that an address can carry; more are kept by the window. */
export const mostTicks = 400;

/** Numbers in rising order as the steps from one to the next, in base 36. */
const packed = (numbers: readonly number[]): string => {
  const sorted = [...numbers].sort((a, b) => a - b);
  return sorted.map((n, i) => (n - (sorted[i - 1] ?? 0)).toString(36)).join('.');
};
function unpacked(text: string): number[] {
  let last = 0;
  return text
    .split('.')
    .map((step) => (last += parseInt(step, 36)))
    .filter((n) => Number.isSafeInteger(n) && n > 0);
}

/** The query of the address; initial values are left out. */
export function addressOf({ band, view, hand, ticked }: Whereabouts): string {
  const query = new URLSearchParams();
  if (band !== firstWhereabouts.band) query.set('band', band);
  if (view.filter !== 'all') query.set('show', view.filter);
  if (view.q) query.set('q', view.q);
  if (view.problem) query.set('problem', view.problem);
  if (view.sort) query.set('sort', view.sort);
  if (view.where.length > 0) query.set('where', JSON.stringify(view.where));
  if (hand > 0) query.set('row', String(hand + 1));
  if (ticked.length > 0) query.set('ticked', ticked.length > mostTicks ? 'many' : packed(ticked));
  return query.toString();
}

/** Parses an address as far as it is valid; the rest has its initial values. */
export function whereaboutsIn(query: URLSearchParams): Whereabouts {
  const one = <T extends string>(name: string, of: readonly T[]): T | undefined =>
    of.find((v) => v === query.get(name));
  const row = Number(query.get('row') ?? 1);
  const sort = query.get('sort') ?? '';
  const ticks = query.get('ticked') ?? '';
  return {
    band: one('band', bands) ?? firstWhereabouts.band,
    view: {
      filter: one('show', filters) ?? 'all',
      q: query.get('q') ?? '',
      problem: one('problem', problemKinds),
      sort: /^[^:]+:(up|down)$/.test(sort) ? (sort as View['sort']) : undefined,
      where: conditionsIn(query.get('where')),
    },
    hand: Number.isInteger(row) && row > 0 ? row - 1 : 0,
    ticked: /^[0-9a-z.]+$/.test(ticks) && ticks !== 'many' ? unpacked(ticks) : [],
  };
}

function conditionsIn(text: string | null): Condition[] {
  if (!text) return [];
  try {
    const found: unknown = JSON.parse(text);
    if (!Array.isArray(found)) return [];
    return found.filter(
      (c): c is Condition =>
        typeof c === 'object' &&
        c !== null &&
        typeof c.column === 'string' &&
        typeof c.text === 'string' &&
        ['is', 'holds', 'blank', 'filled'].includes(c.is),
    );
  } catch {
    return [];
  }
}
