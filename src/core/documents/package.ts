import { strFromU8, strToU8, unzipSync, zipSync, type Zippable } from 'fflate';
import { DOMParser, XMLSerializer, type Document, type Element } from '@xmldom/xmldom';
import { DocumentError } from './error';

/** Most bytes that a document may unpack to, and that it may come as. */
const mostUnpacked = 200 * 2 ** 20;
const mostBytes = 20 * 2 ** 20;
const deepest = 400;

export const ns = {
  w: 'http://schemas.openxmlformats.org/wordprocessingml/2006/main',
  r: 'http://schemas.openxmlformats.org/officeDocument/2006/relationships',
  a: 'http://schemas.openxmlformats.org/drawingml/2006/main',
  pic: 'http://schemas.openxmlformats.org/drawingml/2006/picture',
  wp: 'http://schemas.openxmlformats.org/drawingml/2006/wordprocessingDrawing',
  mc: 'http://schemas.openxmlformats.org/markup-compatibility/2006',
  svg: 'http://schemas.microsoft.com/office/drawing/2016/SVG/main',
  relations: 'http://schemas.openxmlformats.org/package/2006/relationships',
  types: 'http://schemas.openxmlformats.org/package/2006/content-types',
} as const;

const damaged = (what: string): DocumentError =>
  new DocumentError(
    `This document is damaged: ${what}. Open it in the program it comes from and save it again.`,
  );

const startsWith = (bytes: Uint8Array, ...start: number[]) =>
  start.every((byte, i) => bytes[i] === byte);
const holds = (bytes: Uint8Array, text: string): boolean =>
  strFromU8(bytes.subarray(0, 2 ** 20), true).includes(text.split('').join('\0'));

/** The files of a DOCX, unpacked within bounds. @throws DocumentError */
export function unpackDocx(bytes: Uint8Array): Map<string, Uint8Array> {
  if (bytes.length > mostBytes)
    throw new DocumentError(
      `This document is larger than 20 MB (${(bytes.length / 2 ** 20).toFixed(1)} MB). Make its pictures smaller and save it again.`,
    );
  if (startsWith(bytes, 0xd0, 0xcf, 0x11, 0xe0))
    throw new DocumentError(
      holds(bytes, 'EncryptedPackage')
        ? 'This document has a password, so nothing can be put into it. Save a copy without the password.'
        : 'This document is in the old DOC format. Save it as DOCX and bring that in.',
    );
  if (startsWith(bytes, 0x25, 0x50, 0x44, 0x46))
    throw new DocumentError('This is a PDF. Choose a DOCX here.');
  if (startsWith(bytes, 0x7b, 0x5c, 0x72, 0x74, 0x66))
    throw new DocumentError('This is an RTF document. Save it as DOCX and bring that in.');
  if (!startsWith(bytes, 0x50, 0x4b))
    throw new DocumentError('This is not a DOCX document. Save it as DOCX and bring that in.');
  let unpacked = 0;
  let files: Record<string, Uint8Array>;
  try {
    files = unzipSync(bytes, {
      filter: ({ originalSize }) => {
        unpacked += originalSize;
        if (unpacked > mostUnpacked)
          throw new DocumentError(
            'This document unpacks to more than 200 MB, far more than a letter needs. It was not opened.',
          );
        return true;
      },
    });
  } catch (error) {
    if (error instanceof DocumentError) throw error;
    throw damaged('it cannot be unpacked');
  }
  return new Map(Object.entries(files).filter(([name]) => !name.endsWith('/')));
}

/**
 * Packs the files of a DOCX; the same bytes each time. @param date in the archive for each file
 */
export function packDocx(files: ReadonlyMap<string, Uint8Array>, date: Date): Uint8Array {
  // the archive counts from 1980
  const mtime = date.getFullYear() < 1980 ? new Date(1980, 0, 1) : date;
  const zip: Zippable = {};
  // the list of types comes first, by which programs know the kind of file
  const names = [...files.keys()].sort((a, b) => Number(b === types) - Number(a === types));
  for (const name of names)
    zip[name] = [files.get(name)!, { mtime, level: /\.(png|jpe?g|gif)$/i.test(name) ? 0 : 6 }];
  return zipSync(zip);
}
const types = '[Content_Types].xml';

/**
 * Reads an XML part. A document type is refused, and nothing external is ever loaded. @throws
 * DocumentError
 */
export function parseXml(bytes: Uint8Array, path: string): Document {
  const text = new TextDecoder(
    startsWith(bytes, 0xff, 0xfe)
      ? 'utf-16le'
      : startsWith(bytes, 0xfe, 0xff)
        ? 'utf-16be'
        : 'utf-8',
  ).decode(bytes);
  if (/<!DOCTYPE/i.test(text)) throw damaged(`${path} has a document type, which is not allowed`);
  let depth = 0;
  for (const [, close, , alone] of text.matchAll(
    /<(\/?)[A-Za-z_]([^<>"']|"[^"]*"|'[^']*')*?(\/?)>/g,
  )) {
    depth += close ? -1 : alone ? 0 : 1;
    if (depth > deepest) throw damaged(`${path} is nested too deeply`);
  }
  try {
    return new DOMParser({
      onError: (level, message) => {
        if (level !== 'warning') throw new Error(message);
      },
    }).parseFromString(text, 'text/xml');
  } catch {
    throw damaged(`${path} is not well-formed`);
  }
}

const serializer = new XMLSerializer();
const declaration = '<?xml version="1.0" encoding="UTF-8" standalone="yes"?>\n';
export const xmlBytes = (root: Element): Uint8Array =>
  strToU8(declaration + serializer.serializeToString(root));

/**
 * Elements of a name below an element, in the order of the document, as an array that stays as it
 * is.
 */
export const all = (root: Element | Document, space: string, name: string): Element[] =>
  Array.from(root.getElementsByTagNameNS(space, name));
export const children = (element: Element): Element[] =>
  Array.from(element.childNodes).filter((node): node is Element => node.nodeType === 1);
export const child = (element: Element, space: string, name: string): Element | undefined =>
  children(element).find((c) => c.namespaceURI === space && c.localName === name);

export interface Relation {
  id: string;
  type: string;
  target: string;
  external: boolean;
}
/** The file with the relations of a part. */
export const relationsPath = (part: string): string =>
  part.replace(/([^/]*)$/, (name) => `_rels/${name}.rels`);

/** Path of the target of a relation. */
export function targetPath(part: string, target: string): string {
  const from = target.startsWith('/') ? [] : part.split('/').slice(0, -1);
  for (const step of target.split('/'))
    if (step === '..') from.pop();
    else if (step !== '.' && step !== '') from.push(step);
  return from.join('/');
}

export function relationsOf(files: ReadonlyMap<string, Uint8Array>, part: string): Relation[] {
  const path = relationsPath(part);
  const bytes = files.get(path);
  if (!bytes) return [];
  return all(parseXml(bytes, path), ns.relations, 'Relationship').map((r) => ({
    id: r.getAttribute('Id') ?? '',
    type: (r.getAttribute('Type') ?? '').replace(/^.*\//, ''),
    target: r.getAttribute('Target') ?? '',
    external: r.getAttribute('TargetMode') === 'External',
  }));
}

/** Pictures in a document. @throws DocumentError */
export const picturesIn = (bytes: Uint8Array): Uint8Array[] =>
  [...unpackDocx(bytes)].flatMap(([path, file]) => (/\/media\//.test(path) ? [file] : []));

/**
 * A document that says it was made at a date, so that the same gives the same bytes. @throws
 * DocumentError
 */
export function redated(bytes: Uint8Array, date: Date): Uint8Array {
  const files = unpackDocx(bytes);
  const path = 'docProps/core.xml';
  const core = files.get(path);
  if (core)
    files.set(
      path,
      strToU8(
        strFromU8(core).replace(
          /(<dcterms:(created|modified)[^>]*>)[^<]*/g,
          (_, start: string) => start + date.toISOString().replace(/\.\d+/, ''),
        ),
      ),
    );
  return packDocx(files, date);
}
