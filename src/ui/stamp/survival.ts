import { cameraDistance, type Wear, type WearCurve } from '../../core/readback/wear';

/** How much of one kind of wear a code survives, in words. */
export function survivalWords(wear: Wear, curve: WearCurve | undefined): string {
  if (curve?.survives === undefined) return 'nothing';
  return wear.id === 'distance' ? `${Math.round(cameraDistance(curve.moduleMm, curve.survives) / 10)} cm` : wear.say(curve.survives);
}
