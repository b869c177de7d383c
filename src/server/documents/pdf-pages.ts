import type * as Pdfjs from 'pdfjs-dist/legacy/build/pdf.mjs';
import { createCanvas } from '@napi-rs/canvas';
import { cellMm, cellsOf, inkMap } from '../../core/documents/room';
import type { GreyImage } from '../../core/artwork/raster';
import { readImages } from '../../core/readback/readback';
import { packageFile, provideReader } from '../platform';

/** Dots per inch at which pages are read. */
const readingDpi = 300;
/** Most pixels of one page; larger pages are drawn coarser. */
const mostPixels = 50e6;

type PDFDocumentProxy = Pdfjs.PDFDocumentProxy;
type PDFPageProxy = Pdfjs.PDFPageProxy;

let library: Promise<typeof Pdfjs> | undefined;

/**
 * The library for PDFs, read when a page is first wanted. It puts functions of its own in the place
 * of some that every array and every text of JSON goes through, for the sake of engines that lack
 * the newest of them; those are many times slower, so the engine's own are put back.
 */
const pdfjs = () =>
  (library ??= leavingNatives(async () => {
    // its second half, which it would read by itself with the first PDF
    await import('pdfjs-dist/legacy/build/pdf.worker.mjs' as string);
    return import('pdfjs-dist/legacy/build/pdf.mjs');
  }));

async function leavingNatives<T>(work: () => Promise<T>): Promise<T> {
  const owners = [JSON, Array.prototype, Function.prototype];
  const own = owners.map((owner) => Object.getOwnPropertyDescriptors(owner));
  try {
    return await work();
  } finally {
    for (const [i, owner] of owners.entries())
      for (const [name, descriptor] of Object.entries(own[i]!))
        if (descriptor.configurable) Object.defineProperty(owner, name, descriptor);
  }
}

async function open(bytes: Uint8Array, password?: string): Promise<PDFDocumentProxy> {
  const { getDocument } = await pdfjs();
  return getDocument({
    data: Uint8Array.from(bytes),
    password,
    // typefaces that a PDF may leave out come with the package (ISO 32000, standard fonts)
    standardFontDataUrl: packageFile('pdfjs-dist', 'standard_fonts/'),
    cMapUrl: packageFile('pdfjs-dist', 'cmaps/'),
    cMapPacked: true,
    useSystemFonts: false,
    isEvalSupported: false,
    verbosity: 0,
  }).promise;
}

async function using<T>(
  bytes: Uint8Array,
  work: (document: PDFDocumentProxy) => Promise<T>,
  password?: string,
): Promise<T> {
  const document = await open(bytes, password);
  try {
    return await work(document);
  } finally {
    await document.destroy();
  }
}

/** A part of a page, in mm from its top left as it is shown. */
export interface PartOfPage {
  /** From 0. */
  page: number;
  x: number;
  y: number;
  widthMm: number;
  heightMm: number;
}

async function drawn(page: PDFPageProxy, dpi: number, part?: PartOfPage) {
  const full = page.getViewport({ scale: dpi / 72 });
  const px = (mm: number) => (mm / 25.4) * dpi;
  const width = part ? px(part.widthMm) : full.width;
  const height = part ? px(part.heightMm) : full.height;
  const shrink = Math.min(1, Math.sqrt(mostPixels / (width * height)));
  const viewport = page.getViewport({
    scale: (dpi / 72) * shrink,
    ...(part ? { offsetX: -px(part.x) * shrink, offsetY: -px(part.y) * shrink } : {}),
  });
  const canvas = createCanvas(Math.ceil(width * shrink), Math.ceil(height * shrink));
  const context = canvas.getContext('2d');
  context.fillStyle = '#ffffff';
  context.fillRect(0, 0, canvas.width, canvas.height);
  await page.render({
    canvas: null,
    canvasContext: context as unknown as CanvasRenderingContext2D,
    viewport,
  }).promise;
  page.cleanup();
  return canvas;
}

/**
 * Pages of a PDF as a printer would print them, in grey, one at a time.
 * @param numbers which, from 0, or from which on; all by default
 */
export async function* greyPages(
  bytes: Uint8Array,
  numbers: readonly number[] | { from: number } = { from: 0 },
  dpi = readingDpi,
  password?: string,
): AsyncGenerator<GreyImage> {
  const document = await open(bytes, password);
  try {
    const wanted =
      'from' in numbers
        ? Array.from({ length: document.numPages }, (_, i) => i).slice(numbers.from)
        : numbers;
    for (const number of wanted) {
      const canvas = await drawn(await document.getPage(number + 1), dpi);
      yield grey(canvas.data(), canvas.width, canvas.height);
    }
  } finally {
    await document.destroy();
  }
}

/** Parts of pages as a printer would set them, in grey, one at a time. */
export async function* greyParts(
  bytes: Uint8Array,
  parts: readonly PartOfPage[],
  password?: string,
): AsyncGenerator<GreyImage> {
  const document = await open(bytes, password);
  try {
    for (const part of parts) {
      const canvas = await drawn(await document.getPage(part.page + 1), readingDpi, part);
      yield grey(canvas.data(), canvas.width, canvas.height);
    }
  } finally {
    await document.destroy();
  }
}

function grey(rgba: Uint8Array, width: number, height: number): GreyImage {
  const pixels = new Uint8Array(width * height);
  for (let i = 0, o = 0; i < pixels.length; i++, o += 4)
    pixels[i] = (rgba[o]! * 77 + rgba[o + 1]! * 150 + rgba[o + 2]! * 29) >> 8;
  return { width, height, pixels };
}

/** A page as a picture, PNG. @param page from 0 */
export const pictureOfPage = (
  bytes: Uint8Array,
  page: number,
  dpi: number,
  password?: string,
): Promise<Uint8Array> =>
  using(
    bytes,
    async (document) => {
      if (page >= document.numPages) throw new Error('this page does not exist');
      const canvas = await drawn(await document.getPage(page + 1), dpi);
      return new Uint8Array(canvas.toBuffer('image/png'));
    },
    password,
  );

/** Where the pages of a PDF have ink. @param pages in mm, as they are displayed */
export const inkOfPages = (
  bytes: Uint8Array,
  pages: readonly { widthMm: number; heightMm: number }[],
  password?: string,
): Promise<string[]> =>
  using(
    bytes,
    async (document) => {
      const maps: string[] = [];
      // four pixels to a cell each way, so that thin lines leave a trace
      const perCell = 4;
      for (const [i, size] of pages.slice(0, mostPages).entries()) {
        const { columns, rows } = cellsOf(size);
        const canvas = await drawn(await document.getPage(i + 1), (perCell * 25.4) / cellMm);
        const { pixels, width, height } = grey(canvas.data(), canvas.width, canvas.height);
        maps.push(
          inkMap(
            (column, row) => {
              for (let y = row * perCell; y < Math.min(height, (row + 1) * perCell); y++)
                for (let x = column * perCell; x < Math.min(width, (column + 1) * perCell); x++)
                  if (pixels[y * width + x]! < inkBelow) return true;
              return false;
            },
            columns,
            rows,
          ),
        );
      }
      return maps;
    },
    password,
  );
/** Grey value below which there is something on the paper. */
const inkBelow = 240;

/** Pages of which the text is looked through. */
const mostPages = 60;

/** Pages on which a code is looked for, and the dots per inch at which it is. */
const codePages = 3;
const codeDpi = 200;

/** The contents of the codes on the first pages of a PDF. */
export async function codesOfPdf(
  bytes: Uint8Array,
  count: number,
  password?: string,
): Promise<string[]> {
  provideReader();
  const codes: string[] = [];
  const first = Array.from({ length: Math.min(codePages, count) }, (_, i) => i);
  for await (const page of greyPages(bytes, first, codeDpi, password))
    codes.push(...(await readImages(page)).map((reading) => reading.text));
  return codes;
}

/** The text of a PDF. */
export const textOfPdf = (bytes: Uint8Array, password?: string): Promise<string> =>
  using(
    bytes,
    async (document) => {
      const lines: string[] = [];
      for (let number = 1; number <= Math.min(mostPages, document.numPages); number++) {
        const page = await document.getPage(number);
        const { items } = await page.getTextContent();
        for (const item of items)
          if ('str' in item) lines.push(item.str + (item.hasEOL ? '\n' : ''));
        lines.push('\n');
        page.cleanup();
      }
      return lines.join('');
    },
    password,
  );
