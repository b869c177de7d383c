'use client';

import { mostStamps, nextStamp, type Stamp } from '../../../core/payload/stamp';
import { safeMarginMm, type Piece, type PieceElement } from '../../../core/piece/model';
import { areaOf, freePlace } from '../../../core/piece/free-place';
import { inProportion, restocked } from '../../../core/piece/restock';
import { placesOn, stockOf, type Stock } from '../../../core/piece/stock';
import { nameColumn, type Column } from '../../../core/records/columns';
import { ChoicePart, Sentence } from '../../kit/controls';
import { useMay } from '../../kit/me';
import { useJob } from '../../shell/ledger/context';
import { placed } from './placed';
import { StartersPart } from './starters-part';
import { StockPart } from './stock-part';
import { GroundPart } from '../../editors/piece/ground-part';
import { useSheetSettings } from '../../editors/piece/on-sheets';
import { UsualSettings, type Setting } from '../../kit/usual';
import { piece as wording } from './words';
import { filled, withParts } from '../../kit/with-parts';

export function PieceSentence() {
  const { job, save, total, rowAt } = useJob();
  const { piece, stamps } = job.document;
  const { columns } = job.list;
  const stock = stockOf(piece);
  const setPiece = (change: (piece: Piece) => Piece) =>
    save((d) => ({ ...d, piece: change(d.piece) }));
  const add = (element: PieceElement) =>
    setPiece((p) => ({ ...p, elements: [...p.elements, element] }));
  const addStamp = () =>
    save((d) => {
      const stamp = nextStamp(d.stamps, columns);
      return {
        ...d,
        stamps: [...d.stamps, stamp],
        piece: {
          ...d.piece,
          elements: [
            ...d.piece.elements,
            newElement(`stamp:${stamp.id}`, stock, columns, d.piece.elements),
          ],
        },
      };
    });
  const changeStock = (next: Stock, own: boolean) =>
    save((d) => {
      const measures = { stock: own ? d.piece.stock : next.id, own: own ? next : undefined };
      const taken = own ? restocked : inProportion;
      return {
        ...d,
        piece: { ...d.piece, elements: taken(d.piece, stockOf(d.piece), next), ...measures },
        options: { ...d.options, start: Math.min(d.options.start, placesOn(next)) },
      };
    });
  // offered only if a record has such characters
  const han =
    piece.han !== undefined ||
    Array.from({ length: Math.min(total, 300) }, (_, i) => rowAt(i)).some(
      (r) => r && /\p{sc=Han}/u.test(Object.values(r.values).join('')),
    );
  const may = useMay();
  const sides = piece.sides === 2 ? 'two' : 'one';
  const settings: Setting[] = [
    ...useSheetSettings(),
    {
      id: 'sides',
      usual: sides === 'one',
      words: sideWords[sides],
      part: (
        <ChoicePart
          label={wording.sides}
          value={sides}
          onChange={(id) => setPiece((p) => ({ ...p, sides: id === 'two' ? 2 : undefined }))}
          choices={(['one', 'two'] as const).map((id) => ({ id, name: sideWords[id] }))}
        />
      ),
    },
  ];
  if (han)
    settings.push({
      id: 'han',
      usual: piece.han === undefined,
      words: hanWords[0].name,
      part: withParts(
        wording.with,
        <ChoicePart
          label={wording.shapesOfChineseCharacters}
          value={piece.han ?? 'noto-jp'}
          onChange={(id) => setPiece((p) => ({ ...p, han: id === 'noto-jp' ? undefined : id }))}
          choices={hanWords}
        />,
      ),
    });
  const end = may
    ? withParts(
        wording.addOr,
        <ChoicePart
          label={wording.addAnElement}
          value={undefined}
          choices={placeable(stamps)}
          onChange={(id) =>
            id === 'new-stamp' ? addStamp() : add(newElement(id, stock, columns, piece.elements))
          }
        >
          {wording.somethingNew}
        </ChoicePart>,
        <StartersPart />,
      )
    : '.';
  return (
    <Sentence>
      {withParts(
        wording.on,
        <GroundPart />,
        <StockPart stock={stock} own={Boolean(piece.own)} onChange={changeStock} />,
        <UsualSettings parts={settings} end={end} />,
      )}
    </Sentence>
  );
}

const sideWords = { one: wording.printedOnOneSide, two: wording.printedOnBothSides } as const;
const hanWords = [
  { id: 'noto-jp', name: wording.chineseCharactersInTheir },
  { id: 'noto-sc', name: wording.chineseCharactersInTheirChinese },
  { id: 'noto-kr', name: wording.chineseCharactersInTheirKorean },
] as const;

const placeable = (stamps: readonly Stamp[]) => [
  { id: 'words', name: 'words', about: wording.fromColumnsAndFixed },
  ...stamps.map((s) => ({ id: `stamp:${s.id}`, name: filled(wording.theCodeOf, s.name) })),
  ...(stamps.length < mostStamps
    ? [
        {
          id: 'new-stamp',
          name: wording.aCodeWithA,
          about: wording.createsANewStamp,
        },
      ]
    : []),
  { id: 'picture', name: wording.aPicture, about: wording.fixedOrOneFor },
  { id: 'rule', name: wording.aRule },
  { id: 'box', name: wording.aBox },
];

/** Adds a new element; the piece shows it selected. */
function newElement(
  what: string,
  stock: Stock,
  columns: readonly Column[],
  elements: readonly PieceElement[],
): PieceElement {
  const made = firstForm(what, stock, columns);
  const { width, height } = areaOf(made);
  placed.id = made.id;
  return { ...made, ...freePlace({ width, height }, elements, stock) };
}

function firstForm(what: string, stock: Stock, columns: readonly Column[]): PieceElement {
  const id = `${what.replace(/[^a-z]/g, '-')}-${Date.now().toString(36)}`;
  const { width, height } = stock.piece;
  const at = { id, x: safeMarginMm + 1, y: safeMarginMm + 1 };
  const room = Math.min(40, width - 2 * safeMarginMm - 2);
  if (what.startsWith('stamp:'))
    return {
      ...at,
      kind: 'stamp',
      stamp: what.slice(6),
      sizeMm: Math.min(20, height - 2 * safeMarginMm - 2),
    };
  if (what === 'picture')
    return { ...at, kind: 'picture', width: Math.min(20, room), height: Math.min(20, height - 8) };
  if (what === 'rule') return { ...at, kind: 'rule', width: room, height: 0.3, colour: '#1d1a26' };
  if (what === 'box')
    return {
      ...at,
      kind: 'box',
      width: room,
      height: Math.min(20, height - 8),
      border: { mm: 0.3, colour: '#1d1a26' },
    };
  const column = nameColumn(columns) ?? columns[0];
  return {
    ...at,
    kind: 'text',
    parts: column ? [{ kind: 'column', column: column.id }] : [{ kind: 'text', text: 'Text' }],
    font: 'atkinson',
    sizePt: 10,
    minPt: 7,
    lines: 1,
    width: room,
    align: 'left',
    colour: '#1d1a26',
  };
}
