'use client';

import { scaleBand, scaleLinear } from 'd3-scale';
import { counted } from '../../../core/base/words';
import { colour, font } from '../../kit/theme';
import { shortDay } from './words';
import { charts as wording } from './words';
import { filled } from '../../kit/with-parts';

/** Scans on each of the last 14 days, as bars without an axis: high and low at a glance. */
export function Spark({ days }: { days: readonly number[] }) {
  const most = Math.max(...days);
  const [width, height] = [116, 20];
  const x = scaleBand(
    days.map((_, i) => i),
    [0, width],
  ).paddingInner(0.25);
  const y = scaleLinear([0, most], [0, height]);
  return (
    <svg width={width} height={height} aria-hidden style={{ display: 'block' }}>
      {most > 0 &&
        days.map(
          (n, i) =>
            n > 0 && (
              <rect
                key={i}
                x={x(i)}
                width={x.bandwidth()}
                y={height - Math.max(1.5, y(n))}
                height={Math.max(1.5, y(n))}
                fill={colour.violet}
              />
            ),
        )}
    </svg>
  );
}

const axis = { font: `400 11px/1 ${font.code}`, fill: colour.inkSoft };

/** Scans by people per day, with the days below and the most of a day next to its line. */
export function DailyChart({ days }: { days: readonly { day: string; scans: number }[] }) {
  const [width, height, top, bottom] = [440, 110, 16, 16];
  const most = Math.max(1, ...days.map((d) => d.scans));
  const x = scaleBand(
    days.map((d) => d.day),
    [0, width],
  ).paddingInner(days.length > 30 ? 0.2 : 0.4);
  const y = scaleLinear([0, most], [height - bottom, top]);
  const middle = Math.round(most / 2);
  return (
    <svg
      width={width}
      height={height}
      role="img"
      aria-label={filled(
        wording.scansADayFrom,
        shortDay(days[0]!.day),
        shortDay(days.at(-1)!.day),
        counted(
          days.reduce((sum, d) => sum + d.scans, 0),
          'scan',
        ),
        counted(most, wording.onTheBestDay, wording.onTheBestDay),
      )}
      style={{ display: 'block', maxWidth: '100%' }}
    >
      {[...new Set([most, middle])]
        .filter((n) => n > 0)
        .map((n) => (
          <g key={n}>
            <line x2={width} y1={y(n)} y2={y(n)} stroke={colour.rule} />
            <text x={width} y={y(n) - 4} textAnchor="end" style={axis}>
              {n.toLocaleString('en')}
            </text>
          </g>
        ))}
      {days.map(({ day, scans }) => (
        <rect
          key={day}
          x={x(day)}
          width={x.bandwidth()}
          y={y(scans)}
          height={height - bottom - y(scans)}
          fill={colour.violet}
        >
          <title>
            {shortDay(day)}: {counted(scans, 'scan')}
          </title>
        </rect>
      ))}
      <line x2={width} y1={height - bottom} y2={height - bottom} stroke={colour.inkSoft} />
      <text y={height - 2} style={axis}>
        {shortDay(days[0]!.day)}
      </text>
      <text x={width} y={height - 2} textAnchor="end" style={axis}>
        {shortDay(days.at(-1)!.day)}
      </text>
    </svg>
  );
}

const weekdays = [
  wording.mon,
  wording.tue,
  wording.wed,
  wording.thu,
  wording.fri,
  wording.sat,
  wording.sun,
];

/** Scans by weekday and hour: the larger the dot, the more of them. */
export function WeekChart({ hours }: { hours: readonly (readonly number[])[] }) {
  const [cell, left, top] = [16.5, 34, 2];
  const most = Math.max(1, ...hours.flat());
  const r = scaleLinear([0, Math.sqrt(most)], [0, 7]);
  const busiest = hours
    .flatMap((row, day) => row.map((n, hour) => ({ n, day, hour })))
    .reduce((a, b) => (b.n > a.n ? b : a));
  return (
    <svg
      width={left + 24 * cell + 4}
      height={top + 7 * 14 + 16}
      role="img"
      aria-label={filled(
        wording.scansByWeekdayAnd,
        weekdays[busiest.day],
        busiest.hour,
        busiest.hour + 1,
      )}
      style={{ display: 'block', maxWidth: '100%' }}
    >
      {hours.map((row, day) => (
        <g key={day} transform={`translate(0 ${top + day * 14 + 7})`}>
          <text y={4} style={axis}>
            {weekdays[day]}
          </text>
          <line x1={left} x2={left + 24 * cell} stroke={colour.rule} />
          {row.map(
            (n, hour) =>
              n > 0 && (
                <circle
                  key={hour}
                  cx={left + (hour + 0.5) * cell}
                  r={Math.max(1.2, r(Math.sqrt(n)))}
                  fill={colour.violet}
                >
                  <title>
                    {weekdays[day]}, {hour} to {hour + 1} o’clock: {counted(n, 'scan')}
                  </title>
                </circle>
              ),
          )}
        </g>
      ))}
      {[0, 6, 12, 18].map((hour) => (
        <text
          key={hour}
          x={left + (hour + 0.5) * cell}
          y={top + 7 * 14 + 13}
          textAnchor="middle"
          style={axis}
        >
          {hour}
        </text>
      ))}
    </svg>
  );
}
