import { cloneNode, Element, isTag, type AnyNode, type ParentNode } from 'domhandler';
import { DomUtils } from 'htmlparser2';
import type { DocumentBlock } from '../piece/ground';
import type { Values } from '../records/columns';
import type { WalkedRow } from './docx';
import type { Inside } from './docx-block';
import { DocumentError } from './error';
import type { HtmlWalked } from './html';
import { between, type Tree } from './neighbours';
import { checkRepeated } from './repeat-bounds';

export type FillCopy = (copy: ParentNode, row: Values, number: number, inside: Inside) => void;

const gone = () => new DocumentError('This is not the page in which the places were marked.');

/** What comes once for each row, in a page that was walked. Found before anything of the page moves. */
export class HtmlBlock {
  private readonly nodes: readonly AnyNode[];
  /** More of the same. */
  private readonly more: readonly AnyNode[];
  private readonly of: Inside;
  private readonly row: WalkedRow<Element> | undefined;

  /** @throws DocumentError when the page has no such row or lines */
  constructor(
    readonly block: DocumentBlock,
    private readonly walked: HtmlWalked,
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
    if (!first.parent) throw new DocumentError('Two things that come again lie in one another.');
    checkRepeated(
      rows.length,
      this.of.paragraphs.map((number) => this.walked.paragraphs[number].text),
    );
    const made =
      this.block.cell === undefined
        ? rows.map((row, number) => {
            const box = new Element('div', {});
            for (const node of this.nodes) DomUtils.appendChild(box, copyOf(node));
            fill(box, row, number, this.of);
            return box;
          })
        : this.cellByCell(rows, fill);
    for (const box of made)
      for (const node of [...box.children]) {
        DomUtils.removeElement(node);
        DomUtils.prepend(first, node);
      }
    for (const node of [...this.nodes, ...this.more]) DomUtils.removeElement(node);
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
      const box = new Element('div', {});
      const copy = copyOf(node) as Element;
      DomUtils.appendChild(box, copy);
      const own = copy.children.filter((c): c is Element => isTag(c) && /^t[dh]$/.test(c.name));
      for (const [place, i] of holds.entries()) {
        const cell = own[i];
        for (const old of [...cell.children]) DomUtils.removeElement(old);
        const row = rows[from + place];
        if (!row) continue;
        // in a cell, as it was when the page was walked
        const held = new Element('div', {});
        const filled = copyOf(example.node) as Element;
        DomUtils.appendChild(held, filled);
        fill(held, row, from + place, inside);
        for (const content of [...filled.children]) {
          DomUtils.removeElement(content);
          DomUtils.appendChild(cell, content);
        }
      }
      made.push(box);
    }
    return made;
  }

  private insideOf(nodes: readonly AnyNode[]): Inside {
    const among = new Set<AnyNode>(nodes);
    const within = (node: AnyNode) => {
      for (let up: AnyNode | null = node; up; up = up.parent) if (among.has(up)) return true;
      return false;
    };
    return {
      paragraphs: this.walked.paragraphs.flatMap((p, i) => (within(p.node) ? [i] : [])),
      pictures: this.walked.pictures.flatMap((p, i) => (within(p) ? [i] : [])),
    };
  }
}

const tree: Tree<AnyNode> = {
  parent: (node) => node.parent,
  children: (node) => (node as ParentNode).children,
  isTableRow: (node) => isTag(node) && node.name === 'tr',
};

/** A copy in which no name stands that may stand once in a page. */
function copyOf(node: AnyNode): AnyNode {
  const made = cloneNode(node, true);
  if (isTag(made))
    for (const one of [made, ...DomUtils.getElementsByTagName('*', made.children)])
      delete one.attribs.id;
  return made;
}

/** A narrow cell without anything in it keeps others apart. */
function isGap(cell: Element, example: Element): boolean {
  const empty =
    DomUtils.textContent(cell).trim() === '' &&
    !DomUtils.findOne((e) => e.name === 'img', cell.children);
  const width = ({ attribs }: Element) =>
    parseFloat(attribs.width ?? /(?:^|;)\s*width\s*:\s*([\d.]+)/.exec(attribs.style ?? '')?.[1]);
  return empty && width(cell) < width(example) / 2;
}
