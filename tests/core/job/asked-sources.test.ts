import { describe, expect, test } from 'vitest';
import {
  begunAs,
  fetchedSchema,
  type Fetched,
  originSchema,
  readsItself,
} from '../../../src/core/job/sources';

/** Each request for a source that is not uploaded. */
const asked: Record<Fetched['kind'], Fetched> = {
  tray: { kind: 'tray', name: 'seeds.csv' },
  'tray-folder': { kind: 'tray-folder', name: 'Agreements', base: 'https://marram.example/a' },
  database: { kind: 'database', connection: 1, query: ' select * from beds ', name: 'Garden' },
  folder: {
    kind: 'folder',
    name: 'Photographs',
    base: '',
    files: [
      { path: 'dunes/marram-grass.jpg', size: 120, changed: '2026-05-04T10:00:00Z' },
      { path: 'dunes/.hidden', size: 1, changed: '' },
    ],
    list: 7,
  },
};

describe.each(Object.entries(asked))('asked for as %s, a source', (_, wanted) => {
  const begun = begunAs(fetchedSchema.parse(wanted));
  test('begins as one that can be kept', () => {
    expect(originSchema.parse(begun.origin)).toEqual(begun.origin);
  });
  test('brings rows along only where it cannot be fetched later', () => {
    expect(begun.rows !== undefined).toBe(!readsItself(begun.origin));
  });
});

test('what is asked becomes what is kept, and nothing of it is lost', () => {
  const of = (wanted: Fetched) => begunAs(fetchedSchema.parse(wanted));
  // changes are applied automatically only if that was chosen
  expect(of(asked.tray).origin).toEqual({ ...asked.tray, headerRow: 0, takes: false });
  expect(of(asked['tray-folder']).origin).toEqual({
    ...asked['tray-folder'],
    kind: 'folder',
    tray: true,
  });
  expect(of(asked.database).origin).toMatchObject({ query: 'select * from beds' });
  expect(of(asked.folder)).toEqual({
    origin: { kind: 'folder', name: 'Photographs', base: '', tray: false },
    rows: [
      ['File', 'Title', 'Folder', 'Address', 'Size in bytes', 'Changed'],
      ['dunes/marram-grass.jpg', 'marram grass', 'dunes', '', '120', '2026-05-04'],
    ],
    list: 7,
  });
});

test('what cannot be fetched is refused in words', () => {
  const words = (wanted: object) =>
    fetchedSchema.safeParse(wanted).error?.issues.map((i) => i.message);
  expect(words({ ...asked.database, query: '  ' })).toEqual(['Choose a table, or write a query.']);
  const file = { path: 'a', size: 1, changed: '' };
  expect(words({ ...asked.folder, files: Array.from({ length: 20_001 }, () => file) })).toEqual([
    'This is more than 20,000 files. Choose fewer at a time.',
  ]);
  // a file is uploaded, and typed records have no source
  for (const kind of ['file', 'paste', 'typed'])
    expect(fetchedSchema.safeParse({ kind, name: 'x' }).success).toBe(false);
});
