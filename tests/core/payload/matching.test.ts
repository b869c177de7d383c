import { describe, expect, test } from 'vitest';
import { calendarDay, calendarTime } from '../../../src/core/payload/calendar';
import { matchedFields } from '../../../src/core/payload/matching';
import { freePlace, areaOf } from '../../../src/core/piece/free-place';
import { inProportion } from '../../../src/core/piece/restock';
import type { Piece, PieceElement } from '../../../src/core/piece/model';
import { stocks } from '../../../src/core/piece/stock';
import { suggestRoles, type Column } from '../../../src/core/records/columns';

const columns = (...names: string[]): Column[] =>
  names.map((name, i) => ({ id: `c${i + 1}`, name, role: 'text' }));
const found = (does: string, ...names: string[]) =>
  Object.fromEntries(
    Object.entries(matchedFields({}, does, columns(...names))).map(([field, parts]) => [
      field,
      parts.map((p) => (p.kind === 'column' ? names[Number(p.column.slice(1)) - 1] : '')).join(),
    ]),
  );

describe('columns that mean a field', () => {
  test('are found for contacts, products and events', () => {
    expect(
      found('contact', 'Given name', 'Surname', 'E-mail', 'ZIP code', 'Town', 'Badge'),
    ).toEqual({
      given: 'Given name',
      family: 'Surname',
      mail: 'E-mail',
      postcode: 'ZIP code',
      city: 'Town',
    });
    expect(found('product', 'GTIN', 'Batch no', 'Best before')).toEqual({
      gtin: 'GTIN',
      lot: 'Batch no',
      expiry: 'Best before',
    });
    expect(found('event', 'Workshop', 'Starts', 'Ends', 'Room')).toEqual({
      title: 'Workshop',
      start: 'Starts',
      end: 'Ends',
      place: 'Room',
    });
  });
  test('are left to a person where two mean the same, and never taken twice', () => {
    expect(found('contact', 'Phone', 'Mobile')).toEqual({});
    const [secret] = columns('Serial no');
    expect(matchedFields({}, 'product', [{ ...secret!, secret: true }])).toEqual({});
    const own = { fields: { given: [{ kind: 'column' as const, column: 'c1' }] } };
    expect(matchedFields(own, 'contact', columns('First name'))).toEqual(own.fields);
  });
  test('a column of titles is not thereby what a record is called', () => {
    const rows = Array.from({ length: 20 }, (_, i) => [
      ['Mr', 'Ms', 'Dr'][i % 3]!,
      `Person ${String.fromCharCode(65 + i)}`,
    ]);
    expect(suggestRoles(['Title', 'Full text'], rows)).toEqual(['text', 'name']);
  });
});

describe('times of an event', () => {
  test('are read where that is certain, and with slashes where it is said which comes first', () => {
    expect(calendarTime('2026-11-23', undefined)).toBe('20261123');
    expect(calendarTime('20261123', undefined)).toBe('20261123');
    expect(calendarTime('23.11.2026 14:30', undefined)).toBe('20261123T143000');
    expect(calendarTime('23 November 2026, 2:30 pm', undefined)).toBe('20261123T143000');
    expect(calendarTime('23/11/2026 12:05 am', 'day')).toBe('20261123T000500');
    expect(calendarTime('11/23/2026', 'month')).toBe('20261123');
    // text after a day is not dropped without a word, and no year is guessed
    for (const bad of [
      '2026-11-231',
      '2026-11-23 to 25',
      '2026-11-23/24',
      '0026-11-23',
      '0000-01-01 10:00',
    ])
      expect(() => calendarTime(bad, undefined)).toThrow(/could be more than one date/);
    // of goods the day counts as it is written, whatever zone its time has
    expect(calendarDay('2026-11-30T23:00-05:00', undefined)).toBe('20261130');
    for (const bad of [
      '06/07/2026',
      '2026-02-30',
      'soon',
      '2026-11-23 25:00',
      '23/11/2026 13:00 pm',
    ])
      expect(() => calendarTime(bad, bad.includes('pm') ? 'day' : undefined)).toThrow(
        /could be more than one date/,
      );
  });
  test('are given in UTC where a zone or an offset is known, on both sides of a change of clocks', () => {
    expect(calendarTime('2026-11-23T14:30+01:00', undefined)).toBe('20261123T133000Z');
    expect(calendarTime('2026-07-01 09:00', undefined, 'Europe/London')).toBe('20260701T080000Z');
    expect(calendarTime('2026-12-01 09:00', undefined, 'Europe/London')).toBe('20261201T090000Z');
    expect(calendarTime('2026-03-29 03:00', undefined, 'Europe/London')).toBe('20260329T020000Z');
    expect(calendarTime('2026-07-01', undefined, 'Asia/Tokyo')).toBe('20260701');
  });
});

describe('a new thing on a piece', () => {
  const stock = stocks[0]!;
  const code = (id: string, x: number, y: number): PieceElement => ({
    id,
    kind: 'stamp',
    stamp: 's1',
    x,
    y,
    sizeMm: 15,
  });
  test('lies where nothing is yet, as long as there is room', () => {
    const elements: PieceElement[] = [];
    for (let i = 0; i < 4; i++) {
      const at = freePlace({ width: 15, height: 15 }, elements, stock);
      const next = areaOf(code(`e${i}`, at.x, at.y));
      for (const e of elements) {
        const area = areaOf(e);
        const apart =
          next.x >= area.x + area.width ||
          area.x >= next.x + next.width ||
          next.y >= area.y + area.height ||
          area.y >= next.y + next.height;
        expect(apart).toBe(true);
      }
      elements.push(code(`e${i}`, at.x, at.y));
    }
    // and without one, not all in one field
    const full = Array.from({ length: 60 }, (_, i) => code(`f${i}`, (i % 10) * 8, i));
    const at = freePlace({ width: 15, height: 15 }, full, stock);
    expect(at.x).toBeGreaterThanOrEqual(0);
    expect(at.x + 15).toBeLessThanOrEqual(stock.piece.width);
  });
  test('goes in proportion to another stock and back', () => {
    const to = {
      ...stock,
      piece: { width: stock.piece.width * 2, height: stock.piece.height * 3 },
    };
    const piece = { stock: stock.id, elements: [code('a', 10, 10)] } as Piece;
    const [larger] = inProportion(piece, stock, to as typeof stock);
    expect(larger).toMatchObject({ x: 20, sizeMm: 30, y: 20 + stock.piece.height / 2 });
    const [back] = inProportion(
      { ...piece, elements: [larger!] } as Piece,
      to as typeof stock,
      stock,
    );
    expect((back as { sizeMm: number }).sizeMm).toBeLessThanOrEqual(30);
  });
});
