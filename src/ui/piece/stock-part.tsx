'use client';

import { useState } from 'react';
import { styled } from 'styled-components';
import { placeOnStock, placesOn, stockSchema, stockTroubles, stocks, type Stock } from '../../core/piece/stock';
import { Choose, ErrorLine, MainButton, Measure, Part, QuietButton, Small, Words } from '../controls';
import { useKept } from '../stamp/kept';
import { colour, font } from '../theme';

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
  grid-template-columns: 300px 250px;
  gap: 18px;
  .fields {
    display: grid;
    grid-template-columns: 1fr 1fr;
    gap: 8px;
    align-content: start;
  }
`;

const round = (n: number): number => Math.round(n * 100) / 100;

/** Measures as they are typed, drawn to scale; what does not fit the sheet is refused in words. */
function OwnStock({ start, onUse }: { start: Stock; onUse: (stock: Stock) => void }) {
  const [stock, setStock] = useState<Stock>({ ...start, id: 'own', bleed: start.bleed ?? 0 });
  const [name, setName] = useState('');
  const { keep } = useKept<Stock>('stock');
  const { page, piece, margin, pitch } = stock;
  const troubles = stockTroubles(stock);
  const words = `${placesOn(stock) > 1 ? `sheets of ${placesOn(stock)}` : 'pages'}, ${round(piece.width)} × ${round(piece.height)} mm`;
  const whole: Stock = { ...stock, name: name.trim() || words };
  const measure = (label: string, value: number, set: (v: number) => Partial<Stock>, min = 0, max = 1300, step = 0.1) => (
    <Measure label={label} value={round(value)} min={min} max={max} step={step} onChange={(v) => setStock({ ...stock, ...set(v) })} />
  );
  return (
    <>
      <Two>
        <div className="fields">
          {measure('Sheet width, mm', page.width, (width) => ({ page: { ...page, width } }), 5)}
          {measure('Sheet height, mm', page.height, (height) => ({ page: { ...page, height } }), 5)}
          {measure(
            'Piece width, mm',
            piece.width,
            (width) => ({ piece: { ...piece, width }, pitch: { ...pitch, x: pitch.x + width - piece.width } }),
            5,
          )}
          {measure(
            'Piece height, mm',
            piece.height,
            (height) => ({ piece: { ...piece, height }, pitch: { ...pitch, y: pitch.y + height - piece.height } }),
            5,
          )}
          {measure('Columns', stock.columns, (columns) => ({ columns }), 1, 60, 1)}
          {measure('Rows', stock.rows, (rows) => ({ rows }), 1, 100, 1)}
          {measure('Left margin, mm', margin.left, (left) => ({ margin: { ...margin, left } }), 0, 600)}
          {measure('Top margin, mm', margin.top, (top) => ({ margin: { ...margin, top } }), 0, 600)}
          {measure('Gutter across, mm', pitch.x - piece.width, (g) => ({ pitch: { ...pitch, x: piece.width + g } }), 0, 100)}
          {measure('Gutter down, mm', pitch.y - piece.height, (g) => ({ pitch: { ...pitch, y: piece.height + g } }), 0, 100)}
          {measure('Corner radius, mm', stock.cornerRadius, (cornerRadius) => ({ cornerRadius }), 0, 100)}
          {measure('Bleed, mm', stock.bleed ?? 0, (bleed) => ({ bleed }), 0, 10)}
        </div>
        <StockDrawing stock={stock} />
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

/** The sheet to scale with its places and the measures that were typed. */
function StockDrawing({ stock }: { stock: Stock }) {
  const { page, piece, margin, pitch } = stock;
  const scale = Math.min(220 / page.width, 290 / page.height);
  const places = Math.min(placesOn(stock), 400);
  const note = { font: `400 10px ${font.code}`, fill: colour.violetDeep } as const;
  return (
    <div>
      <svg width={page.width * scale + 2} height={page.height * scale + 2} role="img" aria-label="The sheet with its places, to scale">
        <rect x={1} y={1} width={page.width * scale} height={page.height * scale} fill={colour.paper} stroke={colour.ruleStrong} />
        {Array.from({ length: places }, (_, i) => {
          const place = placeOnStock(stock, i, 1, 'across');
          const outside = place.x + piece.width > page.width + 0.05 || place.y + piece.height > page.height + 0.05;
          return (
            <rect
              key={i}
              x={1 + place.x * scale}
              y={1 + place.y * scale}
              width={piece.width * scale}
              height={piece.height * scale}
              rx={stock.cornerRadius * scale}
              fill={i === 0 ? colour.violetWash : 'none'}
              stroke={outside ? colour.failed : colour.inkSoft}
              strokeWidth={0.7}
            />
          );
        })}
        <text x={4 + margin.left * scale} y={14 + margin.top * scale} style={note}>
          {round(piece.width)} × {round(piece.height)}
        </text>
      </svg>
      <Small>
        {round(page.width)} × {round(page.height)} mm; margins {round(margin.left)} and {round(margin.top)}, from place to place{' '}
        {round(pitch.x)} and {round(pitch.y)} mm.
      </Small>
    </div>
  );
}
