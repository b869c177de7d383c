import { refersTo } from '../core/base/references';
import * as z from 'zod';
import { anchors, blockSpot, documentPlaceSchema } from '../core/piece/ground';
import { byId, newId, number, ok, valuesSchema } from './common';
import { defineRoute } from './route';

const counted = z.number().int().min(0);

export const documentFactsSchema = z.strictObject({
  /** The text, paragraph by paragraph, part by part. */
  texts: z.array(
    z.strictObject({
      part: z.string(),
      paragraphs: z.array(z.string()).readonly(),
      /** Numbers of the parts that are link targets, not text. */
      leads: z.array(z.number().int()).readonly().optional(),
    }),
  ),
  pictures: z.array(
    z.strictObject({
      part: z.string(),
      number: counted,
      widthMm: z.number(),
      heightMm: z.number(),
      about: z.string(),
    }),
  ),
  rows: z.array(
    z.strictObject({
      part: z.string(),
      number: counted,
      paragraphs: z.array(counted),
      cells: z.array(z.array(counted)).optional(),
      table: counted,
    }),
  ),
  notes: z.array(z.string()),
});

export const documentSchema = z.strictObject({
  id: z.number(),
  name: z.string(),
  kind: z.enum(['docx', 'html']),
  /** In bytes. */
  size: counted,
  facts: documentFactsSchema,
});
export type DocumentView = z.infer<typeof documentSchema>;

/** Most bytes of one document. */
const mostBytes = 20 * 2 ** 20;

export const bringDocument = defineRoute({
  method: 'POST',
  path: '/api/documents',
  right: 'editor',
  about: 'Saves a finished example of a document (DOCX or HTML), or says why it cannot be used.',
  upload: { most: mostBytes },
  answer: documentSchema,
});
/** Other programs on this computer that Hand Stamp uses. */
export const viewTools = defineRoute({
  method: 'GET',
  path: '/api/tools',
  right: 'viewer',
  about: 'Which programs that some outputs need are installed here, and how to install them.',
  answer: z.strictObject({
    office: z.strictObject({ there: z.boolean(), package: z.string() }),
  }),
});
export const viewDocument = defineRoute({
  method: 'GET',
  path: '/api/documents/{id}',
  right: 'viewer',
  of: 'document',
  about: 'The content of a document.',
  params: byId,
  answer: documentSchema,
});
export const shownDocument = defineRoute({
  method: 'GET',
  path: '/api/documents/{id}/shown',
  right: 'viewer',
  of: 'document',
  about:
    'A copy of a document in which every run of text has a name. The name leads from the screen to the text.',
  params: byId,
  answer: {
    files: [
      'application/vnd.openxmlformats-officedocument.wordprocessingml.document',
      'text/html; charset=utf-8',
    ],
  },
});

/** The record for which an example was written, and the places of its values. */
export const foundPlacesSchema = z.strictObject({
  writtenFor: z.strictObject({ record: z.number(), title: z.string() }).nullable(),
  places: z.array(documentPlaceSchema),
});
export type FoundPlaces = z.infer<typeof foundPlacesSchema>;

export const findInDocument = defineRoute({
  method: 'POST',
  path: '/api/jobs/{id}/document/places',
  right: 'editor',
  of: 'job',
  asks: true,
  about: 'Finds the record an example was written for, and every place with its values.',
  params: byId,
  body: z.object({
    document: refersTo('document', z.number().int()),
    record: z.number().int().optional(),
  }),
  answer: foundPlacesSchema,
});
export const findRows = defineRoute({
  method: 'POST',
  path: '/api/jobs/{id}/document/rows',
  right: 'viewer',
  of: 'job',
  asks: true,
  about:
    'The rows of other lists that belong to a record, block by block, for the current document.',
  params: byId,
  body: z.object({ record: z.number().int() }),
  answer: z.strictObject({ rows: z.record(z.string(), z.array(valuesSchema)) }),
});
export const findInRow = defineRoute({
  method: 'POST',
  path: '/api/jobs/{id}/document/block',
  right: 'editor',
  of: 'job',
  asks: true,
  about:
    'Finds the record of another list that a row, a cell or some lines were written for. Also finds the places with its values.',
  params: byId,
  body: z.object({
    document: refersTo('document', z.number().int()),
    part: z.string().max(200),
    ...blockSpot,
    list: refersTo('list', z.number().int()),
    record: z.number().int(),
    /** Of its own list: the column that groups records; empty if all belong together. */
    by: z.string().max(80).optional(),
  }),
  answer: z.strictObject({
    /**
     * The column of that list that names our record, and ours that it names; null if there is none.
     */
    match: z.strictObject({ by: z.string(), is: z.string() }).nullable(),
    /** Rows, or paragraphs, after it that were written for others. */
    goes: z.number(),
    places: z.array(documentPlaceSchema),
    /** Paragraphs that repeat or are removed, and pictures that repeat, by number. */
    paragraphs: z.array(counted),
    pictures: z.array(counted),
  }),
});

export const pageOfRecord = defineRoute({
  method: 'GET',
  path: '/api/jobs/{id}/document/page/{record}',
  right: 'viewer',
  of: 'job',
  about: 'The page of a record, as an email would show it. Secrets are masked.',
  params: z.object({ id: number, record: number }),
  answer: { files: ['text/html; charset=utf-8'] },
});

const shownPageSchema = z.strictObject({
  widthMm: z.number(),
  heightMm: z.number(),
  turn: z.union([z.literal(0), z.literal(90), z.literal(180), z.literal(270)]),
});
/** Distances from a corner of a page, in mm. */
const placeSchema = z.strictObject({
  corner: z.enum(anchors),
  acrossMm: z.number(),
  downMm: z.number(),
});
export const pdfsInJobSchema = z.strictObject({
  documents: z.array(
    z.strictObject({
      id: z.number(),
      name: z.string(),
      pages: z.array(shownPageSchema),
      signed: z.boolean(),
      /** Opens with a password, which is stored encrypted. */
      locked: z.boolean(),
      /** The position of the code on it, if it may differ. */
      place: placeSchema.nullable(),
      /** The record it is for. */
      record: z.strictObject({ id: z.number(), title: z.string() }).nullable(),
    }),
  ),
  /** Records without one. */
  without: counted,
  /**
   * For each corner, at the chosen distances: on how many documents the code would cover something,
   * and on which; then the nearest place that is free on all.
   */
  room: z.array(
    z.strictObject({
      corner: z.enum(anchors),
      covers: counted,
      first: z.string().nullable(),
      free: placeSchema.nullable(),
    }),
  ),
});
export type PdfsInJob = z.infer<typeof pdfsInJobSchema>;

export const startSet = defineRoute({
  method: 'POST',
  path: '/api/document-sets',
  right: 'editor',
  about: 'Starts a set of PDFs that come in together.',
  body: z.object({ name: z.string().trim().min(1).max(300) }),
  answer: newId,
});
/**
 * A PDF that was brought in. A locked one is not stored, and says so, until its password comes with
 * it (header `x-password`, percent-encoded).
 */
const keptPdfSchema = z.strictObject({
  name: z.string(),
  /** Its number; undefined if it is not stored. */
  id: z.number().int().optional(),
  note: z.string().optional(),
  locked: z.string().optional(),
});
export const bringPdf = defineRoute({
  method: 'POST',
  path: '/api/document-sets/{id}/documents',
  right: 'editor',
  about: 'Saves a PDF in its set as it came in, or says why it cannot be used.',
  params: byId,
  upload: { most: 100 * 2 ** 20 },
  answer: keptPdfSchema,
});
export const listTrayPdfs = defineRoute({
  method: 'GET',
  path: '/api/tray/pdfs',
  right: 'editor',
  about: 'PDFs in the In-tray and its folders.',
  answer: z.strictObject({ names: z.array(z.string()) }),
});
export const bringTrayPdf = defineRoute({
  method: 'POST',
  path: '/api/document-sets/{id}/tray',
  right: 'editor',
  about: 'Saves a PDF of the In-tray in a set; the file stays where it is.',
  params: byId,
  body: z.object({ name: z.string().min(1).max(1000), password: z.string().max(500).optional() }),
  answer: keptPdfSchema,
});
export const listPdfs = defineRoute({
  method: 'GET',
  path: '/api/jobs/{id}/documents',
  right: 'viewer',
  of: 'job',
  about: 'The PDFs of a job, each with the record it is for.',
  params: byId,
  answer: pdfsInJobSchema,
});
export const lookAgain = defineRoute({
  method: 'POST',
  path: '/api/jobs/{id}/documents',
  right: 'editor',
  of: 'job',
  about: 'Checks the records again after PDFs came in.',
  params: byId,
  answer: ok,
});
export const documentPage = defineRoute({
  method: 'GET',
  path: '/api/documents/{id}/pages/{page}',
  right: 'viewer',
  of: 'document',
  about: 'A page of a PDF as a picture.',
  params: z.object({ id: number, page: z.coerce.number().int().min(0).max(100_000) }),
  answer: { files: ['image/png'] },
});
