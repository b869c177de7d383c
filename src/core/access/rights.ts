/**
 * The roles of people. A scanner scans at the checkpoints that are shared with them; a viewer sees;
 * an editor changes lists, stamps, pieces and runs; an administrator manages settings, people and
 * keys.
 */
export const rights = ['scanner', 'viewer', 'editor', 'administrator'] as const;
export type Right = (typeof rights)[number];
/** What a list or a job can be shared with. */
export const sharedRights = ['viewer', 'editor'] as const;
export type SharedRight = (typeof sharedRights)[number];

/** The names of the roles, and what they may do. */
export const rightWords: Record<Right, { role: string; about: string }> = {
  administrator: {
    role: 'Administrator',
    about: 'Manages settings, people, connections and printers, and does everything else.',
  },
  editor: {
    role: 'Editor',
    about: 'Changes lists, stamps, pieces and runs, and may show secrets.',
  },
  viewer: {
    role: 'Viewer',
    about: 'Sees everything except secrets and changes nothing. May duplicate a job.',
  },
  scanner: { role: 'Scanner', about: 'Scans at checkpoints and on rounds only.' },
};

/** Each role includes those before it: an editor sees and scans too. */
export const includes = (has: Right, wants: Right): boolean =>
  rights.indexOf(has) >= rights.indexOf(wants);

export const greatest = (all: readonly Right[]): Right =>
  all.reduce((best, right) => (includes(best, right) ? best : right), 'scanner');
