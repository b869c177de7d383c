import { z } from 'zod';

/** A piece of a text that is made for each record: fixed words, or a column's value. */
export const partSchema = z.discriminatedUnion('kind', [
  z.object({ kind: z.literal('text'), text: z.string().max(5000) }),
  z.object({ kind: z.literal('column'), column: z.string() }),
]);
export type Part = z.infer<typeof partSchema>;
