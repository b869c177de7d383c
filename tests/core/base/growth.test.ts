/**
 * Nothing in the core may cost more than in proportion to what a user types, imports or names: a
 * value of 20,000 letters must not stop a server. Each function that takes a text gets one four
 * times as long, and processor time (not time on the clock) may grow to little more than four
 * times.
 */
import { beforeAll, expect, test } from 'vitest';
import { fontCatalogue } from '../../../src/core/artwork/font-catalogue';
import type { FontBook } from '../../../src/core/artwork/fonts';
import { insides, takeApart, tidyScan, wrapOf } from '../../../src/core/checkpoint/recognise';
import { formsOf } from '../../../src/core/documents/forms';
import { keyOf, keysIn } from '../../../src/core/documents/keys';
import { codeIn, pageIn, pictureIn, tidyCode } from '../../../src/core/links/code';
import { isOurLink } from '../../../src/core/links/leading';
import { sameTyped } from '../../../src/core/links/own';
import { parseColour } from '../../../src/core/look/colour';
import { addressTrouble } from '../../../src/core/mail/address';
import { writtenAddress } from '../../../src/core/payload/address';
import { proposeParts } from '../../../src/core/payload/by-example';
import { doorTrouble } from '../../../src/core/payload/door';
import { phoneNumber } from '../../../src/core/payload/phone';
import { purposes } from '../../../src/core/payload/purposes';
import { contentOf, firstStamp, judgeStamp } from '../../../src/core/payload/stamp';
import { unpack } from '../../../src/core/payload/unpack';
import { fitText, textMends, weighText, type TextStyle } from '../../../src/core/piece/text';
import { columnRoles, suggestRoles, type Column } from '../../../src/core/records/columns';
import { readDate } from '../../../src/core/records/dates';
import { byEye } from '../../../src/core/records/look-alikes';
import { noFacts, recordProblems, shapeOf } from '../../../src/core/records/problems';
import { applyStep, type WorkedStep } from '../../../src/core/records/steps';
import { safeName } from '../../../src/core/run/names';
import { explainFit, symbologyIds } from '../../../src/core/symbology';
import { parseDigitalLink } from '../../../src/core/symbology/gs1/digital-link';
import { parseElements } from '../../../src/core/symbology/gs1/elements';
import { fontBook } from '../../../src/server/platform/fonts';

let fonts: FontBook;
beforeAll(() => {
  fonts = fontBook(fontCatalogue.map((f) => f.key));
});

const columns: Column[] = [{ id: 'c', name: 'C', role: 'key' }];
const address = firstStamp([{ id: 'c', name: 'C', role: 'address' }]);
const inPath = {
  ...address,
  parts: [
    { kind: 'text' as const, text: 'https://garden.example/p/' },
    { kind: 'column' as const, column: 'c' },
    { kind: 'text' as const, text: '/x' },
  ],
};
const steps: WorkedStep[] = [
  { kind: 'case', to: 'capitals' },
  { kind: 'digits' },
  { kind: 'replace', find: ' ', by: '' },
  { kind: 'fill', to: 12, with: '0', at: 'front' },
];
const around = { position: 0, secret: () => '', address: () => '', lookup: () => '' };
const box: TextStyle = {
  font: 'bricolage-bold',
  sizePt: 20,
  minPt: 6,
  lines: 3,
  align: 'left',
  colour: '#000000',
};

/** Everything in the core that takes a text which a user may have written. */
const takers: Record<string, (text: string) => unknown> = {
  ...Object.fromEntries(
    symbologyIds.map((id) => [`fit ${id}`, (text: string) => explainFit(id, text)]),
  ),
  ...Object.fromEntries(
    columnRoles.map((role) => [
      `problems ${role}`,
      (text: string) => recordProblems({ c: text }, [{ id: 'c', name: 'C', role }], noFacts),
    ]),
  ),
  ...Object.fromEntries(
    purposes.flatMap(({ id, fields, build }) =>
      fields.map((own) => [
        `${id}: ${own.id}`,
        (text: string) =>
          build(
            Object.fromEntries(
              fields.map((f) => [f.id, f === own ? text : (given[f.id] ?? (f.choices ? '' : 'x'))]),
            ),
            'qr',
          ),
      ]),
    ),
  ),
  ...Object.fromEntries(
    steps.map((step) => [`step ${step.kind}`, (text: string) => applyStep(step, text, around)]),
  ),
  ...Object.fromEntries(
    columnRoles.map((role) => [`forms ${role}`, (text: string) => formsOf(text, role)]),
  ),
  weighed: (text) => weighText(text, box, 0, 60, fonts),
  set: (text) => fitText(text, box, 0, 0, 60, fonts),
  'mends of text': (text) => textMends(text, box, 60, fonts),
  'content of an address': (text) => contentOf(inPath, { c: text }),
  judged: (text) => judgeStamp(inPath, { c: text }, columns),
  'taken apart': (text) => takeApart(inPath, text),
  'email address': addressTrouble,
  'written address': writtenAddress,
  'address with a host': (text) => writtenAddress(`https://${text}`),
  'by example, the sample': (text) => proposeParts(text, { c: 'Quill' }, columns, true),
  'by example, the value': (text) =>
    proposeParts(`https://a.example/?q=${encodeURIComponent('Quill')}`, { c: text }, columns, true),
  'what is wrong with an address': doorTrouble,
  'the same with a host': (text) => doorTrouble(`https://${text}`),
  'telephone number': (text) => phoneNumber(text, 'GB'),
  'what a phone does': (text) => unpack(text),
  'by eye': byEye,
  shape: shapeOf,
  date: (text) => readDate(text, 'day'),
  roles: (text) => suggestRoles(['a', 'b'], [[text, text]]),
  'file name': (text) => safeName(text),
  'element string': parseElements,
  'digital link': (text) => parseDigitalLink(`https://a.example/${text}`),
  colour: parseColour,
  scan: tidyScan,
  insides,
  wrap: (text) => wrapOf(text, [text.slice(1, 9), 'Quill']),
  'link code': (text) => [codeIn(text), pageIn(text), pictureIn(text), tidyCode(text)],
  'one of our links': (text) => isOurLink(`https://a.example/${text}`, new Set(['a.example'])),
  'typed by a guest': sameTyped,
  'document key': (text) => [keyOf(text), keysIn(text, 3)],
};
const given: Record<string, string> = {
  start: '2026-11-28',
  end: '2026-11-29',
  gtin: '4006381333931',
  latitude: '54.1',
  longitude: '7.9',
  to: 'ada@garden.example',
  number: '+44 20 7946 0999',
  phone: '+44 20 7946 0999',
  content: 'https://garden.example',
};

/** The repeated part. */
const repeated = ['a', '1', ' ', 'é', '王', 'न', 'a1-', '.', '@', 'a@.', '%41', '(01)', '/', '\\', '\u0301', '\u200b', '👩‍👩‍👧', '10a\x1d', '\n', '+']; // prettier-ignore
/** The parts before and after it: many a pattern is slow only if the end does not match. */
const surroundings = [
  ['', ''],
  ['', '@ '],
  ['a@', '!\u0000x'],
  ['https://a.example/?q=', '@'],
] as const;

let calls = 0;
/**
 * Processor time of one call in ms, the least of a few. Each call gets a text of its own, so that
 * nothing is remembered from the one before.
 */
function cost(take: (text: string) => unknown, text: string, tries = 2): number {
  let least = Infinity;
  for (let i = 0; i < tries; i++) {
    const own = text + String(calls++ % 1000).padStart(3, '0');
    const from = process.cpuUsage();
    try {
      take(own);
    } catch {
      // a refusal costs too
    }
    const { user, system } = process.cpuUsage(from);
    least = Math.min(least, (user + system) / 1000);
  }
  return least;
}

/** Below this many ms of processor time, differences may be chance. */
const noise = 25;

test.each(Object.keys(takers))('%s: four times the text, about four times the work', (name) => {
  const take = takers[name]!;
  const slow: string[] = [];
  for (const unit of repeated)
    for (const [first, last] of surroundings) {
      const text = (length: number) => first + unit.repeat(Math.ceil(length / unit.length)) + last;
      // what costs little is asked with more, so that what grows with the square shows
      const short = cost(take, text(6000), 1) > noise ? 1500 : 5000;
      const long = text(4 * short);
      if (short > 1500 && cost(take, long, 1) < noise) continue;
      const [few, many] = [cost(take, text(short)), cost(take, long)];
      if (many > noise && many > 7 * few + 30)
        slow.push(`${JSON.stringify([first, unit, last])}: ${few} ms, then ${many} ms`);
    }
  expect(slow).toEqual([]);
});
