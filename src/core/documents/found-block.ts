import type { DocumentBlock } from '../piece/ground';
import type { WalkedRow } from './docx';
import { DocumentError } from './error';
import { between, type Tree } from './neighbours';
import { checkRepeated } from './repeat-bounds';

/**
 * The paragraphs and pictures of the example that are in a copy of it, by their numbers, in order.
 */
export interface Inside {
  paragraphs: readonly number[];
  pictures: readonly number[];
}

/** The walked tree, of whichever library: all nodes are `N`, and the elements among them `E`. */
export interface WalkedTree<E> {
  paragraphs: readonly { node: E; text: string }[];
  pictures: readonly E[];
  rows: readonly WalkedRow<E>[];
}

/** Where a repeated part is. Found before anything moves. */
export class FoundBlock<N, E extends N> {
  /** The example of it. */
  protected readonly nodes: readonly N[];
  /** More of the same. */
  protected readonly more: readonly N[];
  protected readonly of: Inside;
  /** The row, and its example cell, if it is filled cell by cell. */
  protected readonly cell: { row: WalkedRow<E>; example: E } | undefined;

  /**
   * @param called how the example is called in words
   * @throws DocumentError when it has no such row, cell or lines
   */
  constructor(
    readonly block: DocumentBlock,
    private readonly walked: WalkedTree<E>,
    private readonly tree: Tree<N>,
    called: 'document' | 'page',
  ) {
    const there = <T>(found: T | undefined): T => {
      if (found === undefined)
        throw new DocumentError(`This is not the ${called} in which the places were marked.`);
      return found;
    };
    const { lines, goes } = block;
    if (lines) {
      const reach = (from: number, to: number): N[] =>
        between<N>(there(walked.paragraphs[from]).node, there(walked.paragraphs[to]).node, tree);
      this.nodes = reach(lines.from, lines.to);
      const rest = goes > 0 ? reach(lines.to + 1, lines.to + goes) : [];
      this.more = rest.filter((one) => !this.nodes.includes(one));
    } else {
      const number = block.row ?? -1;
      const row = there(walked.rows[number]);
      const rows = walked.rows.slice(number + 1, number + 1 + goes);
      this.nodes = [row.node];
      this.more = rows.filter((next) => next.table === row.table).map((next) => next.node);
      if (block.cell !== undefined) this.cell = { row, example: there(row.cells[block.cell]).node };
    }
    this.of = this.insideOf(this.nodes);
  }

  /** Numbers of all paragraphs that are removed or repeated with it. */
  get inside(): number[] {
    return [...this.of.paragraphs, ...this.insideOf(this.more).paragraphs];
  }
  /** Numbers of the pictures that repeat. */
  get pictures(): readonly number[] {
    return this.cell ? this.insideOf([this.cell.example]).pictures : this.of.pictures;
  }

  /**
   * @throws DocumentError if it cannot be copied so often, or is inside something that was copied
   *   already
   */
  protected checkCopies(rows: number): void {
    if (!this.tree.parent(this.nodes[0]!))
      throw new DocumentError('One repeated part is inside another. Choose one of them.');
    checkRepeated(
      rows,
      this.of.paragraphs.map((number) => this.walked.paragraphs[number]!.text),
    );
  }

  /**
   * Which cells of the row hold one each: the example, and all but those that only separate others.
   */
  protected holding(isGap: (cell: E, example: E) => boolean): number[] {
    const { row, example } = this.cell!;
    return row.cells.flatMap(({ node }, i) =>
      node === example || !isGap(node, example) ? [i] : [],
    );
  }

  protected insideOf(nodes: readonly N[]): Inside {
    const among = new Set(nodes);
    const within = (node: N): boolean => {
      for (let up: N | null | undefined = node; up; up = this.tree.parent(up))
        if (among.has(up)) return true;
      return false;
    };
    return {
      paragraphs: this.walked.paragraphs.flatMap((p, i) => (within(p.node) ? [i] : [])),
      pictures: this.walked.pictures.flatMap((node, i) => (within(node) ? [i] : [])),
    };
  }
}
