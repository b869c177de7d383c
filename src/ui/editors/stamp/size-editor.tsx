'use client';

import type { ReactNode } from 'react';
import { styled } from 'styled-components';
import type { Stamp } from '../../../core/payload/stamp';
import { symbologies } from '../../../core/symbology';
import { CodeSvg } from '../../kit/code-picture';
import { Check, Measure, QuietButton, Small, unseen } from '../../kit/controls';
import { useSteadyCode } from '../../kit/core-client';
import { Pick } from '../../kit/pick';
import { Term } from '../../kit/term';
import { colour, font } from '../../kit/theme';
import { onPiece, useBench } from './bench';
import { sizeEditor as wording } from './words';
import { filled, withParts } from '../../kit/with-parts';

const dpis = [203, 300, 600, 1200] as const;

/** Side of the code on the drawing, in px, and the room round it for its measures. */
const art = 190;

const Drawing = styled.div`
  position: relative;
  display: grid;
  grid-template-columns: ${art}px 190px;
  column-gap: 26px;
  row-gap: 4px;
  align-items: start;
  .across {
    display: grid;
    grid-template-columns: 1fr auto 1fr;
    align-items: center;
    gap: 7px;
    color: ${colour.violet};
  }
  .across::before,
  .across::after {
    content: '';
    height: 9px;
    border: solid ${colour.violet};
    border-width: 0 0 0 1px;
    background: linear-gradient(${colour.violet}, ${colour.violet}) center / 100% 1px no-repeat;
  }
  .across::after {
    border-width: 0 1px 0 0;
  }
  .code {
    position: relative;
    outline: 1px dashed ${colour.ruleStrong};
  }
  .side {
    display: grid;
    gap: 8px;
    align-content: start;
    font-size: 13px;
  }
  .module {
    display: grid;
    grid-template-columns: 46px 1fr;
    gap: 10px;
    align-items: center;
  }
  .lead {
    font-weight: 700;
    color: ${colour.violetDeep};
  }
  /* boxes on a drawing, as wide as what is typed into them */
  .box label {
    ${unseen};
  }
  .box > div {
    display: inline-grid;
  }
  .box input {
    width: 62px;
    padding: 3px 6px;
    text-align: right;
    font: 400 13.5px/1.2 ${font.code};
  }
`;

/** A field for a measure on the drawing, with its unit after it. */
function Box({ children, unit, leads }: { children: ReactNode; unit: string; leads?: boolean }) {
  return (
    <span
      className="box"
      style={{ display: 'inline-flex', alignItems: 'center', gap: 5, whiteSpace: 'nowrap' }}
    >
      {children}
      <span className={leads ? 'lead' : undefined}>{unit}</span>
    </span>
  );
}

/** One module enlarged, with the printer's dots in it. */
function Module({ dots }: { dots: number }) {
  const whole = Math.max(1, Math.min(24, Math.round(dots)));
  const side = 44;
  const step = side / whole;
  return (
    <svg width={46} height={46} aria-hidden style={{ display: 'block' }}>
      <rect
        x={1}
        y={1}
        width={side}
        height={side}
        fill={colour.violetWash}
        stroke={colour.violet}
      />
      {whole > 1 &&
        whole <= 16 &&
        Array.from({ length: whole - 1 }, (_, i) => (
          <path
            key={i}
            d={`M${1 + (i + 1) * step} 1v${side}M1 ${1 + (i + 1) * step}h${side}`}
            stroke={colour.violet}
            strokeWidth={0.35}
          />
        ))}
    </svg>
  );
}

/** The width in mm for so many pixels, within the limits of a code. */
const sizeOfPixels = (pixels: number, dpi: number): number =>
  Math.min(300, Math.max(4, (pixels / dpi) * 25.4));

/**
 * The size of a code, on a drawing of this very code: its width, its module with the printer's
 * dots, its quiet zone, each with a field. It shows which of them is fixed and what follows from
 * it.
 */
export function SizeEditor({
  stamp,
  look,
}: {
  stamp: Stamp;
  look: (next: Partial<Stamp['look']>) => void;
}) {
  const { values, placed } = useBench();
  const place = placed?.(stamp.id);
  const shownStamp = onPiece(stamp, place);
  // the fields stay while the change of one of them is drawn, so that the focus does
  const { code } = useSteadyCode(`${stamp.id} ${JSON.stringify(values)}`, shownStamp, values);
  const byPixels = !place && stamp.look.pixels !== undefined;
  const bars = symbologies[stamp.symbology].linear;
  const { dpi, wholeDots, quietZone } = stamp.look;
  const moduleLeads = !place && stamp.look.moduleDots !== undefined;
  const setWidth = (sizeMm: number) => {
    if (place) place.set(Math.min(place.mostMm, sizeMm));
    else look({ sizeMm, moduleDots: undefined, pixels: undefined });
  };
  const setDots = (dots: number) => {
    // on a piece the place is fixed, so that longer content does not grow over what is next to it
    if (place && code)
      place.set(
        Math.min(place.mostMm, Math.ceil(((dots * code.columns * 25.4) / dpi) * 100) / 100),
      );
    else
      look({
        moduleDots: wholeDots ? Math.max(1, Math.round(dots)) : dots,
        pixels: undefined,
      });
  };
  const setPixels = (pixels: number) => {
    const sizeMm = sizeOfPixels(pixels, dpi);
    if (place) place.set(Math.min(place.mostMm, sizeMm));
    else look({ sizeMm, moduleDots: undefined, pixels });
  };
  const asked = place ? place.sizeMm : stamp.look.sizeMm;
  return (
    <div style={{ display: 'grid', gap: 12, width: 412 }}>
      <Drawing>
        <div className="across">
          <Box unit={wording.mm} leads={!moduleLeads && !byPixels}>
            <Measure
              label={wording.widthWithItsQuiet}
              value={moduleLeads && code ? Math.round(code.widthMm * 100) / 100 : asked}
              min={4}
              max={place?.mostMm ?? 300}
              step={0.5}
              onChange={setWidth}
            />
          </Box>
        </div>
        <div />
        <div className="code" style={{ width: art, minHeight: bars ? 60 : art }}>
          {code && <CodeSvg code={code} size={art} label={wording.theCodeWithIts} />}
        </div>
        <div className="side">
          {code && (
            <div className="module">
              <Module dots={code.dots} />
              <span style={{ display: 'grid', gap: 3 }}>
                <Box unit={wording.dots} leads={moduleLeads}>
                  <Measure
                    label={wording.oneSquarePrinterDots}
                    value={Math.round(code.dots * 100) / 100}
                    min={1}
                    max={200}
                    step={wholeDots ? 1 : 0.5}
                    onChange={setDots}
                  />
                </Box>
                <Small>{withParts(wording.oneSquareMm, code.moduleMm.toFixed(3))}</Small>
              </span>
            </div>
          )}
          {code && (
            <Box unit={filled(wording.pixelsAtDpi, dpi)} leads={byPixels}>
              <Measure
                label={filled(wording.theWholePixelsAt, dpi)}
                value={(!place && stamp.look.pixels) || Math.round((code.widthMm / 25.4) * dpi)}
                min={20}
                max={20000}
                step={1}
                onChange={setPixels}
              />
            </Box>
          )}
          {bars && (
            <Box unit={wording.mmHighTheBars}>
              <Measure
                label={wording.heightOfTheBars}
                value={stamp.look.barMm ?? Math.round((code ? code.heightMm : 9) * 2) / 2}
                min={2}
                max={200}
                step={0.5}
                onChange={(barMm) => look({ barMm })}
              />
            </Box>
          )}
          <Check on={quietZone} onChange={(on) => look({ quietZone: on })}>
            {wording.quietZoneTheLight}
          </Check>
          <Small>
            {withParts(
              wording.whatIsAA,
              <Term of="quietZone">quiet zone</Term>,
              <Term of="module">square</Term>,
              <Term of="dpi">dpi</Term>,
            )}
          </Small>
        </div>
      </Drawing>
      {code && (
        <p role="status" style={{ fontSize: 13.5 }}>
          {moduleLeads
            ? withParts(
                wording.dotsEachTheWidth,
                <b>{wording.theSizeOfA}</b>,
                fine(code.dots),
                code.widthMm.toFixed(1),
              )
            : withParts(
                wording.mostMm,
                <b>
                  {byPixels
                    ? wording.thePixelsDecide
                    : place
                      ? wording.itsPlaceOnThe
                      : wording.theWidthDecides}
                </b>,
                byPixels ? filled(wording.pixelsExactlyInPNG, stamp.look.pixels) : 'at',
                fine(asked),
                wholeDots
                  ? filled(wording.inWholeDotsThis, code.widthMm.toFixed(1), fine(code.dots))
                  : filled(wording.theSquareFollowsDots, fine(code.dots)),
              )}
        </p>
      )}
      {place && Math.abs(stamp.look.sizeMm - place.sizeMm) > 0.05 && (
        <div style={{ display: 'flex', gap: 10, alignItems: 'baseline' }}>
          <Small>
            {withParts(wording.onThePieceIt, fine(place.sizeMm), fine(stamp.look.sizeMm))}
          </Small>
          <QuietButton
            onPress={() => look({ sizeMm: place.sizeMm, moduleDots: undefined, pixels: undefined })}
          >
            {withParts(wording.useMmForBoth, fine(place.sizeMm))}
          </QuietButton>
        </div>
      )}
      <Check on={wholeDots} onChange={(on) => look({ wholeDots: on })}>
        {wording.wholeDotsPerSquare}
      </Check>
      <Pick
        label={wording.dotsPerInchOf}
        value={dpi}
        onChange={(next: number) =>
          look({
            dpi: next,
            ...(byPixels ? { sizeMm: sizeOfPixels(stamp.look.pixels!, next) } : {}),
          })
        }
        choices={[...new Set([...dpis, dpi])]
          .sort((a, b) => a - b)
          .map((n) => ({ id: n, name: String(n) }))}
      />
      {bars && <TextPlace stamp={stamp} look={look} />}
      <div style={{ display: 'grid', gridTemplateColumns: '1fr 1fr', gap: 12 }}>
        <Measure
          label={wording.readFromHowFar}
          value={(stamp.look.distanceMm ?? 0) / 10}
          min={0}
          max={2000}
          step={5}
          onChange={(cm) => look({ distanceMm: cm >= 5 ? cm * 10 : undefined })}
        />
        {place && (
          <Measure
            label={wording.asAPictureOf}
            value={stamp.look.sizeMm}
            min={4}
            max={300}
            step={0.5}
            onChange={(sizeMm) => look({ sizeMm, moduleDots: undefined })}
          />
        )}
      </div>
    </div>
  );
}

const fine = (n: number): string => (Number.isInteger(n) ? String(n) : n.toFixed(2));

/** The position of the human-readable text of bars. */
export function TextPlace({
  stamp,
  look,
}: {
  stamp: Stamp;
  look: (next: Partial<Stamp['look']>) => void;
}) {
  return (
    <div role="group" aria-label={wording.textUnderTheBars} style={{ display: 'flex', gap: 6 }}>
      {(['below', 'above', 'none'] as const).map((hri) => (
        <QuietButton
          key={hri}
          aria-pressed={(stamp.look.hri ?? 'below') === hri}
          onPress={() => look({ hri })}
        >
          {hri === 'none' ? wording.noText : filled(wording.text, hri)}
        </QuietButton>
      ))}
    </div>
  );
}
