import * as z from 'zod';
import { landed, landingAfter, type Spaces } from '../base/landing';

/** A piece of a text that is made for each record: fixed words, or a column's value. */
export const partSchema = z.discriminatedUnion('kind', [
  z.object({ kind: z.literal('text'), text: z.string().max(5000) }),
  z.object({ kind: z.literal('column'), column: z.string() }),
]);
export type Part = z.infer<typeof partSchema>;

/** The text that a content (fixed text and columns) gives for a record. */
export interface Said {
  text: string;
  /** Columns in it that are blank. */
  blank: string[];
  any: boolean;
}

/** The content of a record. In an address, values are encoded for their position. */
export function saidOf(
  parts: readonly Part[],
  values: Readonly<Record<string, string>>,
  { address = false, exact = false, spaces = 'percent' as Spaces },
): Said {
  const blank: string[] = [];
  let text = '';
  for (const part of parts) {
    if (part.kind === 'text') {
      text += part.text;
      continue;
    }
    const whole = values[part.column] ?? '';
    const value = exact && whole.trim() !== '' ? whole : whole.trim();
    if (value === '') blank.push(part.column);
    text += address ? landed(value, landingAfter(text), spaces) : value;
  }
  return { text, blank, any: text.trim() !== '' };
}

/** The columns that a run is made of. */
export const columnsIn = (parts: readonly Part[]): string[] =>
  parts.flatMap((part) => (part.kind === 'column' ? [part.column] : []));
