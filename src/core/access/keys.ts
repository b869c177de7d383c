/** What a program with a key may. */
export const keyRights = ['reads', 'writes', 'secrets', 'runs', 'links'] as const;
export type KeyRight = (typeof keyRights)[number];

export const keyRightWords: Record<KeyRight, { name: string; about: string }> = {
  reads: { name: 'read lists, records and jobs', about: 'Also the pictures of codes.' },
  writes: {
    name: 'create, change and delete records',
    about: 'As revisions, which can be undone.',
  },
  secrets: {
    name: 'see what is secret',
    about: 'Values of secret columns, and codes that say them. Without this they are left out.',
  },
  runs: { name: 'start runs and download their files', about: '' },
  links: { name: 'read, create and change links', about: 'With their scans.' },
};

/** The prefix of every API key, so that a lost one is recognized. */
export const keyPrefix = 'hsk_';
