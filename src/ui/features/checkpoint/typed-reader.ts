'use client';

import { useEffect, useRef } from 'react';

/**
 * Longest pause between two characters of a scanner, in ms. In a field a scanner is told from
 * typing by its speed; elsewhere on the page nobody types, so a busy computer may be slow.
 */
const gaps = { field: 40, page: 400 };
/** How long to wait after the last character of a scanner without an end character, in ms. */
const after = { field: 160, page: 450 };
/** So many quick characters make it a scanner. */
const enough = 3;

interface Burst {
  text: string;
  last: number;
  /**
   * The field that received characters before the scanner was recognized, and its earlier value.
   */
  field?: HTMLInputElement | HTMLTextAreaElement;
  before?: string;
  timer?: ReturnType<typeof setTimeout>;
}

/** Sets the value of a field so that its React component notices. */
function restore(field: HTMLInputElement | HTMLTextAreaElement, text: string): void {
  const kind = field instanceof HTMLTextAreaElement ? HTMLTextAreaElement : HTMLInputElement;
  Object.getOwnPropertyDescriptor(kind.prototype, 'value')?.set?.call(field, text);
  field.dispatchEvent(new Event('input', { bubbles: true }));
}

/**
 * Recognizes a hand-held scanner that types, wherever the focus is: faster than any typing, until
 * Enter, Tab or a pause. Its characters are removed from the field.
 */
export function useTypedReader(onScan: (text: string) => void): void {
  const hear = useRef(onScan);
  useEffect(() => {
    hear.current = onScan;
  }, [onScan]);
  useEffect(() => {
    let burst: Burst | undefined;
    const end = (entered: boolean) => {
      const whole = burst;
      burst = undefined;
      if (!whole) return false;
      clearTimeout(whole.timer);
      if (whole.text.length < enough + (entered ? 0 : 1)) return false;
      if (whole.field && whole.before !== undefined && whole.field.value !== whole.before)
        restore(whole.field, whole.before);
      hear.current(whole.text);
      return true;
    };
    const down = (event: KeyboardEvent) => {
      const at = event.timeStamp;
      const goesOn = burst !== undefined && at - burst.last <= gaps[burst.field ? 'field' : 'page'];
      if (event.key === 'Enter' || event.key === 'Tab') {
        if (goesOn && end(true)) {
          event.preventDefault();
          event.stopPropagation();
        } else burst = undefined;
        return;
      }
      // modifier keys are not characters
      if (['Shift', 'Control', 'Alt', 'AltGraph', 'CapsLock'].includes(event.key)) return;
      // the group separator of GS1 codes, as readers type it
      const sign = event.ctrlKey && event.key === ']' ? '\u001d' : event.key;
      if (
        sign.length !== 1 ||
        (event.ctrlKey && sign !== '\u001d') ||
        event.altKey ||
        event.metaKey
      ) {
        burst = undefined;
        return;
      }
      if (!goesOn) {
        const field = document.activeElement;
        burst =
          field instanceof HTMLInputElement || field instanceof HTMLTextAreaElement
            ? { text: '', last: at, field, before: field.value }
            : { text: '', last: at };
      }
      const now = burst!;
      now.text += sign;
      now.last = at;
      if (now.text.length >= enough) {
        event.preventDefault();
        event.stopPropagation();
        if (now.field && now.before !== undefined && now.field.value !== now.before)
          restore(now.field, now.before);
      }
      clearTimeout(now.timer);
      now.timer = setTimeout(() => end(false), after[now.field ? 'field' : 'page']);
    };
    window.addEventListener('keydown', down, { capture: true });
    return () => {
      clearTimeout(burst?.timer);
      window.removeEventListener('keydown', down, { capture: true });
    };
  }, []);
}
