import { z } from 'zod';
import { defaultLook } from '../look/look';
import { keyColumn, type Column, type Values } from '../records/columns';
import { explainFit, qrLevels, symbologyIds, type EncodeOptions } from '../symbology';

/** A piece of a stamp's content: fixed text, or a column's value. */
export const partSchema = z.discriminatedUnion('kind', [
  z.object({ kind: z.literal('text'), text: z.string().max(5000) }),
  z.object({ kind: z.literal('column'), column: z.string() }),
]);
export type Part = z.infer<typeof partSchema>;

export const hexColour = z.string().regex(/^#[0-9a-fA-F]{6}$/);

export const lookSchema = z.object({
  sizeMm: z.number().min(4).max(300),
  dpi: z.number().int().min(72).max(2400),
  wholeDots: z.boolean(),
  foreground: hexColour,
  background: z.union([hexColour, z.literal('transparent')]),
  quietZone: z.boolean(),
  barMm: z.number().min(2).max(200).optional(),
  hri: z.enum(['below', 'none']).optional(),
});

/** What turns a record into a code: what it says, in which symbology, how it looks. */
export const stampSchema = z.object({
  id: z.string(),
  name: z.string().min(1).max(80),
  /** What a scan does: opens a page, or gives a text. */
  does: z.enum(['page', 'text']),
  parts: z.array(partSchema).max(40),
  symbology: z.enum(symbologyIds),
  level: z.enum(qrLevels),
  look: lookSchema,
});
export type Stamp = z.infer<typeof stampSchema>;

/** A first stamp for a list: its key as text, or the address it holds. */
export function firstStamp(columns: readonly Column[]): Stamp {
  const address = columns.find((c) => c.role === 'address');
  const column = address ?? keyColumn(columns) ?? columns[0];
  return {
    id: 'stamp-1',
    name: column?.name ?? 'Code',
    does: address ? 'page' : 'text',
    parts: column ? [{ kind: 'column', column: column.id }] : [],
    symbology: 'qr',
    level: 'M',
    look: { sizeMm: 24, dpi: 600, wholeDots: true, foreground: defaultLook.foreground, background: '#ffffff', quietZone: true },
  };
}

export type Content =
  | { state: 'said'; payload: string }
  /** Columns of the content that are blank in this record: no code is made. */
  | { state: 'blank'; columns: string[] };

/**
 * The payload of a record. A blank column gives no code, so that a half-filled row never becomes a junk code.
 * In a page address, a value is percent-encoded for where it lands (RFC 3986), unless it is where the address begins.
 */
export function contentOf(stamp: Stamp, values: Values): Content {
  const blank: string[] = [];
  let payload = '';
  for (const part of stamp.parts) {
    if (part.kind === 'text') {
      payload += part.text;
      continue;
    }
    const value = (values[part.column] ?? '').trim();
    if (value === '') blank.push(part.column);
    payload += stamp.does === 'page' && payload.includes(':') ? encodeURIComponent(value) : value;
  }
  return blank.length > 0 || payload.trim() === '' ? { state: 'blank', columns: blank } : { state: 'said', payload };
}

export const encodeOptionsOf = (stamp: Stamp): EncodeOptions => ({ level: stamp.level });

export type StampVerdict =
  { mark: 'ready'; payload: string } | { mark: 'look'; payload: string; reason: string; mend?: string } | { mark: 'out'; reason: string };

/** Whether a record's code can be made, in words for its row. */
export function judgeStamp(stamp: Stamp, values: Values, columns: readonly Column[]): StampVerdict {
  const content = contentOf(stamp, values);
  if (content.state === 'blank') {
    const names = content.columns.map((id) => columns.find((c) => c.id === id)?.name ?? 'a removed column');
    return {
      mark: 'out',
      reason: names.length
        ? `no code: ${names.join(' and ')} ${names.length > 1 ? 'are' : 'is'} blank`
        : 'no code: the stamp says nothing yet',
    };
  }
  const { payload } = content;
  const fit = explainFit(stamp.symbology, payload, encodeOptionsOf(stamp));
  if (!fit.fits) return { mark: 'look', payload, reason: fit.reason, mend: fit.mend };
  if (stamp.does === 'page' && !/^[a-z][a-z0-9+.-]*:/i.test(payload))
    return {
      mark: 'look',
      payload,
      reason: 'A phone will not open this: the address has no https:// before it.',
      mend: 'Put https:// in front.',
    };
  return { mark: 'ready', payload };
}
