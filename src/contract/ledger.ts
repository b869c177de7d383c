/** Words and figures of the ledger that both sides know; no schemas, so a browser takes them. */
export const filters = ['all', 'ready', 'look', 'out', 'new', 'changed'] as const;
export type Filter = (typeof filters)[number];

export const bands = ['records', 'stamps', 'piece', 'run'] as const;
export type Band = (typeof bands)[number];

/** Records that are loaded at a time. */
export const rowsInWindow = 100;
