import { strFromU8, strToU8 } from 'fflate';
import { XMLSerializer, type Element } from '@xmldom/xmldom';
import type { Values } from '../records/columns';
import { withRelations, type CodePicture, type DocxMerge } from './fill';
import { DocumentError } from './error';
import {
  all,
  child,
  children,
  ns,
  parseXml,
  relationsOf,
  relationsPath,
  targetPath,
} from './package';

/** What one record adds to the common document: text, each piece as XML of the file. */
export interface JoinedRecord {
  /**
   * The text before its last paragraph, that paragraph with the end of its section, and both as the
   * end of the document.
   */
  text: string;
  last: string;
  end: string;
  /** By the part they belong to. */
  notes: Record<string, string>;
  /** Headers and footers of its own, by their path. */
  parts: Record<string, string>;
  /** Lists whose numbering starts again with it. */
  lists: string;
  /** The references of its parts to the pictures of its codes, by the path of the part. */
  relations: Record<string, string>;
}
/** The pictures of its codes, by the path of their file. */
export type JoinedMedia = ReadonlyMap<string, Uint8Array>;

/** The distance between the identifiers of one record and the next. */
const span = 10_000;
/** Our own identifiers begin here, above those of common headers. */
const base = 1_000_000;
const serializer = new XMLSerializer();
const w14 = ['w14:paraId', 'w14:textId'];

/**
 * Many documents of one example as one that can be changed: each begins on a page of its own, with
 * its own headers, its own numbering of lists and pages, and no identifier twice (ECMA-376 part 1,
 * 17.6, 17.9).
 */
export class DocxJoin {
  private readonly start: string;
  private readonly spaces: readonly string[];
  private readonly notesParts: string[];
  private readonly ownParts: string[];
  private readonly numbering: { part: string; root: Element } | undefined;
  private readonly styleLists: ReadonlyMap<string, { list: string; level: string }>;
  private readonly ids: { relations: Map<string, string>; notes: number; lists: number };
  private readonly references: ReadonlySet<string>;

  constructor(private readonly merge: DocxMerge) {
    const root = merge.parts.get(merge.main)!.documentElement!;
    this.start = openingOf(root);
    this.spaces = this.start.match(/ xmlns(:\w+)?="[^"]*"/g) ?? [];
    const relations = relationsOf(merge.files, merge.main).filter((r) => !r.external);
    const path = (target: string) => targetPath(merge.main, target);
    const said = (part: string) =>
      [...merge.ground.places.filter((p) => !p.likely), ...merge.ground.blocks].some(
        (spot) => spot.part === part,
      ) || merge.ground.codes.some((code) => code.at.part === part);
    this.notesParts = relations
      .filter((r) => /^(footnotes|endnotes)$/.test(r.type))
      .map((r) => path(r.target))
      .filter((part) => merge.parts.has(part));
    this.ownParts = relations
      .filter((r) => /^(header|footer)$/.test(r.type))
      .map((r) => path(r.target))
      .filter((part) => merge.parts.has(part) && said(part));
    this.ids = {
      relations: new Map(relations.map((r) => [path(r.target), r.id])),
      notes: 0,
      lists: 0,
    };
    for (const part of this.notesParts)
      for (const note of children(merge.parts.get(part)!.documentElement!))
        this.ids.notes = Math.max(this.ids.notes, Number(note.getAttribute('w:id')) + 1);
    const numberingPart = relations.find((r) => r.type === 'numbering');
    const numberingPath = numberingPart && path(numberingPart.target);
    const bytes = numberingPath === undefined ? undefined : merge.files.get(numberingPath);
    if (numberingPath !== undefined && bytes) {
      this.numbering = {
        part: numberingPath,
        root: parseXml(bytes, numberingPath).documentElement!,
      };
      for (const list of all(this.numbering.root, ns.w, 'num'))
        this.ids.lists = Math.max(this.ids.lists, Number(list.getAttribute('w:numId')) + 1);
    }
    const styles = relations.find((r) => r.type === 'styles');
    const stylesPath = styles && path(styles.target);
    const styleBytes = stylesPath === undefined ? undefined : merge.files.get(stylesPath);
    this.styleLists =
      stylesPath !== undefined && styleBytes
        ? this.listsOfStyles(parseXml(styleBytes, stylesPath).documentElement!)
        : new Map();
    this.references = new Set(
      all(root, ns.w, 'sectPr').flatMap((section) => referencesOf(section).map(referenceKey)),
    );
  }

  /**
   * The contribution of one record.
   * @param number of the record, from 0; no two have the same
   */
  record(
    number: number,
    values: Values,
    codes: ReadonlyMap<string, CodePicture>,
  ): { record: JoinedRecord; media: JoinedMedia } {
    const { merge } = this;
    const { parts: filled, media: placed, links } = merge.fillParts(values, codes, `n${number}`);
    const part = (name: string) =>
      filled.get(name) ?? (merge.parts.get(name)!.documentElement!.cloneNode(true) as Element);
    const root = part(merge.main);
    const body = child(root, ns.w, 'body');
    if (!body) throw new DocumentError('This document has no text.');
    const made = new Identifiers(number);
    made.renew(root);
    const lists = number === 0 ? '' : this.renewLists(root, number);
    this.renewNotes(root, number);
    const notes: Record<string, string> = {};
    for (const name of this.notesParts) {
      const own = part(name);
      made.renew(own);
      notes[name] = children(own)
        .filter((note) => !isSeparator(note))
        .map((note) => {
          note.setAttribute('w:id', String(this.noteId(note, number)));
          return this.text(note);
        })
        .join('');
    }
    const parts: Record<string, string> = {};
    for (const name of this.ownParts) {
      const own = part(name);
      made.renew(own);
      parts[this.ownPath(name, number)] = serializer.serializeToString(own);
      const id = this.ids.relations.get(name)!;
      for (const section of all(root, ns.w, 'sectPr'))
        for (const reference of referencesOf(section))
          if (reference.getAttributeNS(ns.r, 'id') === id)
            reference.setAttributeNS(ns.r, 'r:id', `${id}n${number}`);
    }
    if (number > 0) {
      const [section] = all(root, ns.w, 'sectPr');
      this.beginSection(section);
      if (section && all(root, ns.w, 'footnoteReference').length > 0) countNotesAnew(section);
    }
    const media = new Map<string, Uint8Array>();
    const relations: Record<string, string> = {};
    for (const one of placed) {
      media.set(one.png, one.code.png);
      media.set(one.svg, one.code.svg);
      const path = this.ownParts.includes(one.part) ? this.ownPath(one.part, number) : one.part;
      relations[path] = (relations[path] ?? '') + one.relations;
    }
    for (const [name, more] of links) {
      const path = this.ownParts.includes(name) ? this.ownPath(name, number) : name;
      relations[path] = (relations[path] ?? '') + more;
    }
    return { record: { ...this.ends(body), notes, parts, lists, relations }, media };
  }

  /** The text before the last paragraph, and that paragraph with and without the section in it. */
  private ends(body: Element): Pick<JoinedRecord, 'text' | 'last' | 'end'> {
    const document = body.ownerDocument!;
    const inside = children(body);
    const section = inside.at(-1)?.localName === 'sectPr' ? inside.pop() : undefined;
    let last = inside.at(-1);
    if (last?.localName === 'p' && all(last, ns.w, 'sectPr').length === 0) inside.pop();
    else last = document.createElementNS(ns.w, 'w:p');
    const plain = this.text(last) + (section ? this.text(section) : '');
    let properties = child(last, ns.w, 'pPr');
    if (!properties) {
      properties = document.createElementNS(ns.w, 'w:pPr');
      last.insertBefore(properties, last.firstChild);
    }
    const end = section ?? document.createElementNS(ns.w, 'w:sectPr');
    // a change of its properties would come after it; there is none, since changes were accepted
    properties.appendChild(end);
    return {
      text: inside.map((one) => this.text(one)).join(''),
      last: this.text(last),
      end: plain,
    };
  }

  /** An element of the text, without the declarations that the beginning of the part has. */
  private text(element: Element): string {
    return serializer
      .serializeToString(element)
      .replace(/^<[^>]*>/, (tag) =>
        this.spaces.reduce((short, space) => short.replace(space, ''), tag),
      );
  }

  private noteId(note: Element, number: number): number {
    return Number(note.getAttribute('w:id')) + number * this.ids.notes;
  }

  private renewNotes(root: Element, number: number): void {
    for (const name of ['footnoteReference', 'endnoteReference'])
      for (const reference of all(root, ns.w, name))
        reference.setAttribute('w:id', String(this.noteId(reference, number)));
  }

  private ownPath = (part: string, number: number): string =>
    part.replace(/\.xml$/, `-${number + 1}.xml`);

  /**
   * The first section of a record begins a page, restarts the page numbers, and takes no header
   * from the record before.
   */
  private beginSection(section: Element | undefined): void {
    if (!section) return;
    const document = section.ownerDocument!;
    const type = child(section, ns.w, 'type');
    if (type && !/^(nextPage|oddPage|evenPage)$/.test(type.getAttribute('w:val') ?? ''))
      section.removeChild(type);
    let pages = child(section, ns.w, 'pgNumType');
    if (!pages) {
      pages = document.createElementNS(ns.w, 'w:pgNumType');
      const behind = children(section).find((c) => behindPages.has(c.localName ?? ''));
      section.insertBefore(pages, behind ?? null);
    }
    if (!pages.getAttribute('w:start')) pages.setAttribute('w:start', '1');
    const own = new Set(referencesOf(section).map(referenceKey));
    for (const key of this.references) {
      if (own.has(key)) continue;
      const [name, kind] = key.split(' ');
      const reference = document.createElementNS(ns.w, `w:${name}`);
      reference.setAttribute('w:type', kind!);
      reference.setAttributeNS(ns.r, 'r:id', name === 'headerReference' ? 'noHeader' : 'noFooter');
      section.insertBefore(reference, section.firstChild);
    }
  }

  /** Numbering that comes with a style, by the style. */
  private listsOfStyles(styles: Element): Map<string, { list: string; level: string }> {
    const found = new Map<string, { list: string; level: string }>();
    for (const style of all(styles, ns.w, 'style')) {
      const id = style.getAttribute('w:styleId') ?? '';
      const own = all(style, ns.w, 'numPr')[0];
      const list = own && child(own, ns.w, 'numId')?.getAttribute('w:val');
      if (!list || list === '0') continue;
      const said = child(own, ns.w, 'ilvl')?.getAttribute('w:val');
      const level =
        said ??
        all(this.abstractOf(list), ns.w, 'lvl')
          .find((l) => child(l, ns.w, 'pStyle')?.getAttribute('w:val') === id)
          ?.getAttribute('w:ilvl') ??
        '0';
      found.set(id, { list, level });
    }
    return found;
  }

  private abstractOf(list: string): Element {
    const { root } = this.numbering ?? {};
    const num = root && all(root, ns.w, 'num').find((n) => n.getAttribute('w:numId') === list);
    const id = num && child(num, ns.w, 'abstractNumId')?.getAttribute('w:val');
    const abstract =
      root && all(root, ns.w, 'abstractNum').find((a) => a.getAttribute('w:abstractNumId') === id);
    // a list without a definition counts nothing
    return abstract ?? this.merge.parts.get(this.merge.main)!.createElementNS(ns.w, 'w:none');
  }

  /** Gives the lists of a record their own numbers, which begin where the example's began. */
  private renewLists(root: Element, number: number): string {
    if (!this.numbering) return '';
    const document = root.ownerDocument!;
    const used = new Set<string>();
    const renewed = (list: string): string => {
      used.add(list);
      return String(Number(list) + number * this.ids.lists);
    };
    const known = new Set(
      all(this.numbering.root, ns.w, 'num').map((n) => n.getAttribute('w:numId')),
    );
    for (const paragraph of all(root, ns.w, 'p')) {
      let properties = child(paragraph, ns.w, 'pPr');
      const own = properties && child(properties, ns.w, 'numPr');
      const list = own && child(own, ns.w, 'numId');
      if (list) {
        const id = list.getAttribute('w:val') ?? '';
        if (known.has(id)) list.setAttribute('w:val', renewed(id));
        continue;
      }
      const style = properties && child(properties, ns.w, 'pStyle');
      const byStyle = style && this.styleLists.get(style.getAttribute('w:val') ?? '');
      if (!byStyle || !known.has(byStyle.list)) continue;
      properties = properties!;
      const said = document.createElementNS(ns.w, 'w:numPr');
      for (const [name, value] of [
        ['ilvl', byStyle.level],
        ['numId', renewed(byStyle.list)],
      ]) {
        const element = document.createElementNS(ns.w, `w:${name}`);
        element.setAttribute('w:val', value!);
        said.appendChild(element);
      }
      const before = children(properties).find((c) => !beforeLists.has(c.localName ?? ''));
      properties.insertBefore(said, before ?? null);
    }
    return [...used].map((list) => this.newList(list, number)).join('');
  }

  private newList(list: string, number: number): string {
    const num = all(this.numbering!.root, ns.w, 'num').find(
      (n) => n.getAttribute('w:numId') === list,
    )!;
    const made = num.cloneNode(true) as Element;
    const document = made.ownerDocument!;
    made.setAttribute('w:numId', String(Number(list) + number * this.ids.lists));
    for (const id of w14) made.removeAttribute(id);
    made.removeAttribute('w16cid:durableId');
    for (const level of all(this.abstractOf(list), ns.w, 'lvl')) {
      const at = level.getAttribute('w:ilvl') ?? '0';
      const known = children(made).find(
        (c) => c.localName === 'lvlOverride' && c.getAttribute('w:ilvl') === at,
      );
      if (known && child(known, ns.w, 'startOverride')) continue;
      const override = known ?? document.createElementNS(ns.w, 'w:lvlOverride');
      override.setAttribute('w:ilvl', at);
      const start = document.createElementNS(ns.w, 'w:startOverride');
      start.setAttribute('w:val', child(level, ns.w, 'start')?.getAttribute('w:val') ?? '1');
      override.insertBefore(start, override.firstChild);
      if (!known) made.appendChild(override);
    }
    return serializer.serializeToString(made);
  }

  /**
   * The files of the document of all, one after another; each as its text or bytes come. Called for
   * the records as often as they are needed.
   * @param count of records, numbered from 0
   */
  async *files(
    count: number,
    records: () => AsyncIterable<{ record: JoinedRecord; media: JoinedMedia }>,
  ): AsyncGenerator<{ path: string; bytes: AsyncGenerator<Uint8Array> }> {
    const { merge } = this;
    const one = (path: string, text: string | Uint8Array) => ({
      path,
      bytes: (async function* () {
        yield typeof text === 'string' ? strToU8(text) : text;
      })(),
    });
    yield one('[Content_Types].xml', this.types(count));
    const { start } = this;
    yield {
      path: merge.main,
      bytes: (async function* () {
        yield strToU8(`${declaration}${start}<w:body>`);
        let last: JoinedRecord | undefined;
        for await (const { record } of records()) {
          if (last) yield strToU8(last.last);
          yield strToU8(record.text);
          last = record;
        }
        yield strToU8(`${last?.end ?? ''}</w:body></${rootName(start)}>`);
      })(),
    };
    for (const part of this.notesParts) {
      const root = merge.parts.get(part)!.documentElement!;
      const start = openingOf(root);
      const kept = children(root)
        .filter(isSeparator)
        .map((n) => serializer.serializeToString(n));
      yield {
        path: part,
        bytes: (async function* () {
          yield strToU8(declaration + start + kept.join(''));
          for await (const { record } of records()) yield strToU8(record.notes[part] ?? '');
          yield strToU8(`</${rootName(start)}>`);
        })(),
      };
    }
    if (this.numbering) {
      const { part, root } = this.numbering;
      const whole = serializer.serializeToString(root);
      // after the last list; what must come after lists stays there
      const tail = /(<w:numIdMacAtCleanup[^>]*\/>\s*)?<\/w:numbering>\s*$/.exec(whole);
      const cut = tail?.index ?? whole.length;
      yield {
        path: part,
        bytes: (async function* () {
          yield strToU8(declaration + whole.slice(0, cut));
          for await (const { record } of records()) yield strToU8(record.lists);
          yield strToU8(whole.slice(cut));
        })(),
      };
    }
    const written = new Set([
      '[Content_Types].xml',
      merge.main,
      relationsPath(merge.main),
      ...this.notesParts,
      ...this.notesParts.map(relationsPath),
      ...(this.numbering ? [this.numbering.part] : []),
    ]);
    for (const [path, bytes] of merge.files) if (!written.has(path)) yield one(path, bytes);
    for await (const { record, media } of records()) {
      for (const [path, text] of Object.entries(record.parts)) yield one(path, declaration + text);
      for (const [path, bytes] of media) yield one(path, bytes);
    }
    if (this.ownParts.length > 0) {
      let number = 0;
      for await (const { record } of records()) {
        for (const part of this.ownParts) {
          const known = merge.files.get(relationsPath(part));
          const own = this.ownPath(part, number);
          const more = record.relations[own];
          if (known || more) yield one(relationsPath(own), withRelations(known, more ?? ''));
        }
        number++;
      }
    }
    for (const name of ['header', 'footer'] as const)
      yield one(
        this.emptyPath(name),
        `${declaration}<w:${name === 'header' ? 'hdr' : 'ftr'} xmlns:w="${ns.w}"><w:p/></w:${name === 'header' ? 'hdr' : 'ftr'}>`,
      );
    for (const part of [merge.main, ...this.notesParts]) {
      const known = merge.files.get(relationsPath(part));
      if (part !== merge.main && !this.hasCodes(part)) {
        if (known) yield one(relationsPath(part), known);
        continue;
      }
      const whole = strFromU8(
        withRelations(known, part === merge.main ? this.relations(count) : ''),
      );
      const end = /<\/(\w+:)?Relationships>\s*$/.exec(whole)!.index;
      yield {
        path: relationsPath(part),
        bytes: (async function* () {
          yield strToU8(whole.slice(0, end));
          for await (const { record } of records()) yield strToU8(record.relations[part] ?? '');
          yield strToU8(whole.slice(end));
        })(),
      };
    }
  }

  /** Whether a part calls codes or links that each record has for itself. */
  private hasCodes = (part: string): boolean =>
    this.merge.ground.codes.some((code) => code.at.part === part) ||
    this.merge.ground.places.some((place) => place.part === part && place.leads !== undefined);

  private emptyPath = (name: 'header' | 'footer'): string =>
    this.merge.main.replace(/[^/]*$/, `no-${name}.xml`);

  /**
   * What the text refers to beside the example's parts: headers and footers of each record, and
   * empty ones.
   */
  private relations(count: number): string {
    const relation = (id: string, type: string, target: string) =>
      `<Relationship Id="${id}" Type="${ns.r}/${type}" Target="${target}"/>`;
    const more: string[] = [
      relation('noHeader', 'header', 'no-header.xml'),
      relation('noFooter', 'footer', 'no-footer.xml'),
    ];
    for (let number = 0; number < count; number++)
      for (const part of this.ownParts)
        more.push(
          relation(
            `${this.ids.relations.get(part)}n${number}`,
            this.kindOf(part),
            `/${this.ownPath(part, number)}`,
          ),
        );
    return more.join('');
  }

  private kindOf(part: string): 'header' | 'footer' {
    return this.merge.parts.get(part)!.documentElement!.localName === 'hdr' ? 'header' : 'footer';
  }

  private types(count: number): string {
    const known = strFromU8(this.merge.files.get('[Content_Types].xml')!);
    const type = (name: 'header' | 'footer') =>
      `application/vnd.openxmlformats-officedocument.wordprocessingml.${name}+xml`;
    const override = (path: string, name: 'header' | 'footer') =>
      `<Override PartName="/${path}" ContentType="${type(name)}"/>`;
    const more = [
      override(this.emptyPath('header'), 'header'),
      override(this.emptyPath('footer'), 'footer'),
    ];
    for (let number = 0; number < count; number++)
      for (const part of this.ownParts)
        more.push(override(this.ownPath(part, number), this.kindOf(part)));
    return known.replace(/<\/(\w+:)?Types>/, (end) => more.join('') + end);
  }
}

const declaration = '<?xml version="1.0" encoding="UTF-8" standalone="yes"?>\n';
const rootName = (start: string): string => /^<([\w:]+)/.exec(start)![1]!;

/** The opening tag of a root, with all that it declares. */
function openingOf(root: Element): string {
  const empty = root.cloneNode(false) as Element;
  return serializer
    .serializeToString(empty)
    .replace(/\s*\/>$/, '>')
    .replace(/><\/[\w:]+>$/, '>');
}

/** Footnotes of a record begin with 1, as in a document of its own (ISO/IEC 29500, 17.11.19). */
function countNotesAnew(section: Element): void {
  const document = section.ownerDocument!;
  let notes = child(section, ns.w, 'footnotePr');
  if (!notes) {
    notes = document.createElementNS(ns.w, 'w:footnotePr');
    const behind = children(section).find((c) => !/^(header|footer)Reference$/.test(c.localName!));
    section.insertBefore(notes, behind ?? null);
  }
  if (child(notes, ns.w, 'numRestart')) return;
  const restart = document.createElementNS(ns.w, 'w:numRestart');
  restart.setAttribute('w:val', 'eachSect');
  notes.appendChild(restart);
}

/** In the order of ISO/IEC 29500: after the page numbering, and before lists. */
const behindPages = new Set([
  'cols',
  'formProt',
  'vAlign',
  'noEndnote',
  'titlePg',
  'textDirection',
  'bidi',
  'rtlGutter',
  'docGrid',
  'printerSettings',
  'sectPrChange',
]);
const beforeLists = new Set([
  'pStyle',
  'keepNext',
  'keepLines',
  'pageBreakBefore',
  'framePr',
  'widowControl',
]);

const referencesOf = (section: Element): Element[] =>
  children(section).filter((c) => /^(header|footer)Reference$/.test(c.localName ?? ''));
const referenceKey = (reference: Element): string =>
  `${reference.localName} ${reference.getAttribute('w:type') ?? 'default'}`;
/** Special notes: the separator lines above notes. */
const isSeparator = (note: Element): boolean =>
  /separator|Notice/i.test(note.getAttribute('w:type') ?? '');

/** Names and numbers that may occur only once in a document, made new for a record. */
class Identifiers {
  private next: number;
  constructor(private readonly number: number) {
    this.next = base + number * span;
  }

  renew(root: Element): void {
    for (const one of all(root, ns.wp, 'docPr')) one.setAttribute('id', String(this.next++));
    if (this.number === 0) return;
    const mark = `n${this.number}`;
    const names = new Map<string, string>();
    for (const name of ['bookmarkStart', 'bookmarkEnd'])
      for (const one of all(root, ns.w, name)) {
        one.setAttribute(
          'w:id',
          String(base + this.number * span + Number(one.getAttribute('w:id'))),
        );
        const own = one.getAttribute('w:name');
        if (!own) continue;
        // names have 40 letters at most
        const made = own.slice(0, 39 - mark.length) + mark;
        names.set(own, made);
        one.setAttribute('w:name', made);
      }
    if (names.size > 0) {
      for (const link of all(root, ns.w, 'hyperlink')) {
        const to = names.get(link.getAttribute('w:anchor') ?? '');
        if (to !== undefined) link.setAttribute('w:anchor', to);
      }
      const renamed = (field: string) =>
        field.replace(/[^\s\\"]+/g, (word) => names.get(word) ?? word);
      for (const field of all(root, ns.w, 'fldSimple'))
        field.setAttribute('w:instr', renamed(field.getAttribute('w:instr') ?? ''));
      for (const field of all(root, ns.w, 'instrText'))
        field.textContent = renamed(field.textContent ?? '');
    }
    for (const properties of all(root, ns.w, 'sdtPr')) {
      const id = child(properties, ns.w, 'id');
      if (id) properties.removeChild(id);
    }
    for (const one of Array.from(root.getElementsByTagName('*'))) {
      for (const id of w14) one.removeAttribute(id);
      // shapes of the older form
      if (one.prefix === 'v' && one.localName !== 'shapetype' && one.getAttribute('id'))
        one.setAttribute('id', `${one.getAttribute('id')}${mark}`);
      if (one.getAttribute('o:spid'))
        one.setAttribute('o:spid', `${one.getAttribute('o:spid')}${mark}`);
    }
  }
}
