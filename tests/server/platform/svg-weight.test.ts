import { expect, test } from 'vitest';
import { keepPicture } from '../../../src/server/platform/pictures';
import { isHeavySvg } from '../../../src/server/platform/svg-weight';

const svg = (inside: string) =>
  Buffer.from(`<svg xmlns="http://www.w3.org/2000/svg" width="40" height="40">${inside}</svg>`);
/** Each group shows the one before it ten times. */
const doubling = (levels: number, show: (id: string) => string) =>
  `<defs><g id="a0"><rect width="9" height="9"/></g>${Array.from(
    { length: levels },
    (_, i) => `<g id="a${i + 1}">${show(`a${i}`).repeat(10)}</g>`,
  ).join('')}</defs>${show(`a${levels}`)}`;

test.each([
  ['use', (id: string) => `<use href="#${id}"/>`],
  ['the older form of use', (id: string) => `<use xlink:href="#${id}"/>`],
  ['masks', (id: string) => `<rect width="9" height="9" mask="url(#${id})"/>`],
])(
  'a drawing that repeats itself without an end is refused before it is drawn: %s',
  async (_, show) => {
    expect(isHeavySvg(svg(doubling(7, show)))).toBe(true);
    await expect(keepPicture('logo.svg', svg(doubling(7, show)))).rejects.toThrow('Save it as PNG');
    expect(isHeavySvg(svg(doubling(2, show)))).toBe(false);
  },
);

test('an ordinary drawing, one that shows itself, and a deep one are weighed and end', async () => {
  const plain = svg('<rect width="40" height="40" fill="#336"/><circle cx="20" cy="20" r="9"/>');
  expect(isHeavySvg(plain)).toBe(false);
  expect((await keepPicture('logo.svg', plain)).width).toBeGreaterThan(0);
  expect(isHeavySvg(svg('<g id="a"><use href="#b"/></g><g id="b"><use href="#a"/></g>'))).toBe(
    false,
  );
  expect(isHeavySvg(svg('<g>'.repeat(5000) + '</g>'.repeat(5000)))).toBe(false);
});
