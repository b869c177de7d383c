import * as z from 'zod';

const ownThings = ['code', 'piece'] as const;
export type OwnThing = (typeof ownThings)[number];

/** A page on which people get their own code. */
export const ownPageSchema = z.object({
  open: z.boolean(),
  title: z.string().trim().min(1, 'Enter a name for the page.').max(120),
  /**
   * Columns that must be entered as they are in the record; together they are what only its person
   * knows.
   */
  asked: z
    .array(z.string().max(40))
    .min(1, 'Choose what people enter.')
    .max(4, 'Choose at most four columns.'),
  /** The picture of their code (PNG), or the piece (PDF). */
  gives: z.array(z.enum(ownThings)).min(1, 'Choose what people get.'),
});
export type OwnPageDocument = z.infer<typeof ownPageSchema>;

/** The form in which entries are compared: case and extra blanks make no difference. */
export const sameTyped = (text: string): string =>
  text.normalize('NFC').trim().replace(/\s+/g, ' ').toLowerCase();
