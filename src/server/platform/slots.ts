/** A slot among the requests that are being answered. */
export interface Slot {
  /** Gives the slot up for now, while something else is waited for; returns how to go on. */
  pause(): () => void;
  free(): void;
}

/**
 * Limits the requests that are answered at the same time. One person or place gets only a share of
 * the slots.
 */
export class Slots {
  private all = 0;
  private readonly by = new Map<string, number>();

  /** @param most answers at a time; @param share how many of them for one who asks */
  constructor(
    private readonly most: number,
    private readonly share: number,
  ) {}

  /** @param who who asks: a session, a key, or a network address. Undefined where none is free */
  take(who: string): Slot | undefined {
    if (this.all >= this.most || (this.by.get(who) ?? 0) >= this.share) return undefined;
    this.count(who, 1);
    let held = true;
    const set = (next: boolean) => {
      if (next === held) return;
      held = next;
      this.count(who, next ? 1 : -1);
    };
    let over = false;
    return {
      pause: () => {
        set(false);
        return () => set(!over);
      },
      free: () => {
        over = true;
        set(false);
      },
    };
  }

  private count(who: string, by: number): void {
    this.all += by;
    const now = (this.by.get(who) ?? 0) + by;
    if (now === 0) this.by.delete(who);
    else this.by.set(who, now);
  }
}

const held = new WeakMap<Request, Slot>();

/** Ties a slot to the request that it was taken for. */
export const holdSlot = (request: Request, slot: Slot): void => void held.set(request, slot);

/** The slot of a request; undefined if it has none. */
export const slotOf = (request: Request): Slot | undefined => held.get(request);
