/** What is pressed while a page comes up is kept for it, so that a quick hand loses nothing. */
interface Early {
  /** Something takes keys itself. */
  taken: boolean;
  /** Presses are heard by the page itself. */
  hears?: boolean;
  /** What was pressed last, where that is something to press, and when. */
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

/** How long what was pressed waits for a page that takes it. */
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

/**
 * Says that presses are heard from now on, and presses once more what was pressed before. To be
 * called as soon as the page listens; a press by which it came to listen reaches it by itself.
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
