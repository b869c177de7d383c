import { placeOnStock, placesOn, type PlaceOrder, type Stock } from '../../../core/piece/stock';
import { Small } from '../../kit/controls';
import { colour, font } from '../../kit/theme';
import { placePicker as wording } from './words';
import { filled } from '../../kit/with-parts';

/** The sheet drawn to scale; pointing at a place makes it the first. */
export function PlacePicker({
  stock,
  order,
  start,
  onPick,
}: {
  stock: Stock;
  order: PlaceOrder;
  start: number;
  onPick: (start: number) => void;
}) {
  const scale = 200 / stock.page.width;
  return (
    <>
      <Small>{wording.chooseTheFirstFree}</Small>
      <div
        role="group"
        aria-label={wording.seatsOfTheSheet}
        style={{
          position: 'relative',
          width: stock.page.width * scale,
          height: stock.page.height * scale,
          border: `1px solid ${colour.ruleStrong}`,
          background: colour.paper,
        }}
      >
        {Array.from({ length: placesOn(stock) }, (_, i) => {
          const { x, y } = placeOnStock(stock, i, 1, order);
          const used = i + 1 < start;
          return (
            <button
              key={i}
              type="button"
              aria-label={filled(wording.seat, i + 1)}
              aria-pressed={i + 1 === start}
              onClick={() => onPick(i + 1)}
              style={{
                position: 'absolute',
                left: x * scale,
                top: y * scale,
                width: stock.piece.width * scale - 1,
                height: stock.piece.height * scale - 1,
                border: `1px solid ${i + 1 === start ? colour.violet : colour.rule}`,
                background: used
                  ? colour.groundDeep
                  : i + 1 === start
                    ? colour.violetWash
                    : colour.paper,
                color: colour.inkSoft,
                font: `400 11px/1 ${font.code}`,
                cursor: 'pointer',
                padding: 0,
              }}
            >
              {i + 1}
            </button>
          );
        })}
      </div>
    </>
  );
}
