'use client';

import { scaleLinear } from 'd3-scale';
import { line } from 'd3-shape';
import { useRef, useState } from 'react';
import { styled } from 'styled-components';
import type { Stamp } from '../../../core/payload/stamp';
import { wears, type Wear, type WearCurve } from '../../../core/readback/wear';
import type { Values } from '../../../core/records/columns';
import { QuietButton, Small } from '../../kit/controls';
import { measureWear } from '../../kit/core-client';
import { noRealDifference, survivalWords } from '../../editors/stamp/survival';
import { colour } from '../../kit/theme';
import { wearPanel as wording } from './words';
import { withParts } from '../../kit/with-parts';

export interface Variant {
  name: string;
  stamp: Stamp;
}

const Grid = styled.div`
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(214px, 1fr));
  gap: 14px 22px;
  figure {
    margin: 0;
  }
  figcaption {
    font-size: 13px;
    font-weight: 700;
  }
`;

const size = { width: 214, height: 84, left: 4, bottom: 15, top: 5, right: 6 };
const strokes = [colour.violet, colour.look];

/** What codes survive, measured by reading them again and again; two variants lie in one chart. */
export function WearPanel({ variants, values }: { variants: readonly Variant[]; values: Values }) {
  const [curves, setCurves] = useState<{
    key: string;
    byWear: Record<string, (WearCurve | undefined)[]>;
  }>();
  const [busy, setBusy] = useState<string>();
  const stop = useRef(false);
  const key = JSON.stringify([variants, values]);
  const known = curves?.key === key ? curves.byWear : undefined;
  const run = async () => {
    stop.current = false;
    const byWear: Record<string, (WearCurve | undefined)[]> = {};
    for (const wear of wears) {
      if (stop.current) break;
      setBusy(wear.name);
      byWear[wear.id] = [];
      for (const { stamp } of variants)
        byWear[wear.id]!.push(await measureWear(stamp, values, wear.id));
      setCurves({ key, byWear: { ...byWear } });
    }
    setBusy(undefined);
  };
  return (
    <section aria-label={wording.wearTest}>
      <div style={{ display: 'flex', gap: 12, alignItems: 'baseline', marginBottom: 8 }}>
        <h2>{wording.wearTest}</h2>
        {busy ? (
          <>
            <Small role="status">{withParts(wording.measuring, busy)}</Small>
            <QuietButton looks onPress={() => (stop.current = true)}>
              {wording.stop}
            </QuietButton>
          </>
        ) : (
          <QuietButton looks onPress={() => void run()}>
            {known ? wording.runTheWearTest : wording.runTheWearTest2}
          </QuietButton>
        )}
      </div>
      {known ? (
        <>
          {variants.length > 1 && (
            <p style={{ display: 'flex', gap: 18, fontSize: 13, marginBottom: 6 }}>
              {variants.map((v, i) => (
                <span key={i}>
                  <svg width={22} height={8} aria-hidden>
                    <line
                      x1={0}
                      x2={22}
                      y1={4}
                      y2={4}
                      stroke={strokes[i]}
                      strokeWidth={2}
                      strokeDasharray={i ? '4 3' : undefined}
                    />
                  </svg>{' '}
                  {v.name}
                </span>
              ))}
            </p>
          )}
          <Grid>
            {wears
              .filter((wear) => known[wear.id])
              .map((wear) => (
                <Chart key={wear.id} wear={wear} curves={known[wear.id]!} />
              ))}
          </Grid>
          <Small style={{ marginTop: 8 }}>{wording.eachPointIsA}</Small>
        </>
      ) : (
        !busy && <Small>{wording.thisCodeAndLook}</Small>
      )}
    </section>
  );
}

/** Share of readings against damage. */
function Chart({ wear, curves }: { wear: Wear; curves: readonly (WearCurve | undefined)[] }) {
  const first = wear.amounts[0]!;
  const last = wear.amounts.at(-1)!;
  const x = scaleLinear([first, last], [size.left, size.width - size.right]);
  const y = scaleLinear([0, 1], [size.height - size.bottom, size.top]);
  const path = line<WearCurve['points'][number]>(
    (p) => x(p.amount),
    (p) => y(p.read / p.tried),
  );
  const survives = (curve: WearCurve | undefined) => survivalWords(wear, curve);
  return (
    <figure>
      <figcaption>{wear.name}</figcaption>
      <p style={{ fontSize: 13 }}>
        {withParts(
          wording.reads,
          noRealDifference(wear, curves) && wording.noRealDifference,
          wear.id === 'distance' ? wording.toAbout : wording.upTo,
          curves.map((curve, i) => (
            <span key={i} style={{ color: i ? colour.look : colour.violetDeep, fontWeight: 700 }}>
              {i > 0 && ' and '}
              {survives(curve)}
            </span>
          )),
        )}
      </p>
      <svg
        width={size.width}
        height={size.height}
        role="img"
        aria-label={`${wear.name}: ${curves.map(survives).join(' and ')}`}
      >
        <line
          x1={size.left}
          x2={size.width - size.right}
          y1={y(0)}
          y2={y(0)}
          stroke={colour.ruleStrong}
        />
        <line
          x1={size.left}
          x2={size.width - size.right}
          y1={y(1)}
          y2={y(1)}
          stroke={colour.rule}
        />
        {curves.map(
          (curve, i) =>
            curve && (
              <path
                key={i}
                d={path(curve.points) ?? ''}
                fill="none"
                stroke={strokes[i]}
                strokeWidth={2}
                strokeDasharray={i ? '4 3' : undefined}
                strokeLinejoin="round"
              />
            ),
        )}
        <text x={size.left} y={size.height - 3} fontSize={10.5} fill={colour.inkSoft}>
          {wear.say(first)}
        </text>
        <text
          x={size.width - size.right}
          y={size.height - 3}
          fontSize={10.5}
          fill={colour.inkSoft}
          textAnchor="end"
        >
          {wear.say(last)}
        </text>
      </svg>
    </figure>
  );
}
