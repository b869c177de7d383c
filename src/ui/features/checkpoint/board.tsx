'use client';

import { scaleBand, scaleLinear } from 'd3-scale';
import { styled } from 'styled-components';
import type { Board, TapeLine } from '../../../contract';
import { counted } from '../../../core/base/words';
import { Mark } from '../../kit/mark';
import { colour, font } from '../../kit/theme';
import { atClock, atShort, lineNotes, lineWords, markOf } from './words';
import { board as wording } from './words';
import { filled } from '../../kit/with-parts';

const axis = { font: `400 11px/1 ${font.code}`, fill: colour.inkSoft };

/**
 * Arrivals over time, as bars of equal spans, with the first and the last time below and the most
 * in a span above.
 */
export function Arrivals({ arrivals }: { arrivals: Board['arrivals'] }) {
  const { counts, from, span } = arrivals;
  const [width, height, top, bottom] = [380, 124, 16, 17];
  if (counts.length === 0) return null;
  const most = Math.max(...counts);
  const x = scaleBand(
    counts.map((_, i) => i),
    [0, width],
  ).paddingInner(0.28);
  const y = scaleLinear([0, most], [height - bottom, top]);
  const start = Date.parse(from);
  const at = (i: number) => atShort(start + i * span * 60_000);
  const best = counts.indexOf(most);
  return (
    <svg
      viewBox={`0 0 ${width} ${height}`}
      role="img"
      aria-label={filled(wording.arrivalsFromToThe, at(0), at(counts.length), most, at(best))}
      style={{ display: 'block', width: '100%' }}
    >
      {counts.map((n, i) => (
        <rect
          key={i}
          x={x(i)}
          width={Math.min(x.bandwidth(), 34)}
          y={y(n)}
          height={height - bottom - y(n)}
          fill={colour.violet}
        >
          <title>
            {at(i)}: {counted(n, wording.letIn, wording.letIn)}
          </title>
        </rect>
      ))}
      <text x={x(best)} y={y(most) - 4} style={axis}>
        {most}
      </text>
      <line x2={width} y1={height - bottom} y2={height - bottom} stroke={colour.inkSoft} />
      <text y={height - 3} style={axis}>
        {at(0)}
      </text>
      <text x={width} y={height - 3} textAnchor="end" style={axis}>
        {at(counts.length)}
      </text>
    </svg>
  );
}

const Paper = styled.div`
  background: ${colour.paper};
  border: 1px solid ${colour.ruleStrong};
  border-bottom: none;
  padding: 12px 16px 22px;
  position: relative;
  &::after {
    content: '';
    position: absolute;
    left: -1px;
    right: -1px;
    bottom: -1px;
    height: 9px;
    background:
      linear-gradient(45deg, ${colour.groundDeep} 6.3px, transparent 0) 0 0 / 12.6px 9px,
      linear-gradient(-45deg, ${colour.groundDeep} 6.3px, transparent 0) 0 0 / 12.6px 9px;
  }
  h2 {
    font: 700 15px/1.4 ${font.title};
    margin-bottom: 4px;
  }
  ol {
    list-style: none;
    margin: 0;
    padding: 0;
  }
  li {
    border-bottom: 1px solid ${colour.rule};
    padding: 7px 0;
  }
  .one {
    display: grid;
    grid-template-columns: 68px 12px minmax(0, 1fr) auto;
    gap: 6px;
    align-items: baseline;
  }
  .at {
    font: 400 13px/1.3 ${font.code};
    color: ${colour.inkSoft};
  }
  .name {
    overflow: hidden;
    text-overflow: ellipsis;
    white-space: nowrap;
  }
  .what {
    font-size: 12.5px;
    color: ${colour.inkSoft};
    text-align: right;
  }
  .note {
    margin: 2px 0 0 92px;
    font-size: 12px;
    color: ${colour.inkSoft};
    overflow-wrap: anywhere;
  }
  .back .name {
    text-decoration: line-through;
  }
`;

/** The strip of paper on which every scan prints a line. */
export function Tape({
  lines,
  onLine,
}: {
  lines: readonly TapeLine[];
  /** The actions of a line. */
  onLine?: (line: TapeLine) => React.ReactNode;
}) {
  return (
    <Paper>
      <h2>{wording.tape}</h2>
      {lines.length === 0 ? (
        <p style={{ color: colour.inkSoft, padding: '6px 0' }}>{wording.nothingWasScannedYet}</p>
      ) : (
        <ol aria-label={wording.scansTheLatestFirst}>
          {lines.map((line) => {
            const notes = lineNotes(line);
            return (
              <li key={line.id} className={line.back ? 'back' : undefined}>
                <div className="one">
                  <span className="at" suppressHydrationWarning>
                    {atClock(line.at)}
                  </span>
                  <Mark name={markOf[line.answer]} />
                  <span className="name">{line.title || wording.notOnTheList}</span>
                  <span className="what">{lineWords(line)}</span>
                </div>
                <div className="note">
                  {[line.who, notes].filter(Boolean).join(' · ')}
                  {onLine?.(line)}
                </div>
              </li>
            );
          })}
        </ol>
      )}
    </Paper>
  );
}
