import { LRUCache } from 'lru-cache';
import pLimit from 'p-limit';
import { Refusal } from './refusal';

/** How long a new answer that nobody waits for is delayed, in ms. */
const pauseMs = 250;

/**
 * Cached answers that are the same for everybody at the same state. They are calculated once, even
 * if many ask at the same moment, and kept for a while. The key names the state, so no old answer
 * is returned.
 */
export class Memo<V extends object> {
  private readonly of = new WeakMap<object, LRUCache<string, Promise<V>>>();
  private readonly last = new WeakMap<object, LRUCache<string, V>>();

  /** @param most answers held; @param ms how long each is */
  constructor(
    private readonly most: number,
    private readonly ms: number,
  ) {}

  /** Whether an answer is held, or being worked out. */
  has(db: object, name: string): boolean {
    return this.of.get(db)?.has(name) ?? false;
  }

  /** @param db the database that is asked; each has answers of its own */
  get(db: object, name: string, workOut: () => Promise<V>): Promise<V> {
    let held = this.of.get(db);
    if (!held) this.of.set(db, (held = new LRUCache({ max: this.most, ttl: this.ms })));
    const known = held.get(name);
    if (known) return known;
    const fresh = workOut();
    held.set(name, fresh);
    fresh.catch(() => held.delete(name));
    return fresh;
  }

  /**
   * Like `get`, and remembers the last answer about a thing, whatever its state. If that will do
   * for the moment, it is returned at once while the new one is calculated.
   * @param willDo whether the last answer may be returned; only if the caller asks again soon
   */
  async about(
    db: object,
    { thing, name, willDo }: { thing: string; name: string; willDo: (last: V) => boolean },
    workOut: () => Promise<V>,
  ): Promise<V> {
    let last = this.last.get(db);
    if (!last) this.last.set(db, (last = new LRUCache({ max: this.most, ttl: this.ms })));
    const find = async () => {
      const answer = await this.get(db, name, workOut);
      last.set(thing, answer);
      return answer;
    };
    const known = last.get(thing);
    if (known === undefined || !willDo(known)) return find();
    // after the current answer; the next caller learns of a failure
    setTimeout(() => void find().catch(() => undefined), pauseMs).unref();
    return known;
  }
}

/**
 * Limits the heavy questions to the database at a time, so that light ones always find a
 * connection.
 * @param waiting how many may wait; the next one is refused at once and may come again
 */
export function heavy(atATime: number, waiting: number): <T>(work: () => Promise<T>) => Promise<T> {
  const limit = pLimit(atATime);
  return (work) => {
    if (limit.pendingCount >= waiting)
      throw new Refusal('Too many searches are in progress. Try again in a few seconds.', 503);
    return limit(work);
  };
}
