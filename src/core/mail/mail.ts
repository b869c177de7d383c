import { escapedHtml } from '../base/html';
import * as z from 'zod';
import { addressTrouble } from './address';
import { nameColumn, type Column, type Values } from '../records/columns';
import { partSchema, type Part } from '../records/parts';

/** The position of the codes in an email. */
const codePlaces = ['below', 'above', 'none'] as const;

/** A mail that each person gets, as a job keeps it. */
export const mailSchema = z.object({
  /** The column of the address. */
  to: z.string().max(80).optional(),
  /** The reply address, if it is not the sender. */
  replyTo: z
    .string()
    .trim()
    .refine(
      (text) => addressTrouble(text) === undefined,
      'This is not an email address. Check the reply address.',
    )
    .optional(),
  subject: z.array(partSchema).max(40),
  /** Paragraph by paragraph. */
  body: z.array(z.array(partSchema).max(60)).max(100),
  /** If the piece is an HTML page: a text in its place. */
  says: z.literal('words').optional(),
  codes: z.enum(codePlaces),
  /** Stamps whose codes are in the email, by id; by default those of the piece. */
  stamps: z.array(z.string().max(80)).min(1).max(8).optional(),
  /** The output of which each person's file is attached. */
  attach: z.string().max(40).optional(),
});
export type Mail = z.infer<typeof mailSchema>;

/** The mail of a job: as it was written, or before that one to begin with. */
export function mailOf(kept: Mail | undefined, columns: readonly Column[]): Mail {
  if (kept) return kept;
  const name = nameColumn(columns);
  return {
    to: columns.find((c) => c.role === 'email' && !c.hidden)?.id,
    subject: [{ kind: 'text', text: 'Your code' }],
    body: [
      name
        ? [
            { kind: 'text', text: 'Hello ' },
            { kind: 'column', column: name.id },
            { kind: 'text', text: ',' },
          ]
        : [{ kind: 'text', text: 'Hello,' }],
      [{ kind: 'text', text: 'Here is your code. Show it on your phone, or print it.' }],
    ],
    codes: 'below',
  };
}

const said = (parts: readonly Part[], values: Values): string =>
  parts.map((p) => (p.kind === 'text' ? p.text : (values[p.column] ?? '').trim())).join('');

/**
 * The contents of an email for a record: its subject in one line, and its paragraphs without those
 * that are blank.
 */
export function mailWords(
  mail: Pick<Mail, 'subject' | 'body'>,
  values: Values,
): { subject: string; paragraphs: string[] } {
  return {
    // a line break in a subject would begin another header
    subject: said(mail.subject, values)
      .replace(/[\p{C}\p{Zl}\p{Zp}\s]+/gu, ' ')
      .trim(),
    paragraphs: mail.body.map((parts) => said(parts, values).trim()).filter(Boolean),
  };
}

/** A picture of a code in an email, in CSS px. */
export interface MailPicture {
  /** Address of the picture, such as `cid:…`. */
  src: string;
  alt: string;
  width: number;
  height: number;
}

/** Text as HTML: its lines, and its web addresses as links. */
const asHtml = (text: string): string =>
  text
    .split(/(https?:\/\/[^\s<>"]+[^\s<>".,;:!?)])/i)
    .map((part, i) =>
      i % 2 === 1
        ? `<a href="${escapedHtml(part)}">${escapedHtml(part)}</a>`
        : escapedHtml(part).replace(/\n/g, '<br>'),
    )
    .join('');

/** The body of a mail in HTML, with its styles in line, since many readers take no others. */
export function mailHtml(
  paragraphs: readonly string[],
  pictures: readonly MailPicture[],
  codes: Mail['codes'],
): string {
  const words = paragraphs.map((p) => `<p style="margin:0 0 16px">${asHtml(p)}</p>`);
  // on white, also if the mail program turns pages dark
  const images = pictures.map(
    ({ src, alt, width, height }) =>
      `<p style="margin:0 0 16px"><img src="${escapedHtml(src)}" alt="${escapedHtml(alt)}" width="${width}" height="${height}" style="display:block;border:0;background:#ffffff;padding:12px"></p>`,
  );
  return `<!doctype html>
<html><head><meta charset="utf-8"></head>
<body style="margin:0;padding:20px;font-family:sans-serif;font-size:16px;line-height:1.5;color:#1d1a26">
${(codes === 'above' ? [...images, ...words] : [...words, ...images]).join('\n')}
</body></html>
`;
}
