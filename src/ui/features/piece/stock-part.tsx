'use client';

import { useState } from 'react';
import { styled } from 'styled-components';
import { Autocomplete, Input, ListBox, ListBoxItem, SearchField } from 'react-aria-components';
import { stockIs } from '../../../core/piece/stock-search';
import {
  aboutStock,
  placesOn,
  stockSchema,
  stockTroubles,
  stocks,
  type Stock,
} from '../../../core/piece/stock';
import {
  choosable,
  ErrorLine,
  MainButton,
  Measure,
  Part,
  QuietButton,
  Small,
  Words,
} from '../../kit/controls';
import { colour } from '../../kit/theme';
import { Pick } from '../../kit/pick';
import { useKept } from '../../editors/stamp/kept';
import { StockDrawing } from './stock-drawing';
import { stockPart as wording } from './words';
import { filled } from '../../kit/with-parts';

/** The stock of a piece: from the catalogue by measure, kept ones, or measures of one's own. */
export function StockPart({
  stock,
  own,
  onChange,
}: {
  stock: Stock;
  own: boolean;
  onChange: (stock: Stock, own: boolean) => void;
}) {
  const { kept } = useKept('stock');
  const [measuring, setMeasuring] = useState(false);
  return (
    <Part
      label={wording.labelStock}
      editor={(close) =>
        measuring ? (
          <OwnStock
            start={stock}
            onUse={(next) => {
              onChange(next, true);
              setMeasuring(false);
              close();
            }}
          />
        ) : (
          <>
            <FindStock
              value={own ? undefined : stock.id}
              kept={kept.map((k) => ({ id: `kept-${k.id}`, stock: k.document, name: k.name }))}
              onFind={(next, mine) => {
                onChange(next, mine);
                close();
              }}
            />
            <div>
              <QuietButton onPress={() => setMeasuring(true)}>
                {wording.yourOwnMeasures}
              </QuietButton>
            </div>
          </>
        )
      }
    >
      {stock.name}
    </Part>
  );
}

const Found = styled(ListBox)`
  outline: none;
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 2px;
  width: 560px;
  max-height: 348px;
  overflow: auto;
`;
const FoundStock = styled(ListBoxItem)`
  ${choosable};
  display: grid;
  grid-template-columns: 46px minmax(0, 1fr);
  gap: 10px;
  align-items: center;
  padding: 5px 8px;
  &[data-selected] b {
    color: ${colour.violetDeep};
    text-decoration: underline;
    text-underline-offset: 3px;
  }
  b {
    display: block;
    font-size: 13.5px;
    line-height: 1.3;
  }
  small {
    color: ${colour.inkSoft};
    font-size: 12px;
    line-height: 1.3;
    display: block;
  }
`;

/** A sheet in its true proportions with its places, small. */
function SmallSheet({
  stock: { page, columns, rows, piece, margin, pitch, cornerRadius },
}: {
  stock: Stock;
}) {
  const scale = Math.min(42 / page.width, 46 / page.height);
  const places = Array.from(
    { length: columns * rows },
    (_, i) => [i % columns, Math.floor(i / columns)] as const,
  );
  return (
    <svg width={46} height={48} viewBox={`0 0 46 48`} aria-hidden>
      <g
        transform={`translate(${(46 - page.width * scale) / 2} ${(48 - page.height * scale) / 2}) scale(${scale})`}
      >
        <rect
          width={page.width}
          height={page.height}
          fill={colour.paper}
          stroke={colour.inkSoft}
          strokeWidth={0.8 / scale}
        />
        {columns * rows > 1 &&
          places.map(([c, r]) => (
            <rect
              key={`${c} ${r}`}
              x={margin.left + c * pitch.x}
              y={margin.top + r * pitch.y}
              width={piece.width}
              height={piece.height}
              rx={cornerRadius}
              fill={colour.violetWash}
              stroke={colour.violet}
              strokeWidth={0.5 / scale}
            />
          ))}
      </g>
    </svg>
  );
}

/** The catalogue by what people know: a word, a measure, the number on a sheet. */
function FindStock({
  value,
  kept,
  onFind,
}: {
  value: string | undefined;
  kept: readonly { id: string; stock: Stock; name: string }[];
  onFind: (stock: Stock, own: boolean) => void;
}) {
  const [query, setQuery] = useState('');
  const all = [
    ...kept.map((k) => ({
      ...k,
      about: filled(wording.yourOwn, aboutStock(k.stock)).replace(/; $/, ''),
    })),
    ...stocks.map((stock) => ({ id: stock.id, stock, name: stock.name, about: aboutStock(stock) })),
  ];
  const found = all.filter(({ stock, about, name }) => stockIs({ ...stock, name }, about, query));
  return (
    <Autocomplete inputValue={query} onInputChange={setQuery}>
      <SearchField autoFocus aria-label={wording.findByAMeasure} style={{ display: 'grid' }}>
        <Input
          placeholder={wording.n63525}
          style={{
            border: `1px solid ${colour.ruleStrong}`,
            borderRadius: 2,
            padding: '6px 9px',
            background: colour.paper,
          }}
        />
      </SearchField>
      {found.length === 0 && <Small role="status">{wording.noLabelStockMatches}</Small>}
      <Found
        aria-label={wording.labelStock}
        selectionMode="single"
        escapeKeyBehavior="none"
        selectedKeys={value === undefined ? [] : [value]}
        onSelectionChange={(keys) => {
          const [key = value] = keys === 'all' ? [] : [...keys];
          const one = all.find((s) => s.id === key);
          if (one)
            onFind(
              one.stock,
              kept.some((k) => k.id === one.id),
            );
        }}
      >
        {found.map(({ id, stock, name, about }) => (
          <FoundStock key={id} id={id} textValue={name}>
            <SmallSheet stock={stock} />
            <span>
              <b>{name}</b>
              <small>{about}</small>
            </span>
          </FoundStock>
        ))}
      </Found>
    </Autocomplete>
  );
}

const Two = styled.div`
  display: grid;
  grid-template-columns: 300px 290px;
  gap: 18px;
  .fields {
    display: grid;
    grid-template-columns: 1fr 1fr;
    gap: 8px;
    align-content: start;
  }
`;

const round = (n: number): number => Math.round(n * 100) / 100;
const units = {
  mm: { name: 'millimetres', mm: 1, digits: 2, step: 0.1 },
  in: { name: 'inches', mm: 25.4, digits: 4, step: 0.0001 },
} as const;
type Unit = keyof typeof units;

/**
 * Measures as they are typed, in mm or inches, drawn to scale; what does not fit the sheet is
 * refused in words.
 */
function OwnStock({ start, onUse }: { start: Stock; onUse: (stock: Stock) => void }) {
  const [stock, setStock] = useState<Stock>({ ...start, id: 'own', bleed: start.bleed ?? 0 });
  const [name, setName] = useState('');
  const [unit, setUnit] = useState<Unit>('mm');
  const { keep } = useKept('stock');
  const { page, piece, margin, pitch } = stock;
  const troubles = stockTroubles(stock);
  const words = filled(
    wording.mm,
    placesOn(stock) > 1 ? filled(wording.sheetsOf, placesOn(stock)) : 'pages',
    round(piece.width),
    round(piece.height),
  );
  const whole: Stock = { ...stock, name: name.trim() || words };
  const { mm, digits, step } = units[unit];
  /** A length in the chosen unit; stored in mm. */
  const length = (
    label: string,
    value: number,
    set: (mm: number) => Partial<Stock>,
    min = 0,
    max = 1300,
  ) => (
    <Measure
      key={`${label} ${unit}`}
      label={`${label}, ${unit}`}
      value={Number((value / mm).toFixed(digits))}
      min={min / mm}
      max={max / mm}
      step={step}
      digits={digits}
      onChange={(v) => setStock({ ...stock, ...set(v * mm) })}
    />
  );
  const count = (label: string, value: number, set: (n: number) => Partial<Stock>, max: number) => (
    <Measure
      label={label}
      value={value}
      min={1}
      max={max}
      step={1}
      onChange={(v) => setStock({ ...stock, ...set(v) })}
    />
  );
  return (
    <>
      <Two>
        <div className="fields">
          <div style={{ gridColumn: '1 / -1' }}>
            <Pick
              label={wording.measuredIn}
              value={unit}
              onChange={setUnit}
              choices={(Object.keys(units) as Unit[]).map((id) => ({ id, name: units[id].name }))}
            />
          </div>
          {length(wording.sheetWidth, page.width, (width) => ({ page: { ...page, width } }), 5)}
          {length(wording.sheetHeight, page.height, (height) => ({ page: { ...page, height } }), 5)}
          {length(
            wording.pieceWidth,
            piece.width,
            (width) => ({
              piece: { ...piece, width },
              pitch: { ...pitch, x: pitch.x + width - piece.width },
            }),
            5,
          )}
          {length(
            wording.pieceHeight,
            piece.height,
            (height) => ({
              piece: { ...piece, height },
              pitch: { ...pitch, y: pitch.y + height - piece.height },
            }),
            5,
          )}
          {count(wording.columns, stock.columns, (columns) => ({ columns }), 60)}
          {count(wording.rows, stock.rows, (rows) => ({ rows }), 100)}
          {length(
            wording.leftMargin,
            margin.left,
            (left) => ({ margin: { ...margin, left } }),
            0,
            600,
          )}
          {length(wording.topMargin, margin.top, (top) => ({ margin: { ...margin, top } }), 0, 600)}
          {length(
            wording.gutterAcross,
            pitch.x - piece.width,
            (g) => ({ pitch: { ...pitch, x: piece.width + g } }),
            0,
            100,
          )}
          {length(
            wording.gutterDown,
            pitch.y - piece.height,
            (g) => ({ pitch: { ...pitch, y: piece.height + g } }),
            0,
            100,
          )}
          {length(
            wording.cornerRadius,
            stock.cornerRadius,
            (cornerRadius) => ({ cornerRadius }),
            0,
            100,
          )}
          {length(wording.bleed, stock.bleed ?? 0, (bleed) => ({ bleed }), 0, 10)}
        </div>
        <StockDrawing
          stock={stock}
          say={(value) => String(Number((value / mm).toFixed(unit === 'mm' ? 1 : 3)))}
        />
      </Two>
      {troubles.map((t) => (
        <ErrorLine key={t} style={{ fontSize: 13 }}>
          {t}
        </ErrorLine>
      ))}
      <div style={{ display: 'flex', gap: 10, alignItems: 'end' }}>
        <Words label={wording.nameToUseIt} value={name} onChange={setName} />
        <MainButton
          isDisabled={troubles.length > 0 || !stockSchema.safeParse(whole).success}
          onPress={() => {
            if (name.trim()) keep({ kind: 'stock', name: name.trim(), document: whole });
            onUse(whole);
          }}
        >
          {wording.apply}
        </MainButton>
      </div>
    </>
  );
}
