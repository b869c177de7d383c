/** Keys pressed while a page comes up are kept for it, so that a quick hand loses none. */
interface Early {
  /** Something takes keys itself. */
  taken: boolean;
  keys: {
    key: string;
    at: number;
    shiftKey: boolean;
    ctrlKey: boolean;
    metaKey: boolean;
    altKey: boolean;
  }[];
}

declare global {
  interface Window {
    handStampEarly?: Early;
  }
}

/** Runs before anything else of a page does. */
export const earlyKeysScript = `(() => {
  const early = (window.handStampEarly ??= { taken: false, keys: [] });
  addEventListener('keydown', (e) => {
    if (early.taken || e.defaultPrevented || e.target.closest?.('input, textarea, select, [role=dialog], [role=listbox]')) return;
    early.keys.push({ key: e.key, at: Date.now(), shiftKey: e.shiftKey, ctrlKey: e.ctrlKey, metaKey: e.metaKey, altKey: e.altKey });
    if (early.keys.length > 20) early.keys.shift();
  });
  // what was pressed before something was chosen was not meant for what is chosen
  addEventListener('click', () => void early.keys.splice(0), true);
})()`;

/** How long a key waits for a page that takes it. */
const keptForMs = 10_000;

/**
 * Says that keys are taken from now on, and gives those that were pressed before. Returns how to
 * say that they are no more.
 */
export function takeKeys(hear: (event: KeyboardEvent) => void): () => void {
  const early = (window.handStampEarly ??= { taken: false, keys: [] });
  early.taken = true;
  const waiting = early.keys.splice(0);
  for (const { at, ...key } of waiting)
    if (Date.now() - at < keptForMs) {
      const event = new KeyboardEvent('keydown', { ...key, cancelable: true });
      Object.defineProperty(event, 'target', { value: document.body });
      hear(event);
    }
  return () => {
    early.taken = false;
  };
}
