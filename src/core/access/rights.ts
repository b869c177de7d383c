/**
 * What a person may: scan at the checkpoints given to them; look; change lists, stamps, pieces and
 * runs; keep settings, people and keys.
 */
export const rights = ['scans', 'looks', 'changes', 'keeps'] as const;
export type Right = (typeof rights)[number];
/** What a list or a job can be shared with. */
export const sharedRights = ['looks', 'changes'] as const;
export type SharedRight = (typeof sharedRights)[number];

export const rightWords: Record<Right, { does: string; about: string }> = {
  keeps: {
    does: 'keeps',
    about: 'Settings, people, connections and printers, and all that follows.',
  },
  changes: { does: 'changes', about: 'Lists, stamps, pieces and runs; sees secrets when asked.' },
  looks: {
    does: 'looks',
    about: 'Everything but secrets. Changes nothing; may copy a job as their own.',
  },
  scans: { does: 'scans', about: 'At checkpoints and on rounds, and nothing else.' },
};

/** Each includes those before it: who changes looks, and scans too. */
export const includes = (has: Right, wants: Right): boolean =>
  rights.indexOf(has) >= rights.indexOf(wants);

export const greatest = (all: readonly Right[]): Right =>
  all.reduce((best, right) => (includes(best, right) ? best : right), 'scans');
