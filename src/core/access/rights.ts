/**
 * What a person may: scan at the checkpoints given to them; look; change lists, stamps, pieces and
 * runs; keep settings, people and keys.
 */
export const rights = ['scans', 'looks', 'changes', 'keeps'] as const;
export type Right = (typeof rights)[number];
/** What a list or a job can be shared with. */
export const sharedRights = ['looks', 'changes'] as const;
export type SharedRight = (typeof sharedRights)[number];

/** What people with each right are called, and what they may do. */
export const rightWords: Record<Right, { role: string; about: string }> = {
  keeps: {
    role: 'Administrator',
    about: 'Manages settings, people, connections and printers, and does everything else.',
  },
  changes: {
    role: 'Editor',
    about: 'Changes lists, stamps, pieces and runs, and may show secrets.',
  },
  looks: {
    role: 'Viewer',
    about: 'Sees everything except secrets and changes nothing. May duplicate a job.',
  },
  scans: { role: 'Scanner', about: 'Scans at checkpoints and on rounds only.' },
};

/** Each includes those before it: who changes looks, and scans too. */
export const includes = (has: Right, wants: Right): boolean =>
  rights.indexOf(has) >= rights.indexOf(wants);

export const greatest = (all: readonly Right[]): Right =>
  all.reduce((best, right) => (includes(best, right) ? best : right), 'scans');
