import type { Stamp } from '../payload/stamp';
import { keyColumn, nameColumn, type Column } from '../records/columns';
import { symbologies } from '../symbology';
import type { Part } from '../records/parts';
import { safeMarginMm, type Piece, type PieceElement, type TextElement } from './model';
import type { Stock } from './stock';

const ink = '#1d1a26';

export interface Starter {
  id: string;
  name: string;
  about: string;
  /** A fresh piece; a starter itself is never changed. */
  make(stamp: Stamp, columns: readonly Column[]): Piece;
}

interface Columns {
  name: Part[];
  key: Part[];
  /** The next plain columns, for further lines. */
  more: Part[][];
  picture?: string;
}

function columnsFor(columns: readonly Column[]): Columns {
  const part = (column: Column | undefined): Part[] =>
    column ? [{ kind: 'column', column: column.id }] : [];
  const name = nameColumn(columns) ?? columns[0];
  const key = keyColumn(columns);
  const rest = columns.filter(
    (c) => c.role === 'text' && !c.hidden && !c.secret && c !== name && c !== key,
  );
  return {
    name: part(name),
    key: key === name ? [] : part(key),
    more: rest.slice(0, 3).map((c) => part(c)),
    picture: columns.find((c) => c.role === 'picture')?.id,
  };
}

const text = (
  id: string,
  parts: Part[],
  x: number,
  y: number,
  width: number,
  sizePt: number,
  more: Partial<TextElement> = {},
): PieceElement[] =>
  parts.length === 0
    ? []
    : [
        {
          kind: 'text',
          id,
          parts,
          x,
          y,
          width,
          sizePt,
          minPt: Math.max(5, Math.round(sizePt * 0.6)),
          font: 'atkinson',
          lines: 1,
          align: 'left',
          colour: ink,
          ...more,
        },
      ];
const title = { font: 'bricolage-bold' } as const;
const number = { font: 'mono' } as const;
const words = (said: string): Part[] => [{ kind: 'text', text: said }];
const code = (
  stamp: Stamp,
  x: number,
  y: number,
  sizeMm: number,
  more: object = {},
): PieceElement => ({ kind: 'stamp', id: 'code', stamp: stamp.id, x, y, sizeMm, ...more });

/** To add a starter, add its entry. Positions are in mm on the stock it begins with. */
export const starters: readonly Starter[] = [
  {
    id: 'badge',
    name: 'Badge',
    about: '90 × 54 mm, ten on a sheet: large name, what they do, code at the right.',
    make: (stamp, columns) => {
      const c = columnsFor(columns);
      return {
        stock: 'a4-10',
        elements: [
          ...text('name', c.name, 6, 10, 50, 20, { ...title, lines: 2 }),
          ...text('about', c.more[0] ?? [], 6, 34, 50, 11),
          ...text('key', c.key, 6, 44, 50, 10, number),
          code(stamp, 60, 14, 25),
        ],
      };
    },
  },
  {
    id: 'asset-tag',
    name: 'Asset tag',
    about: '63.5 × 38.1 mm, 21 on a sheet: code at the left, number large.',
    make: (stamp, columns) => {
      const c = columnsFor(columns);
      return {
        stock: 'a4-21',
        elements: [
          code(stamp, 3.5, 8, 22),
          ...text('key', c.key, 28, 9, 32, 14, { ...number, minPt: 8 }),
          ...text('name', c.name, 28, 18, 32, 10, { lines: 2 }),
          ...text('about', c.more[0] ?? [], 28, 28.5, 32, 8),
        ],
      };
    },
  },
  {
    id: 'shelf',
    name: 'Shelf or packet label',
    about: '63.5 × 38.1 mm, 21 on a sheet: title above, code across below.',
    make: (stamp, columns) => {
      const c = columnsFor(columns);
      return {
        stock: 'a4-21',
        elements: [
          ...text('name', c.name, 4, 3, symbologies[stamp.symbology].linear ? 55 : 32, 12, {
            ...title,
            lines: 2,
          }),
          ...text(
            'about',
            c.more[0] ?? c.key,
            4,
            symbologies[stamp.symbology].linear ? 9 : 20,
            symbologies[stamp.symbology].linear ? 55 : 32,
            8,
          ),
          // bars lie below the words, squares beside them
          symbologies[stamp.symbology].linear
            ? code(stamp, 12, 4.5, 38)
            : code(stamp, 37.5, 7.5, 23),
        ],
      };
    },
  },
  {
    id: 'bed-sign',
    name: 'Bed sign',
    about: 'A6, upright: name large, a rule, further lines, code at the foot.',
    make: (stamp, columns) => {
      const c = columnsFor(columns);
      return {
        stock: 'a6-sign',
        elements: [
          ...text('name', c.name, 10, 14, 85, 26, { ...title, lines: 3 }),
          { kind: 'rule', id: 'rule', x: 10, y: 56, width: 85, height: 0.5, colour: ink },
          ...text('about', c.more[0] ?? [], 10, 60, 85, 14, { lines: 2 }),
          ...text('about-2', c.more[1] ?? [], 10, 74, 85, 12),
          ...text('key', c.key, 10, 128, 40, 11, number),
          code(stamp, 58, 98, 38),
        ],
      };
    },
  },
  {
    id: 'postcard',
    name: 'Postcard, two sides',
    about: 'A6: a picture and greeting on the front, address and code on the back.',
    make: (stamp, columns) => {
      const c = columnsFor(columns);
      return {
        stock: 'a6-postcard',
        sides: 2,
        elements: [
          { kind: 'box', id: 'ground', x: -3, y: -3, width: 154, height: 111, fill: '#ebe6f6' },
          ...(c.picture
            ? [
                {
                  kind: 'picture' as const,
                  id: 'picture',
                  x: 0,
                  y: 0,
                  width: 148,
                  height: 80,
                  column: c.picture,
                },
              ]
            : []),
          ...text('greeting', words('Come and see us'), 12, 84, 124, 24, title),
          ...text('name', c.name, 84, 40, 54, 14, { ...title, side: 'back', lines: 2 }),
          ...text('about', c.more[0] ?? [], 84, 56, 54, 11, { side: 'back', lines: 3 }),
          {
            kind: 'rule',
            id: 'middle',
            x: 74,
            y: 12,
            width: 0.3,
            height: 81,
            colour: '#b4b6aa',
            side: 'back',
          },
          code(stamp, 16, 24, 42, { side: 'back' }),
          ...text('key', c.key, 16, 68, 42, 9, { ...number, align: 'centre', side: 'back' }),
        ],
      };
    },
  },
  {
    id: 'ticket',
    name: 'Ticket',
    about: '99.1 × 38.1 mm, 14 on a sheet: code at the right behind a rule.',
    make: (stamp, columns) => {
      const c = columnsFor(columns);
      return {
        stock: 'a4-14',
        elements: [
          ...text('name', c.name, 5, 7, 60, 15, { ...title, lines: 2 }),
          ...text('about', c.more[0] ?? [], 5, 21, 60, 10),
          ...text('key', c.key, 5, 29, 60, 9, number),
          { kind: 'rule', id: 'rule', x: 68, y: 4, width: 0.3, height: 30, colour: '#b4b6aa' },
          code(stamp, 70.5, 6, 26),
        ],
      };
    },
  },
  {
    id: 'door-sign',
    name: 'Door sign',
    about: 'A5: large words, code beside them, for a door or a wall.',
    make: (stamp, columns) => {
      const c = columnsFor(columns);
      return {
        stock: 'a5-sign',
        elements: [
          {
            kind: 'box',
            id: 'frame',
            x: 8,
            y: 8,
            width: 194,
            height: 132,
            border: { mm: 0.8, colour: ink },
          },
          ...text('name', c.name, 18, 30, 104, 40, { ...title, lines: 3 }),
          ...text('about', c.more[0] ?? [], 18, 104, 104, 18),
          code(stamp, 128, 40, 66),
        ],
      };
    },
  },
];

/** A first piece for a stock: the code at the right, the record's name and key beside it. */
export function firstPiece(stock: Stock, stamp: Stamp, columns: readonly Column[]): Piece {
  const { width, height } = stock.piece;
  const size = Math.min(24, height - 2 * safeMarginMm, width * 0.4);
  const textWidth = width - size - 3 * safeMarginMm;
  const name = columns.find((c) => c.role === 'name') ?? columns[0];
  const key = keyColumn(columns);
  const line = (
    id: string,
    column: Column,
    y: number,
    font: string,
    sizePt: number,
    lines: number,
  ): TextElement => ({
    kind: 'text',
    id,
    x: safeMarginMm + 1,
    y,
    parts: [{ kind: 'column', column: column.id }],
    font,
    sizePt,
    minPt: Math.max(6, Math.round(sizePt * 0.7)),
    lines,
    width: textWidth - 1,
    align: 'left',
    colour: '#1d1a26',
  });
  const elements: PieceElement[] = [
    {
      kind: 'stamp',
      id: 'code',
      stamp: stamp.id,
      x: width - size - safeMarginMm,
      y: (height - size) / 2,
      sizeMm: size,
    },
  ];
  if (name)
    elements.push(
      line('name', name, Math.round(height * 2.2) / 10, 'bricolage-bold', height > 50 ? 18 : 13, 2),
    );
  if (key && key !== name)
    elements.push(line('key', key, height - safeMarginMm - 6, 'mono', 10, 1));
  return { stock: stock.id, elements };
}
