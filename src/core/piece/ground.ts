import * as z from 'zod';
import { refersTo } from '../base/references';
import { columnsIn, partSchema } from '../records/parts';

/** How a document writes dates; each stands for itself, written for 23 November 2026. */
export const writtenDates = [
  '2026-11-23',
  '23.11.2026',
  '23/11/2026',
  '11/23/2026',
  '23 Nov 2026',
  '23 November 2026',
  '23. November 2026',
  'Nov 23, 2026',
  'November 23, 2026',
  'Monday, 23 November 2026',
  'Monday, November 23, 2026',
] as const;
export type WrittenDate = (typeof writtenDates)[number];

export const separators = ['', ',', '.', ' ', '\u00a0', '\u202f', '’'] as const;

/** In which form a value stands in a document: as it is in the list, or as the example has it. */
const formSchema = z.discriminatedUnion('kind', [
  z.object({
    kind: z.literal('case'),
    to: z.enum(['capitals', 'small letters', 'capital initials']),
  }),
  z.object({ kind: z.literal('word'), which: z.enum(['first', 'last']) }),
  z.object({
    kind: z.literal('date'),
    as: z.enum(writtenDates),
    first: z.enum(['day', 'month']),
  }),
  z.object({ kind: z.literal('number'), between: z.enum(separators) }),
]);
export type Form = z.infer<typeof formSchema>;

/**
 * Characters `from` to before `to` of a paragraph, both counted over the part of the file as it
 * came in.
 */
const spot = {
  /** Path inside the file, such as `word/header1.xml`. */
  part: z.string().max(200),
  paragraph: z.number().int().min(0),
  from: z.number().int().min(0),
  to: z.number().int().min(0),
};

/** Words of the example that follow the record. */
export const documentPlaceSchema = z.object({
  id: z.string().max(40),
  ...spot,
  /** What stands there in the example. */
  example: z.string().max(5000),
  parts: z.array(partSchema).max(20),
  form: formSchema.optional(),
  /**
   * The effect of a blank: the words, or their whole line, are left out, or the record is kept
   * back.
   */
  blank: z.enum(['words', 'line', 'hold']),
  /** Found by itself and not yet looked at: stays as in the example until it is taken. */
  likely: z.literal(true).optional(),
  /**
   * Columns that all have this value in the example's record. Only a person knows which one is
   * meant, and nothing is made until they choose.
   */
  among: z.array(z.string()).min(2).max(100).optional(),
  /** It is in the address of a link, which is this in the example. */
  leads: z.string().max(5000).optional(),
  /** The block whose rows it follows; its columns are those of that block's list. */
  block: z.string().max(40).optional(),
});
export type DocumentPlace = z.infer<typeof documentPlaceSchema>;

/** The code of a stamp, in the place of a picture of the example or of words of it. */
const documentCodeSchema = z.object({
  id: z.string().max(40),
  stamp: z.string(),
  /** Its place in the text, in mm; the code lies in the middle of it. */
  widthMm: z.number().min(4).max(1300),
  heightMm: z.number().min(4).max(1300),
  at: z.discriminatedUnion('kind', [
    z.object({
      kind: z.literal('picture'),
      part: spot.part,
      /** Number of the picture in its part, from 0. */
      picture: z.number().int().min(0),
    }),
    z.object({ kind: z.literal('words'), ...spot }),
  ]),
  /** The block in which each row has a code of its own. */
  block: z.string().max(40).optional(),
  /**
   * The content of a row's code, from the columns of that block's list; the stamp's own content if
   * the rows are records of its list.
   */
  says: z.array(partSchema).max(20).optional(),
});
export type DocumentCode = z.infer<typeof documentCodeSchema>;

/** The position of a repeated part. */
export const blockSpot = {
  /** Number of the table row in its part, from 0. */
  row: z.number().int().min(0).optional(),
  /** Number of the cell of that row, from 0, where each cell of the table holds one in turn. */
  cell: z.number().int().min(0).optional(),
  /** First and last of the paragraphs, where it is no table row. */
  lines: z.object({ from: z.number().int().min(0), to: z.number().int().min(0) }).optional(),
};
/**
 * Something of the example that comes once for each of several rows: records of another list that
 * belong to this one, or those who share the document. It is a table row, or the lines from one
 * paragraph to another, or each cell of a table in turn.
 */
const documentBlockSchema = z.object({
  id: z.string().max(40),
  part: spot.part,
  ...blockSpot,
  /** Table rows, or paragraphs, after it that are more of the same in the example, and go. */
  goes: z.number().int().min(0).max(1000),
  list: z.number().int(),
  /** The column of that list which must say what `is` says of this record. */
  by: z.string(),
  is: z.string(),
  /** Those who share the document are its rows: records of its own list. */
  members: z.literal(true).optional(),
});
export type DocumentBlock = z.infer<typeof documentBlockSchema>;

/** A document of one's own, by a finished example of it. */
const documentGroundShape = z.object({
  /** A DOCX, or a page in HTML. */
  kind: z.enum(['document', 'html']),
  document: refersTo('document', z.number().int()),
  name: z.string().max(300),
  /** For whom the example was written. */
  writtenFor: z.object({ record: z.number().int(), title: z.string().max(500) }).optional(),
  places: z.array(documentPlaceSchema).max(2000),
  codes: z.array(documentCodeSchema).max(50),
  blocks: z.array(documentBlockSchema).max(20),
  /**
   * One document for all records that say the same in this column, in place of one for each; for
   * all that are taken where it is empty.
   */
  groupBy: z.string().max(80).optional(),
});
export type DocumentGround = z.infer<typeof documentGroundShape>;
/** Of the lists of its blocks it reads the columns that its places and codes say. */
const documentGroundSchema = refersTo('list', documentGroundShape, ({ blocks, places, codes }) =>
  blocks.map((block) => ({
    id: block.list,
    columns: [
      ...new Set([
        block.by,
        ...places.filter((p) => p.block === block.id).flatMap((p) => columnsIn(p.parts)),
        ...codes.filter((c) => c.block === block.id).flatMap((c) => columnsIn(c.says ?? [])),
      ]),
    ],
  })),
);

export const corners = ['top left', 'top right', 'bottom left', 'bottom right'] as const;
export type Corner = (typeof corners)[number];
/** The middle of an edge. */
const edges = ['top middle', 'bottom middle', 'middle left', 'middle right'] as const;
/** From where on a page a distance is measured. */
export const anchors = [...corners, ...edges] as const;
export type Anchor = (typeof anchors)[number];
export const isCorner = (anchor: Anchor): anchor is Corner =>
  corners.some((corner) => corner === anchor);
const pageChoices = ['all', 'first', 'last', 'not-first', 'these'] as const;
export type PageChoice = (typeof pageChoices)[number];
const knownBy = ['name', 'title', 'text', 'code'] as const;
export type KnownBy = (typeof knownBy)[number];

/** PDFs that exist, each with a code put on it. */
const pdfsGroundSchema = z.object({
  kind: z.literal('pdfs'),
  set: refersTo('document set', z.number().int()),
  name: z.string().max(300),
  /** Where to look for the value that identifies a document, and the column of that value. */
  knownBy: z.enum(knownBy),
  column: z.string(),
  /** A person's decision: the record of a document, or that it has none. */
  said: z
    .array(z.object({ document: z.number().int(), record: z.number().int().nullable() }))
    .max(5000),
  stamp: z.string(),
  sizeMm: z.number().min(4).max(300),
  /** A corner, or the middle of an edge. */
  corner: z.enum(anchors),
  /** From the edges of that corner, in mm; along an edge it is in the middle. */
  acrossMm: z.number().min(0).max(1300),
  downMm: z.number().min(0).max(1300),
  pages: z.enum(pageChoices),
  /** Of `these`: numbers and spans of pages from 1, such as `1, 3-5`. */
  range: z.string().max(200).optional(),
  /** Quarter turns of the code on the page, clockwise, on top of those of its look. */
  turn: z.literal([90, 180, 270]).optional(),
  /** The background of the code and its caption; by default the stamp's. */
  ground: z.enum(['white', 'none']).optional(),
  /** Below the code. */
  caption: z.array(partSchema).max(20).optional(),
  /** On a document that has something at that place, it goes where that one has room. */
  each: z.literal(true).optional(),
  /** Signed documents are left out unless they are taken on purpose. */
  signed: z.literal(true).optional(),
});
export type PdfsGround = z.infer<typeof pdfsGroundSchema>;

/** The ground of a piece; label stock by default. */
export const groundSchema = z.discriminatedUnion('kind', [documentGroundSchema, pdfsGroundSchema]);
export type Ground = z.infer<typeof groundSchema>;
export type GroundKind = 'stock' | Ground['kind'];
