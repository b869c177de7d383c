import type { FrozenRun } from '../../core/job/document';
import type { Stamp } from '../../core/payload/stamp';
import { safeName } from '../../core/run/names';
import type { ImageFormat } from '../../core/run/outputs';
import { codeFile } from './codes';
import type { MadeCode, MadePart, MadeRecord, RecordToMake } from './maker';

/** A picture of each code of a record, read back. */
export async function codePictures(
  frozen: FrozenRun,
  { name, values }: RecordToMake,
  format: ImageFormat,
): Promise<MadeRecord> {
  const output = frozen.output!;
  const parts: MadePart[] = [];
  const codes: MadeCode[] = [];
  for (const stamp of frozen.stamps) {
    const look = {
      ...stamp.look,
      ...(output.sizeMm ? { sizeMm: output.sizeMm, moduleDots: undefined } : {}),
      ...(output.dpi ? { dpi: output.dpi } : {}),
      // a choice for this run goes before the stamp's own
      ...(output.sizeMm || output.dpi ? { pixels: undefined } : {}),
    };
    const made = await codeFile({ ...stamp, look }, values, format);
    if (!made) continue;
    parts.push({
      name: `${fileOf(name, stamp, frozen.stamps)}.${format === 'jpeg' ? 'jpg' : format}`,
      bytes: made.bytes,
    });
    codes.push({
      stamp: stamp.id,
      payload: made.payload,
      result: made.back.result,
      read: made.back.result === 'unread' ? null : made.back.text,
    });
  }
  return { parts, codes };
}

/** With several stamps, each has its name in that of the file. */
export const fileOf = (name: string, stamp: Stamp, stamps: readonly Stamp[]): string =>
  stamps.length === 1 ? name : `${name}, ${safeName(stamp.name, stamp.id)}`;
