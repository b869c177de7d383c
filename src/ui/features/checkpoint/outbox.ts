import { openDB, type DBSchema, type IDBPDatabase } from 'idb';
import type { ScanGiven } from '../../../contract';
import type { Pack } from '../../../core/checkpoint/offline';

interface Held extends DBSchema {
  scans: {
    key: string;
    value: { checkpoint: number; scan: ScanGiven };
    indexes: { checkpoint: number };
  };
  packs: { key: number; value: Pack };
}

let opened: Promise<IDBPDatabase<Held>> | undefined;
const held = () =>
  (opened ??= openDB<Held>('hand-stamp-device', 1, {
    upgrade(db) {
      db.createObjectStore('scans', { keyPath: 'scan.key' }).createIndex(
        'checkpoint',
        'checkpoint',
      );
      db.createObjectStore('packs');
    },
  }));

/** Keeps a scan until it is handed over. */
export async function keepScan(checkpoint: number, scan: ScanGiven): Promise<void> {
  await (await held()).put('scans', { checkpoint, scan });
}
export async function waitingScans(checkpoint: number): Promise<ScanGiven[]> {
  const rows = await (await held()).getAllFromIndex('scans', 'checkpoint', checkpoint);
  return rows.map((row) => row.scan).sort((a, b) => (a.apart?.at ?? 0) - (b.apart?.at ?? 0));
}
export async function forgetScans(keys: readonly string[]): Promise<void> {
  const tx = (await held()).transaction('scans', 'readwrite');
  await Promise.all([...keys.map((key) => tx.store.delete(key)), tx.done]);
}

export async function keepPack(checkpoint: number, pack: Pack): Promise<void> {
  await (await held()).put('packs', pack, checkpoint);
}
export async function keptPack(checkpoint: number): Promise<Pack | undefined> {
  return (await held()).get('packs', checkpoint);
}
/** The stored data of a checkpoint from which the device was removed. */
export async function forgetPack(checkpoint: number): Promise<void> {
  await (await held()).delete('packs', checkpoint);
}
