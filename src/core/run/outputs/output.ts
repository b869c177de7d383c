import * as z from 'zod';
import { addressTrouble } from '../../mail/address';
import type { GroundKind } from '../../piece/ground';

/**
 * Something that a run can make: what it is called, what can be chosen about it, and what it needs.
 * How it is made stands in `server/outputs`.
 */
export interface OutputDescription {
  id: string;
  /** As it stands in the sentence, and what it is for. */
  name: string;
  about: string;
  /** What it makes, counted: one, and many. */
  noun: readonly [one: string, many: string];
  /** Made of sheets with several pieces, and not record by record. */
  sheets?: boolean;
  /** Shows the job's piece, which needs a stamp on it; a record is printed by it. */
  piece?: boolean;
  /** Grounds whose pieces it makes, where it is not the same for all. */
  grounds?: readonly GroundKind[];
  /** Needs a program that not every machine has. */
  needs?: 'office';
  /** Each record has files of its own, named from a column. */
  named?: boolean;
  /** Its files come in one ZIP. */
  zipped?: boolean;
  /** What the sentence lets one choose. */
  choices?: readonly ('image' | 'name' | 'secrets')[];
  /** What its codes are read back from, where that is not the finished artwork. */
  readFrom?: string;
  /** What each record gets of it can be attached to a mail, under this name. */
  attached?: string;
  /** Goes out to each person once it is made. */
  delivers?: 'mail';
  /** What it makes leaves this Hand Stamp, so that somebody may want to be asked first. */
  leaves?: true;
  /** Makes no codes, and so no receipt. */
  noCodes?: boolean;
  /** Most records in one, and how that is said. */
  most?: { records: number; words: string };
}

const outputs = new Map<string, OutputDescription>();

/** Adds an output to those that can be chosen. */
export function addOutput(output: OutputDescription): void {
  outputs.set(output.id, output);
}

/** All outputs, in the order in which they are offered. */
export const allOutputs = (): readonly OutputDescription[] => [...outputs.values()];

/** Those that can be made of pieces on a ground. */
export const outputsOn = (ground: GroundKind): readonly OutputDescription[] =>
  allOutputs().filter((output) => !output.grounds || output.grounds.includes(ground));

/** Those of which a mail can bring each person their own file. */
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
  /** Column whose value names each file; the key where there is none. */
  nameFrom: z.string().optional(),
  /** Secret columns are left out of what is taken away unless this is said. */
  secrets: z.boolean().optional(),
  /** Of mails: also to those who had one from this job. */
  again: z.boolean().optional(),
  /** Of mails: all of them to this address instead, to be looked at. */
  instead: z
    .string()
    .max(254)
    .refine((text) => addressTrouble(text) === undefined, 'That is no address to send a mail to.')
    .optional(),
});
export type Output = z.infer<typeof outputSchema>;

export const imageWords: Record<ImageFormat, { name: string; about: string }> = {
  png: { name: 'PNG', about: 'Pixels without loss: for web pages, mails and documents.' },
  jpeg: { name: 'JPEG', about: 'Pixels with a little loss: where nothing else is taken.' },
  svg: { name: 'SVG', about: 'Outlines, sharp at any size: for web pages and drawing programs.' },
  eps: { name: 'EPS', about: 'Outlines for older printing and layout programs.' },
  pdf: { name: 'PDF', about: 'Outlines, one page as large as the code.' },
};
