import { describe, expect, test } from 'vitest';
import { encode, expectedRead, symbologies, type SymbologyId } from '../../../src/core/symbology';
import {
  choiceOf,
  codeOptionsSchema,
  shownOf,
  withChoice,
  type ChoiceId,
  type CodeOptions,
} from '../../../src/core/symbology/choices';
import { renderPng } from '../../../src/core/artwork/png';
import { readAll } from '../../helpers/barcode';

/** What each symbology with choices says here. */
const says: Partial<Record<SymbologyId, string>> = {
  'data-matrix': 'MB-0142',
  'gs1-data-matrix': '(01)12000411000014',
  aztec: 'MB-0142',
  'code-39': 'MB-0142',
  codabar: '40156',
  itf: '123456',
  'itf-14': '12000411000014',
  'ean-13': '2000411000017',
  'ean-8': '20000004',
  'upc-a': '040000700418',
  'upc-e': '01234505',
  rmqr: 'MB-0142',
  pdf417: 'MB-0142 Dune House',
  'gs1-databar': '12000411000014',
};
const withChoices = Object.values(symbologies).filter((s) => s.choices !== undefined);

/** Every answer that can be given to a question, by itself. */
function answersTo(id: ChoiceId): (string | number | boolean)[] {
  const choice = choiceOf(id);
  if (choice.as === 'tick') return [false, true];
  if (choice.as === 'one of') return choice.choices.map((c) => c.id);
  return Array.from(
    { length: Math.floor((choice.max - choice.min) / choice.step) + 1 },
    (_, i) => choice.min + i * choice.step,
  );
}

test('the sample has one of each symbology that lets something be chosen', () => {
  expect(withChoices.map((s) => s.id).sort()).toEqual(Object.keys(says).sort());
});

describe.each(withChoices.map((s) => [s.id, s.choices!] as const))('%s', (id, choices) => {
  test('whatever is answered can be kept, and is shown again as it was said', () => {
    for (const of of choices.asks({}))
      for (const answer of answersTo(of)) {
        const chosen = withChoice(of, {}, answer);
        expect(codeOptionsSchema.safeParse(chosen), `${of} ${answer}`).toMatchObject({
          success: true,
        });
        expect(shownOf(of, chosen)).toBe(answer);
      }
  });

  test('the sentence has words for every answer, and others for another', () => {
    const words = (chosen: CodeOptions) => choices.words(chosen);
    expect(words({})).toMatch(/^\S.*\S$/);
    const said = new Set(
      choices.asks({}).flatMap((of) => answersTo(of).map((a) => words(withChoice(of, {}, a)))),
    );
    expect(said.size).toBeGreaterThan(1);
    for (const one of said) expect(one).not.toMatch(/undefined|NaN|true|false/);
  });

  test('nothing that can be chosen leaves the code unread', async () => {
    for (const of of choices.asks({}))
      for (const answer of answersTo(of)) {
        const chosen = withChoice(of, {}, answer);
        const symbol = (() => {
          try {
            return encode(id, says[id]!, chosen);
          } catch (error) {
            // a form may need another content, which is reported in words
            expect((error as Error).message).toMatch(/\.$/);
            return undefined;
          }
        })();
        if (!symbol) continue;
        const expected = expectedRead(symbol, chosen);
        const png = renderPng(symbol, {
          dotsPerModule: 4,
          barMm: symbologies[id].linear ? 12 : undefined,
        });
        const [read] = await readAll(png, { formats: [expected.format as 'QRCode'] });
        expect(read?.text, `${of} ${answer}`).toBe(expected.text);
      }
  });
});

test('what is as usual need not be said, and saying nothing takes it back', () => {
  expect(shownOf('correction', {})).toBe(23);
  expect(withChoice('pdf417Level', { pdf417Level: 4 }, -1)).toEqual({ pdf417Level: undefined });
  expect(withChoice('pdf417Columns', { pdf417Columns: 4 }, 0)).toEqual({
    pdf417Columns: undefined,
  });
  expect(withChoice('databar', { databar: 'limited' }, '')).toEqual({ databar: undefined });
  // a box that is not ticked is stored, as before
  expect(withChoice('checkCharacter', { wide: 2 }, false)).toEqual({
    wide: 2,
    checkCharacter: false,
  });
});

test('segments are asked only of the form that is stacked', () => {
  const { choices } = symbologies['gs1-databar'];
  expect(choices!.asks({})).toEqual(['databar', 'addCheckDigit']);
  expect(choices!.asks({ databar: 'expanded-stacked' })).toEqual([
    'databar',
    'segmentsPerRow',
    'addCheckDigit',
  ]);
});

test('what no symbology can do is not kept', () => {
  for (const wrong of [
    { wide: 4 },
    { correction: 4 },
    { correction: 91 },
    { maxRows: 18 },
    { pdf417Columns: 31 },
    { shape: 'round' },
    { databar: 'wide' },
  ])
    expect(codeOptionsSchema.safeParse(wrong).success, JSON.stringify(wrong)).toBe(false);
});
