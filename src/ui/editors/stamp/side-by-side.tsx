'use client';

import { useRef, useState } from 'react';
import { Dialog, DialogTrigger, Heading } from 'react-aria-components';
import { styled } from 'styled-components';
import { contentOf, type Stamp } from '../../../core/payload/stamp';
import {
  levelVariants,
  lookVariants,
  symbologyVariants,
  type Equal,
  type Variant,
} from '../../../core/payload/variants';
import { wears, type WearCurve } from '../../../core/readback/wear';
import type { Values } from '../../../core/records/columns';
import { CodeSvg } from '../../kit/code-picture';
import { ChoicePart, PlainButton, QuietButton, Sentence, Small } from '../../kit/controls';
import { measureWear, useCode } from '../../kit/core-client';
import { Term } from '../../kit/term';
import { Card, Veil } from '../../shell/shortcuts';
import { colour, font } from '../../kit/theme';
import { useKept } from './kept';
import { isKeptBack } from '../../shell/verdict';
import { noRealDifference, survivalWords } from './survival';
import { sideBySide as wording } from './words';
import { filled, withParts } from '../../kit/with-parts';

const Sheet = styled(Dialog)`
  outline: none;
  padding: 20px 24px 24px;
  display: grid;
  gap: 12px;
  width: min(1120px, calc(100vw - 80px));
  .scroll {
    overflow: auto;
  }
  table {
    border-collapse: collapse;
    font-size: 13.5px;
  }
  th,
  td {
    text-align: left;
    padding: 5px 22px 5px 0;
    border-bottom: 1px solid ${colour.rule};
    vertical-align: bottom;
    white-space: nowrap;
  }
  th[scope='row'] {
    font-weight: 400;
    color: ${colour.inkSoft};
    position: sticky;
    left: 0;
    background: ${colour.paper};
  }
  th[scope='col'] {
    font-weight: 700;
    white-space: normal;
    max-width: 150px;
    vertical-align: bottom;
  }
  .number {
    font-family: ${font.code};
    font-size: 13px;
  }
  [data-own] {
    color: ${colour.violetDeep};
  }
`;

type Kind = 'levels' | 'symbologies' | 'looks' | 'stamps';

/** Room for the widest code, in px; all are drawn to one scale. */
const widest = 150;

interface Props {
  stamp: Stamp;
  values: Values;
  /** Whose code it is. */
  title: string;
  /** The stamps of the list, if there are several. */
  stamps?: readonly Stamp[];
  onUse: (stamp: Stamp) => void;
}

/**
 * Opens the variants of a code side by side: levels, symbologies, looks or stamps on this very
 * payload.
 */
export function SideBySide(props: Props) {
  return (
    <DialogTrigger>
      <QuietButton looks>{wording.sideBySide}</QuietButton>
      <Veil isDismissable>
        <Card>
          <Sheet>{({ close }) => <Variants {...props} close={close} />}</Sheet>
        </Card>
      </Veil>
    </DialogTrigger>
  );
}

function Variants({
  stamp,
  values,
  title,
  stamps = [],
  onUse,
  close,
}: Props & { close: () => void }) {
  const keptBack = isKeptBack(stamp, values);
  const content = contentOf(stamp, values);
  const payload = content.state === 'said' && !keptBack ? content.payload : '';
  const { kept } = useKept('look');
  const hasLevels = payload !== '' && levelVariants(stamp, payload, 'size').length > 0;
  const [kind, setKind] = useState<Kind>(hasLevels ? 'levels' : 'symbologies');
  const [equal, setEqual] = useState<Equal>('module');
  const variants: Variant[] =
    payload === ''
      ? []
      : kind === 'levels'
        ? levelVariants(stamp, payload, equal)
        : kind === 'symbologies'
          ? symbologyVariants(stamp, payload, equal)
          : kind === 'looks'
            ? lookVariants(stamp, payload, equal, kept)
            : stamps.map((s) => ({ name: s.name, stamp: s }));
  const wear = useWear(variants, values);
  return (
    <>
      <div
        style={{ display: 'flex', justifyContent: 'space-between', alignItems: 'start', gap: 20 }}
      >
        <div>
          <Heading slot="title" level={2}>
            {withParts(wording.sideBySideFor, title)}
          </Heading>
          <Sentence $minor>
            {withParts(
              wording.compareAllAreDrawn,
              <ChoicePart
                looks
                label={wording.whatIsCompared}
                value={kind}
                onChange={setKind}
                choices={[
                  ...(hasLevels ? [{ id: 'levels' as const, name: wording.theFourLevelsOf }] : []),
                  { id: 'symbologies', name: wording.theCodeTypesThat },
                  { id: 'looks', name: wording.thisLookThePlainest },
                  ...(stamps.length > 1
                    ? [{ id: 'stamps' as const, name: wording.theStampsOfThis }]
                    : []),
                ]}
              />,
              kind !== 'stamps' &&
                withParts(
                  wording.at,
                  <ChoicePart
                    looks
                    label={wording.sameSizeOf}
                    value={equal}
                    onChange={setEqual}
                    choices={[
                      {
                        id: 'module',
                        name: wording.sameSizeOfSquares,
                        about: wording.eachHasSquaresAs,
                      },
                      {
                        id: 'size',
                        name: wording.sameTotalSize,
                        about: wording.eachIsAsLarge,
                      },
                    ]}
                  />,
                ),
              <Term of="level">level</Term>,
              <Term of="wearTest">wear test</Term>,
            )}
          </Sentence>
        </div>
        <PlainButton looks onPress={close} style={{ margin: '-4px -10px 0 0' }}>
          {wording.close}
        </PlainButton>
      </div>
      {variants.length === 0 ? (
        <Small>{keptBack ? wording.thisCodeContainsA : wording.thereIsNoCode}</Small>
      ) : (
        <VariantTable
          variants={variants}
          values={values}
          own={stamp}
          curves={wear.curves}
          onUse={kind === 'stamps' ? undefined : (s) => (onUse(s), close())}
        />
      )}
      <div style={{ display: 'flex', gap: 12, alignItems: 'baseline' }}>
        {wear.busy ? (
          <>
            <QuietButton looks onPress={wear.stop}>
              {wording.stop}
            </QuietButton>
            <Small role="status">{withParts(wording.measuring, wear.busy)}</Small>
          </>
        ) : (
          <QuietButton looks onPress={() => void wear.run()} isDisabled={variants.length === 0}>
            {wear.curves ? wording.runTheWearTest : wording.runTheWearTest2}
          </QuietButton>
        )}
        <Small>{wording.eachVariantWasRead}</Small>
      </div>
    </>
  );
}

function VariantTable({
  variants,
  values,
  own: inUse,
  curves,
  onUse,
}: {
  variants: readonly Variant[];
  values: Values;
  own: Stamp;
  curves: Curves | undefined;
  /** Undefined if the variants are different stamps, not one stamp in several ways. */
  onUse: ((stamp: Stamp) => void) | undefined;
}) {
  const [widths, setWidths] = useState<Record<string, number>>({});
  const largest = Math.max(
    1,
    ...variants.map((v) => widths[JSON.stringify(v.stamp)] ?? v.stamp.look.sizeMm),
  );
  const seen = (stamp: Stamp, mm: number) =>
    setWidths((now) =>
      now[JSON.stringify(stamp)] === mm ? now : { ...now, [JSON.stringify(stamp)]: mm },
    );
  const isOwn = ({ stamp: s, name }: Variant) =>
    s.symbology === inUse.symbology &&
    s.level === inUse.level &&
    s.id === inUse.id &&
    name !== 'plain black squares' &&
    s.look.foreground === inUse.look.foreground;
  const own = variants.findIndex(isOwn);
  return (
    <div className="scroll" tabIndex={0} role="group" aria-label={wording.variants}>
      <table>
        <thead>
          <tr>
            <td />
            {variants.map((v, i) => (
              <th key={i} scope="col" data-own={isOwn(v) || undefined}>
                {v.name}
                {isOwn(v) && <Small as="span">{wording.asItIs}</Small>}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          <tr>
            <th scope="row">{wording.drawn}</th>
            {variants.map((v, i) => (
              <td key={i}>
                <Drawn variant={v} values={values} pxPerMm={widest / largest} onSeen={seen} />
              </td>
            ))}
          </tr>
          <Numbers variants={variants} values={values} />
          {curves &&
            wears
              .filter((wear) => curves[wear.id])
              .map((wear) => (
                <tr key={wear.id}>
                  <th scope="row">{wear.id === 'distance' ? wording.readsToAbout : wear.name}</th>
                  {variants.map((_, i) => (
                    <td key={i} className="number">
                      {i in curves[wear.id]! ? survivalWords(wear, curves[wear.id]![i]) : '…'}
                      {own >= 0 &&
                        i !== own &&
                        noRealDifference(wear, [curves[wear.id]![own], curves[wear.id]![i]]) && (
                          <Small as="span" style={{ display: 'block' }}>
                            {wording.noRealDifference}
                          </Small>
                        )}
                    </td>
                  ))}
                </tr>
              ))}
          {onUse && (
            <tr>
              <td style={{ borderBottom: 0 }} />
              {variants.map((v, i) => (
                <td key={i} style={{ borderBottom: 0, paddingTop: 9 }}>
                  <QuietButton onPress={() => onUse(v.stamp)}>{wording.useThis}</QuietButton>
                </td>
              ))}
            </tr>
          )}
        </tbody>
      </table>
    </div>
  );
}

function Drawn({
  variant,
  values,
  pxPerMm,
  onSeen,
}: {
  variant: Variant;
  values: Values;
  pxPerMm: number;
  onSeen: (stamp: Stamp, widthMm: number) => void;
}) {
  const code = useCode(variant.stamp, values);
  const width = code?.widthMm;
  const seen = useRef(0);
  if (width !== undefined && seen.current !== width) {
    seen.current = width;
    queueMicrotask(() => onSeen(variant.stamp, width));
  }
  return code ? (
    <CodeSvg code={code} size={code.widthMm * pxPerMm} label={variant.name} />
  ) : (
    <Small>{wording.drawing}</Small>
  );
}

function Numbers({ variants, values }: { variants: readonly Variant[]; values: Values }) {
  const rows = [
    ['size', (c: Code) => filled(wording.mm, c.widthMm.toFixed(1), c.heightMm.toFixed(1))],
    [
      'module',
      (c: Code) =>
        filled(
          wording.mmDots,
          c.moduleMm.toFixed(3),
          Number.isInteger(c.dots) ? c.dots : c.dots.toFixed(1),
        ),
    ],
    ['symbol', (c: Code, s: Stamp) => factWords(c, s)],
  ] as const;
  return rows.map(([name, say]) => (
    <tr key={name}>
      <th scope="row">{name}</th>
      {variants.map((v, i) => (
        <NumberCell key={i} stamp={v.stamp} values={values} say={say} />
      ))}
    </tr>
  ));
}

type Code = NonNullable<ReturnType<typeof useCode>>;

function NumberCell({
  stamp,
  values,
  say,
}: {
  stamp: Stamp;
  values: Values;
  say: (code: Code, stamp: Stamp) => string;
}) {
  const code = useCode(stamp, values);
  return <td className="number">{code ? say(code, stamp) : ''}</td>;
}

/** A higher level that costs no room is used in place of the chosen one. */
const factWords = ({ facts, symbolColumns }: Code, { level }: Stamp): string =>
  [
    facts.version !== undefined && filled(wording.version, facts.version),
    facts.level !== undefined &&
      filled(wording.level2, facts.level, facts.level === level ? '' : wording.forFree),
  ]
    .filter(Boolean)
    .join(', ') || filled(wording.modules, Math.round(symbolColumns));

type Curves = Record<string, (WearCurve | undefined)[]>;

/** Measures what all variants survive, one kind of wear after the other; results show at once. */
function useWear(variants: readonly Variant[], values: Values) {
  const [known, setKnown] = useState<{ key: string; curves: Curves }>();
  const [busy, setBusy] = useState<string>();
  const stopped = useRef(false);
  const key = JSON.stringify([variants, values]);
  const run = async () => {
    stopped.current = false;
    const curves: Curves = {};
    for (const wear of wears) {
      setBusy(wear.name);
      curves[wear.id] = [];
      for (const { stamp } of variants) {
        if (stopped.current) return setBusy(undefined);
        curves[wear.id]!.push(await measureWear(stamp, values, wear.id));
        setKnown({ key, curves: { ...curves, [wear.id]: [...curves[wear.id]!] } });
      }
    }
    setBusy(undefined);
  };
  return {
    curves: known?.key === key ? known.curves : undefined,
    busy,
    run,
    stop: () => (stopped.current = true),
  };
}
