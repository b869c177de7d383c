import { between, type Tree } from '../../../core/documents/neighbours';
import { codeKey, wordsAt } from '../../../core/documents/words';
import type {
  DocumentBlock,
  DocumentCode,
  DocumentGround,
  DocumentPlace,
} from '../../../core/piece/ground';
import type { Values } from '../../../core/records/columns';
import { colour } from '../../kit/theme';
import { pageView as wording } from './words';

/** A stretch of words of the document, by its position in the file. */
export interface MarkedWords {
  /** Number of the part, as in the facts of the document. */
  part: number;
  paragraph: number;
  from: number;
  to: number;
  text: string;
}

export interface Shown {
  ground: DocumentGround;
  /** Paths of the parts in the order in which they are numbered. */
  parts: readonly string[];
  /** The selected record, without secrets; undefined for the example as it was. */
  values: Values | undefined;
  /** Rows of other lists that belong to it, block by block. */
  rows: Readonly<Record<string, readonly Values[]>>;
  /** Pictures of its codes as addresses, by place. */
  codes: ReadonlyMap<string, string>;
  chosen: string | undefined;
}

const looks = `
  /* nothing in it leaves its place */
  :host { display: block; contain: layout paint; }
  :where(.hs-body) { padding: 24px; background: #fff; }
  .hs-body { width: 700px; max-width: none; min-height: 200px; }
  .docx { box-shadow: none !important; outline: 1px solid ${colour.ruleStrong}; color: #000; margin: 0 auto 22px; box-sizing: border-box; position: relative; overflow: hidden; }
  .docx:not(.hs-body) { background: #fff !important; }
  mark { background: none; color: inherit; }
  .place, .likely { background: ${colour.violetWash}; cursor: pointer; border-bottom: 1.5px solid ${colour.violet}; border-radius: 1px; }
  .place[data-first]:empty::after { content: '\\2003'; }
  .place:not([data-first]):empty { border: 0; }
  .likely { background: none; border-bottom: 2px dotted ${colour.look}; }
  [data-place]:hover, [data-place]:focus-visible, [data-chosen] { outline: 2px solid ${colour.violet}; outline-offset: 1px; }
  img[data-picture] { cursor: pointer; }
  img[data-picture]:hover, img[data-picture]:focus-visible { outline: 2px dashed ${colour.violet}; outline-offset: 2px; }
  img[data-code] { outline: 1px solid ${colour.violet}; outline-offset: 1px; cursor: pointer; background: #fff; }
  img[data-code][data-chosen], img[data-code]:hover, img[data-code]:focus-visible { outline-width: 2.5px; }
  tr[data-block] > td:first-child, [data-block]:not(tr) { box-shadow: inset 3px 0 0 ${colour.violet}; }
  ::selection { background: ${colour.lookWash}; }
`;

interface Stretch {
  from: number;
  node: Element;
}
interface Instance {
  part: number;
  paragraph: number;
  element: Element;
  stretches: Stretch[];
}

/** The same text for the same content, in whatever order its fields came. */
const inOrder = (_: string, value: unknown): unknown =>
  value && typeof value === 'object' && !Array.isArray(value)
    ? Object.fromEntries(Object.entries(value).sort(([a], [b]) => (a < b ? -1 : 1)))
    : value;

/**
 * The styles of a document and our own as constructed sheets: style elements would need the nonce
 * of this page, which a document must not have.
 */
function sheetsOf(content: DocumentFragment): CSSStyleSheet[] {
  const found = [...content.querySelectorAll('style')];
  for (const element of found) element.remove();
  return [...found.map((element) => element.textContent ?? ''), looks].map((css) => {
    const sheet = new CSSStyleSheet();
    sheet.replaceSync(css);
    return sheet;
  });
}

/**
 * Draws a document once, and then on it the values of any record, in the places that were found.
 */
export class PageView {
  private last: string | undefined;

  private constructor(
    private readonly root: ShadowRoot,
    private readonly pristine: DocumentFragment,
    /** An HTML page, in which a paragraph is not an element of its own. */
    private readonly isPage = false,
  ) {}

  static async of(host: HTMLElement, copy: Blob): Promise<PageView> {
    const root = host.shadowRoot ?? host.attachShadow({ mode: 'open' });
    if (copy.type.startsWith('text/html')) {
      // nothing in it runs or loads: the server removed scripts, and this page's own policy forbids
      // both
      const made = document.createElement('template');
      made.innerHTML = await copy.text();
      for (const link of made.content.querySelectorAll('a')) link.removeAttribute('href');
      const pristine = document.createDocumentFragment();
      pristine.append(...made.content.childNodes);
      root.adoptedStyleSheets = sheetsOf(pristine);
      return new PageView(root, pristine, true);
    }
    const body = document.createElement('div');
    const styles = document.createElement('div');
    // large, and loaded only for documents
    const { renderAsync } = await import('docx-preview');
    await renderAsync(copy, body, styles, {
      inWrapper: false,
      renderAltChunks: false,
      renderChanges: false,
      renderComments: false,
      useBase64URL: true,
    });
    for (const link of body.querySelectorAll('a')) link.removeAttribute('href');
    const pristine = document.createDocumentFragment();
    pristine.append(...styles.childNodes, ...body.childNodes);
    root.adoptedStyleSheets = sheetsOf(pristine);
    return new PageView(root, pristine);
  }

  /** Width of the widest page, in px, before it is made smaller. */
  get width(): number {
    return Math.max(
      1,
      ...[...this.root.querySelectorAll<HTMLElement>('section.docx')].map((p) => p.offsetWidth),
    );
  }

  /** Pages as they are drawn. */
  get pages(): number {
    return this.root.querySelectorAll('section.docx').length;
  }

  show(shown: Shown): void {
    // drawing the same again would remove what is being marked on it
    const key = JSON.stringify({ ...shown, codes: [...shown.codes] }, inOrder);
    if (key === this.last) return;
    this.last = key;
    this.root.replaceChildren(this.pristine.cloneNode(true));
    const instances = this.instances();
    const marks = new Map<string, HTMLElement[][]>();
    for (const place of shown.ground.places)
      marks.set(
        place.id,
        this.at(instances, shown, place).map((instance) => this.wrap(instance, place, shown)),
      );
    for (const code of shown.ground.codes) this.showCode(code, shown, instances);
    this.markPictures(shown);
    const { values } = shown;
    for (const place of shown.ground.places)
      if (values && !place.likely && place.block === undefined)
        for (const pieces of marks.get(place.id) ?? []) say(pieces, place, values);
    for (const block of shown.ground.blocks) this.showBlock(block, shown, instances);
  }

  /** What a press selects: a place, a code, or a picture that can become one. */
  static chosenBy(target: EventTarget | null): {
    place?: string;
    code?: string;
    picture?: string;
    block?: string;
  } {
    const element = target instanceof Element ? target : undefined;
    const of = (name: string) =>
      element?.closest<HTMLElement>(`[data-${name}]`)?.getAttribute(`data-${name}`) ?? undefined;
    return {
      place: of('place'),
      code: of('code'),
      picture: of('picture'),
      block: of('block'),
    };
  }

  /** An empty paragraph or cell that is pressed, as a stretch of no words. */
  static emptyAt(target: EventTarget | null): MarkedWords | undefined {
    const block = target instanceof Element ? target.closest('p, td, th, li, div') : null;
    if (!block || block.querySelector('img, p, td, table') || block.textContent?.trim())
      return undefined;
    const marker = block.querySelector('span[id^="hs-"]:not([id^="hs-row"])');
    const [, part, paragraph] = /^hs-(\d+)-(\d+)-(\d+)$/.exec(marker?.id ?? '') ?? [];
    if (part === undefined) return undefined;
    return { part: Number(part), paragraph: Number(paragraph), from: 0, to: 0, text: '' };
  }

  /** The words that are marked on the page, if they are in one paragraph. */
  marked(): MarkedWords | undefined {
    // not every browser has a selection of its own in a shadow tree
    const selection =
      (this.root as ShadowRoot & { getSelection?(): Selection | null }).getSelection?.() ??
      document.getSelection();
    if (!selection || selection.isCollapsed || selection.rangeCount === 0) return undefined;
    const range = selection.getRangeAt(0);
    const instances = this.instances();
    const start = spotOf(instances, range.startContainer, range.startOffset);
    const end = spotOf(instances, range.endContainer, range.endOffset);
    if (!start || !end || start.instance !== end.instance || start.at >= end.at) return undefined;
    const { part, paragraph } = start.instance;
    const text = selection.toString();
    const lead = text.length - text.trimStart().length;
    const tail = text.length - text.trimEnd().length;
    if (text.trim() === '') return undefined;
    return { part, paragraph, from: start.at + lead, to: end.at - tail, text: text.trim() };
  }

  private instances(): Instance[] {
    const known = new Map<Element | string, Instance>();
    for (const marker of this.root.querySelectorAll('span[id^="hs-"]')) {
      const [, part, paragraph, from] = /^hs-(\d+)-(\d+)-(\d+)$/.exec(marker.id) ?? [];
      const element = this.isPage ? marker.parentElement : marker.closest('p');
      if (part === undefined || !element) continue;
      const key = this.isPage ? `${part}-${paragraph}` : element;
      let instance = known.get(key);
      if (!instance) {
        instance = { part: Number(part), paragraph: Number(paragraph), element, stretches: [] };
        known.set(key, instance);
      }
      let node = marker.nextElementSibling;
      while (node?.id.startsWith('hs-')) node = node.nextElementSibling;
      if (node) instance.stretches.push({ from: Number(from), node });
    }
    return [...known.values()];
  }

  private at(
    instances: readonly Instance[],
    { parts }: Shown,
    { part, paragraph }: { part: string; paragraph: number },
  ): Instance[] {
    const number = parts.indexOf(part);
    return instances.filter((i) => i.part === number && i.paragraph === paragraph);
  }

  private wrap(instance: Instance, place: DocumentPlace, { chosen }: Shown): HTMLElement[] {
    const made = wrapped(instance, place.from, place.to);
    for (const [i, mark] of made.entries()) {
      mark.className = place.likely ? 'likely' : 'place';
      mark.dataset.place = place.id;
      if (place.id === chosen) mark.dataset.chosen = '';
      if (i > 0) continue;
      mark.dataset.first = '';
      mark.tabIndex = 0;
      mark.setAttribute('role', 'button');
      mark.setAttribute(
        'aria-label',
        place.likely ? `${place.example}, looks likely` : `${place.example}, follows the record`,
      );
    }
    return made;
  }

  private showCode(code: DocumentCode, shown: Shown, instances: readonly Instance[]): void {
    const address = shown.values ? shown.codes.get(code.id) : undefined;
    const dress = (image: HTMLImageElement) => {
      image.dataset.code = code.id;
      image.alt = wording.aCodeThatChanges;
      image.tabIndex = 0;
      image.setAttribute('role', 'button');
      if (code.id === shown.chosen) image.dataset.chosen = '';
      if (address) image.src = address;
    };
    const { at } = code;
    if (at.kind === 'picture') {
      for (const image of this.pictures(shown.parts.indexOf(at.part), at.picture)) dress(image);
      return;
    }
    for (const instance of this.at(instances, shown, at)) {
      const image = document.createElement('img');
      image.style.width = `${code.widthMm}mm`;
      image.style.height = `${code.heightMm}mm`;
      dress(image);
      const [first, ...rest] = wrapped(instance, at.from, at.to);
      for (const gone of rest) gone.remove();
      if (first) first.replaceWith(image);
      else instance.element.append(image);
    }
  }

  private pictures(part: number, picture: number): HTMLImageElement[] {
    return [...this.root.querySelectorAll(`span[id="hs-picture-${part}-${picture}"]`)].flatMap(
      (marker) => {
        let node = marker.nextElementSibling;
        while (node?.id.startsWith('hs-')) node = node.nextElementSibling;
        const image = node instanceof HTMLImageElement ? node : node?.querySelector('img');
        return image ? [image] : [];
      },
    );
  }

  /** Makes pictures that are not codes yet selectable. */
  private markPictures({ chosen }: Shown): void {
    for (const marker of this.root.querySelectorAll('span[id^="hs-picture-"]')) {
      const [part, picture] = marker.id.slice('hs-picture-'.length).split('-').map(Number);
      for (const image of this.pictures(part!, picture!)) {
        if (image.dataset.code) continue;
        image.dataset.picture = `${part}-${picture}`;
        image.tabIndex = 0;
        image.setAttribute('role', 'button');
        image.alt ||= wording.aPictureOfThe;
        if (chosen === `${part}-${picture}`) image.dataset.chosen = '';
      }
    }
  }

  private showBlock(
    block: DocumentBlock,
    { ground, parts, values, rows, codes }: Shown,
    instances: readonly Instance[],
  ): void {
    const part = parts.indexOf(block.part);
    const { nodes, more } = block.lines
      ? this.linesOf(block, part, instances)
      : this.rowsOf(block, part);
    const [first] = nodes;
    if (!first) return;
    for (const node of nodes) node.dataset.block = block.id;
    if (!values) return;
    const places = ground.places.filter((p) => p.block === block.id && !p.likely);
    const own = ground.codes.filter((c) => c.block === block.id);
    const fill = (copies: readonly Element[], row: Values, number: number) => {
      const within = (selector: string) =>
        copies.flatMap((copy) => [...copy.querySelectorAll<HTMLElement>(selector)]);
      for (const place of places) say(within(`[data-place="${place.id}"]`), place, row);
      for (const code of own)
        for (const image of within(`img[data-code="${code.id}"]`)) {
          const address = codes.get(codeKey(code, number));
          if (address) image.setAttribute('src', address);
          else image.removeAttribute('src');
        }
    };
    const of = rows[block.id] ?? [];
    if (block.cell !== undefined) showCells(first, block.cell, of, fill);
    else
      for (const [number, row] of of.entries()) {
        const copies = nodes.map((node) => node.cloneNode(true) as HTMLElement);
        fill(copies, row, number);
        first.before(...copies);
      }
    for (const gone of [...nodes, ...more]) gone.remove();
  }

  private rowsOf({ row, goes }: DocumentBlock, part: number): Block {
    const rowAt = (number: number) =>
      this.root.querySelector(`span[id="hs-row-${part}-${number}"]`)?.closest('tr') ?? undefined;
    const example = rowAt(row!);
    const more = Array.from({ length: goes }, (_, i) => rowAt(row! + 1 + i));
    return { nodes: example ? [example] : [], more: more.filter((one) => one !== undefined) };
  }

  private linesOf(
    { lines, goes }: DocumentBlock,
    part: number,
    instances: readonly Instance[],
  ): Block {
    const at = (paragraph: number) =>
      instances.find((i) => i.part === part && i.paragraph === paragraph)?.element;
    const reach = (from: number, to: number): HTMLElement[] => {
      const [first, last] = [at(from), at(to)];
      return first && last
        ? between<Node>(first, last, tree).filter((n) => n instanceof HTMLElement)
        : [];
    };
    const { from, to } = lines!;
    const nodes = reach(from, to);
    const more = goes > 0 ? reach(to + 1, to + goes) : [];
    return { nodes, more: more.filter((one) => !nodes.includes(one)) };
  }
}

interface Block {
  nodes: HTMLElement[];
  more: HTMLElement[];
}

const tree: Tree<Node> = {
  parent: (node) => node.parentNode,
  children: (node) => [...node.childNodes],
  isTableRow: (node) => node instanceof HTMLTableRowElement,
};

/** A table filled cell by cell; narrow cells without anything in them only keep a distance. */
function showCells(
  row: HTMLElement,
  example: number,
  rows: readonly Values[],
  fill: (copies: readonly Element[], row: Values, number: number) => void,
): void {
  const cells = [...row.children] as HTMLElement[];
  const model = cells[example];
  if (!model) return;
  const isGap = (cell: HTMLElement) =>
    cell.textContent?.trim() === '' &&
    !cell.querySelector('img') &&
    cell.offsetWidth < model.offsetWidth / 2;
  const holds = cells.flatMap((cell, i) => (cell === model || !isGap(cell) ? [i] : []));
  for (let from = 0; from < rows.length; from += holds.length) {
    const copy = row.cloneNode(true) as HTMLElement;
    for (const [place, i] of holds.entries()) {
      const of = rows[from + place];
      copy.children[i]!.replaceChildren(...(of ? model.cloneNode(true).childNodes : []));
      if (of) fill([copy.children[i]!], of, from + place);
    }
    row.before(copy);
  }
}

/** Shows the values of a record in the marks of a place. */
function say(marks: readonly HTMLElement[], place: DocumentPlace, values: Values): void {
  const [first, ...rest] = marks;
  if (!first) return;
  const words = wordsAt(place, values);
  first.textContent = words ?? '';
  for (const mark of rest) mark.textContent = '';
  if (words === undefined && place.blank === 'line') first.closest('p')?.replaceChildren();
}

/** The text nodes of a stretch with their offsets; inserted words count like the original ones. */
function textsOf({ from, node }: Stretch): { text: Text; from: number; length: number }[] {
  const walker = document.createTreeWalker(node, NodeFilter.SHOW_TEXT | NodeFilter.SHOW_ELEMENT);
  const texts: { text: Text; from: number; length: number }[] = [];
  let at = from;
  for (let next = walker.nextNode(); next; next = walker.nextNode()) {
    if (next instanceof HTMLElement && next.dataset.length !== undefined) {
      // also if the place is empty now
      const length = Number(next.dataset.length);
      for (const text of next.childNodes)
        if (text instanceof Text) texts.push({ text, from: at, length });
      at += length;
    } else if (next instanceof Text && !next.parentElement?.closest('[data-length]')) {
      texts.push({ text: next, from: at, length: next.length });
      at += next.length;
    }
  }
  return texts;
}

/** Wraps the words of a place in marks, one for each run of text. */
function wrapped(instance: Instance, from: number, to: number): HTMLElement[] {
  const made: HTMLElement[] = [];
  for (const stretch of instance.stretches)
    for (const { text, from: start, length } of textsOf(stretch)) {
      const begin = Math.max(0, from - start);
      const end = Math.min(length, to - start);
      if (begin >= end || text.parentElement?.closest('[data-length]')) continue;
      const rest = begin > 0 ? text.splitText(begin) : text;
      if (end - begin < rest.length) rest.splitText(end - begin);
      const mark = document.createElement('mark');
      mark.dataset.length = String(end - begin);
      rest.replaceWith(mark);
      mark.append(rest);
      made.push(mark);
    }
  return made;
}

function spotOf(instances: readonly Instance[], node: Node, offset: number) {
  for (const instance of instances)
    for (const stretch of instance.stretches) {
      if (!stretch.node.contains(node)) continue;
      for (const { text, from, length } of textsOf(stretch))
        if (text === node) return { instance, at: from + Math.min(offset, length) };
      // at the end or the beginning of a run
      const texts = textsOf(stretch);
      const last = texts.at(-1);
      return {
        instance,
        at: offset === 0 ? stretch.from : last ? last.from + last.length : stretch.from,
      };
    }
  return undefined;
}
