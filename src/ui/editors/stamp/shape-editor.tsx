'use client';

import { mmWords } from '../../../core/base/words';
import { styled } from 'styled-components';
import { pathText } from '../../../core/drawing/path';
import {
  finderShapes,
  moduleShapes,
  shapedPath,
  type FinderShape,
  type ModuleShape,
} from '../../../core/look/shapes';
import type { Stamp } from '../../../core/payload/stamp';
import { encode, type CodeSymbol, usualSymbology, symbologies } from '../../../core/symbology';
import { Measure, Small } from '../../kit/controls';
import { colour } from '../../kit/theme';
import { shapeEditor as wording } from './words';
import { filled } from '../../kit/with-parts';

type Look = Stamp['look'];

const Picks = styled.div`
  display: flex;
  gap: 8px;
  button {
    all: unset;
    cursor: pointer;
    display: grid;
    justify-items: center;
    gap: 3px;
    padding: 6px 8px 4px;
    border: 1px solid ${colour.rule};
    border-radius: 3px;
    font-size: 12.5px;
  }
  button:hover {
    border-color: ${colour.ink};
  }
  button:focus-visible {
    outline: 2px solid ${colour.violet};
  }
  button[aria-pressed='true'] {
    border-color: ${colour.violet};
    background: ${colour.violetWash};
  }
`;

let sampleSymbol: CodeSymbol | undefined;
const sample = (): CodeSymbol => (sampleSymbol ??= encode(usualSymbology, 'MARRAM', { mask: 2 }));

/** Part of a real code in a shape. */
function Swatch({
  modules,
  finders,
  box,
}: {
  modules: ModuleShape;
  finders: FinderShape;
  box: string;
}) {
  return (
    <svg width={44} height={44} viewBox={box} aria-hidden>
      <path
        d={pathText(shapedPath(sample(), { modules, finders, reduce: 0 }), 'svg', 2)}
        fill={colour.ink}
      />
    </svg>
  );
}

/** Shapes of modules and finders, picked from drawings, and the narrowing against spreading ink. */
export function ShapeEditor({
  stamp,
  onChange,
  only,
}: {
  stamp: Stamp;
  onChange: (next: Partial<Look>) => void;
  /** Only one of the two, if it was opened from the code. */
  only?: 'modules' | 'finders';
}) {
  const { look, symbology } = stamp;
  const shapes = symbologies[symbology].shaped;
  const hasFinders = symbologies[symbology].finders !== undefined;
  return (
    <>
      {shapes && only !== 'finders' && (
        <div>
          <Small style={{ marginBottom: 4 }}>{wording.squares}</Small>
          <Picks role="group" aria-label={wording.shapeOfTheSquares}>
            {moduleShapes.map((shape) => (
              <button
                key={shape}
                type="button"
                aria-pressed={(look.modules ?? 'square') === shape}
                onClick={() => onChange({ modules: shape })}
              >
                <Swatch modules={shape} finders="square" box="7.6 7.6 6.8 6.8" />
                {shape}
              </button>
            ))}
          </Picks>
        </div>
      )}
      {hasFinders && only !== 'modules' && (
        <div>
          <Small style={{ marginBottom: 4 }}>
            {only ? wording.theThreeLargeCorners : wording.findersTheThreeLarge}
          </Small>
          <Picks role="group" aria-label={wording.shapeOfTheFinders}>
            {finderShapes.map((shape) => (
              <button
                key={shape}
                type="button"
                aria-pressed={(look.finders ?? 'square') === shape}
                onClick={() => onChange({ finders: shape })}
              >
                <Swatch modules="square" finders={shape} box="-0.4 -0.4 7.8 7.8" />
                {shape}
              </button>
            ))}
          </Picks>
        </div>
      )}
      {!shapes && <Small>{wording.barsAndTheSquares}</Small>}
      {!only && (
        <Measure
          label={wording.narrowerToAllowFor}
          value={look.reduceMm ?? 0}
          min={0}
          max={1}
          step={0.01}
          onChange={(reduceMm) => onChange({ reduceMm: reduceMm || undefined })}
        />
      )}
    </>
  );
}

/** The shapes of a look in words. */
export function shapeWords(stamp: Stamp): string {
  const { modules = 'square', finders = 'square', reduceMm } = stamp.look;
  const words =
    modules === finders ? `${modules}s` : filled(wording.sWithFinders, modules, finders);
  return reduceMm ? filled(wording.narrower, words, mmWords(reduceMm)) : words;
}
