'use client';

import { useEffect, useRef } from 'react';

/**
 * When the focused element disappears (an editor, a cell that was typed into, a button that did its
 * work), the focus moves to the records and not to the page, where keys would do nothing.
 */
export function useFocusHome() {
  const page = useRef<HTMLElement>(null);
  useEffect(() => {
    const element = page.current;
    if (!element) return;
    // a page that has just loaded has no focus yet, and none is moved
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
