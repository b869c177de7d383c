import { colour } from './theme';
import { mark as wording } from './words';

export type MarkName = 'ready' | 'look' | 'out' | 'failed' | 'none';

export const markWords: Record<MarkName, string> = {
  ready: 'ready',
  look: wording.needsALook,
  out: wording.leftOut,
  failed: 'failed',
  none: wording.notRunYet,
};

/**
 * The four marks (and the empty ring): a filled disc, a triangle, a dash, a crossed square. Never
 * colour alone.
 */
export function Mark({ name, label, size = 9 }: { name: MarkName; label?: string; size?: number }) {
  return (
    <svg
      width={size}
      height={size}
      viewBox="0 0 10 10"
      role={label ? 'img' : undefined}
      aria-label={label}
      aria-hidden={label ? undefined : true}
      style={{ flex: 'none' }}
    >
      {name === 'ready' && <circle cx="5" cy="5" r="4.3" fill={colour.ready} />}
      {name === 'look' && <path d="M5 0.4 9.8 9.4H0.2z" fill={colour.look} />}
      {name === 'out' && <path d="M0 4h10v2.2H0z" fill={colour.out} />}
      {name === 'failed' && (
        <>
          <rect
            x="0.8"
            y="0.8"
            width="8.4"
            height="8.4"
            fill="none"
            stroke={colour.failed}
            strokeWidth="1.5"
          />
          <path d="M2.4 2.4l5.2 5.2M7.6 2.4 2.4 7.6" stroke={colour.failed} strokeWidth="1.5" />
        </>
      )}
      {name === 'none' && (
        <circle cx="5" cy="5" r="3.9" fill="none" stroke={colour.ruleStrong} strokeWidth="1.1" />
      )}
    </svg>
  );
}
