import { placedInDocument } from '../../documents/code';
import { smallestModuleMm } from '../../look/look';
import { contentOf, type Stamp } from '../../payload/stamp';
import { encodeStamp } from '../../piece/piece';
import type { Values } from '../../records/columns';
import { symbologies } from '../../symbology';
import { EncodeError } from '../../symbology/types';

/**
 * From this size on, and up to this many characters, no square code has modules that are too fine:
 * none is drawn to find out.
 */
const largeMm = 15;
const shortPayload = 90;

/**
 * The problem of a code at a size for a record, in words; a missing code is reported with its
 * stamp.
 */
export function codeTrouble(
  stamp: Stamp | undefined,
  values: Values,
  place: { widthMm: number; heightMm: number },
): string | undefined {
  if (!stamp) return 'the stamp of its code was deleted';
  const content = contentOf(stamp, values);
  if (content.state !== 'said') return undefined;
  if (
    !symbologies[stamp.symbology].linear &&
    Math.min(place.widthMm, place.heightMm) >= largeMm &&
    content.payload.length <= shortPayload
  )
    return undefined;
  try {
    const { moduleMm } = placedInDocument(encodeStamp(stamp, content.payload), stamp, place);
    return moduleMm < smallestModuleMm - 0.0005
      ? `its code has squares of ${moduleMm.toFixed(2)} mm, finer than ${smallestModuleMm} mm`
      : undefined;
  } catch (error) {
    if (!(error instanceof EncodeError)) throw error;
    return error.message;
  }
}
