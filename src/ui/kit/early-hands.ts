/** Keeps keys and presses while a page loads, so that a quick hand loses nothing. */
interface Early {
  /** Something takes keys itself. */
  taken: boolean;
  /** Presses are heard by the page itself. */
  hears?: boolean;
  /** The element that was pressed last, if it is one to press, and when. */
  pressed?: { target: HTMLElement; at: number; event: Event };
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
export const earlyHandsScript = `(() => {
  const early = (window.handStampEarly ??= { taken: false, keys: [] });
  addEventListener('keydown', (e) => {
    if (early.taken || e.defaultPrevented || e.target.closest?.('input, textarea, select, [role=dialog], [role=listbox]')) return;
    early.keys.push({ key: e.key, at: Date.now(), shiftKey: e.shiftKey, ctrlKey: e.ctrlKey, metaKey: e.metaKey, altKey: e.altKey });
    if (early.keys.length > 20) early.keys.shift();
  });
  addEventListener('click', (e) => {
    // what was pressed before something was chosen was not meant for what is chosen
    early.keys.splice(0);
    if (early.hears || !e.isTrusted) return;
    // who presses elsewhere means that no more
    const target = e.target.closest?.('button, [role=button]');
    early.pressed = target ? { target, at: Date.now(), event: e } : undefined;
  }, true);
})()`;

/** How long a press waits for a page that handles it. */
const keptForMs = 10_000;

/**
 * Declares that keys are handled from now on, and returns those that were pressed before. The
 * returned function ends it.
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

/**
 * Declares that presses are handled from now on, and repeats what was pressed before. Call it as
 * soon as the page listens; a press that made it listen arrives by itself.
 */
export function takePresses(): void {
  const early = (window.handStampEarly ??= { taken: false, keys: [] });
  const { pressed } = early;
  early.hears = true;
  delete early.pressed;
  if (!pressed || pressed.event === window.event || Date.now() - pressed.at > keptForMs) return;
  setTimeout(() => {
    if (pressed.target.isConnected) pressed.target.click();
  });
}
