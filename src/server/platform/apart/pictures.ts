import type { KeptPicture } from '../../../core/drawing/picture';
import { firstStamp, type Stamp } from '../../../core/payload/stamp';
import type { Values } from '../../../core/records/columns';
import type { ImageFormat } from '../../../core/run/outputs';
import { Refusal } from '../refusal';
import { lanes, WorkEnded } from './pool';

export interface DrawnCode {
  bytes: Uint8Array;
  /** It reads back as it should. */
  reads: boolean;
}

/** In ms, for one picture. */
const timeLimit = 15_000;

/**
 * Redraws a picture from outside as plain pixels, in a process where it cannot block others.
 * @throws Refusal if it cannot be drawn
 */
export async function redrawnPicture(
  name: string,
  bytes: Buffer,
  side?: number,
): Promise<KeptPicture> {
  try {
    return await lanes.pictures.do('picture', { name, bytes, side }, timeLimit);
  } catch (error) {
    if (!(error instanceof WorkEnded)) throw error;
    throw new Refusal(
      `${name} could not be drawn: it ${error.message}. Save it again from the program it comes from, or choose another.`,
    );
  }
}

/** The picture of a code for strangers, read back. @throws Refusal when it takes too long */
export async function drawnCode(
  stamp: Stamp,
  values: Values,
  format: ImageFormat,
): Promise<DrawnCode | undefined> {
  try {
    return await lanes.strangers.do('code', { stamp, values, format }, timeLimit);
  } catch (error) {
    if (!(error instanceof WorkEnded)) throw error;
    throw new Refusal('This picture takes too long to draw. Ask for a smaller one.', 503);
  }
}

/**
 * Has the process that draws for strangers ready, its programs loaded, before the first of them
 * asks.
 */
export async function warmForStrangers(): Promise<void> {
  const sample: Stamp = { ...firstStamp([]), parts: [{ kind: 'text', text: 'ready' }] };
  await drawnCode(sample, {}, 'png');
}
