'use client';

import type { Answer } from '../../../core/checkpoint/answer';
import { colour } from '../../kit/theme';

/** The background of an answer, and the colour of its text. */
export const grounds: Readonly<Record<Answer, { ground: string; ink: string }>> = {
  'comes-in': { ground: colour.ready, ink: colour.paper },
  'was-here': { ground: colour.look, ink: colour.paper },
  'not-now': { ground: colour.violetDeep, ink: colour.paper },
  altered: { ground: colour.failed, ink: colour.paper },
  unknown: { ground: colour.ink, ink: colour.paper },
  withdrawn: { ground: colour.inkSoft, ink: colour.paper },
  'not-certain': { ground: colour.paper, ink: colour.ink },
};

/** The shape of an answer, recognized at arm's length and without colour. */
export function AnswerShape({ answer, size }: { answer: Answer; size: number }) {
  const { ink } = grounds[answer];
  const line = { fill: 'none', stroke: ink, strokeWidth: 9 } as const;
  return (
    <svg width={size} height={size} viewBox="0 0 100 100" aria-hidden style={{ flex: 'none' }}>
      {answer === 'comes-in' && <circle cx="50" cy="50" r="46" fill={ink} />}
      {answer === 'was-here' && <path d="M50 6 96 94H4z" fill={ink} />}
      {answer === 'not-now' && <path d="M22 8h20v84H22zM58 8h20v84H58z" fill={ink} />}
      {answer === 'altered' && (
        <>
          <rect x="9" y="9" width="82" height="82" {...line} />
          <path d="M22 22l56 56M78 22 22 78" {...line} />
        </>
      )}
      {answer === 'unknown' && (
        <rect x="9" y="9" width="82" height="82" {...line} strokeDasharray="19 14" />
      )}
      {answer === 'withdrawn' && <path d="M4 40h92v20H4z" fill={ink} />}
      {answer === 'not-certain' && (
        <>
          <circle cx="50" cy="50" r="41" {...line} />
          <path d="M50 9a41 41 0 0 1 0 82z" fill={ink} />
        </>
      )}
    </svg>
  );
}

/** Notes of an answer's sound: hertz and lengths in seconds, one after the other. */
const tunes: Readonly<Record<Answer, readonly (readonly [hertz: number, seconds: number])[]>> = {
  'comes-in': [
    [660, 0.09],
    [990, 0.16],
  ],
  'was-here': [
    [520, 0.12],
    [0, 0.06],
    [520, 0.12],
  ],
  'not-now': [
    [520, 0.16],
    [390, 0.2],
  ],
  altered: [
    [220, 0.14],
    [0, 0.05],
    [220, 0.14],
    [0, 0.05],
    [220, 0.24],
  ],
  unknown: [[165, 0.42]],
  withdrawn: [
    [390, 0.12],
    [294, 0.12],
    [220, 0.22],
  ],
  'not-certain': [
    [440, 0.1],
    [494, 0.1],
    [440, 0.14],
  ],
};

let sound: AudioContext | undefined;

/**
 * Plays an answer's sound, and shakes a device that can be felt. A browser that does not let it is
 * silent.
 */
export function playAnswer(answer: Answer): void {
  navigator.vibrate?.(answer === 'comes-in' ? 60 : [90, 60, 90]);
  try {
    sound ??= new AudioContext();
    if (sound.state === 'suspended') void sound.resume().catch(() => undefined);
    let at = sound.currentTime + 0.01;
    for (const [hertz, seconds] of tunes[answer]) {
      if (hertz > 0) {
        const tone = sound.createOscillator();
        const loud = sound.createGain();
        tone.type = answer === 'comes-in' ? 'sine' : 'square';
        tone.frequency.value = hertz;
        loud.gain.setValueAtTime(answer === 'comes-in' ? 0.3 : 0.12, at);
        loud.gain.setTargetAtTime(0, at + seconds - 0.02, 0.008);
        tone.connect(loud).connect(sound.destination);
        tone.start(at);
        tone.stop(at + seconds + 0.03);
      }
      at += seconds;
    }
  } catch {
    // no sound here; the word and the shape say it
  }
}
