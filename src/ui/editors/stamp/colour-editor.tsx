'use client';

import { useState } from 'react';
import { contrastRatio, hexOf, parseColour, typedColour } from '../../../core/look/colour';
import type { LookWarning } from '../../../core/look/warnings';
import type { Stamp } from '../../../core/payload/stamp';
import { gradientDirections } from '../../../core/drawing/drawing';
import { Check, QuietButton, Small } from '../../kit/controls';
import { colour } from '../../kit/theme';
import { LookWarnings } from './look-warnings';
import { colourEditor as wording } from './words';
import { filled, withParts } from '../../kit/with-parts';

const named: [string, string][] = [
  ['#1d1a26', 'ink'],
  ['#000000', 'black'],
  ['#46298f', 'violet'],
  ['#1c5c4a', wording.darkGreen],
  ['#1b3f73', wording.darkBlue],
  ['#ffffff', 'white'],
  ['#f5efd8', 'cream'],
];

/** A colour's everyday name, or its hex. */
export const colourName = (hex: string): string =>
  named.find(([h]) => h === hex.toLowerCase())?.[1] ?? hex;

type Look = Stamp['look'];

/** Code and background colour by picker or hex, with their contrast for a scanner. */
export function ColourEditor({
  look,
  onChange,
  warnings,
  gradients = false,
}: {
  look: Look;
  onChange: (next: Partial<Look>) => void;
  warnings: readonly LookWarning[];
  /** Offer a second colour; words on a piece have one. */
  gradients?: boolean;
}) {
  const fore = parseColour(look.foreground)!;
  const back = parseColour(look.background === 'transparent' ? '#ffffff' : look.background)!;
  return (
    <>
      <ColourField
        label={wording.code}
        value={look.foreground}
        onChange={(foreground) => onChange({ foreground })}
        choices={named.slice(0, 5)}
      />
      <ColourField
        label={wording.background}
        value={look.background === 'transparent' ? '#ffffff' : look.background}
        onChange={(background) => onChange({ background })}
        choices={named.slice(5)}
      />
      <Check
        on={look.background === 'transparent'}
        onChange={(on) => onChange({ background: on ? 'transparent' : '#ffffff' })}
      >
        {wording.noBackground}
      </Check>
      {gradients && (
        <>
          <Check
            on={look.gradient !== undefined}
            onChange={(on) =>
              onChange({ gradient: on ? { to: '#1b3f73', direction: 'down' } : undefined })
            }
          >
            {wording.blendsIntoASecond}
          </Check>
          {look.gradient && (
            <>
              <ColourField
                label={wording.secondColour}
                value={look.gradient.to}
                onChange={(to) => onChange({ gradient: { ...look.gradient!, to } })}
                choices={named.slice(0, 5)}
              />
              <div role="group" aria-label={wording.direction} style={{ display: 'flex', gap: 6 }}>
                {gradientDirections.map((direction) => (
                  <QuietButton
                    key={direction}
                    aria-pressed={look.gradient!.direction === direction}
                    onPress={() => onChange({ gradient: { ...look.gradient!, direction } })}
                  >
                    {direction}
                  </QuietButton>
                ))}
              </div>
            </>
          )}
        </>
      )}
      <Small>{withParts(wording.contrastTo1Scanners, contrastRatio(fore, back).toFixed(1))}</Small>
      <LookWarnings warnings={warnings} look={onChange} />
    </>
  );
}

function ColourField({
  label,
  value,
  onChange,
  choices,
}: {
  label: string;
  value: string;
  onChange: (hex: string) => void;
  choices: readonly [string, string][];
}) {
  return (
    <div style={{ display: 'flex', gap: 8, alignItems: 'center' }}>
      <span style={{ width: 56 }}>{label}</span>
      {choices.map(([hex, name]) => (
        <button
          key={hex}
          type="button"
          title={name}
          aria-label={`${label} ${name}`}
          aria-pressed={value.toLowerCase() === hex}
          onClick={() => onChange(hex)}
          style={{
            width: 24,
            height: 24,
            background: hex,
            border: `1px solid ${colour.ruleStrong}`,
            borderRadius: 2,
            cursor: 'pointer',
            outline: value.toLowerCase() === hex ? `2px solid ${colour.violet}` : undefined,
            outlineOffset: 1,
          }}
        />
      ))}
      <input
        type="color"
        aria-label={filled(wording.anyColour, label)}
        value={value}
        onChange={(e) => onChange(e.target.value)}
        style={{ width: 36, height: 28, padding: 0, border: 0, background: 'none' }}
      />
      <TypedColour label={filled(wording.asHex, label)} value={value} onChange={onChange} />
    </div>
  );
}

/**
 * A colour typed or pasted as hex or RGB, applied at Enter or on blur; the focus stays, so that the
 * next key reaches the editor. An invalid colour stays in the field, with a message.
 */
function TypedColour({
  label,
  value,
  onChange,
}: {
  label: string;
  value: string;
  onChange: (hex: string) => void;
}) {
  const [typed, setTyped] = useState<string>();
  const [wrong, setWrong] = useState(false);
  const apply = () => {
    if (typed === undefined) return;
    const read = typed.trim() === '' ? parseColour(value) : typedColour(typed);
    setWrong(!read);
    if (!read) return;
    setTyped(undefined);
    if (hexOf(read) !== value.toLowerCase()) onChange(hexOf(read));
  };
  return (
    <span style={{ display: 'grid', gap: 2 }}>
      <input
        aria-label={label}
        aria-invalid={wrong}
        value={typed ?? value}
        onChange={(e) => {
          setTyped(e.target.value);
          setWrong(false);
        }}
        onBlur={apply}
        onKeyDown={(e) => e.key === 'Enter' && apply()}
        style={{
          width: 128,
          padding: '4px 6px',
          border: `1px solid ${wrong ? colour.failed : colour.ruleStrong}`,
          borderRadius: 2,
        }}
      />
      {wrong && (
        <span role="alert" style={{ fontSize: 12.5, color: colour.failed, maxWidth: 200 }}>
          {wording.thisIsNotA}
        </span>
      )}
    </span>
  );
}
