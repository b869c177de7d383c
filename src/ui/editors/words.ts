/** The texts of this folder, by file. `{1}` is the first part of a text (see kit/with-parts). */

export const chips = {
  aDeletedColumn: 'a deleted column',
  theColumn: 'the column',
  addAColumn: 'Add a column:',
  remove: 'Remove {1}',
} as const;

export const connectionForm = {
  nameOfThisConnection: 'Name of this connection',
  serverHost: 'Server (host)',
  port: 'Port',
  database: 'Database',
  userNameReadOnly: 'User name (read-only)',
  password: 'Password',
  encryption: 'Encryption',
  encryptedItsCertificateChecked: 'encrypted, its certificate checked',
  encryptedItsCertificateNot: 'encrypted, its certificate not checked',
  forAServerWith: 'For a server with a certificate of its own.',
  notEncrypted: 'not encrypted',
  othersOnTheNetwork:
    'Others on the network can read it. Use only for a database on this computer.',
  testing: 'Testing …',
  testAndSave: 'Test and save',
  thePasswordIsStored: 'The password is stored encrypted and never shown.',
  encryption2: 'Encryption: {1}.',
} as const;
