'use client';

import { useEffect, useRef } from 'react';

/**
 * When what had the focus goes away (an editor, a cell that was typed into, a button that did its
 * work), the focus goes to the records and not to the page, where keys would mean nothing.
 */
export function useFocusHome() {
  const page = useRef<HTMLElement>(null);
  useEffect(() => {
    const element = page.current;
    if (!element) return;
    // a page that comes up has had no focus yet, and none is taken from it
    let had = false;
    const entered = () => {
      had = true;
    };
    const left = () =>
      // anything that takes the focus on purpose has done so by then
      requestAnimationFrame(() => {
        if (!had || (document.activeElement !== null && document.activeElement !== document.body))
          return;
        if (document.querySelector('[role=dialog]')) return;
        element.querySelector<HTMLElement>('[role=grid]')?.focus({ preventScroll: true });
      });
    document.addEventListener('focusin', entered);
    element.addEventListener('focusout', left);
    const observer = new MutationObserver(left);
    observer.observe(document.body, { childList: true });
    return () => {
      document.removeEventListener('focusin', entered);
      element.removeEventListener('focusout', left);
      observer.disconnect();
    };
  }, []);
  return page;
}
