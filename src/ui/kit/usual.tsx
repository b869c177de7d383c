'use client';

import { Fragment, useState, useSyncExternalStore, type ReactNode } from 'react';
import { styled } from 'styled-components';
import { useMay } from './me';
import { colour } from './theme';
import { remembered } from './remembered';
import { usual as wording } from './words';

/** A part of a sentence that is folded while it has its usual value. */
export interface Setting {
  /** Different for each part of a sentence. */
  id: string;
  usual: boolean;
  /** What the part says while it is folded: a few words, without a control. */
  words: string;
  /** The part with its control, and the words that lead to it. */
  part: ReactNode;
}

const name = 'hand-stamp usual settings';
const listeners = new Set<() => void>();
const isOpen = (): boolean => remembered.get(name) === 'open';
const setOpen = (open: boolean): void => {
  remembered.set(name, open ? 'open' : 'folded');
  for (const listener of listeners) listener();
};

const Line = styled.span`
  display: block;
  font-size: 13px;
  line-height: 1.7;
  color: ${colour.inkSoft};
  button {
    font: inherit;
    font-weight: 700;
    color: ${colour.violetDeep};
    background: none;
    border: 0;
    border-bottom: 1.5px dotted ${colour.violet};
    padding: 0;
    line-height: 1.2;
    cursor: pointer;
  }
  button:hover {
    background: ${colour.violetWash};
  }
`;
const Words = styled.span<{ $small: boolean }>`
  ${(p) => p.$small && `font-size: 13px; color: ${colour.inkSoft};`}
`;

/**
 * The end of a sentence: the settings with other than usual values, then a line with the usual
 * ones. The line opens them all; this browser remembers the choice, for all sentences.
 *
 * A changed part stays in the sentence until the page is opened again, so that its editor does not
 * move while somebody works in it.
 */
export function UsualSettings({
  parts,
  end = '.',
}: {
  parts: readonly Setting[];
  end?: ReactNode;
}) {
  const open = useSyncExternalStore(
    (listener) => {
      listeners.add(listener);
      return () => listeners.delete(listener);
    },
    isOpen,
    () => false,
  );
  const may = useMay();
  const opened = may && open;
  const [changed, setChanged] = useState<readonly string[]>([]);
  const fresh = parts.filter((p) => !p.usual && !changed.includes(p.id)).map((p) => p.id);
  if (fresh.length > 0) setChanged([...changed, ...fresh]);
  const stays = (p: Setting) => !p.usual || changed.includes(p.id);
  const shown = parts.filter(stays);
  const folded = parts.filter((p) => !stays(p));
  // all of one kind in one list with keys: a part that goes up keeps its open editor
  const put = (p: Setting, before: string, $small: boolean) => (
    <Words key={p.id} $small={$small}>
      {before}
      {p.part}
    </Words>
  );
  return [
    ...shown.map((p) => put(p, ', ', false)),
    <Fragment key=".">{end}</Fragment>,
    folded.length > 0 && (
      <Line key="line">
        {shown.length > 0 ? wording.otherwiseWithThe : wording.withThe}
        {may ? (
          <button type="button" aria-expanded={open} onClick={() => setOpen(!open)}>
            {wording.usualSettings}
          </button>
        ) : (
          wording.usualSettings
        )}
        {opened ? ' ▾' : `: ${folded.map((p) => p.words).join(', ')}${may ? ' ▸' : ''}`}
      </Line>
    ),
    ...(opened ? folded.map((p, i) => put(p, i > 0 ? ', ' : '', true)) : []),
  ];
}
