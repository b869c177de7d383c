import { describe, expect, test } from 'vitest';
import {
  charactersOf,
  fontCatalogue,
  slicesFor,
  slicesOf,
} from '../../../src/core/artwork/font-catalogue';
import { FontBook } from '../../../src/core/artwork/fonts';
import { fontFile, fontPart } from '../../../src/server/platform/fonts';

describe('a large typeface, handed over in parts', () => {
  test('draws each character as the whole does, in both weights', async () => {
    const texts = {
      'noto-jp': '山田花子さんソラ（丘）々﨑𠮷ㇰ',
      'noto-kr-bold': '마람만정원山田',
      'noto-sc': '山田花丘',
    };
    for (const [key, text] of Object.entries(texts)) {
      const [whole, parts] = [new FontBook(), new FontBook()];
      whole.add(key, (await fontFile(key))!);
      const chosen = key.endsWith('-bold') ? 'atkinson-bold' : 'atkinson';
      for (const book of [whole, parts]) book.add(chosen, (await fontFile(chosen))!);
      for (const slice of slicesFor(text, key))
        parts.add(key, (await fontPart(key, slice))!, slice);
      const han = key.replace('-bold', '') as 'noto-jp';
      for (const character of text) {
        const drawn = [whole, parts].map((book) => {
          const face = book.covering(character, chosen, han)!;
          const [glyph] = face.shape(character);
          return { advance: glyph!.advance, outline: face.outlineSvg(glyph!.id) };
        });
        expect(drawn[0]!.outline.length).toBeGreaterThan(10);
        expect(drawn[1]).toEqual(drawn[0]);
      }
    }
  });

  test('has a part for every character that the whole is taken for', async () => {
    for (const { key, scripts } of fontCatalogue) {
      if (slicesOf(key).length === 0) continue;
      const whole = new FontBook();
      whole.add(key, (await fontFile(key))!);
      const offered = new Set(slicesOf(key));
      const missing = whole
        .font(key)
        .source.characterSet.filter(
          (code) => scripts!.test(String.fromCodePoint(code)) && !offered.has(code >> 8),
        );
      expect(missing.map((code) => code.toString(16))).toEqual([]);
    }
  });

  test('has parts in which there is nothing, and these cover nothing', async () => {
    const book = new FontBook();
    book.add('atkinson', (await fontFile('atkinson'))!);
    const rare = '\u{20001}';
    for (const slice of slicesFor(rare, 'noto-kr'))
      book.add('noto-kr', (await fontPart('noto-kr', slice))!, slice);
    expect(slicesFor(rare, 'noto-kr')).toEqual([0x200]);
    expect(book.covering(rare, 'atkinson', 'noto-kr')).toBeUndefined();
  });

  test('weighs a small part of it, and there are no other parts', async () => {
    for (const { key } of fontCatalogue) {
      const [slice] = slicesOf(key);
      if (slice === undefined) {
        expect(await fontPart(key, 0x4e)).toBeUndefined();
        continue;
      }
      const whole = (await fontFile(key))!.length;
      expect((await fontPart(key, slice))!.length).toBeLessThan(whole / 10);
      expect(await fontPart(key, 0x20)).toBeUndefined();
    }
    expect(await fontPart('nonsense', 0x4e)).toBeUndefined();
  });

  test('the parts of a text are those of its characters', () => {
    expect(slicesFor('山田 Ines', 'noto-jp')).toEqual([0x5c, 0x75]);
    expect(slicesFor('Ines', 'noto-jp')).toEqual([]);
    expect([...charactersOf(0x5c)]).toHaveLength(256);
    expect(charactersOf(0x5c)).toContain('山');
  });
});
