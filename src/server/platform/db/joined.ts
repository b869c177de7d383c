import type { Database } from './index';

/**
 * A database whose transactions join the current one, so that all work of a handler is committed
 * together or not at all. An error ends the whole transaction, even if it is caught.
 */
export function joined(tx: Database): Database {
  const own: Database = new Proxy(tx, {
    get(target, name) {
      if (name === 'transaction') return () => begun;
      const value: unknown = Reflect.get(target, name, target);
      return typeof value === 'function' ? (value.bind(target) as unknown) : value;
    },
  });
  const begun = {
    setIsolationLevel: () => begun,
    setAccessMode: () => begun,
    execute: <T>(work: (tx: Database) => Promise<T>): Promise<T> => work(own),
  };
  return own;
}
