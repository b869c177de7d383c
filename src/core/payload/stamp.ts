import * as z from 'zod';
import { gradientDirections } from '../drawing/drawing';
import { keptPictureSchema } from '../drawing/picture';
import { defaultLook } from '../look/look';
import { finderShapes, moduleShapes } from '../look/shapes';
import { keyColumn, type Column, type Values } from '../records/columns';
import { columnsIn, partSchema, saidOf, type Part } from '../records/parts';
import {
  EncodeError,
  explainFit,
  heldBy,
  qrLevels,
  symbologies,
  symbologyIds,
  type EncodeOptions,
  type Fit,
  type SymbologyId,
  usualSymbology,
} from '../symbology';
import { codeOptionsSchema } from '../symbology/choices';
import {
  canProve,
  keyBytes,
  proofKeySchema,
  proofKinds,
  proofOf,
  unknownProof,
} from '../base/proof';
import { plainlyOf } from './plainly';
import { addressPurpose, purposeIds, purposeOf, wordsPurpose } from './purposes';

export { partSchema, type Part };

export const hexColour = z.string().regex(/^#[0-9a-fA-F]{6}$/);

export const lookSchema = z.object({
  sizeMm: z.number().min(4).max(300),
  moduleDots: z.number().min(0.5).max(400).optional(),
  dpi: z.number().int().min(72).max(2400),
  pixels: z.number().int().min(20).max(20_000).optional(),
  wholeDots: z.boolean(),
  foreground: hexColour,
  background: z.union([hexColour, z.literal('transparent')]),
  gradient: z.object({ to: hexColour, direction: z.enum(gradientDirections) }).optional(),
  quietZone: z.boolean(),
  modules: z.enum(moduleShapes).optional(),
  finders: z.enum(finderShapes).optional(),
  logo: z
    .object({
      picture: keptPictureSchema,
      share: z.number().min(0.05).max(0.5),
      clear: z.boolean(),
    })
    .optional(),
  behind: z.object({ picture: keptPictureSchema, strength: z.number().min(0).max(1) }).optional(),
  frame: z
    .object({
      shape: z.enum(['square', 'rounded']),
      caption: z.string().max(60),
      captionAt: z.enum(['above', 'below']),
    })
    .optional(),
  turn: z.union([z.literal(90), z.literal(180), z.literal(270)]).optional(),
  barMm: z.number().min(2).max(200).optional(),
  reduceMm: z.number().min(0).max(1).optional(),
  hri: z.enum(['below', 'above', 'none']).optional(),
  distanceMm: z.number().min(50).max(20_000).optional(),
});

/** Turns a record into a code: its content, its code type, its look. */
export const stampSchema = z.object({
  id: z.string(),
  name: z.string().min(1).max(80),
  /** The id of a purpose: what a scan does. */
  does: z.enum(purposeIds),
  /** The content of purposes that are one run of text. */
  parts: z.array(partSchema).max(40),
  /** The fields of the others, by their ids. */
  fields: z.record(z.string(), z.array(partSchema).max(20)).optional(),
  /** How spaces are written in a query: as %20, or as the plus sign that some forms want. */
  spaces: z.enum(['percent', 'plus']).optional(),
  /** Key for proofs of genuineness. */
  proofKey: proofKeySchema.optional(),
  /** The kind of its proofs; by default checked by the owner of the key. */
  proofKind: z.enum(proofKinds).optional(),
  symbology: z.enum(symbologyIds),
  level: z.enum(qrLevels),
  options: codeOptionsSchema.optional(),
  look: lookSchema,
});
export type Stamp = z.infer<typeof stampSchema>;

/** A first stamp for a list: its key as text, or the address it holds. */
export function firstStamp(columns: readonly Column[]): Stamp {
  const address = columns.find((c) => c.role === 'address');
  const column = address ?? keyColumn(columns) ?? columns[0];
  return {
    id: 'stamp-1',
    name: column?.name ?? 'Code',
    does: address ? addressPurpose : wordsPurpose,
    parts: column ? [{ kind: 'column', column: column.id }] : [],
    symbology: usualSymbology,
    level: 'M',
    look: {
      sizeMm: 24,
      dpi: 600,
      wholeDots: true,
      foreground: defaultLook.foreground,
      background: '#ffffff',
      quietZone: true,
    },
  };
}

/** Stamps that one list may have. */
export const mostStamps = 8;

/** A further stamp for a list: like its first, or the first one of a list without any. */
export function nextStamp(stamps: readonly Stamp[], columns: readonly Column[]): Stamp {
  const number = Math.max(0, ...stamps.map((s) => Number(s.id.split('-')[1]))) + 1;
  return { ...(stamps[0] ?? firstStamp(columns)), id: `stamp-${number}`, name: `Stamp ${number}` };
}

/** The form of what a stamp's codes say, for taking them apart. */
export function formOf({ parts, spaces, does }: Stamp) {
  const { opens, proves } = purposeOf(does);
  return { parts, spaces, opens, proves };
}

export type Content =
  | { state: 'said'; payload: string }
  /** Columns of the content that are blank in this record: no code is made. */
  | { state: 'blank'; columns: string[] }
  /**
   * Something stands there that the purpose cannot say, such as a telephone number with letters in
   * it.
   */
  | { state: 'wrong'; reason: string; mend?: string };

/** The columns that a stamp's content is made of. */
export const columnsOf = (stamp: Stamp): string[] =>
  columnsIn([stamp.parts, ...Object.values(stamp.fields ?? {})].flat());

/**
 * The payload of a record. A blank column that is needed gives no code, so that a half-filled row
 * never becomes a junk code; a blank in a field that may be missing leaves the field out.
 */
export function contentOf(stamp: Stamp, values: Values): Content {
  const purpose = purposeOf(stamp.does);
  const spaces = stamp.spaces ?? 'percent';
  const fields: Record<string, string> = {};
  const blank: string[] = [];
  for (const { id, needed, choices, exact } of purpose.fields) {
    const parts = id === 'content' ? stamp.parts : (stamp.fields?.[id] ?? []);
    const one = saidOf(parts, values, {
      address: id === 'content' && purpose.opens,
      exact,
      spaces,
    });
    if (needed && (one.blank.length > 0 || !one.any)) {
      blank.push(...one.blank);
      if (!one.any && one.blank.length === 0) return { state: 'blank', columns: [] };
    }
    // fixed text around a blank means nothing; a choice is fixed text alone
    fields[id] = one.blank.length > 0 && !choices ? '' : one.text;
  }
  if (blank.length > 0) return { state: 'blank', columns: blank };
  try {
    let payload = purpose.build(fields, stamp.symbology);
    if (purpose.proves) {
      if (!stamp.proofKey)
        return {
          state: 'wrong',
          reason: 'There is no key for the proof.',
          mend: 'Create one in the stamp’s sentence.',
        };
      const vouched = (stamp.fields?.signed ?? []).flatMap((part) =>
        part.kind === 'column' ? [(values[part.column] ?? '').trim()] : [],
      );
      payload += `${payload.includes('?') ? '&' : '?'}proof=${canProve(stamp.proofKey) ? proofOf(vouched, keyBytes(stamp.proofKey), stamp.proofKind) : unknownProof(stamp.proofKind)}`;
    }
    return { state: 'said', payload: heldBy(stamp.symbology, payload, encodeOptionsOf(stamp)) };
  } catch (error) {
    if (!(error instanceof EncodeError)) throw error;
    return { state: 'wrong', reason: error.message, mend: error.mend };
  }
}

export const encodeOptionsOf = (stamp: Stamp): EncodeOptions => ({
  level: stamp.level,
  ...stamp.options,
});

/**
 * A code type in which a product with its identifiers is understood, if the stamp's is not one.
 */
const carrierFor = (stamp: Stamp, payload: string): SymbologyId | undefined =>
  purposeOf(stamp.does).elements && payload.startsWith('(')
    ? symbologies[stamp.symbology].gs1
    : undefined;

/** Whether the stamp's symbology can carry a payload of it so that it is understood. */
export function stampFit(stamp: Stamp, payload: string): Fit {
  const fit = explainFit(stamp.symbology, payload, encodeOptionsOf(stamp));
  const carrier = fit.fits && carrierFor(stamp, payload);
  if (!carrier) return fit;
  return {
    fits: false,
    reason: `In ${symbologies[stamp.symbology].name} a product with its identifiers is plain text: tills and scanners do not read it as a product.`,
    mend: `Use ${symbologies[carrier].name} instead.`,
  };
}

/** Contents are made once for each record, and what fits is asked several times. */
const fits = new WeakMap<Content, Fit>();

/** Whether the content of a stamp for a record fits; calculated once per content. */
export function contentFit(stamp: Stamp, content: Content & { state: 'said' }): Fit {
  let fit = fits.get(content);
  if (!fit) fits.set(content, (fit = stampFit(stamp, content.payload)));
  return fit;
}

/** The content of each stamp for one record. */
export type Saying = (stamp: Stamp) => Content;

/** The contents of the stamps for a record, each calculated once, when it is first needed. */
export function sayingOf(values: Values): Saying {
  const known = new Map<Stamp, Content>();
  return (stamp) => {
    let content = known.get(stamp);
    if (!content) known.set(stamp, (content = contentOf(stamp, values)));
    return content;
  };
}

export type StampVerdict =
  | { mark: 'ready'; payload: string }
  /** `drawn`: there is a code, and it says what it should not. */
  | { mark: 'look'; payload: string; reason: string; mend?: string; drawn?: true }
  | { mark: 'out'; reason: string };

/** Whether a record's code can be made, in words for its row. */
export function judgeStamp(
  stamp: Stamp,
  values: Values,
  columns: readonly Column[],
  saying: Saying = (of) => contentOf(of, values),
): StampVerdict {
  const content = saying(stamp);
  if (content.state === 'blank') {
    const names = content.columns.map(
      (id) => columns.find((c) => c.id === id)?.name ?? 'a deleted column',
    );
    return {
      mark: 'out',
      reason: names.length
        ? `no code: ${names.join(' and ')} ${names.length > 1 ? 'are' : 'is'} blank`
        : 'no code: the stamp has no content yet',
    };
  }
  if (content.state === 'wrong')
    return { mark: 'look', payload: '', reason: content.reason, mend: content.mend };
  const { payload } = content;
  const fit = contentFit(stamp, content);
  if (!fit.fits) return { mark: 'look', payload, reason: fit.reason, mend: fit.mend };
  if (purposeOf(stamp.does).opens === true && !/^[a-z][a-z0-9+.-]*:/i.test(payload))
    return {
      mark: 'look',
      drawn: true,
      payload,
      reason: 'A phone will not open this: the address has no https:// in front.',
      mend: 'Put https:// in front.',
    };
  if (plainlyOf(payload, stamp.does) === addressPurpose) {
    const page = contentOf({ ...stamp, does: addressPurpose }, values);
    if (page.state !== 'said' || page.payload !== payload)
      return {
        mark: 'look',
        drawn: true,
        payload,
        reason:
          'This is a web address, but the stamp shows text: some characters in it are not written the way addresses need.',
        mend: 'Let the scan open a page.',
      };
  }
  return { mark: 'ready', payload };
}
