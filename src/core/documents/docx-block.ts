import type { Element } from '@xmldom/xmldom';
import type { DocumentBlock } from '../piece/ground';
import type { Values } from '../records/columns';
import type { Walked } from './docx';
import { FoundBlock, type Inside } from './found-block';
import type { Tree } from './neighbours';
import { all, children, ns } from './package';

export type FillCopy = (copy: Element, row: Values, number: number, inside: Inside) => void;

/** A part of a DOCX that repeats for each row. */
export class DocxBlock extends FoundBlock<Element, Element> {
  /** @throws DocumentError when the part has no such row, cell or lines */
  constructor(block: DocumentBlock, walked: Walked) {
    super(block, { ...walked, pictures: walked.pictures.map((p) => p.node) }, tree, 'document');
  }

  /** Puts a copy for each row in the place of the example, and has the copy filled. */
  repeat(rows: readonly Values[], fill: FillCopy): void {
    const [first] = this.nodes;
    this.checkCopies(rows.length);
    const holder = first!.parentNode as Element;
    const made =
      this.cell === undefined
        ? rows.map((row, number) => {
            const box = boxOf(first!);
            for (const node of this.nodes) box.appendChild(copyOf(node));
            // a section that ends in it ends once
            if (number < rows.length - 1)
              for (const end of all(box, ns.w, 'sectPr')) end.parentNode!.removeChild(end);
            fill(box, row, number, this.of);
            return box;
          })
        : this.cellByCell(rows, fill);
    for (const box of made) while (box.firstChild) holder.insertBefore(box.firstChild, first!);
    for (const node of [...this.nodes, ...this.more]) node.parentNode?.removeChild(node);
    keepParagraph(holder);
  }

  /**
   * Copies of the row, each cell filled with the next row's values; cells that only separate others
   * stay.
   */
  private cellByCell(rows: readonly Values[], fill: FillCopy): Element[] {
    const { row: of, example } = this.cell!;
    const holds = this.holding(isGap);
    const inside = this.insideOf([example]);
    const made: Element[] = [];
    for (let from = 0; from < rows.length; from += holds.length) {
      const box = boxOf(of.node);
      const copy = copyOf(of.node);
      box.appendChild(copy);
      const own = all(copy, ns.w, 'tc').filter((cell) => nearest(cell, 'tr') === copy);
      for (const [place, i] of holds.entries()) {
        const cell = own[i]!;
        for (const old of children(cell)) if (old.localName !== 'tcPr') cell.removeChild(old);
        const row = rows[from + place];
        if (row) {
          for (const content of children(example))
            if (content.localName !== 'tcPr') cell.appendChild(copyOf(content));
          fill(cell, row, from + place, inside);
        }
        keepParagraph(cell);
      }
      made.push(box);
    }
    return made;
  }
}

/** Holds copies while they are filled. */
const boxOf = (of: Element): Element => of.ownerDocument!.createElementNS(ns.w, 'w:body');

function nearest(element: Element, name: string): Element | undefined {
  let up = element.parentNode as Element | null;
  while (up && up.localName !== name) up = up.parentNode as Element | null;
  return up ?? undefined;
}

const tree: Tree<Element> = {
  parent: (node) => node.parentNode as Element | null,
  children,
  isTableRow: (node) => node.localName === 'tr',
};

/** A copy without ids that may occur only once in a document. */
function copyOf(node: Element): Element {
  const made = node.cloneNode(true) as Element;
  for (const name of ['bookmarkStart', 'bookmarkEnd'])
    for (const mark of all(made, ns.w, name)) mark.parentNode?.removeChild(mark);
  for (const one of [made, ...Array.from(made.getElementsByTagName('*'))])
    for (const id of ['w14:paraId', 'w14:textId']) one.removeAttribute(id);
  return made;
}

/** A narrow cell without anything in it keeps others apart. */
function isGap(cell: Element, example: Element): boolean {
  if ((cell.textContent ?? '').trim() !== '' || all(cell, ns.w, 'drawing').length > 0) return false;
  const width = (of: Element) => Number(all(of, ns.w, 'tcW')[0]?.getAttribute('w:w')) || 0;
  return width(cell) < width(example) / 2;
}

/** Cells, headers and notes end with a paragraph. */
function keepParagraph(holder: Element): void {
  if (!/^(tc|hdr|ftr|footnote|endnote|txbxContent|body)$/.test(holder.localName ?? '')) return;
  const inside = children(holder).filter((c) => c.localName !== 'sectPr');
  if (inside.at(-1)?.localName === 'p') return;
  const section = children(holder).find((c) => c.localName === 'sectPr');
  if (holder.localName === 'body' && inside.length > 0) return;
  holder.insertBefore(holder.ownerDocument!.createElementNS(ns.w, 'w:p'), section ?? null);
}
