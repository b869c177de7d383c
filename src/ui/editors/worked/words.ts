/** The texts of this folder, by file. `{1}` is the first part of a text (see kit/with-parts). */

export const steps = {
  loadingTheLists: 'Loading the lists …',
  thereIsNoOther: 'There is no other list yet.',
  theOtherList: 'The other list',
  columnToSearch: 'Column to search',
  columnToUse: 'Column to use',
  inItsColumnAnd: ' in its column {1}, and the value in its column {2} is used.',
  itIsLookedUp: 'It is looked up in the list {1}{2}',
} as const;
