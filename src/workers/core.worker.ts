import { expose } from 'comlink';
import { addressTo, ask } from '../contract/client';
/**
 * Runs the core away from the page: encodes codes, lays out pieces, reads artwork back. A thin
 * shell.
 */
import { renderPdf } from '../core/artwork/code-pdf';
import { renderEps } from '../core/artwork/eps';
import { renderJpeg } from '../core/artwork/jpeg';
import { renderPng } from '../core/artwork/png';
import { artToSvg, drawingToSvgElements, renderSvg } from '../core/artwork/svg';
import { symbolArt } from '../core/artwork/symbol-art';
import { lookAreas } from '../core/look/areas';
import { logoWarnings } from '../core/look/capacity';
import { measure } from '../core/look/layout';
import { lookWarnings } from '../core/look/warnings';
import { canProve } from '../core/base/proof';
import { purposeOf } from '../core/payload/purposes';
import { columnsOf, contentOf, encodeOptionsOf, type Stamp } from '../core/payload/stamp';
import { slicesFor, slicesOf } from '../core/artwork/font-catalogue';
import { FontBook } from '../core/artwork/fonts';
import { pictureOf } from '../core/drawing/pixels';
import type { Picture } from '../core/drawing/picture';
import { encodeStamp, fontsForPiece, makePiece, type PictureOf } from '../core/piece/piece';
import { pictureNameOf, type Piece, type Side } from '../core/piece/model';
import { stockOf } from '../core/piece/stock';
import { prepareReader, readBack, readImage, readImages } from '../core/readback/readback';
import { wears, type WearCurve } from '../core/readback/wear';
import { wearTest } from '../core/readback/wear-test';
import type { Values } from '../core/records/columns';
import { dots, isSealed, sealedRecord, shown, tokenColumn } from '../core/records/sealed';
import { EncodeError, type CodeSymbol } from '../core/symbology';
import type {
  CodeFileKind,
  CodePicture,
  PiecePicture,
  ReadingReport,
  ScannedImage,
  ScanReport,
  SeenCode,
  CodeToRead,
  PieceToDraw,
} from './protocol';

/** The ochre of what needs a look, lightened to stand out among black letters. */
const overColour = '#b9770c';
const fonts = new FontBook();
const loading = new Map<string, Promise<void>>();

/** Loads a typeface, or of a large one the parts in which the characters of a text are. */
async function load(key: string, text: string): Promise<void> {
  if (slicesOf(key).length === 0) return loadPart(key);
  await Promise.all(slicesFor(text, key).map((slice) => loadPart(key, slice)));
}

function loadPart(key: string, slice?: number): Promise<void> {
  const name = `${key}/${slice}`;
  let wait = loading.get(name);
  if (!wait) {
    const address =
      slice === undefined
        ? addressTo('typeface', { params: { key } })
        : addressTo('typefacePart', { params: { key, slice } });
    wait = fetch(address).then(async (response) => {
      if (!response.ok) throw new Error(`The typeface ${key} did not come.`);
      fonts.add(key, new Uint8Array(await response.arrayBuffer()), slice);
    });
    loading.set(name, wait);
    wait.catch(() => loading.delete(name));
  }
  return wait;
}

let readerReady = false;
function provideReader(): void {
  if (!readerReady)
    prepareReader({
      address: new URL('zxing-wasm/reader/zxing_reader.wasm', import.meta.url).href,
    });
  readerReady = true;
}

/**
 * A symbol that the server made; null where there is none, and `withheld` where there is one that
 * whoever asks may not have.
 */
type Sealed = CodeSymbol | 'withheld' | null;

/**
 * Symbols that the server made because this window may not know what they say, by stamp and record.
 */
const sealedSymbols = new Map<string, Promise<Sealed>>();

/**
 * The symbol of a stamp of which some value is kept back; undefined where all of them are known
 * here.
 */
function sealedSymbol(stamp: Stamp, values: Values): Promise<Sealed> | undefined {
  const used = columnsOf(stamp).map((id) => values[id] ?? '');
  const proof =
    purposeOf(stamp.does).proves && stamp.proofKey !== undefined && !canProve(stamp.proofKey);
  // which record it is stands beside the columns where one of the list's stamps vouches for it
  const password = stamp.fields?.password?.some((p) => p.kind === 'text' && isSealed(p.text));
  if (proof || password) used.push(values[tokenColumn] ?? '');
  const record = sealedRecord(used);
  if (record === undefined) return proof || password ? Promise.resolve(null) : undefined;
  const key = JSON.stringify([{ ...stamp, look: 0 }, used]);
  let wait = sealedSymbols.get(key);
  if (!wait) {
    wait = fetchSymbol(record, stamp);
    sealedSymbols.set(key, wait);
    wait.catch(() => sealedSymbols.delete(key));
    if (sealedSymbols.size > 600) sealedSymbols.delete(sealedSymbols.keys().next().value!);
  }
  return wait;
}

/** Records of which a stamp's symbol is wanted, until they are asked for together. */
const wantedSymbols = new Map<
  string,
  { stamp: Stamp; waiting: Map<number, ((symbol: Sealed | Error) => void)[]> }
>();

/** One request for all the records that are drawn in the same moment. */
function fetchSymbol(record: number, stamp: Stamp): Promise<Sealed> {
  const key = JSON.stringify({ ...stamp, look: 0 });
  let batch = wantedSymbols.get(key);
  if (!batch) {
    batch = { stamp, waiting: new Map() };
    wantedSymbols.set(key, batch);
    setTimeout(() => void flushSymbols(key), 12);
  }
  const { waiting } = batch;
  return new Promise((resolve, reject) => {
    const told = (symbol: Sealed | Error) =>
      symbol instanceof Error ? reject(symbol) : resolve(symbol);
    waiting.set(record, [...(waiting.get(record) ?? []), told]);
    if (waiting.size >= 100) void flushSymbols(key);
  });
}

async function flushSymbols(key: string): Promise<void> {
  const batch = wantedSymbols.get(key);
  wantedSymbols.delete(key);
  if (!batch) return;
  try {
    const { symbols } = await ask('sealedSymbols', {
      body: { stamp: batch.stamp, records: [...batch.waiting.keys()] },
    });
    for (const [record, told] of batch.waiting) {
      const given = symbols[record];
      const symbol = given?.symbol ?? null;
      const whole: Sealed = symbol
        ? {
            ...symbol,
            modules: Uint8Array.from(atob(symbol.modules), (c) => c.charCodeAt(0)),
          }
        : given && 'withheld' in given
          ? 'withheld'
          : null;
      told.forEach((tell) => tell(whole));
    }
  } catch (error) {
    const failure = error instanceof Error ? error : new Error(String(error));
    for (const told of batch.waiting.values()) told.forEach((tell) => tell(failure));
  }
}

/** Those of a record's symbols that the server makes, by stamp id. */
async function sealedOf(stamps: readonly Stamp[], values: Values): Promise<Map<string, Sealed>> {
  const made = await Promise.all(
    stamps.map(async (stamp) => [stamp.id, await sealedSymbol(stamp, values)] as const),
  );
  return new Map(
    made.flatMap(([id, symbol]) => (symbol === undefined ? [] : [[id, symbol] as const])),
  );
}

/** The symbol of a stamp for a record; undefined where there is none. */
async function symbolOf(stamp: Stamp, values: Values): Promise<CodeSymbol | undefined> {
  const sealed = await sealedSymbol(stamp, values);
  if (sealed === 'withheld') return undefined;
  if (sealed !== undefined) return sealed ?? undefined;
  const content = contentOf(stamp, values);
  return content.state === 'said' ? encodeStamp(stamp, content.payload) : undefined;
}

async function code(stamp: Stamp, values: Values): Promise<CodePicture | undefined> {
  try {
    const symbol = await symbolOf(stamp, values);
    if (!symbol) return undefined;
    const art = symbolArt(symbol, stamp.look);
    return {
      payload: String(symbol.payload),
      svg: artToSvg(art),
      columns: art.columns,
      rows: art.rows,
      symbolColumns: symbol.columns,
      facts: symbol.facts,
      ...measure(art.symbol, stamp.look),
      areas: lookAreas(art.symbol, stamp.look, art.layout),
      warnings: [...logoWarnings(symbol, stamp.look), ...lookWarnings(stamp.look, art.layout)],
    };
  } catch (error) {
    if (error instanceof EncodeError) return undefined;
    throw error;
  }
}

/** A record's values as words on a piece show them: what is kept back as dots. */
const shownValues = (values: Values): Values =>
  Object.fromEntries(Object.entries(values).map(([id, value]) => [id, shown(value)]));

/** Pictures of lists, by list and name; null where there is none. */
const pictures = new Map<string, Picture | null>();

async function loadPictures(
  piece: Piece,
  values: Values,
  list: number | undefined,
): Promise<PictureOf> {
  const keyOf = (name: string) => `${list} ${name}`;
  for (const element of piece.elements) {
    const name = element.kind === 'picture' ? pictureNameOf(element, values) : undefined;
    if (!name || list === undefined || pictures.get(keyOf(name))) continue;
    const { picture } = await ask('viewListPicture', {
      params: { id: list },
      query: { name },
    });
    pictures.set(keyOf(name), picture ? pictureOf(picture) : null);
  }
  return (name) => pictures.get(keyOf(name)) ?? undefined;
}

async function layout(
  piece: Piece,
  stamps: Stamp[],
  values: Values,
  list: number | undefined,
  side: Side = 'front',
) {
  const words = shownValues(values);
  // every character that may come to stand on it
  const text = JSON.stringify([piece, words]);
  const loadAll = (keys: Iterable<string>) => [...keys].map((key) => load(key, text));
  const [found, symbols] = await Promise.all([
    loadPictures(piece, words, list),
    sealedOf(stamps, values),
    ...loadAll(fontsForPiece(piece, [words])),
  ]);
  await Promise.all(loadAll(fontsForPiece(piece, [words], fonts)));
  return makePiece(piece, stockOf(piece), stamps, words, fonts, { side, pictures: found, symbols });
}

async function picture({ piece, stamps, values, list, side }: PieceToDraw): Promise<PiecePicture> {
  const made = await layout(piece, stamps, values, list, side);
  // the letters that run over are told apart on the screen, not in print
  const items = made.items.map((item) =>
    item.kind === 'text' && item.beyond ? { ...item, fill: overColour } : item,
  );
  return { svg: drawingToSvgElements(items, fonts), boxes: made.boxes, problems: made.problems };
}

/**
 * Reads the code of a stamp from its own artwork, or from the finished piece when it lies on one.
 */
async function read({ stamp, values, piece, stamps, list }: CodeToRead): Promise<ReadingReport> {
  provideReader();
  const started = performance.now();
  let lying = piece && (await layout(piece, stamps, values, list));
  let placed = lying?.codes.find((c) => c.stamp === stamp.id);
  if (piece && !placed && piece.sides === 2) {
    lying = await layout(piece, stamps, values, list, 'back');
    placed = lying.codes.find((c) => c.stamp === stamp.id);
  }
  let items = lying?.items ?? [];
  if (!placed) {
    const alone: Piece = {
      stock: 'a4-sign',
      elements: [
        { kind: 'stamp', id: 'alone', stamp: stamp.id, x: 0, y: 0, sizeMm: stamp.look.sizeMm },
      ],
    };
    const made = await layout(alone, [stamp], values, undefined);
    items = made.items;
    placed = made.codes[0];
    lying = undefined;
  }
  if (!placed) return { result: 'none' };
  const back = await readBack(items, placed, fonts);
  // what is kept back is not told by reading it either
  if (placed.symbol.readingHash && 'text' in back)
    back.text = back.result === 'read' ? String(placed.symbol.payload) : dots;
  return { ...back, milliseconds: performance.now() - started, onPiece: lying !== undefined };
}

async function file(
  stamp: Stamp,
  values: Values,
  kind: CodeFileKind,
  name: string,
): Promise<Uint8Array> {
  const symbol = await symbolOf(stamp, values);
  if (!symbol) throw new Error('There is no code to save.');
  if (kind === 'svg') return new TextEncoder().encode(renderSvg(symbol, stamp.look));
  if (kind === 'png') return renderPng(symbol, stamp.look);
  if (kind === 'jpeg') return renderJpeg(symbol, stamp.look);
  return kind === 'eps' ? renderEps(symbol, stamp.look) : renderPdf(symbol, stamp.look, name);
}

async function wear(stamp: Stamp, values: Values, id: string): Promise<WearCurve | undefined> {
  const symbol = await symbolOf(stamp, values);
  const kind = wears.find((w) => w.id === id);
  if (!symbol || !kind) return undefined;
  provideReader();
  return wearTest(symbol, stamp.look, kind, encodeOptionsOf(stamp));
}

async function scan(image: ScannedImage): Promise<ScanReport> {
  provideReader();
  const found = await readImage(
    'bytes' in image
      ? image.bytes
      : { width: image.width, height: image.height, pixels: image.grey },
  );
  return found ? { symbology: found.format, text: found.text, identifier: found.identifier } : null;
}

/** All codes on a picture, whichever they are; one that reads two ways over is there once. */
async function scanAll(image: ScannedImage): Promise<SeenCode[]> {
  provideReader();
  const found = await readImages(
    'bytes' in image
      ? image.bytes
      : { width: image.width, height: image.height, pixels: image.grey },
    undefined,
    mostOnPicture,
  );
  return found.map((one) => ({ text: one.text, ...one.middle }));
}
/** Most codes that are looked for on a picture. */
const mostOnPicture = 255;

/** What a window can have done away from the page; an error comes to it as it was thrown here. */
const core = { code, piece: picture, read, file, wear, scan, scanAll };
export type CoreWorker = typeof core;
expose(core);
