import { LRUCache } from 'lru-cache';
import pLimit from 'p-limit';
import { Refusal } from './refusal';

/** How long a new answer waits that nobody waits for, in ms. */
const pauseMs = 250;

/**
 * Answers that are the same for everybody who asks the same of the same state: worked out once,
 * also when many ask at the same moment, and held for a while. What is asked names the state it is
 * asked of, so that no old answer is given.
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
   * As `get`, and keeps in mind what was answered last about a thing, whatever its state was. Where
   * that will do for the moment it is answered at once, while the new answer is worked out.
   * @param willDo whether the last answer may stand in; only where someone asks again soon
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
    // after what is being answered just now; whoever asks next is told of a failure
    setTimeout(() => void find().catch(() => undefined), pauseMs).unref();
    return known;
  }
}

/**
 * Lets only some of the heavy questions be asked of the database at a time, so that light ones
 * always find a connection.
 * @param waiting how many may wait for their turn; whoever comes then is told at once to come again
 */
export function heavy(atATime: number, waiting: number): <T>(work: () => Promise<T>) => Promise<T> {
  const limit = pLimit(atATime);
  return (work) => {
    if (limit.pendingCount >= waiting)
      throw new Refusal('Too many searches are in progress. Try again in a few seconds.', 503);
    return limit(work);
  };
}
