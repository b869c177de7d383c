'use client';

import { symbologies } from '../../../core/symbology';
import { useContext, type ReactNode } from 'react';
import { styled } from 'styled-components';
import { purposeOf } from '../../../core/payload/purposes';
import type { SymbologyFit } from '../../../contract';
import { firstStamp, type Stamp } from '../../../core/payload/stamp';
import { ChoicePart, Part, Sentence } from '../../kit/controls';
import { colour } from '../../kit/theme';
import { JobScreenContext } from '../../shell/ledger/context';
import { UsualSettings, type Setting } from '../../kit/usual';
import { useCode } from '../../kit/core-client';
import { AddressesPart } from './addresses-part';
import { onPiece, useBench } from './bench';
import { ColourEditor, colourName } from './colour-editor';
import { ContentEditor } from './content-editor';
import { DoorPart } from './door-part';
import { linkOf } from '../../../core/links/held';
import { LeadsPart, LinkPart, OurReach } from './link-part';
import { KeptContents, KeptLookPart } from './kept';
import { FrameEditor, frameWords, LogoEditor, logoWords, turns } from './extras-editor';
import { OptionsPart } from './options-part';
import { ProofPart } from './proof-part';
import { FieldsParts, PartsWords, PurposePart } from './purpose-part';
import { LookWarnings } from './look-warnings';
import { ShapeEditor, shapeWords } from './shape-editor';
import { SizeEditor } from './size-editor';
import { SymbologyPart } from './symbology-part';
import { stampSentence as wording } from './words';
import { filled, withParts } from '../../kit/with-parts';

const levels = [
  {
    id: 'L',
    name: wording.keepsReadingWithAbout,
    about: wording.smallestCodeForClean,
  },
  {
    id: 'M',
    name: wording.keepsReadingWithAbout15,
    about: wording.forLabelsAndBadges,
  },
  {
    id: 'Q',
    name: wording.keepsReadingWithAbout25,
    about: wording.forBadgesWornAll,
  },
  {
    id: 'H',
    name: wording.keepsReadingWithAbout30,
    about: wording.forRoughUseThe,
  },
] as const;

/** More actions of a stamp: in a row of its own under the sentence. */
const Besides = styled.div`
  display: flex;
  flex-wrap: wrap;
  gap: 2px 20px;
  align-items: baseline;
  padding-top: 3px;
  font-size: 13px;
  [role='button'],
  button {
    font-weight: 400;
    line-height: 24px;
    border: 0;
    color: ${colour.violetDeep};
    text-decoration: underline;
    text-decoration-thickness: 1px;
    text-underline-offset: 3px;
  }
`;

/**
 * A stamp as a sentence whose parts are its controls. `name` comes before it if there are several;
 * stamps that are not selected show only the `short` form, with a way to the rest.
 */
export function StampSentence({
  stamp,
  change,
  minor = false,
  name,
  mend,
  short,
  besides,
}: {
  stamp: Stamp;
  change: (next: Partial<Stamp>) => void;
  minor?: boolean;
  name?: ReactNode;
  mend?: (fit: SymbologyFit) => void;
  short?: ReactNode;
  besides?: ReactNode;
}) {
  const { columns, values, placed } = useBench();
  const place = placed?.(stamp.id);
  const code = useCode(onPiece(stamp, place), values);
  const look = (next: Partial<Stamp['look']>) => change({ look: { ...stamp.look, ...next } });
  const dots = code
    ? filled(
        wording.dotsPerSquareAt,
        Number.isInteger(code.dots) ? code.dots : code.dots.toFixed(1),
        stamp.look.dpi,
      )
    : filled(wording.atDpi, stamp.look.dpi);
  // a fix for which the piece has no space is not offered
  const warnings = (code?.warnings ?? []).map((w) =>
    place && w.fix.sizeMm && w.fix.sizeMm > place.mostMm ? { ...w, mend: '' } : w,
  );
  const mendLook = (fix: Partial<Stamp['look']>) =>
    place && fix.sizeMm ? place.set(fix.sizeMm) : look(fix);
  const held = linkOf(stamp, columns);
  const whole = purposeOf(stamp.does).fields.some((f) => f.id === 'content');
  const screen = useContext(JobScreenContext);
  const { byLink } = purposeOf(stamp.does);
  const usual = firstStamp([]);
  const colours = filled(
    wording.on,
    colourName(stamp.look.foreground),
    stamp.look.gradient ? filled(wording.into, colourName(stamp.look.gradient.to)) : '',
    stamp.look.background === 'transparent' ? 'nothing' : colourName(stamp.look.background),
  );
  const turned = String(stamp.look.turn ?? 0) as (typeof turns)[number]['id'];
  const turnWords = turns.find((t) => t.id === turned)!.name;
  const levelWords = levels.find((l) => l.id === stamp.level)!.name;
  const settings: Setting[] = [
    ...(screen && byLink && !held
      ? [
          {
            id: 'link',
            usual: true,
            words: wording.theWebAddressItself,
            part: <LinkPart stamp={stamp} change={change} />,
          },
        ]
      : []),
    {
      id: 'dots',
      usual: stamp.look.dpi === usual.look.dpi,
      words: dots,
      part: (
        <Part label={wording.resolution} editor={<SizeEditor stamp={stamp} look={look} />}>
          {dots}
        </Part>
      ),
    },
    ...(symbologies[stamp.symbology].levels
      ? [
          {
            id: 'level',
            usual: stamp.level === usual.level,
            words: levelWords,
            part: withParts(
              wording.which,
              <ChoicePart
                label={wording.errorCorrection}
                value={stamp.level}
                onChange={(level) => change({ level })}
                choices={levels}
              />,
            ),
          },
        ]
      : []),
    {
      id: 'colours',
      usual:
        stamp.look.foreground === usual.look.foreground &&
        stamp.look.background === usual.look.background &&
        !stamp.look.gradient,
      words: colours,
      part: (
        <Part
          label={wording.colours}
          editor={<ColourEditor look={stamp.look} onChange={look} warnings={warnings} gradients />}
        >
          {colours}
        </Part>
      ),
    },
    {
      id: 'shapes',
      usual: shapeWords(stamp) === 'squares',
      words: shapeWords(stamp),
      part: withParts(
        wording.drawnIn,
        <Part label={wording.shapes} editor={<ShapeEditor stamp={stamp} onChange={look} />}>
          {shapeWords(stamp)}
        </Part>,
      ),
    },
    {
      id: 'logo',
      usual: !stamp.look.logo && !stamp.look.behind,
      words: logoWords(stamp.look),
      part: withParts(
        wording.with,
        <Part
          label={wording.pictures}
          editor={<LogoEditor look={stamp.look} onChange={look} warnings={warnings} />}
        >
          {logoWords(stamp.look)}
        </Part>,
      ),
    },
    {
      id: 'frame',
      usual: !stamp.look.frame,
      words: frameWords(stamp.look),
      part: withParts(
        wording.with,
        <Part label={wording.frame} editor={<FrameEditor look={stamp.look} onChange={look} />}>
          {frameWords(stamp.look)}
        </Part>,
      ),
    },
    {
      id: 'turn',
      usual: turned === '0',
      words: turnWords,
      part: (
        <ChoicePart
          label={wording.turned}
          value={turned}
          onChange={(id) => look({ turn: id === '0' ? undefined : (Number(id) as 90) })}
          choices={turns}
        />
      ),
    },
  ];
  return (
    <>
      <Sentence $minor={minor}>
        {withParts(
          wording.aScanAs,
          name,
          <PurposePart stamp={stamp} change={change} />,
          held &&
            withParts(
              wording.to,
              screen && byLink && <LinkPart stamp={stamp} change={change} />,
              <LeadsPart held={held} />,
            ),
          whole && !held && (
            <>
              {byLink ? ' at ' : ' '}
              <Part
                label={wording.whatTheCodeSays}
                editor={(close) => (
                  <>
                    <ContentEditor
                      parts={stamp.parts}
                      columns={columns}
                      onChange={(parts, spaces, does) => {
                        change({ parts, spaces, ...(does ? { does } : {}) });
                        close();
                      }}
                      stamp={stamp}
                    />
                    {columns.length > 0 && (
                      <KeptContents stamp={stamp} change={change} close={close} />
                    )}
                  </>
                )}
              >
                <PartsWords parts={stamp.parts} empty={wording.empty} />
              </Part>
            </>
          ),
          <FieldsParts stamp={stamp} change={change} />,
          purposeOf(stamp.does).proves && <ProofPart stamp={stamp} change={change} />,
          <SymbologyPart
            stamp={stamp}
            onChange={(symbology) => change({ symbology })}
            onMend={mend}
          />,
          <OptionsPart stamp={stamp} change={change} />,
          <Part label={wording.size} editor={<SizeEditor stamp={stamp} look={look} />}>
            {code
              ? filled(wording.mm, code.widthMm.toFixed(1))
              : filled(wording.mm, stamp.look.sizeMm)}
            {place && wording.onThePiece}
          </Part>,
          short ? <>; {short}.</> : <UsualSettings key={stamp.id} parts={settings} />,
        )}
      </Sentence>
      {!short && (
        <Besides>
          <DoorPart stamp={stamp} />
          <KeptLookPart stamp={stamp} change={change} />
          <AddressesPart stamp={stamp} />
          {besides}
        </Besides>
      )}
      {!short && held && <OurReach />}
      {!short && <LookWarnings warnings={warnings} look={mendLook} />}
    </>
  );
}
