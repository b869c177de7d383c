import * as z from 'zod';
import { keptPictureSchema } from '../core/drawing/picture';
import { doorStateWords, type DoorState } from '../core/payload/door';
import { keptContentSchema, keptLookSchema } from '../core/payload/kept';
import { stampSchema } from '../core/payload/stamp';
import { keptPieceSchema } from '../core/piece/kept';
import { stockSchema } from '../core/piece/stock';
import { workedSchema } from '../core/records/worked';
import { imageFormats } from '../core/run/outputs';
import { symbologyIds, type CodeSymbol } from '../core/symbology';
import { byId, nameOf, newId, ok } from './common';
import { defineRoute } from './route';

/** How many contents of a stamp a code type can carry, over the list. */
export const symbologyFitSchema = z.strictObject({
  id: z.enum(symbologyIds),
  name: z.string(),
  about: z.string(),
  /** Records whose content does not fit, of those checked. */
  misfits: z.number(),
  /** Of the first of them. */
  reason: z.string().optional(),
  mend: z.string().optional(),
  /** Steps of a worked column that would fix them, and how many would still not fit. */
  steps: workedSchema.shape.steps.optional(),
  left: z.number().optional(),
});
export type SymbologyFit = z.infer<typeof symbologyFitSchema>;

/**
 * A symbol with a masked payload, its modules in base64; undefined if the record has no such code.
 */
export type SealedSymbol =
  | {
      symbol: Omit<CodeSymbol, 'modules' | 'payload'> & {
        modules: string;
        payload: string;
        readingHash: string;
      };
    }
  | { symbol: null; reason: string };
const sealedSymbolShape = z.union([
  z.strictObject({
    symbol: z.looseObject({
      symbology: z.enum(symbologyIds),
      modules: z.base64(),
      payload: z.string(),
      readingHash: z.hex().length(64),
    }),
  }),
  z.strictObject({
    symbol: z.null(),
    reason: z.string(),
    /** There is one, and the person who asks may not have it. */
    withheld: z.literal(true).optional(),
  }),
]);
const sealedSymbolSchema = z.custom<SealedSymbol>(
  (value) => sealedSymbolShape.safeParse(value).success,
);

const doorTroubleSchema = z.strictObject({
  kind: z.enum(['no-scheme', 'unreadable', 'this-machine', 'private', 'reserved']),
  message: z.string(),
  mend: z.string(),
});

/** A host that codes of a stamp lead to. */
export const doorHostSchema = z.strictObject({
  host: z.string(),
  records: z.number(),
  /** One of its addresses, to open. */
  sample: z.string(),
  trouble: doorTroubleSchema.optional(),
});
export type DoorHost = z.infer<typeof doorHostSchema>;

export const doorReportSchema = z.strictObject({
  hosts: z.array(doorHostSchema),
  /** Distinct web addresses, how many were checked, and their answers. */
  addresses: z.number(),
  asked: z.number(),
  states: z.array(
    z.strictObject({
      state: z.enum(Object.keys(doorStateWords) as [DoorState, ...DoorState[]]),
      addresses: z.number(),
      samples: z.array(
        z.strictObject({
          record: z.number(),
          address: z.string(),
          status: z.number().nullable(),
          leadsTo: z.string().nullable(),
        }),
      ),
    }),
  ),
  asking: z.strictObject({ done: z.number(), of: z.number() }).nullable(),
});
export type DoorReport = z.infer<typeof doorReportSchema>;

/** The wanted form of a picture, in the query of its address. */
export const wantedSchema = z.object({
  mm: z.coerce.number().min(4).max(300).optional(),
  dpi: z.coerce.number().int().min(72).max(1200).optional(),
  /** Number of a saved look, in place of the stamp's own. */
  look: z.coerce.number().int().positive().optional(),
});

const name = nameOf('it', 80);
/** What can be saved for other lists and jobs, under a name. */
export const keepSchema = z.discriminatedUnion('kind', [
  z.object({ kind: z.literal('look'), name, document: keptLookSchema }),
  z.object({ kind: z.literal('content'), name, document: keptContentSchema }),
  z.object({ kind: z.literal('piece'), name, document: keptPieceSchema }),
  z.object({ kind: z.literal('stock'), name, document: stockSchema }),
]);
export type Keep = z.output<typeof keepSchema>;
const keptRow = { id: z.number(), name: z.string() };
/** A saved item. */
export const keptViewSchema = z.discriminatedUnion('kind', [
  z.strictObject({ ...keptRow, kind: z.literal('look'), document: keptLookSchema }),
  z.strictObject({ ...keptRow, kind: z.literal('content'), document: keptContentSchema }),
  z.strictObject({ ...keptRow, kind: z.literal('piece'), document: keptPieceSchema }),
  z.strictObject({ ...keptRow, kind: z.literal('stock'), document: stockSchema }),
]);
export type KeptView = z.output<typeof keptViewSchema>;
export const keptKindSchema = z.enum(['look', 'content', 'piece', 'stock']);

const whichSchema = z.object({
  stamp: z.string(),
  records: z.array(z.number().int()).optional(),
});
const ofStamp = z.object({ stamp: z.string().default('') });

export const sealedSymbols = defineRoute({
  method: 'POST',
  path: '/api/symbols',
  right: 'signed-in',
  asks: true,
  about:
    'The codes of a stamp for records whose values are hidden: their squares, never what they say.',
  body: z.object({ stamp: stampSchema, records: z.array(z.number().int()).min(1).max(200) }),
  size: 'document',
  answer: z.strictObject({ symbols: z.record(z.string(), sealedSymbolSchema) }),
});
export const symbologyFits = defineRoute({
  method: 'GET',
  path: '/api/jobs/{id}/fits',
  right: 'editor',
  of: 'job',
  about: 'How each code type fits the content of a stamp over the list.',
  params: byId,
  query: ofStamp,
  answer: z.strictObject({
    fits: z.array(symbologyFitSchema),
    looked: z.number(),
    of: z.number(),
  }),
});
export const viewAddresses = defineRoute({
  method: 'GET',
  path: '/api/jobs/{id}/addresses',
  right: 'editor',
  of: 'job',
  about: 'How many picture addresses a stamp has, and that of one record.',
  params: byId,
  query: z.object({ stamp: z.string(), record: z.coerce.number().int().optional() }),
  answer: z.strictObject({ count: z.number(), token: z.string().nullable() }),
});
export const addressesFile = defineRoute({
  method: 'GET',
  path: '/api/jobs/{id}/addresses/file',
  right: 'editor',
  of: 'job',
  about: 'Key and picture address of every record, to put into another spreadsheet.',
  params: byId,
  query: wantedSchema.extend({ stamp: z.string(), ending: z.enum(imageFormats).default('png') }),
  answer: { files: ['text/csv; charset=utf-8'] },
});
export const giveAddresses = defineRoute({
  method: 'POST',
  path: '/api/jobs/{id}/addresses',
  right: 'editor',
  of: 'job',
  about: 'Creates web addresses for the pictures of records’ codes.',
  params: byId,
  body: whichSchema,
  size: 'records',
  answer: z.strictObject({ added: z.number() }),
});
export const withdrawAddresses = defineRoute({
  method: 'DELETE',
  path: '/api/jobs/{id}/addresses',
  right: 'editor',
  of: 'job',
  about: 'Withdraws picture addresses: their pictures are no longer shown.',
  params: byId,
  body: whichSchema,
  size: 'records',
  answer: ok,
});
export const codePicture = defineRoute({
  method: 'GET',
  path: '/c/{name}',
  right: 'anyone',
  about:
    "The picture of one record's code, at a web address that cannot be guessed: for web pages and emails.",
  params: z.object({ name: z.string() }),
  query: wantedSchema,
  answer: {
    files: [
      'image/png',
      'image/jpeg',
      'image/svg+xml',
      'application/postscript',
      'application/pdf',
    ],
  },
  strangers: true,
});
export const viewDoor = defineRoute({
  method: 'GET',
  path: '/api/jobs/{id}/door',
  right: 'viewer',
  of: 'job',
  about: 'Where the codes of a stamp lead, and what the servers answered.',
  params: byId,
  query: ofStamp,
  answer: doorReportSchema,
});
export const askDoor = defineRoute({
  method: 'POST',
  path: '/api/jobs/{id}/door',
  right: 'editor',
  of: 'job',
  about: 'Checks the web addresses of a stamp, when the user asks for it.',
  params: byId,
  body: z.object({ stamp: z.string() }),
  answer: ok,
});
export const stopAskingDoor = defineRoute({
  method: 'DELETE',
  path: '/api/jobs/{id}/door',
  right: 'editor',
  of: 'job',
  about: 'Stops checking.',
  params: byId,
  answer: ok,
});
export const listKept = defineRoute({
  method: 'GET',
  path: '/api/kept',
  right: 'viewer',
  about: 'What is saved for other lists and jobs, of one kind.',
  query: z.object({ kind: keptKindSchema }),
  answer: z.strictObject({
    kept: z.array(keptViewSchema),
  }),
});
export const keep = defineRoute({
  method: 'POST',
  path: '/api/kept',
  right: 'editor',
  about: 'Saves something; it replaces what has the same kind and name.',
  body: keepSchema,
  size: 'document',
  answer: newId,
});
export const forgetKept = defineRoute({
  method: 'DELETE',
  path: '/api/kept/{id}',
  right: 'editor',
  about: 'Deletes something that was saved.',
  params: byId,
  answer: ok,
});
export const redrawPicture = defineRoute({
  method: 'POST',
  path: '/api/pictures',
  right: 'editor',
  about: 'Receives a picture file and returns it as plain pixels.',
  upload: { most: 10 * 2 ** 20 },
  answer: keptPictureSchema,
});
export const typeface = defineRoute({
  method: 'GET',
  path: '/api/fonts/{key}',
  right: 'anyone',
  about: 'A typeface, for measuring text in the browser.',
  params: z.object({ key: z.string() }),
  answer: { files: ['font/ttf'] },
});
export const typefacePart = defineRoute({
  method: 'GET',
  path: '/api/fonts/{key}/{slice}',
  right: 'anyone',
  about: 'The characters of one part of a large typeface.',
  params: z.object({ key: z.string(), slice: z.coerce.number().int().min(0).max(0x10ff) }),
  answer: { files: ['font/ttf'] },
});
