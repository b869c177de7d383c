import type { FontBook, Typeface } from './fonts';
import { parseColour } from '../look/colour';
import {
  symbolRects,
  type CodeItem,
  type Drawing,
  type DrawItem,
  type Gradient,
  type PathItem,
  type TextItem,
} from '../drawing/drawing';
import { gradientBands } from './gradient';
import { AsciiWriter } from './bytes';
import { short, shortName } from '../drawing/numbers';
import { pathText } from '../drawing/path';
import type { Picture } from '../drawing/picture';

/**
 * PDF 1.7 (ISO 32000-1) in two steps, so that several workers can make one document: page contents
 * first, each on its own, then one assembler that adds fonts, pages and cross-references as a
 * stream. Glyphs keep the numbers they have in the whole font; the assembler subsets each font once
 * and maps the numbers, so nothing has to be agreed on beforehand.
 */
export const pointsPerMm = 72 / 25.4;

/**
 * Compresses to zlib format (RFC 1950); given from outside because Node's own is several times
 * faster.
 */
export type Deflate = (bytes: Uint8Array) => Uint8Array;

/** Glyphs used per font: glyph number → its text. */
export type GlyphUse = Map<string, Map<number, string>>;

const latin1 = (text: string): Uint8Array => {
  const bytes = new Uint8Array(text.length);
  for (let i = 0; i < text.length; i++) bytes[i] = text.charCodeAt(i);
  return bytes;
};

const fillColour = (hex: string): string => {
  const { r, g, b } = parseColour(hex) ?? { r: 0, g: 0, b: 0 };
  return r === g && g === b
    ? `${short(r / 255)} g`
    : `${short(r / 255)} ${short(g / 255)} ${short(b / 255)} rg`;
};

/** Pictures by the names they have in a document. */
export type PictureUse = Map<string, Picture>;
export type NamedPicture = readonly [name: string, picture: Picture];

/**
 * The content stream of one page, uncompressed. Adds the glyphs and pictures it uses to `used` and
 * `pictures`. Page space is turned to mm from the top left.
 */
export function pageContent(
  drawing: Drawing,
  fonts: FontBook,
  used: GlyphUse,
  pictures: PictureUse = new Map(),
): Uint8Array {
  const out = new AsciiWriter();
  const scale = short(pointsPerMm, 6);
  out.text(`${scale} 0 0 -${scale} 0 ${short(drawing.heightMm * pointsPerMm, 4)} cm\n`);
  itemsContent(drawing.items, fonts, used, pictures, out);
  return out.done();
}

function itemsContent(
  items: readonly DrawItem[],
  fonts: FontBook,
  used: GlyphUse,
  pictures: PictureUse,
  out: AsciiWriter,
): void {
  let colour = '';
  for (const item of items) {
    if (item.kind === 'clip') {
      out.text(
        `q ${short(item.x)} ${short(item.y)} ${short(item.width)} ${short(item.height)} re W n\n`,
      );
      itemsContent(item.items, fonts, used, pictures, out);
      out.text('Q\n');
      continue;
    }
    if (item.kind === 'image') {
      const name = pictureName(item.picture);
      pictures.set(name, item.picture);
      out.text(
        `q ${short(item.width, 4)} 0 0 -${short(item.height, 4)} ${short(item.x, 4)} ${short(item.y + item.height, 4)} cm /${name} Do Q\n`,
      );
      continue;
    }
    if (typeof item.fill !== 'string') {
      out.text(gradientContent(item as PathItem & { fill: Gradient }));
      continue;
    }
    const wanted = fillColour(item.fill);
    if (wanted !== colour) out.text(`${(colour = wanted)}\n`);
    if (item.kind === 'rect')
      out.text(
        `${short(item.x)} ${short(item.y)} ${short(item.width)} ${short(item.height)} re f\n`,
      );
    else if (item.kind === 'code') codeContent(item, out);
    else if (item.kind === 'path')
      out.text(`${placed(item)}${pathText(item.path, 'postfix')}f Q\n`);
    else out.text(textContent(item, fonts.font(item.font), used));
  }
}

const placed = ({ x, y, unitMm }: PathItem): string =>
  `q ${short(unitMm, 6)} 0 0 ${short(unitMm, 6)} ${short(x, 4)} ${short(y, 4)} cm\n`;

/** A name that is the same for the same pixels. */
export function pictureName(picture: Picture): string {
  const known = pictureNames.get(picture);
  if (known) return known;
  const { width, height, rgba } = picture;
  const name = `P${width}x${height}${shortName(rgba)}`;
  pictureNames.set(picture, name);
  return name;
}
const pictureNames = new WeakMap<Picture, string>();

/** Pictures sorted by name, so that a file made again is the same. */
export const inOrder = (pictures: PictureUse): NamedPicture[] =>
  [...pictures].sort(([a], [b]) => (a < b ? -1 : 1));

/**
 * The pictures among items, by their names, for an assembler that has not seen the pages being
 * made.
 */
export function picturesIn(
  items: readonly DrawItem[],
  pictures: PictureUse = new Map(),
): PictureUse {
  for (const item of items)
    if (item.kind === 'image') pictures.set(pictureName(item.picture), item.picture);
    else if (item.kind === 'clip') picturesIn(item.items, pictures);
  return pictures;
}

function gradientContent(item: PathItem & { fill: Gradient }): string {
  let out = `${placed(item)}${pathText(item.path, 'postfix')}W n\n`;
  for (const { colour, path } of gradientBands(item.fill))
    out += `${fillColour(colour)}\n${pathText(path, 'postfix')}f\n`;
  return `${out}Q\n`;
}

function codeContent({ symbol, x, y, moduleMm }: CodeItem, out: AsciiWriter): void {
  const m = short(moduleMm, 6);
  out.text(`q ${m} 0 0 ${m} ${short(x, 4)} ${short(y, 4)} cm\n`);
  const rects = symbolRects(symbol);
  for (let i = 0; i < rects.length; i += 4)
    out.rectangle(rects[i]!, rects[i + 1]!, rects[i + 2]!, rects[i + 3]!);
  out.text('f Q\n');
}

function textContent(item: TextItem, face: Typeface, used: GlyphUse): string {
  let glyphs = used.get(item.font);
  if (!glyphs) used.set(item.font, (glyphs = new Map()));
  const perUnit = item.sizeMm / 1000;
  const hex = (id: number) => id.toString(16).padStart(4, '0');
  let out = `BT /${item.font} ${short(item.sizeMm, 4)} Tf 1 0 0 -1 ${short(item.x, 4)} ${short(item.y, 4)} Tm [<`;
  let pen = 0;
  let rise = 0;
  for (const glyph of item.glyphs) {
    if (!glyphs.has(glyph.id)) glyphs.set(glyph.id, glyph.text);
    if (Math.abs(glyph.dy - rise) > 1e-6) {
      out += `>] TJ ${short(glyph.dy, 4)} Ts [<`;
      rise = glyph.dy;
    }
    const kern = Math.round((pen - glyph.x) / perUnit);
    if (kern !== 0) {
      out += `> ${kern} <`;
      pen -= kern * perUnit;
    }
    out += hex(glyph.id);
    pen += pdfWidth(face, glyph.id) * perUnit;
  }
  return `${out}>] TJ${rise === 0 ? '' : ' 0 Ts'} ET\n`;
}

/** Advance of a glyph in thousandths of the size, as PDF counts it. */
const pdfWidth = (face: Typeface, id: number): number =>
  Math.round((face.source.getGlyph(id).advanceWidth / face.unitsPerEm) * 1000);

export interface PdfInfo {
  title: string;
  pageWidthMm: number;
  pageHeightMm: number;
  /** The finished size and how far artwork reaches beyond it, from the edges of the page, in mm. */
  trimMm?: { margin: number; bleed: number };
  /** Frozen with the run, so that the same run gives the same bytes. */
  date: Date;
}

/**
 * Assembles a document from finished, compressed page contents. Yields it piece by piece: only
 * offsets are kept.
 * @param pages compressed contents in order; may come from a database cursor
 */
export async function* assemblePdf(
  pages: AsyncIterable<Uint8Array> | Iterable<Uint8Array>,
  used: GlyphUse,
  fonts: FontBook,
  info: PdfInfo,
  deflate: Deflate,
  pictures: AsyncIterable<NamedPicture> | Iterable<NamedPicture> = [],
): AsyncGenerator<Uint8Array> {
  const offsets: number[] = [];
  let position = 0;
  const emit = (bytes: Uint8Array): Uint8Array => {
    position += bytes.length;
    return bytes;
  };
  const start = (id: number) => {
    offsets[id] = position;
    return `${id} 0 obj\n`;
  };
  const stream = (id: number, dictionary: string, data: Uint8Array): Uint8Array => {
    const head = latin1(`${start(id)}<<${dictionary}/Length ${data.length}>>\nstream\n`);
    const tail = latin1('\nendstream\nendobj\n');
    const whole = new Uint8Array(head.length + data.length + tail.length);
    whole.set(head);
    whole.set(data, head.length);
    whole.set(tail, head.length + data.length);
    return whole;
  };
  const [catalog, pageTree, resources, information] = [1, 2, 3, 4];
  let next = 5;
  yield emit(latin1('%PDF-1.7\n%\u00e2\u00e3\u00cf\u00d3\n'));

  const names: string[] = [];
  for (const key of [...used.keys()].sort()) {
    const id = next;
    next += 6;
    names.push(`/${key} ${id} 0 R`);
    for (const part of fontObjects(fonts.font(key), used.get(key)!, id, names.length, deflate)) {
      if (part.data) yield emit(stream(part.id, part.dictionary, part.data));
      else yield emit(latin1(`${start(part.id)}<<${part.dictionary}>>\nendobj\n`));
    }
  }
  const xobjects: string[] = [];
  for await (const [name, { width: w, height: h, rgba }] of pictures) {
    const id = next;
    next += 2;
    xobjects.push(`/${name} ${id} 0 R`);
    const rgb = new Uint8Array(w * h * 3);
    const opacity = new Uint8Array(w * h);
    for (let i = 0; i < w * h; i++) {
      rgb.set(rgba.subarray(i * 4, i * 4 + 3), i * 3);
      opacity[i] = rgba[i * 4 + 3]!;
    }
    const common = `/Type/XObject/Subtype/Image/Width ${w}/Height ${h}/BitsPerComponent 8/Filter/FlateDecode`;
    yield emit(stream(id, `${common}/ColorSpace/DeviceRGB/SMask ${id + 1} 0 R`, deflate(rgb)));
    yield emit(stream(id + 1, `${common}/ColorSpace/DeviceGray`, deflate(opacity)));
  }
  const width = short(info.pageWidthMm * pointsPerMm, 4);
  const height = short(info.pageHeightMm * pointsPerMm, 4);
  const boxAt = (inset: number): string =>
    `[${short(inset * pointsPerMm, 4)} ${short(inset * pointsPerMm, 4)} ${short((info.pageWidthMm - inset) * pointsPerMm, 4)} ${short((info.pageHeightMm - inset) * pointsPerMm, 4)}]`;
  const boxes = info.trimMm
    ? `/TrimBox${boxAt(info.trimMm.margin)}/BleedBox${boxAt(info.trimMm.margin - info.trimMm.bleed)}`
    : '';
  const kids: number[] = [];
  for await (const content of pages) {
    const id = next;
    next += 2;
    kids.push(id);
    yield emit(
      latin1(
        `${start(id)}<</Type/Page/Parent ${pageTree} 0 R/MediaBox[0 0 ${width} ${height}]${boxes}/Resources ${resources} 0 R/Contents ${id + 1} 0 R>>\nendobj\n`,
      ),
    );
    yield emit(stream(id + 1, '/Filter/FlateDecode', content));
  }
  yield emit(
    latin1(
      `${start(resources)}<</Font<<${names.join('')}>>/XObject<<${xobjects.join('')}>>>>\nendobj\n`,
    ),
  );
  yield emit(
    latin1(
      `${start(pageTree)}<</Type/Pages/Count ${kids.length}/Kids[${kids.map((id) => `${id} 0 R`).join(' ')}]>>\nendobj\n`,
    ),
  );
  yield emit(
    latin1(
      `${start(catalog)}<</Type/Catalog/Pages ${pageTree} 0 R/ViewerPreferences<</PrintScaling/None/DisplayDocTitle true>>>>\nendobj\n`,
    ),
  );
  const date = info.date.toISOString().replace(/[-:T]/g, '').slice(0, 14);
  yield emit(
    latin1(
      `${start(information)}<</Title${textString(info.title)}/Producer(Hand Stamp)/CreationDate(D:${date}Z)>>\nendobj\n`,
    ),
  );
  const table = position;
  let xref = `xref\n0 ${next}\n0000000000 65535 f \n`;
  for (let id = 1; id < next; id++) xref += `${String(offsets[id]).padStart(10, '0')} 00000 n \n`;
  yield emit(
    latin1(
      `${xref}trailer\n<</Size ${next}/Root ${catalog} 0 R/Info ${information} 0 R>>\nstartxref\n${table}\n%%EOF\n`,
    ),
  );
}

/** A PDF text string in UTF-16BE, written in hexadecimal. */
function textString(text: string): string {
  let hex = 'feff';
  for (let i = 0; i < text.length; i++) hex += text.charCodeAt(i).toString(16).padStart(4, '0');
  return `<${hex}>`;
}

interface PdfObject {
  id: number;
  dictionary: string;
  data?: Uint8Array;
}

/**
 * The six objects of an embedded subset: Type0, CIDFont, descriptor, font file, glyph map and text
 * map.
 */
function fontObjects(
  face: Typeface,
  glyphs: ReadonlyMap<number, string>,
  id: number,
  number: number,
  deflate: Deflate,
): PdfObject[] {
  const ids = [...glyphs.keys()].sort((a, b) => a - b);
  const subset = face.source.createSubset() as unknown as {
    includeGlyph(id: number): number;
    encode(): Uint8Array;
  };
  const map = new Uint8Array(((ids.at(-1) ?? 0) + 1) * 2);
  for (const glyph of ids) {
    const inSubset = subset.includeGlyph(glyph);
    map[glyph * 2] = inSubset >> 8;
    map[glyph * 2 + 1] = inSubset & 0xff;
  }
  const file = subset.encode();
  const tag = String.fromCharCode(
    ...[0, 1, 2, 3, 4, 5].map((i) => 65 + ((number * 7 + i * 5) % 26)),
  );
  const name = `${tag}+${face.source.postscriptName}`;
  const em = (value: number) => Math.round((value / face.unitsPerEm) * 1000);
  const { bbox, italicAngle, capHeight } = face.source;
  const widths = ids.map((glyph) => `${glyph}[${pdfWidth(face, glyph)}]`).join('');
  return [
    {
      id,
      dictionary: `/Type/Font/Subtype/Type0/BaseFont/${name}/Encoding/Identity-H/DescendantFonts[${id + 1} 0 R]/ToUnicode ${id + 5} 0 R`,
    },
    {
      id: id + 1,
      dictionary: `/Type/Font/Subtype/CIDFontType2/BaseFont/${name}/CIDSystemInfo<</Registry(Adobe)/Ordering(Identity)/Supplement 0>>/FontDescriptor ${id + 2} 0 R/DW 1000/W[${widths}]/CIDToGIDMap ${id + 4} 0 R`,
    },
    {
      id: id + 2,
      dictionary: `/Type/FontDescriptor/FontName/${name}/Flags 4/FontBBox[${em(bbox.minX)} ${em(bbox.minY)} ${em(bbox.maxX)} ${em(bbox.maxY)}]/ItalicAngle ${short(italicAngle)}/Ascent ${em(face.ascent)}/Descent ${em(face.descent)}/CapHeight ${em(capHeight)}/StemV 80/FontFile2 ${id + 3} 0 R`,
    },
    { id: id + 3, dictionary: `/Filter/FlateDecode/Length1 ${file.length}`, data: deflate(file) },
    { id: id + 4, dictionary: '/Filter/FlateDecode', data: deflate(map) },
    {
      id: id + 5,
      dictionary: '/Filter/FlateDecode',
      data: deflate(latin1(unicodeMap(ids, glyphs))),
    },
  ];
}

/** ToUnicode CMap: so that text can be searched and copied from the PDF. */
function unicodeMap(ids: readonly number[], glyphs: ReadonlyMap<number, string>): string {
  const lines = ids
    .filter((glyph) => glyphs.get(glyph))
    .map((glyph) => {
      const text = glyphs.get(glyph)!;
      let hex = '';
      for (let i = 0; i < text.length; i++) hex += text.charCodeAt(i).toString(16).padStart(4, '0');
      return `<${glyph.toString(16).padStart(4, '0')}> <${hex}>`;
    });
  let out =
    '/CIDInit /ProcSet findresource begin 12 dict begin begincmap /CMapName /HandStamp def /CMapType 2 def\n1 begincodespacerange <0000> <ffff> endcodespacerange\n';
  for (let i = 0; i < lines.length; i += 100) {
    const part = lines.slice(i, i + 100);
    out += `${part.length} beginbfchar\n${part.join('\n')}\nendbfchar\n`;
  }
  return `${out}endcmap CMapName currentdict /CMap defineresource pop end end\n`;
}
