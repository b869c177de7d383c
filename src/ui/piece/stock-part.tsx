'use client';

import { useState } from 'react';
import { styled } from 'styled-components';
import { placesOn, stockSchema, stockTroubles, stocks, type Stock } from '../../core/piece/stock';
import { Choose, ErrorLine, MainButton, Measure, Part, QuietButton, Words } from '../controls';
import { Pick } from '../pick';
import { useKept } from '../stamp/kept';
import { StockDrawing } from './stock-drawing';

/** The stock of a piece: from the catalogue by measure, kept ones, or measures of one's own. */
export function StockPart({ stock, own, onChange }: { stock: Stock; own: boolean; onChange: (stock: Stock, own: boolean) => void }) {
  const { kept } = useKept<Stock>('stock');
  const [measuring, setMeasuring] = useState(false);
  return (
    <Part
      label="Label stock"
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
            <Choose
              label="Label stock"
              value={own ? undefined : stock.id}
              onChange={(id) => {
                const mine = kept.find((k) => `kept-${k.id}` === id);
                onChange(mine ? mine.document : stocks.find((s) => s.id === id)!, Boolean(mine));
                close();
              }}
              choices={[
                ...kept.map((k) => ({ id: `kept-${k.id}`, name: k.name, about: 'your own' })),
                ...stocks.map((s) => ({ id: s.id, name: s.name, about: placesOn(s) > 1 ? `${placesOn(s)} on a page` : 'one on a page' })),
              ]}
            />
            <div>
              <QuietButton onPress={() => setMeasuring(true)}>Measures of your own</QuietButton>
            </div>
          </>
        )
      }
    >
      {stock.name}
    </Part>
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

/** Measures as they are typed, in mm or inches, drawn to scale; what does not fit the sheet is refused in words. */
function OwnStock({ start, onUse }: { start: Stock; onUse: (stock: Stock) => void }) {
  const [stock, setStock] = useState<Stock>({ ...start, id: 'own', bleed: start.bleed ?? 0 });
  const [name, setName] = useState('');
  const [unit, setUnit] = useState<Unit>('mm');
  const { keep } = useKept<Stock>('stock');
  const { page, piece, margin, pitch } = stock;
  const troubles = stockTroubles(stock);
  const words = `${placesOn(stock) > 1 ? `sheets of ${placesOn(stock)}` : 'pages'}, ${round(piece.width)} × ${round(piece.height)} mm`;
  const whole: Stock = { ...stock, name: name.trim() || words };
  const { mm, digits, step } = units[unit];
  /** A length in the unit in hand; it is kept in mm. */
  const length = (label: string, value: number, set: (mm: number) => Partial<Stock>, min = 0, max = 1300) => (
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
    <Measure label={label} value={value} min={1} max={max} step={1} onChange={(v) => setStock({ ...stock, ...set(v) })} />
  );
  return (
    <>
      <Two>
        <div className="fields">
          <div style={{ gridColumn: '1 / -1' }}>
            <Pick
              label="Measured in"
              value={unit}
              onChange={setUnit}
              choices={(Object.keys(units) as Unit[]).map((id) => ({ id, name: units[id].name }))}
            />
          </div>
          {length('Sheet width', page.width, (width) => ({ page: { ...page, width } }), 5)}
          {length('Sheet height', page.height, (height) => ({ page: { ...page, height } }), 5)}
          {length(
            'Piece width',
            piece.width,
            (width) => ({ piece: { ...piece, width }, pitch: { ...pitch, x: pitch.x + width - piece.width } }),
            5,
          )}
          {length(
            'Piece height',
            piece.height,
            (height) => ({ piece: { ...piece, height }, pitch: { ...pitch, y: pitch.y + height - piece.height } }),
            5,
          )}
          {count('Columns', stock.columns, (columns) => ({ columns }), 60)}
          {count('Rows', stock.rows, (rows) => ({ rows }), 100)}
          {length('Left margin', margin.left, (left) => ({ margin: { ...margin, left } }), 0, 600)}
          {length('Top margin', margin.top, (top) => ({ margin: { ...margin, top } }), 0, 600)}
          {length('Gutter across', pitch.x - piece.width, (g) => ({ pitch: { ...pitch, x: piece.width + g } }), 0, 100)}
          {length('Gutter down', pitch.y - piece.height, (g) => ({ pitch: { ...pitch, y: piece.height + g } }), 0, 100)}
          {length('Corner radius', stock.cornerRadius, (cornerRadius) => ({ cornerRadius }), 0, 100)}
          {length('Bleed', stock.bleed ?? 0, (bleed) => ({ bleed }), 0, 10)}
        </div>
        <StockDrawing stock={stock} say={(value) => String(Number((value / mm).toFixed(unit === 'mm' ? 1 : 3)))} />
      </Two>
      {troubles.map((t) => (
        <ErrorLine key={t} style={{ fontSize: 13 }}>
          {t}
        </ErrorLine>
      ))}
      <div style={{ display: 'flex', gap: 10, alignItems: 'end' }}>
        <Words label="Call it, to keep it for other jobs" value={name} onChange={setName} />
        <MainButton
          isDisabled={troubles.length > 0 || !stockSchema.safeParse(whole).success}
          onPress={() => {
            if (name.trim()) keep(name.trim(), whole);
            onUse(whole);
          }}
        >
          Use these measures
        </MainButton>
      </div>
    </>
  );
}
