import { readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { Marked } from 'marked';
import MiniSearch from 'minisearch';
import { oncePerProcess, ownFile } from '../platform';

/** A page of the guide: one Markdown file of `docs/guide`. */
export interface GuidePage {
  /** Its file without number and ending, as in its web address. */
  id: string;
  title: string;
  /** What the page is about, in a sentence. */
  about: string;
  html: string;
  headings: { id: string; text: string }[];
}

/** A part of a page that was found. */
export interface GuideHit {
  page: string;
  title: string;
  heading: string;
  /** The anchor of the heading; empty for the start of the page. */
  anchor: string;
  /** The first words of the part. */
  start: string;
}

interface Section extends GuideHit {
  id: number;
  text: string;
}

/** A heading as an anchor of an address: lower case, with hyphens. */
const anchorOf = (heading: string): string =>
  heading
    .toLowerCase()
    .replace(/[^\p{L}\p{N}]+/gu, '-')
    .replace(/^-|-$/g, '');

const plain = (markdown: string): string =>
  markdown
    .replace(/!\[[^\]]*\]\([^)]*\)/g, '')
    .replace(/\[([^\]]*)\]\([^)]*\)/g, '$1')
    .replace(/[*`#>|]/g, '')
    .replace(/\s+/g, ' ')
    .trim();

/** The web address for a link in a Markdown file. */
function addressOf(href: string): string {
  const picture = /^\.\.\/screenshots\/([\w-]+\.png)$/.exec(href);
  if (picture) return `/api/guide/pictures/${picture[1]}`;
  const page = /^(?:\d+-)?([\w-]+)\.md(#.*)?$/.exec(href);
  return page ? `/help/${page[1]}${page[2] ?? ''}` : href;
}

function read(file: string, text: string): { page: GuidePage; sections: Omit<Section, 'id'>[] } {
  const id = file.replace(/^\d+-/, '').replace(/\.md$/, '');
  const [, title = id] = /^# (.+)$/m.exec(text) ?? [];
  const body = text.replace(/^# .+\n+/, '');
  const about = plain(body.split(/\n\s*\n/)[0] ?? '');
  const headings: GuidePage['headings'] = [];
  const marked = new Marked({
    walkTokens(token) {
      if (token.type === 'link' || token.type === 'image')
        token.href = addressOf(token.href as string);
    },
    renderer: {
      heading({ tokens, depth, text: raw }) {
        const anchor = anchorOf(plain(raw));
        if (depth === 2) headings.push({ id: anchor, text: plain(raw) });
        return `<h${depth} id="${anchor}">${this.parser.parseInline(tokens)}</h${depth}>\n`;
      },
    },
  });
  const html = marked.parse(body, { async: false });
  const sections = body.split(/^(?=## )/m).map((part) => {
    const heading = /^## (.+)$/m.exec(part)?.[1];
    const words = plain(part.replace(/^## .+$/m, ''));
    return {
      page: id,
      title,
      heading: heading ? plain(heading) : title,
      anchor: heading ? anchorOf(plain(heading)) : '',
      start: words.length > 160 ? `${words.slice(0, 160).replace(/\s\S*$/, '')} …` : words,
      text: words,
    };
  });
  return { page: { id, title, about, html, headings }, sections };
}

interface Guide {
  pages: GuidePage[];
  search: MiniSearch<Section>;
}

/** All pages, read once. They are part of the program and do not change while it runs. */
function readGuide(): Guide {
  const folder = ownFile('docs/guide');
  const files = folder
    ? readdirSync(/* turbopackIgnore: true */ folder)
        .filter((f) => f.endsWith('.md'))
        .sort()
    : [];
  const parsed = files.map((f) =>
    read(f, readFileSync(/* turbopackIgnore: true */ join(folder!, f), 'utf8')),
  );
  const search = new MiniSearch<Section>({
    fields: ['title', 'heading', 'text'],
    storeFields: ['page', 'title', 'heading', 'anchor', 'start'],
    searchOptions: {
      boost: { heading: 3, title: 2 },
      prefix: true,
      fuzzy: 0.15,
      combineWith: 'AND',
    },
  });
  search.addAll(parsed.flatMap((p) => p.sections).map((s, id) => ({ ...s, id })));
  return { pages: parsed.map((p) => p.page), search };
}
const guide = (): Guide => oncePerProcess('guide', readGuide);

export const guidePages = (): readonly GuidePage[] => guide().pages;
export const guidePage = (id: string): GuidePage | undefined =>
  guide().pages.find((page) => page.id === id);

/**
 * Parts of the guide that hold all the words, the best first.
 *
 * @returns at most 20; none for a question without letters
 */
export const searchGuide = (question: string): GuideHit[] =>
  guide()
    .search.search(question.slice(0, 200))
    .slice(0, 20)
    .map(({ page, title, heading, anchor, start }) => ({
      page: page as string,
      title: title as string,
      heading: heading as string,
      anchor: anchor as string,
      start: start as string,
    }));

/** A picture of the guide, as PNG; undefined if there is none of that name. */
export function guidePicture(name: string): Buffer | undefined {
  if (!/^[\w-]+\.png$/.test(name)) return undefined;
  const file = ownFile(`docs/screenshots/${name}`);
  return file ? readFileSync(/* turbopackIgnore: true */ file) : undefined;
}

/** The list of packages and typefaces with their licences, as HTML; empty if it was not made. */
export function licencesHtml(): string {
  const file = ownFile('docs/licences.md');
  if (!file) return '';
  const text = readFileSync(/* turbopackIgnore: true */ file, 'utf8').replace(/^# .+\n+/, '');
  return new Marked().parse(text, { async: false });
}

/** The version of this program. */
export function version(): string {
  // the build has package files of its own below ours
  const docs = ownFile('docs/guide');
  if (!docs) return '';
  const file = join(/* turbopackIgnore: true */ docs, '../../package.json');
  const held = JSON.parse(readFileSync(/* turbopackIgnore: true */ file, 'utf8')) as {
    version: string;
  };
  return held.version;
}
