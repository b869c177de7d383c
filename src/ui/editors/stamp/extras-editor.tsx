'use client';
import { useState } from 'react';
import type { KeptPicture } from '../../../core/drawing/picture';
import type { Stamp } from '../../../core/payload/stamp';
import {
  Check,
  ErrorLine,
  Measure,
  PlainButton,
  QuietButton,
  Small,
  Words,
} from '../../kit/controls';
import { send } from '../../kit/api';
import { colour } from '../../kit/theme';
import { LookWarnings } from './look-warnings';
import type { LookWarning } from '../../../core/look/warnings';
import { extrasEditor as wording } from './words';
import { filled, withParts } from '../../kit/with-parts';

type Look = Stamp['look'];
type Change = (next: Partial<Look>) => void;

/** Picks a picture file; the server makes it safe and small and gives it back as pixels. */
function PictureField({
  label,
  picture,
  onPicture,
}: {
  label: string;
  picture: KeptPicture | undefined;
  onPicture: (picture: KeptPicture | undefined) => void;
}) {
  const [problem, setProblem] = useState<string>();
  const [busy, setBusy] = useState(false);
  const take = async (file: File | undefined) => {
    if (!file) return;
    setBusy(true);
    setProblem(undefined);
    try {
      onPicture(await send('redrawPicture', file, file.name));
    } catch (error) {
      setProblem(error instanceof Error ? error.message : String(error));
    } finally {
      setBusy(false);
    }
  };
  return (
    <div style={{ display: 'grid', gap: 6 }}>
      <div style={{ display: 'flex', gap: 10, alignItems: 'center' }}>
        {picture && (
          <img
            src={`data:image/png;base64,${picture.png}`}
            alt=""
            style={{ width: 40, height: 40, objectFit: 'contain', background: colour.ground }}
          />
        )}
        <label style={{ display: 'grid', gap: 3, fontSize: 12.5, color: colour.inkSoft }}>
          {label}
          <input
            type="file"
            accept="image/png,image/jpeg,image/svg+xml"
            onChange={(e) => void take(e.target.files?.[0])}
            style={{ fontSize: 13 }}
          />
        </label>
        {picture && (
          <PlainButton onPress={() => onPicture(undefined)}>{wording.remove}</PlainButton>
        )}
      </div>
      {busy && <Small>{wording.checkingThePicture}</Small>}
      {problem && <ErrorLine>{problem}</ErrorLine>}
    </div>
  );
}

/** A logo or a background picture, and what it costs. */
export function LogoEditor({
  look,
  onChange,
  warnings,
}: {
  look: Look;
  onChange: Change;
  warnings: readonly LookWarning[];
}) {
  return (
    <>
      <PictureField
        label={wording.logoPNGJPEGOr}
        picture={look.logo?.picture}
        onPicture={(picture) =>
          onChange({ logo: picture && { share: 0.2, clear: true, ...look.logo, picture } })
        }
      />
      {look.logo && (
        <>
          <Measure
            label={wording.longerSideOfThe}
            value={Math.round(look.logo.share * 100)}
            min={5}
            max={50}
            step={1}
            onChange={(percent) => onChange({ logo: { ...look.logo!, share: percent / 100 } })}
          />
          <Check
            on={look.logo.clear}
            onChange={(on) => onChange({ logo: { ...look.logo!, clear: on } })}
          >
            {wording.leaveOutTheSquares}
          </Check>
        </>
      )}
      <PictureField
        label={wording.backgroundPicture}
        picture={look.behind?.picture}
        onPicture={(picture) =>
          onChange({ behind: picture && { strength: 0.1, ...look.behind, picture } })
        }
      />
      {look.behind && (
        <Measure
          label={wording.strength}
          value={Math.round(look.behind.strength * 100)}
          min={1}
          max={100}
          step={1}
          onChange={(percent) => onChange({ behind: { ...look.behind!, strength: percent / 100 } })}
        />
      )}
      <LookWarnings
        warnings={warnings.filter((w) => w.kind === 'capacity' || w.kind === 'behind')}
        look={onChange}
      />
    </>
  );
}

export const logoWords = (look: Look): string =>
  look.logo && look.behind
    ? wording.aLogoAndA
    : look.logo
      ? filled(wording.aLogoOverOf, Math.round(look.logo.share * 100))
      : look.behind
        ? wording.aBackgroundPicture
        : wording.noPicture;

/** A line round the code, with a caption in its band. */
export function FrameEditor({ look, onChange }: { look: Look; onChange: Change }) {
  const { frame } = look;
  const kinds = [
    { shape: undefined, name: 'none' },
    { shape: 'square' as const, name: 'square' },
    { shape: 'rounded' as const, name: 'rounded' },
  ];
  return (
    <>
      <div role="group" aria-label={wording.frame} style={{ display: 'flex', gap: 6 }}>
        {kinds.map(({ shape, name }) => (
          <QuietButton
            key={name}
            aria-pressed={frame?.shape === shape}
            onPress={() =>
              onChange({ frame: shape && { caption: '', captionAt: 'below', ...frame, shape } })
            }
          >
            {name}
          </QuietButton>
        ))}
      </div>
      {frame && (
        <>
          <Words
            label={wording.caption}
            value={frame.caption}
            onChange={(caption) => onChange({ frame: { ...frame, caption: caption.slice(0, 60) } })}
          />
          <div
            role="group"
            aria-label={wording.positionOfTheCaption}
            style={{ display: 'flex', gap: 6 }}
          >
            {(['below', 'above'] as const).map((at) => (
              <QuietButton
                key={at}
                aria-pressed={frame.captionAt === at}
                onPress={() => onChange({ frame: { ...frame, captionAt: at } })}
              >
                {withParts(wording.caption2, at)}
              </QuietButton>
            ))}
          </div>
        </>
      )}
    </>
  );
}

export const frameWords = ({ frame }: Look): string =>
  frame
    ? filled(
        wording.aFrame,
        frame.shape,
        frame.caption ? filled(wording.saying, frame.caption) : '',
      )
    : wording.noFrame;

export const turns = [
  { id: '0', name: 'upright' },
  { id: '90', name: wording.turned90Right, about: wording.itsTopPointsRight },
  { id: '180', name: wording.upsideDown },
  { id: '270', name: wording.turned90Left, about: wording.itsTopPointsLeft },
] as const;
