import * as z from 'zod';

/**
 * Encodings in which a text file may be read, by the names of the WHATWG and of Python's registry,
 * and how people know them.
 */
export const encodings = [
  { id: 'utf-8', name: 'UTF-8', about: 'what most programs write today' },
  { id: 'utf-16le', name: 'UTF-16', about: 'two bytes a letter' },
  { id: 'utf-16be', name: 'UTF-16, high byte first', about: 'two bytes a letter' },
  { id: 'windows-1252', name: 'Windows-1252', about: 'western Europe, older programs' },
  { id: 'windows-1250', name: 'Windows-1250', about: 'central Europe' },
  { id: 'iso-8859-2', name: 'ISO 8859-2', about: 'central Europe' },
  { id: 'windows-1251', name: 'Windows-1251', about: 'Cyrillic' },
  { id: 'koi8-r', name: 'KOI8-R', about: 'Cyrillic, older' },
  { id: 'windows-1253', name: 'Windows-1253', about: 'Greek' },
  { id: 'windows-1254', name: 'Windows-1254', about: 'Turkish' },
  { id: 'windows-1255', name: 'Windows-1255', about: 'Hebrew' },
  { id: 'windows-1256', name: 'Windows-1256', about: 'Arabic' },
  { id: 'shift_jis', name: 'Shift-JIS', about: 'Japanese' },
  { id: 'gb18030', name: 'GB18030', about: 'Chinese, simplified' },
  { id: 'big5', name: 'Big5', about: 'Chinese, traditional' },
  { id: 'euc-kr', name: 'EUC-KR', about: 'Korean' },
  { id: 'macintosh', name: 'Mac Roman', about: 'western Europe, old Apple programs' },
  { id: 'cp437', name: 'CP437', about: 'old terminals and tills' },
  { id: 'cp850', name: 'CP850', about: 'old terminals, western Europe' },
] as const;
export type EncodingId = (typeof encodings)[number]['id'];
export const encodingIds = encodings.map((e) => e.id) as [EncodingId, ...EncodingId[]];
export const encodingName = (id: EncodingId): string => encodings.find((e) => e.id === id)!.name;

export const separators = {
  ',': 'commas',
  ';': 'semicolons',
  '\t': 'tabs',
  '|': 'upright strokes',
} as const;
export type Separator = keyof typeof separators;
export const separatorIds = Object.keys(separators) as [Separator, ...Separator[]];

/** How to read a text file, if a person chose it. */
export const textReadingSchema = z.object({
  encoding: z.enum(encodingIds).optional(),
  separator: z.enum(separatorIds).optional(),
});
export type TextReading = z.infer<typeof textReadingSchema>;

/** Which rows and columns of a sheet are brought in, and what is done to them first. */
export const sheetChoicesSchema = z.object({
  /** Row of the headings among the filled rows, from 0; -1 when there are none. */
  headerRow: z.number().int().min(-1).max(50),
  /** The last row is a sum and no record. */
  lastOut: z.boolean().optional(),
  /** Cells that are merged downwards give their value to each of their rows. */
  fillDown: z.boolean().optional(),
  /** Rows and columns that are hidden in the file are left out. */
  hiddenOut: z.boolean().optional(),
  /** The web and email addresses that cells link to become columns of their own. */
  linksIn: z.boolean().optional(),
});
export type SheetChoices = z.infer<typeof sheetChoicesSchema>;

/**
 * A doubt about a cell that its text does not show: known only while the file is read, and stored
 * with the record.
 */
export type Doubt = 'rounded' | 'no-result';
/**
 * Doubts of a record's cells by column id, each with its value: they do not apply to another value.
 */
export type Doubts = Readonly<Record<string, { kind: Doubt; of: string }>>;
