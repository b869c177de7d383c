import type { Element } from '@xmldom/xmldom';
import type { DocumentBlock } from '../piece/ground';
import type { Values } from '../records/columns';
import type { Walked, WalkedRow } from './docx';
import { DocumentError } from './error';
import { between, type Tree } from './neighbours';
import { all, children, ns } from './package';
import { checkRepeated } from './repeat-bounds';

/** Which of the example's paragraphs and pictures stand in a copy of it, by their numbers, in their order. */
export interface Inside {
  paragraphs: readonly number[];
  pictures: readonly number[];
}
export type FillCopy = (copy: Element, row: Values, number: number, inside: Inside) => void;

const gone = () => new DocumentError('This is not the document in which the places were marked.');

/** What comes once for each row, in a part that was walked. Found before anything of the part moves. */
export class DocxBlock {
  /** The example of it. */
  private readonly nodes: readonly Element[];
  /** More of the same. */
  private readonly more: readonly Element[];
  private readonly of: Inside;
  private readonly row: WalkedRow<Element> | undefined;

  /** @throws DocumentError when the part has no such row or lines */
  constructor(
    readonly block: DocumentBlock,
    private readonly walked: Walked,
  ) {
    const { lines, goes } = block;
    if (lines) {
      const node = (number: number): Element => {
        const paragraph = walked.paragraphs[number];
        if (!paragraph) throw gone();
        return paragraph.node;
      };
      this.nodes = between(node(lines.from), node(lines.to), tree);
      const rest = goes > 0 ? between(node(lines.to + 1), node(lines.to + goes), tree) : [];
      this.more = rest.filter((one) => !this.nodes.includes(one));
    } else {
      this.row = walked.rows[block.row ?? -1];
      if (!this.row) throw gone();
      const { table, node } = this.row;
      const rows = walked.rows.slice(block.row! + 1, block.row! + 1 + goes);
      this.nodes = [node];
      this.more = rows.filter((row) => row.table === table).map((row) => row.node);
    }
    this.of = this.insideOf(this.nodes);
  }

  /** Numbers of all paragraphs that go with it or come again. */
  get inside(): number[] {
    return [...this.of.paragraphs, ...this.insideOf(this.more).paragraphs];
  }
  /** Numbers of the pictures that come again. */
  get pictures(): readonly number[] {
    const cell = this.row?.cells[this.block.cell ?? -1];
    return cell ? this.insideOf([cell.node]).pictures : this.of.pictures;
  }

  /** Puts a copy for each row in the place of the example, and has the copy filled. */
  repeat(rows: readonly Values[], fill: FillCopy): void {
    const [first] = this.nodes;
    const holder = first.parentNode as Element | null;
    if (!holder) throw new DocumentError('Two things that come again lie in one another.');
    checkRepeated(
      rows.length,
      this.of.paragraphs.map((number) => this.walked.paragraphs[number].text),
    );
    const made =
      this.block.cell === undefined
        ? rows.map((row, number) => {
            const box = boxOf(first);
            for (const node of this.nodes) box.appendChild(copyOf(node));
            // a section that ends in it ends once
            if (number < rows.length - 1)
              for (const end of all(box, ns.w, 'sectPr')) end.parentNode!.removeChild(end);
            fill(box, row, number, this.of);
            return box;
          })
        : this.cellByCell(rows, fill);
    for (const box of made) while (box.firstChild) holder.insertBefore(box.firstChild, first);
    for (const node of [...this.nodes, ...this.more]) node.parentNode?.removeChild(node);
    keepParagraph(holder);
  }

  /** Copies of the row, each cell of which has what the next row says; cells that only keep a distance stay. */
  private cellByCell(rows: readonly Values[], fill: FillCopy): Element[] {
    const { node, cells } = this.row!;
    const example = cells[this.block.cell!];
    if (!example) throw gone();
    const holds = cells.flatMap((cell, i) =>
      cell === example || !isGap(cell.node, example.node) ? [i] : [],
    );
    const inside = this.insideOf([example.node]);
    const made: Element[] = [];
    for (let from = 0; from < rows.length; from += holds.length) {
      const box = boxOf(node);
      const copy = copyOf(node);
      box.appendChild(copy);
      const own = all(copy, ns.w, 'tc').filter((cell) => nearest(cell, 'tr') === copy);
      for (const [place, i] of holds.entries()) {
        const cell = own[i];
        for (const old of children(cell)) if (old.localName !== 'tcPr') cell.removeChild(old);
        const row = rows[from + place];
        if (row) {
          for (const content of children(example.node))
            if (content.localName !== 'tcPr') cell.appendChild(copyOf(content));
          fill(cell, row, from + place, inside);
        }
        keepParagraph(cell);
      }
      made.push(box);
    }
    return made;
  }

  private insideOf(nodes: readonly Element[]): Inside {
    const among = new Set(nodes);
    const within = (one: { node: Element }) => {
      for (let up: Element | null = one.node; up; up = up.parentNode as Element | null)
        if (among.has(up)) return true;
      return false;
    };
    const numbers = (all: readonly { node: Element }[]) =>
      all.flatMap((one, i) => (within(one) ? [i] : []));
    return {
      paragraphs: numbers(this.walked.paragraphs),
      pictures: numbers(this.walked.pictures),
    };
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

/** A copy in which nothing stands that may stand once in a document. */
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
