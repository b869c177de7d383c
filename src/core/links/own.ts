import * as z from 'zod';

const ownThings = ['code', 'piece'] as const;
export type OwnThing = (typeof ownThings)[number];

/** A page on which people fetch what is theirs. */
export const ownPageSchema = z.object({
  open: z.boolean(),
  title: z.string().trim().min(1, 'Say what the page is called.').max(120),
  /**
   * Columns that must be given as they stand in the record; together they are what only its person
   * knows.
   */
  asked: z
    .array(z.string().max(40))
    .min(1, 'Say what people are asked for.')
    .max(4, 'People are asked for up to four things.'),
  /** The picture of their code (PNG), or the piece (PDF). */
  gives: z.array(z.enum(ownThings)).min(1, 'Say what people fetch.'),
});
export type OwnPageDocument = z.infer<typeof ownPageSchema>;

/**
 * As what is typed is compared: small and capital letters, and blanks more or less, make no
 * difference.
 */
export const sameTyped = (text: string): string =>
  text.normalize('NFC').trim().replace(/\s+/g, ' ').toLowerCase();
