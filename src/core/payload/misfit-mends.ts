import type { WorkedStep } from '../records/steps';
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

/** What may be done to values so that more of them fit; the shorter ones first. */
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

/**
 * The least that mends values which a symbology cannot say, as steps of a worked column; undefined
 * when nothing helps. Steps that would make two different values the same are never proposed.
 */
export function misfitMend(
  symbology: SymbologyId,
  values: readonly string[],
  options: EncodeOptions = {},
): MisfitMend | undefined {
  const said = [...new Set(values)];
  const fits = (text: string) => text !== '' && explainFit(symbology, text, options).fits;
  const before = said.filter((text) => !fits(text)).length;
  if (before === 0) return undefined;
  const longest = said.reduce((most, text) => Math.max(most, text.length), 0);
  let best: MisfitMend | undefined;
  for (const steps of candidates(longest)) {
    const mended = said.map((text) =>
      workOut(
        { source: { kind: 'join', parts: [{ kind: 'column', column: 'v' }] }, steps },
        { v: text },
        '',
        {
          position: 0,
          secret: () => '',
          address: () => '',
          lookup: () => '',
        },
      ),
    );
    if (new Set(mended).size < said.length) continue;
    const misfits = mended.filter((text) => !fits(text)).length;
    if (misfits < (best?.misfits ?? before)) best = { steps, misfits };
    if (misfits === 0) break;
  }
  return best;
}
