import type { WorkedStep } from '../records/steps';
import { joined } from '../records/beginnings';
import { workOut } from '../records/worked';
import { explainFit, type EncodeOptions, type SymbologyId } from '../symbology';

export interface MisfitMend {
  steps: WorkedStep[];
  /** Values that still do not fit after it. */
  misfits: number;
}

const capitals: WorkedStep = { kind: 'case', to: 'capitals' };
const digits: WorkedStep = { kind: 'digits' };
const without = (find: string): WorkedStep => ({ kind: 'replace', find, by: '' });
const zeros = (to: number): WorkedStep => ({ kind: 'fill', to, with: '0', at: 'front' });

/** Changes of values so that more of them fit; the shorter ones first. */
function candidates(longest: number): WorkedStep[][] {
  const even = longest + (longest % 2);
  const fills = [...new Set([even, 8, 12, 13, 14])]
    .filter((n) => n >= longest && n <= 60)
    .map(zeros);
  return [
    [capitals],
    [without(' ')],
    [without('-')],
    ...fills.map((fill) => [fill]),
    [digits],
    [without(' '), without('-')],
    [capitals, without(' ')],
    [capitals, without('-')],
    [capitals, without('_')],
    ...fills.flatMap((fill) => [[digits, fill]]),
    [capitals, without(' '), without('-'), without('_')],
  ];
}

/** The number of values by which the fixes are compared; the best is tried on all. */
const sampled = 300;

const around = { position: 0, secret: () => '', address: () => '', lookup: () => '' };
const mended = (text: string, steps: WorkedStep[]): string =>
  workOut({ source: joined([{ kind: 'column', column: 'v' }]), steps }, { v: text }, '', around);

/**
 * Fixes for values that a code type cannot carry; for several code types each value is fixed once.
 *
 * @returns for a code type and its options, the smallest fix that helps, as steps of a worked
 *   column; undefined if none does. Steps that would make two different values equal are never
 *   proposed.
 */
export function mendsFor(
  values: readonly string[],
): (symbology: SymbologyId, options?: EncodeOptions) => MisfitMend | undefined {
  const all = [...new Set(values)];
  const longest = all.reduce((most, text) => Math.max(most, text.length), 0);
  const trials = candidates(longest).map((steps) => {
    const known = new Map<string, string>();
    const mend = (text: string) => {
      let result = known.get(text);
      if (result === undefined) known.set(text, (result = mended(text, steps)));
      return result;
    };
    return { steps, mend };
  });
  return (symbology, options = {}) => {
    const fits = (text: string) => text !== '' && explainFit(symbology, text, options).fits;
    const misfits = all.filter((text) => !fits(text));
    const step = Math.max(1, Math.ceil(misfits.length / sampled));
    const some = misfits.filter((_, i) => i % step === 0);
    const helping = trials
      .map((trial) => ({
        ...trial,
        few: some.filter((text) => !fits(trial.mend(text))).length,
      }))
      .filter(({ few }) => few < some.length)
      // the shorter ones stay first among those that help as much
      .sort((a, b) => a.few - b.few);
    let best: (MisfitMend & { few: number }) | undefined;
    for (const { steps, mend, few } of helping) {
      if (best && few > best.few) break;
      const whole = all.map(mend);
      if (new Set(whole).size < all.length) continue;
      const left = whole.filter((text) => !fits(text)).length;
      if (left < (best?.misfits ?? misfits.length)) best = { steps, misfits: left, few };
      if (left === 0) break;
    }
    return best && { steps: best.steps, misfits: best.misfits };
  };
}
