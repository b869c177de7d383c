'use client';

import { useEffect, useLayoutEffect, useRef, type RefObject } from 'react';
import { takeKeys } from '../../kit/early-hands';
import { useKeysOn } from '../../kit/key-choice';
import { bands, type InHand, type JobScreenState } from './context';

/**
 * The keys of a job's screen, everywhere but where something is typed. Shown in the sheet that `?`
 * opens.
 */
export function useKeys(
  state: JobScreenState & InHand,
  search: RefObject<HTMLInputElement | null>,
): void {
  const heard = useRef<(event: KeyboardEvent) => void>(undefined);
  const single = useKeysOn();
  useLayoutEffect(() => {
    heard.current = (event: KeyboardEvent) => {
      const target = event.target as HTMLElement;
      // a box that was just ticked has the focus, and nothing is typed into it
      if (
        target.closest(
          'input:not([type=checkbox]), textarea, select, [role=dialog], [role=listbox]',
        )
      )
        return;
      const key = event.key;
      const letter = /^[a-z0-9/]$/i.test(key);
      // with Shift or Caps Lock, the key is a capital
      if ((event.ctrlKey || event.metaKey) && /^[zy]$/i.test(key))
        state.step(/y/i.test(key) || event.shiftKey ? 'redo' : 'undo');
      else if (event.ctrlKey || event.metaKey || (event.altKey ? !letter : letter && !single))
        return;
      else if (key === 'ArrowDown') state.setHand(state.hand + 1);
      else if (key === 'ArrowUp') state.setHand(state.hand - 1);
      else if (key === 'PageDown') state.setHand(state.hand + 12);
      else if (key === 'PageUp') state.setHand(state.hand - 12);
      else if (key === 'Home') state.setHand(0);
      else if (key === 'End') state.setHand(state.total - 1);
      else if (/^[1-4]$/.test(key)) state.openBand(bands[Number(key) - 1]!);
      else if (key === ' ' && !target.closest('button, a, input, [role=button]')) state.openLoupe();
      else if (key === 't' && state.handRow)
        state.tick([state.handRow.id], !state.ticked.has(state.handRow.id));
      else if (key === 's') state.foldSentence();
      else if (key === '/') search.current?.focus();
      else return;
      event.preventDefault();
    };
  });
  useEffect(() => {
    const listen = (event: KeyboardEvent) => heard.current?.(event);
    window.addEventListener('keydown', listen);
    const leave = takeKeys(listen);
    return () => {
      window.removeEventListener('keydown', listen);
      leave();
    };
  }, []);
}
