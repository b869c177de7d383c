import * as z from 'zod';
import { addressTrouble } from '../../mail/address';
import type { GroundKind } from '../../piece/ground';
import { csv } from './csv';
import { documentPdf } from './document-pdf';
import { documentPdfEach } from './document-pdf-each';
import { docxEach } from './docx-each';
import { docxOne } from './docx-one';
import { html } from './html';
import { htmlDocxEach } from './html-docx-each';
import { htmlEach } from './html-each';
import { htmlOne } from './html-one';
import { images } from './images';
import { mail } from './mail';
import { pdf } from './pdf';
import { pdfEach } from './pdf-each';
import { pdfsEach } from './pdfs-each';
import { pdfsOne } from './pdfs-one';
import { pdfsTray } from './pdfs-tray';
import { xlsx } from './xlsx';
import type { OutputDescription } from './description';

/** What runs make, in the order in which it is offered. */
const listed = [
  pdf,
  pdfEach,
  docxEach,
  docxOne,
  htmlEach,
  htmlOne,
  htmlDocxEach,
  documentPdf,
  documentPdfEach,
  pdfsEach,
  pdfsOne,
  pdfsTray,
  images,
  xlsx,
  csv,
  html,
  mail,
] as const;
export type OutputId = (typeof listed)[number]['id'];

const outputs: ReadonlyMap<string, OutputDescription> = new Map(
  listed.map((output) => [output.id, output]),
);

/** All outputs, in the order in which they are offered. */
export const allOutputs = (): readonly OutputDescription[] => listed;

/** The default output. */
export const usualOutput = pdf.id;

/** Outputs that are possible for pieces on a ground. */
export const outputsOn = (ground: GroundKind): readonly OutputDescription[] =>
  allOutputs().filter((output) => !output.grounds || output.grounds.includes(ground));

/** Outputs that an email can bring each person as their own file. */
export const attachableOn = (ground: GroundKind): readonly OutputDescription[] =>
  outputsOn(ground).filter((output) => output.attached !== undefined);

/** Whether what an output makes leaves this Hand Stamp; not of one that there is not any more. */
export const leaves = (kind: string): boolean => outputs.get(kind)?.leaves === true;

/** @throws Error when there is none of that kind */
export function outputOf(kind: string): OutputDescription {
  const output = outputs.get(kind);
  if (!output) throw new Error(`there is no output ${kind}`);
  return output;
}

export const imageFormats = ['png', 'jpeg', 'svg', 'eps', 'pdf'] as const;
export type ImageFormat = (typeof imageFormats)[number];

export const outputSchema = z.object({
  kind: z.string().refine((kind) => outputs.has(kind), 'There is no such output.'),
  /** Of images: the file format, the width in mm and the resolution. */
  format: z.enum(imageFormats).optional(),
  sizeMm: z.number().min(4).max(300).optional(),
  dpi: z.number().int().min(72).max(2400).optional(),
  /** Column whose value names each file; the key by default. */
  nameFrom: z.string().optional(),
  /** Secret columns are left out of downloads unless this is set. */
  secrets: z.boolean().optional(),
  /** Of emails: also to people who had one from this job. */
  again: z.boolean().optional(),
  /** Of mails: all of them to this address instead, to be looked at. */
  instead: z
    .string()
    .max(254)
    .refine((text) => addressTrouble(text) === undefined, 'This is not an email address.')
    .optional(),
});
export type Output = z.infer<typeof outputSchema>;

export const imageWords: Record<ImageFormat, { name: string; about: string }> = {
  png: { name: 'PNG', about: 'Pixels without loss: for web pages, mails and documents.' },
  jpeg: {
    name: 'JPEG',
    about: 'Pixels with a little loss: for programs that accept nothing else.',
  },
  svg: { name: 'SVG', about: 'Outlines, sharp at any size: for web pages and drawing programs.' },
  eps: { name: 'EPS', about: 'Outlines for older printing and layout programs.' },
  pdf: { name: 'PDF', about: 'Outlines, one page as large as the code.' },
};
