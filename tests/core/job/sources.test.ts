import { expect, test } from 'vitest';
import { type Origin, originSchema, readsItself, sourceOf } from '../../../src/core/job/sources';

const sheet = { sheet: 'People', headerRow: 2 };
const origins: Record<string, [origin: Origin, readsItself: boolean, sheets: boolean]> = {
  'a file': [{ kind: 'file', name: 'people.xlsx', ...sheet }, false, true],
  'what was pasted': [{ kind: 'paste', ...sheet }, false, true],
  'what was typed': [{ kind: 'typed' }, false, false],
  'a file of the In-tray': [
    { kind: 'tray', name: 'people.xlsx', ...sheet, takes: true },
    true,
    true,
  ],
  'a folder of the In-tray': [{ kind: 'folder', name: 'Scans', base: '', tray: true }, true, false],
  'a folder of one’s own': [{ kind: 'folder', name: 'Scans', base: '', tray: false }, false, false],
  'a database': [{ kind: 'database', connection: 1, query: 'table x', name: 'x' }, true, false],
};

test.each(Object.entries(origins))(
  '%s is kept and read again as it is',
  (_, [origin, itself, sheets]) => {
    expect(originSchema.parse(JSON.parse(JSON.stringify(origin)))).toEqual(origin);
    expect(readsItself(origin)).toBe(itself);
    expect(sourceOf(origin).sheets).toBe(sheets);
  },
);

test('only what lies in the In-tray under that name is read again when it is saved there', () => {
  const follows = (name: string) =>
    Object.entries(origins)
      .filter(([, [origin]]) => sourceOf(origin).inTray?.(origin, name))
      .map(([words]) => words);
  expect(follows('people.xlsx')).toEqual(['a file of the In-tray']);
  expect(follows('Scans')).toEqual(['a folder of the In-tray']);
  expect(follows('other')).toEqual([]);
});

test('a list that comes from nowhere is not read again, and a kind nobody knows is refused', () => {
  expect(readsItself(null)).toBe(false);
  expect(originSchema.safeParse({ kind: 'telepathy' }).success).toBe(false);
});
