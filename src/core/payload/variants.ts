import { layoutOf, measure } from '../look/layout';
import { defaultLook, type Look } from '../look/look';
import { encode, EncodeError, explainFit, qrLevels, symbologies, symbologyIds } from '../symbology';
import { encodeOptionsOf, type Stamp } from './stamp';

/** A stamp that differs in one respect, to be seen beside others on the same payload. */
export interface Variant {
  name: string;
  stamp: Stamp;
}

/** Symbologies that know the four levels of error correction. */

const levelNames: Record<Stamp['level'], string> = {
  L: 'about 7% damaged',
  M: 'about 15% damaged',
  Q: 'about 25% damaged',
  H: 'about 30% damaged',
};

/**
 * What variants have in common: the module, so that they differ in size, or the size, so that they
 * differ in the module.
 */
export type Equal = 'module' | 'size';

const symbolOf = (stamp: Stamp, payload: string) =>
  encode(stamp.symbology, payload, encodeOptionsOf(stamp));

/** Gives a stamp the size at which its module is that of another, in mm. */
function withModule(stamp: Stamp, payload: string, moduleMm: number): Stamp {
  const { columns } = layoutOf(symbolOf(stamp, payload), stamp.look);
  // a hair more, so that rounding down to whole dots does not lose one
  const sizeMm = Math.min(300, Math.max(4, Math.ceil(columns * moduleMm * 1000) / 1000));
  return { ...stamp, look: { ...stamp.look, sizeMm, moduleDots: undefined } };
}

function alike(
  variants: readonly Variant[],
  stamp: Stamp,
  payload: string,
  equal: Equal,
): Variant[] {
  const { moduleMm } = measure(symbolOf(stamp, payload), stamp.look);
  return variants.flatMap((variant) => {
    try {
      return [
        {
          ...variant,
          stamp: equal === 'module' ? withModule(variant.stamp, payload, moduleMm) : variant.stamp,
        },
      ];
    } catch (error) {
      // a code type that cannot carry this payload is not a variant
      if (error instanceof EncodeError) return [];
      throw error;
    }
  });
}

/**
 * The four levels of error correction on one payload; none if the code type has no levels or too
 * little room.
 */
export function levelVariants(stamp: Stamp, payload: string, equal: Equal): Variant[] {
  if (!symbologies[stamp.symbology].levels) return [];
  const all = qrLevels.map((level) => ({
    name: `${levelNames[level]} (level ${level})`,
    stamp: { ...stamp, level },
  }));
  return alike(
    all.filter((v) => explainFit(v.stamp.symbology, payload, encodeOptionsOf(v.stamp)).fits),
    stamp,
    payload,
    equal,
  );
}

/** The symbologies that can say a payload, the stamp's own first. */
export function symbologyVariants(stamp: Stamp, payload: string, equal: Equal): Variant[] {
  const ids = [stamp.symbology, ...symbologyIds.filter((id) => id !== stamp.symbology)];
  const all = ids.map((symbology) => ({
    name: symbologies[symbology].name,
    // the payload has its check digit already, and another symbology would add one more
    stamp:
      symbology === stamp.symbology
        ? stamp
        : { ...stamp, symbology, options: { ...stamp.options, addCheckDigit: undefined } },
  }));
  return alike(
    all.filter((v) => explainFit(v.stamp.symbology, payload, encodeOptionsOf(v.stamp)).fits),
    stamp,
    payload,
    equal,
  );
}

/**
 * The stamp's own look, the plainest, and looks that were kept, at the size each has or all with
 * one module.
 */
export function lookVariants(
  stamp: Stamp,
  payload: string,
  equal: Equal,
  kept: readonly { name: string; document: Look }[],
): Variant[] {
  const plain: Look = {
    ...defaultLook,
    foreground: '#000000',
    sizeMm: stamp.look.sizeMm,
    dpi: stamp.look.dpi,
  };
  const all = [
    { name: 'this look', stamp },
    { name: 'plain black squares', stamp: { ...stamp, look: plain } },
    ...kept.map(({ name, document }) => ({
      name,
      stamp: { ...stamp, look: { ...document, sizeMm: stamp.look.sizeMm } },
    })),
  ];
  return alike(all, stamp, payload, equal);
}
