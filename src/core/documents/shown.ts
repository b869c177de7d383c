import type { Element } from '@xmldom/xmldom';
import { openDocx, walk } from './docx';
import { children, ns, packDocx, xmlBytes } from './package';

/** Names of runs and pictures in the copy for the screen. */
const shownName = (part: number, paragraph: number, from: number): string =>
  `hs-${part}-${paragraph}-${from}`;
const shownPicture = (part: number, picture: number): string => `hs-picture-${part}-${picture}`;
const shownRow = (part: number, row: number): string => `hs-row-${part}-${row}`;

/**
 * Gives a piece of text its own run, in the look of the one it is in, if other text comes before it
 * there.
 */
function ownRun(node: Element): Element {
  const run = node.parentNode as Element;
  const texts = children(run).filter((c) => c.localName !== 'rPr');
  if (texts[0] === node) return run;
  const made = run.cloneNode(false) as Element;
  const looks = children(run).find((c) => c.localName === 'rPr');
  if (looks) made.appendChild(looks.cloneNode(true));
  for (const rest of texts.slice(texts.indexOf(node))) made.appendChild(rest);
  run.parentNode!.insertBefore(made, run.nextSibling);
  return made;
}

/**
 * A copy of a document with a bookmark before each run, each picture and each row's first
 * paragraph. On a screen they lead back to the position in the file. Parts are numbered as in its
 * analysis.
 * @throws DocumentError
 */
export function shownDocx(bytes: Uint8Array): Uint8Array {
  const { files, parts } = openDocx(bytes);
  let number = 0;
  for (const [at, [path, document]] of [...parts].entries()) {
    const root = document.documentElement!;
    const { paragraphs, pictures, rows } = walk(root);
    const mark = (name: string): Element[] => {
      const id = String(++number);
      return ['bookmarkStart', 'bookmarkEnd'].map((kind) => {
        const element = document.createElementNS(ns.w, `w:${kind}`);
        element.setAttributeNS(ns.w, 'w:id', id);
        if (kind === 'bookmarkStart') element.setAttributeNS(ns.w, 'w:name', name);
        return element;
      });
    };
    const before = (node: Element, name: string) => {
      for (const element of mark(name)) node.parentNode?.insertBefore(element, node);
    };
    for (const name of ['bookmarkStart', 'bookmarkEnd'])
      for (const own of Array.from(root.getElementsByTagNameNS(ns.w, name)))
        own.parentNode?.removeChild(own);
    for (const [p, paragraph] of paragraphs.entries())
      // a text box is drawn in the form for older programs
      for (const form of paragraph.twin ? [paragraph, paragraph.twin] : [paragraph]) {
        for (const piece of form.pieces) {
          const run = ownRun(piece.node);
          before(run, shownName(at, p, piece.from));
        }
        if (form.pieces.length === 0)
          for (const element of mark(shownName(at, p, 0))) form.node.appendChild(element);
      }
    for (const [i, { node }] of pictures.entries()) {
      const run = node.parentNode as Element;
      if (run.localName === 'r') before(run, shownPicture(at, i));
      else before(run.parentNode as Element, shownPicture(at, i));
    }
    for (const [i, row] of rows.entries()) {
      const first = paragraphs[row.paragraphs[0]!]?.node;
      const properties = first && children(first).find((c) => c.localName === 'pPr');
      if (!first) continue;
      for (const element of mark(shownRow(at, i)))
        first.insertBefore(element, properties ? properties.nextSibling : first.firstChild);
    }
    files.set(path, xmlBytes(root));
  }
  return packDocx(files, new Date(Date.UTC(2000, 0, 1)));
}
