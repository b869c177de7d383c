import {
  cameraDistance,
  reallyDiffer,
  type Wear,
  type WearCurve,
} from '../../../core/readback/wear';
import { survival as wording } from './words';
import { filled } from '../../kit/with-parts';

const amountWords = (wear: Wear, curve: WearCurve, amount: number): string =>
  wear.id === 'distance'
    ? filled(wording.cm, Math.round(cameraDistance(curve.moduleMm, amount) / 10))
    : wear.say(amount);

/**
 * How much of one kind of wear a code survives, in words; where chance has a part, between what and
 * what.
 */
export function survivalWords(wear: Wear, curve: WearCurve | undefined): string {
  if (curve?.survives === undefined) return 'nothing';
  const { least, most } = curve.range;
  if (!wear.chance || most === undefined || least === most)
    return amountWords(wear, curve, curve.survives);
  return filled(
    wording.to,
    least === undefined ? 'less' : amountWords(wear, curve, least),
    amountWords(wear, curve, most),
  );
}

/** The words for two codes that differ only by chance. */
export const noRealDifference = (wear: Wear, [a, b]: readonly (WearCurve | undefined)[]): boolean =>
  wear.chance && a !== undefined && b !== undefined && !reallyDiffer(a, b);
