import { execFileSync } from 'node:child_process';
import { existsSync, readdirSync, readFileSync } from 'node:fs';
import { describe, expect, test } from 'vitest';
import { glossaryPage } from '../../scripts/glossary-page';
import { licencesPage } from '../../scripts/licences-page';
import { guidePage, guidePages, licencesHtml, searchGuide, version } from '../../src/server/guide';
import { answer } from '../../src/server/routes';

const folder = 'docs/guide';
const files = readdirSync(folder).filter((f) => f.endsWith('.md'));
const text = (file: string) => readFileSync(`${folder}/${file}`, 'utf8');

describe('the guide', () => {
  test('has a page for each file, each with a title and a sentence about it', () => {
    const pages = guidePages();
    expect(pages.map((p) => p.id)).toEqual(
      [...files].sort().map((f) => f.replace(/^\d+-|\.md$/g, '')),
    );
    for (const page of pages) {
      expect(page.title).not.toBe(page.id);
      expect(page.about).toMatch(/^[A-Z].+\.$/);
    }
  });

  test('leads nowhere that is not there: pages, headings, pictures', () => {
    for (const { id, html } of guidePages())
      for (const [, to] of html.matchAll(/(?:href|src)="([^"]+)"/g)) {
        if (to!.startsWith('/api/guide/pictures/')) {
          expect([id, to, existsSync(`docs/screenshots/${to!.split('/').at(-1)}`)]).toEqual([
            id,
            to,
            true,
          ]);
          continue;
        }
        const [, page, anchor] = /^\/help\/([\w-]+)(?:#(.+))?$/.exec(to!) ?? [];
        expect([id, to, guidePage(page ?? '')?.id]).toEqual([id, to, page]);
        if (anchor) expect(guidePage(page!)!.headings.map((h) => h.id)).toContain(anchor);
      }
  });

  test('quotes only messages that the program has', () => {
    const sources = execFileSync('git', ['ls-files', 'src'], { encoding: 'utf8' })
      .split('\n')
      .filter((f) => /\.tsx?$/.test(f) && existsSync(f))
      .map((f) => readFileSync(f, 'utf8'))
      .join('\n')
      .replace(/\s+/g, ' ');
    const messages = [...text('11-messages.md').matchAll(/^\| (.+?) \| /gm)]
      .map(([, message]) => message!.replace(/^… | …$/g, ''))
      .filter((message) => message !== 'Message' && !message.startsWith('---'));
    expect(messages.length).toBeGreaterThan(20);
    for (const message of messages)
      expect([message, sources.includes(message)]).toEqual([message, true]);
  });

  test('is searched by words, by their beginnings, and with a slip', () => {
    expect(searchGuide('leading zeros').map((h) => h.page)).toContain('records');
    expect(searchGuide('quiet zo')[0]).toMatchObject({ page: 'glossary' });
    expect(searchGuide('chekpoint').map((h) => h.page)).toContain('checkpoints');
    expect(searchGuide('wombat').length).toBe(0);
    expect(searchGuide('*** <script>')).toEqual([]);
  });

  test('its glossary and the licences are as the words and the lockfile say', () => {
    expect(text('12-glossary.md')).toBe(glossaryPage());
    expect(readFileSync('docs/licences.md', 'utf8')).toBe(licencesPage());
    expect(licencesHtml()).toContain('kysely');
    expect(version()).toMatch(/^\d+\.\d+\.\d+$/);
  });

  test('no picture is given by a path', async () => {
    for (const name of ['..%2Fpackage.json', '%2e%2e%2f%2e%2e%2fpackage.json', 'run', 'run.png%00'])
      expect([
        name,
        (await answer(new Request(`http://localhost/api/guide/pictures/${name}`))).status,
      ]).not.toEqual([name, 200]);
  });
});
