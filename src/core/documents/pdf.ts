import {
  PDFArray,
  PDFContentStream,
  PDFDict,
  PDFDocument,
  PDFHexString,
  PDFName,
  PDFNumber,
  PDFOperator,
  PDFOperatorNames,
  PDFRawStream,
  PDFRef,
  type PDFPage,
} from '@cantoo/pdf-lib';
import { FontBook } from '../artwork/fonts';
import { pageContent, pointsPerMm, type PictureUse } from '../artwork/pdf';
import { encodePicture } from '../drawing/pixels';
import type { DrawItem } from '../drawing/drawing';
import { DocumentError, LockedError } from './error';

/** Whole quarter turns clockwise in which a page is shown. */
export type PageTurn = 0 | 90 | 180 | 270;
/** A page as it is shown, in mm. */
export interface ShownPage {
  widthMm: number;
  heightMm: number;
  turn: PageTurn;
  /** Where it has ink, see `room.ts`; undefined if it was not analysed. */
  ink?: string;
}

/**
 * A drawing for a page of a PDF: its top left in mm from the top left of the page as it is shown.
 */
export interface PutOnPage {
  /** From 0. */
  page: number;
  x: number;
  y: number;
  widthMm: number;
  heightMm: number;
  items: readonly DrawItem[];
  /** Its alternative text. */
  about: string;
}

/** The metadata field that names the original document. */
const originName = PDFName.of('HandStampOriginal');

const turnOf = (page: PDFPage): PageTurn =>
  (((page.getRotation().angle % 360) + 360) % 360) as PageTurn;

/** The area of a page that is shown, in its own unturned space, in points. */
function shownArea(page: PDFPage): { x: number; y: number; width: number; height: number } {
  const crop = page.getCropBox();
  const media = page.getMediaBox();
  // what is outside the medium is not shown (ISO 32000, page boundaries)
  const x = Math.max(crop.x, media.x);
  const y = Math.max(crop.y, media.y);
  return {
    x,
    y,
    width: Math.min(crop.x + crop.width, media.x + media.width) - x,
    height: Math.min(crop.y + crop.height, media.y + media.height) - y,
  };
}

const shownPage = (page: PDFPage): ShownPage => {
  const { width, height } = shownArea(page);
  const turn = turnOf(page);
  const across = turn % 180 === 0;
  return {
    widthMm: (across ? width : height) / pointsPerMm,
    heightMm: (across ? height : width) / pointsPerMm,
    turn,
  };
};

async function opened(bytes: Uint8Array, password?: string): Promise<PDFDocument> {
  try {
    return await PDFDocument.load(bytes, { updateMetadata: false, password });
  } catch (error) {
    if (error instanceof Error && /encrypt|password/i.test(error.message))
      throw new LockedError(password !== undefined);
    throw new DocumentError(
      'This PDF is damaged. Open it in the program it comes from and save it again.',
    );
  }
}

export interface PdfFacts {
  pages: ShownPage[];
  /** It has a signature, which states that nothing was changed since. */
  signed: boolean;
  title: string;
  /** Hash of the document from which we made it; undefined for an original. */
  origin?: string;
  /** Opens for nobody without its password; or for all, and only changes need it. */
  locked?: 'for all' | 'for changes';
}

/**
 * The analysis of a PDF that was brought in.
 * @param password of a locked one: the user's or the owner's (ISO 32000, standard security handler)
 * @throws DocumentError LockedError
 */
export async function inspectPdf(bytes: Uint8Array, password?: string): Promise<PdfFacts> {
  if (String.fromCharCode(...bytes.subarray(0, 1024)).indexOf('%PDF-') < 0)
    throw new DocumentError('This is not a PDF. Choose another file.');
  const document = await opened(bytes, password);
  const locked = password === undefined ? undefined : await lockOf(bytes);
  let pages: ShownPage[];
  try {
    pages = document.getPages().map(shownPage);
  } catch {
    throw new DocumentError(
      'This PDF is damaged. Open it in the program it comes from and save it again.',
    );
  }
  if (pages.length === 0) throw new DocumentError('This PDF has no pages.');
  for (const [i, page] of pages.entries()) checkSize(i + 1, page);
  const origin = infoOf(document)?.lookupMaybe(originName, PDFHexString)?.decodeText();
  return {
    pages,
    signed: isSigned(bytes),
    title: document.getTitle() ?? '',
    ...(origin ? { origin } : {}),
    ...(locked ? { locked } : {}),
  };
}

/** The longest side of a page in mm: 14,400 units of 1/72 inch (ISO 32000-1, Annex C). */
const longestSide = 5080;

/** @throws DocumentError if a page has no size that can be drawn */
function checkSize(number: number, { widthMm, heightMm }: ShownPage): void {
  if (!(widthMm > 0 && heightMm > 0))
    throw new DocumentError(
      `Page ${number} of this PDF has no size. Open it in the program it comes from and save it again.`,
    );
  if (Math.max(widthMm, heightMm) > longestSide + 1)
    throw new DocumentError(
      `Page ${number} of this PDF is ${metres(widthMm)} × ${metres(heightMm)}. Pages up to ${metres(longestSide)} long can be used. Save it again in a smaller size.`,
    );
}
const metres = (mm: number): string =>
  `${(mm / 1000).toLocaleString('en-GB', { maximumFractionDigits: 1 })} m`;

async function lockOf(bytes: Uint8Array): Promise<PdfFacts['locked']> {
  const opensWith = (password?: string) =>
    opened(bytes, password).then(
      () => true,
      () => false,
    );
  if (await opensWith()) return undefined;
  return (await opensWith('')) ? 'for changes' : 'for all';
}

function isSigned(bytes: Uint8Array): boolean {
  const text = new TextDecoder('latin1').decode(bytes);
  return /\/ByteRange\s*\[\s*\d/.test(text);
}

function infoOf(document: PDFDocument): PDFDict | undefined {
  const { Info } = document.context.trailerInfo;
  return Info instanceof PDFRef
    ? document.context.lookupMaybe(Info, PDFDict)
    : Info instanceof PDFDict
      ? Info
      : undefined;
}

/** How a PDF is locked, and what opens it. */
export interface Lock {
  locked: NonNullable<PdfFacts['locked']>;
  password: string;
}

/**
 * What a locked PDF allows without the owner's password (ISO 32000, table of user access
 * permissions).
 */
async function permissionsOf(bytes: Uint8Array) {
  // an opened copy has no lock left
  const document = await PDFDocument.load(bytes, { updateMetadata: false, ignoreEncryption: true });
  const { Encrypt } = document.context.trailerInfo;
  const dictionary = document.context.lookupMaybe(Encrypt, PDFDict);
  const bits = dictionary?.lookupMaybe(PDFName.of('P'), PDFNumber)?.asNumber() ?? 0;
  const may = (bit: number) => (bits & (1 << (bit - 1))) !== 0;
  return {
    printing: may(3) && (may(12) ? ('highResolution' as const) : ('lowResolution' as const)),
    modifying: may(4),
    copying: may(5),
    annotating: may(6),
    fillingForms: may(9),
    contentAccessibility: may(10),
    documentAssembly: may(11),
  };
}

/**
 * Puts drawings onto pages of a PDF as vectors. The original stays byte for byte: the drawings are
 * appended (incremental update, ISO 32000). Only a locked one is written anew, and locked again,
 * since nothing in it may be unencrypted.
 * @param origin hash of the document as it came in; the result names it
 * @throws DocumentError
 */
export async function putOnPdf(
  bytes: Uint8Array,
  drawings: readonly PutOnPage[],
  origin: string,
  lock?: Lock,
): Promise<Uint8Array> {
  const document = await opened(bytes, lock?.password);
  const permissions = lock && (await permissionsOf(bytes));
  const snapshot = document.takeSnapshot();
  const { context } = document;
  const pages = document.getPages();
  for (const [number, drawing] of drawings.entries()) {
    const page = pages[drawing.page];
    if (!page) throw new DocumentError(`This PDF has no page ${drawing.page + 1}.`);
    const form = context.register(await formOf(document, drawing));
    const name = page.node.newXObject(`HandStamp${number}`, form);
    const matrix = matrixOf(page, drawing).map((n) => PDFNumber.of(round(n)));
    const properties = context.obj({}) as PDFDict;
    properties.set(PDFName.of('Alt'), PDFHexString.fromText(drawing.about));
    const stream = PDFContentStream.of(context.obj({}) as PDFDict, [
      PDFOperator.of(PDFOperatorNames.BeginMarkedContentSequence, [
        PDFName.of('Figure'),
        properties as never,
      ]),
      PDFOperator.of(PDFOperatorNames.PushGraphicsState),
      PDFOperator.of(PDFOperatorNames.ConcatTransformationMatrix, matrix),
      PDFOperator.of(PDFOperatorNames.DrawObject, [name]),
      PDFOperator.of(PDFOperatorNames.PopGraphicsState),
      PDFOperator.of(PDFOperatorNames.EndMarkedContent),
    ]);
    page.node.addContentStream(context.register(stream));
    snapshot.markRefForSave(page.ref);
  }
  let info = infoOf(document);
  if (!info) {
    info = context.obj({}) as PDFDict;
    context.trailerInfo.Info = context.register(info);
  }
  info.set(originName, PDFHexString.fromText(origin));
  if (lock) {
    document.encrypt({
      userPassword: lock.locked === 'for all' ? lock.password : '',
      ownerPassword: lock.password,
      permissions,
    });
    return document.save();
  }
  if (context.trailerInfo.Info instanceof PDFRef) snapshot.markRefForSave(context.trailerInfo.Info);
  const more = await document.saveIncremental(snapshot);
  const whole = new Uint8Array(bytes.length + more.length);
  whole.set(bytes);
  whole.set(more, bytes.length);
  return whole;
}

const round = (n: number): number => Math.round(n * 1e4) / 1e4;

/**
 * Brings a drawing, its origin at the bottom left of its place, onto a page however that is turned
 * and cropped.
 */
function matrixOf(
  page: PDFPage,
  { x, y, heightMm }: Pick<PutOnPage, 'x' | 'y' | 'heightMm'>,
): [number, number, number, number, number, number] {
  const area = shownArea(page);
  const right = x * pointsPerMm;
  const down = (y + heightMm) * pointsPerMm;
  switch (turnOf(page)) {
    case 0:
      return [1, 0, 0, 1, area.x + right, area.y + area.height - down];
    case 90:
      return [0, 1, -1, 0, area.x + down, area.y + right];
    case 180:
      return [-1, 0, 0, -1, area.x + area.width - right, area.y + down];
    case 270:
      return [0, -1, 1, 0, area.x + area.width - down, area.y + area.height - right];
  }
}

async function formOf(document: PDFDocument, { items, widthMm, heightMm }: PutOnPage) {
  const { context } = document;
  const pictures: PictureUse = new Map();
  const content = pageContent(
    { widthMm, heightMm, items: [...items] },
    noFonts,
    new Map(),
    pictures,
  );
  const resources = context.obj({}) as PDFDict;
  const own = context.obj({}) as PDFDict;
  for (const [name, picture] of pictures) {
    const image = await document.embedPng(encodePicture(picture));
    await image.embed();
    own.set(PDFName.of(name), image.ref);
  }
  if (pictures.size > 0) resources.set(PDFName.of('XObject'), own);
  const box = PDFArray.withContext(context);
  for (const n of [0, 0, widthMm * pointsPerMm, heightMm * pointsPerMm])
    box.push(PDFNumber.of(round(n)));
  const dictionary = context.obj({ Type: 'XObject', Subtype: 'Form' }) as PDFDict;
  dictionary.set(PDFName.of('BBox'), box);
  dictionary.set(PDFName.of('Resources'), resources);
  return PDFRawStream.of(dictionary, content);
}
const noFonts = new FontBook();
