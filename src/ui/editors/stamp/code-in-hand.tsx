'use client';

import { useRef, type ReactNode } from 'react';
import { Button, DialogTrigger } from 'react-aria-components';
import { styled } from 'styled-components';
import type { LookArea, LookPart } from '../../../core/look/areas';
import type { Stamp } from '../../../core/payload/stamp';
import type { CodePicture } from '../../../workers/protocol';
import { CodeSvg } from '../../kit/code-picture';
import { Check, Editor, Pop } from '../../kit/controls';
import { useMay } from '../../kit/me';
import { colour, font } from '../../kit/theme';
import { ColourEditor } from './colour-editor';
import { FrameEditor, LogoEditor } from './extras-editor';
import { ShapeEditor } from './shape-editor';
import { SizeEditor, TextPlace } from './size-editor';
import { codeInHand as wording } from './words';
import { filled, withParts } from '../../kit/with-parts';

const Stage = styled.div`
  position: relative;
  display: grid;
  justify-items: center;
  gap: 1px;
  .art {
    position: relative;
  }
  .spot {
    all: unset;
    position: absolute;
    box-sizing: border-box;
    cursor: pointer;
    border-radius: 1px;
  }
  .spot[data-hovered],
  .spot[aria-expanded='true'] {
    box-shadow:
      0 0 0 1.5px ${colour.violet},
      inset 0 0 0 100px rgb(70 41 143 / 14%);
  }
  .spot[data-focus-visible] {
    outline: 2px solid ${colour.violet};
    outline-offset: 1px;
  }
  .measure {
    all: unset;
    cursor: pointer;
    display: grid;
    grid-template-columns: 1fr auto 1fr;
    align-items: center;
    min-height: 24px;
    gap: 6px;
    font: 400 12px/1 ${font.code};
    color: ${colour.violetDeep};
    border-radius: 2px;
  }
  .measure::before,
  .measure::after {
    content: '';
    height: 7px;
    border: solid ${colour.violet};
    border-width: 0;
    background: linear-gradient(${colour.violet}, ${colour.violet}) center / 100% 1px no-repeat;
  }
  .measure::before {
    border-left-width: 1px;
  }
  .measure::after {
    border-right-width: 1px;
  }
  .measure[data-hovered],
  .measure[aria-expanded='true'] {
    background: ${colour.violetWash};
  }
  .measure[data-focus-visible] {
    outline: 2px solid ${colour.violet};
  }
`;

const names: Record<LookPart, string> = {
  surround: wording.frameAndQuietZone,
  modules: wording.coloursAndSquares,
  finder: wording.finders,
  middle: wording.logo,
  text: wording.textAtTheBars,
};

/** Least side of a target, in px. */
const least = 24;

/** The position of a part on the screen; small parts have a larger target. */
function placed({ x, y, width, height }: LookArea, scale: number) {
  const [w, h] = [Math.max(least, width * scale), Math.max(least, height * scale)];
  return {
    left: (x + width / 2) * scale - w / 2,
    top: (y + height / 2) * scale - h / 2,
    width: w,
    height: h,
  };
}

/** A code whose parts open their editors; its width is below it as a measure. */
export function CodeInHand({
  stamp,
  change,
  code,
  size,
}: {
  stamp: Stamp;
  change: (next: Partial<Stamp>) => void;
  code: CodePicture;
  /** Width in px. */
  size: number;
}) {
  const art = useRef<HTMLDivElement>(null);
  const may = useMay();
  const look = (next: Partial<Stamp['look']>) => change({ look: { ...stamp.look, ...next } });
  const editors: Record<LookPart, ReactNode> = {
    surround: (
      <>
        <FrameEditor look={stamp.look} onChange={look} />
        <Check on={stamp.look.quietZone} onChange={(on) => look({ quietZone: on })}>
          {wording.theQuietZoneBelongs}
        </Check>
      </>
    ),
    modules: (
      <>
        <ColourEditor look={stamp.look} onChange={look} warnings={code.warnings} gradients />
        <ShapeEditor stamp={stamp} onChange={look} only="modules" />
      </>
    ),
    finder: <ShapeEditor stamp={stamp} onChange={look} only="finders" />,
    middle: <LogoEditor look={stamp.look} onChange={look} warnings={code.warnings} />,
    text: <TextPlace stamp={stamp} look={look} />,
  };
  return (
    <Stage>
      <div className="art" ref={art}>
        <CodeSvg code={code} size={size} />
        {(may ? code.areas : []).map((area, i) => (
          <DialogTrigger key={i}>
            <Button
              className="spot"
              aria-label={names[area.part]}
              // of the finders one is enough for the keyboard
              excludeFromTabOrder={code.areas.findIndex((a) => a.part === area.part) !== i}
              style={placed(area, size / code.columns)}
            />
            {/* beside the whole code, so that what changes stays in view */}
            <Pop placement="right top" offset={8} triggerRef={art}>
              <Editor aria-label={names[area.part]}>
                <h3 style={{ font: `700 14px/1.2 ${font.title}` }}>{names[area.part]}</h3>
                {editors[area.part]}
              </Editor>
            </Pop>
          </DialogTrigger>
        ))}
      </div>
      <DialogTrigger>
        <Button
          className="measure"
          aria-label={filled(wording.sizeMm, code.widthMm.toFixed(1))}
          style={{ width: size }}
        >
          {withParts(wording.mm, code.widthMm.toFixed(1))}
        </Button>
        <Pop placement="right" offset={6}>
          <Editor aria-label={wording.size}>
            <SizeEditor stamp={stamp} look={look} />
          </Editor>
        </Pop>
      </DialogTrigger>
    </Stage>
  );
}
