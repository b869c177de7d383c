import { cloneNode, Element, isTag, type AnyNode, type ParentNode } from 'domhandler';
import { DomUtils } from 'htmlparser2';
import type { DocumentBlock } from '../piece/ground';
import type { Values } from '../records/columns';
import { FoundBlock, type Inside } from './found-block';
import type { HtmlWalked } from './html';
import type { Tree } from './neighbours';

export type FillCopy = (copy: ParentNode, row: Values, number: number, inside: Inside) => void;

/** A part of a page that repeats for each row. */
export class HtmlBlock extends FoundBlock<AnyNode, Element> {
  /** @throws DocumentError when the page has no such row, cell or lines */
  constructor(block: DocumentBlock, walked: HtmlWalked) {
    super(block, walked, tree, 'page');
  }

  /** Puts a copy for each row in the place of the example, and has the copy filled. */
  repeat(rows: readonly Values[], fill: FillCopy): void {
    const [first] = this.nodes;
    this.checkCopies(rows.length);
    const made =
      this.cell === undefined
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
        DomUtils.prepend(first!, node);
      }
    for (const node of [...this.nodes, ...this.more]) DomUtils.removeElement(node);
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
      const box = new Element('div', {});
      const copy = copyOf(of.node) as Element;
      DomUtils.appendChild(box, copy);
      const own = copy.children.filter((c): c is Element => isTag(c) && /^t[dh]$/.test(c.name));
      for (const [place, i] of holds.entries()) {
        const cell = own[i]!;
        for (const old of [...cell.children]) DomUtils.removeElement(old);
        const row = rows[from + place];
        if (!row) continue;
        // in a cell, as it was when the page was walked
        const held = new Element('div', {});
        const filled = copyOf(example) as Element;
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
}

const tree: Tree<AnyNode> = {
  parent: (node) => node.parent,
  children: (node) => (node as ParentNode).children,
  isTableRow: (node) => isTag(node) && node.name === 'tr',
};

/** A copy without ids, which may occur only once in a page. */
function copyOf(node: AnyNode): AnyNode {
  const made = cloneNode(node, true);
  if (isTag(made))
    for (const one of [made, ...DomUtils.getElementsByTagName('*', made.children)])
      delete one.attribs.id;
  return made;
}

/** A narrow empty cell separates others. */
function isGap(cell: Element, example: Element): boolean {
  const empty =
    DomUtils.textContent(cell).trim() === '' &&
    !DomUtils.findOne((e) => e.name === 'img', cell.children);
  const width = ({ attribs }: Element) =>
    parseFloat(
      attribs.width ?? /(?:^|;)\s*width\s*:\s*([\d.]+)/.exec(attribs.style ?? '')?.[1] ?? '',
    );
  return empty && width(cell) < width(example) / 2;
}
