/** The texts of this folder, by file. `{1}` is the first part of a text (see kit/with-parts). */

export const helpPage = {
  guide: 'Guide',
  searchTheGuide: 'Search the guide',
  aboutHandStamp: 'About Hand Stamp',
  searchResultsFor: 'Search results for “{1}”',
  noPageContainsAll: 'No page contains all these words. Try fewer words, or choose a page.',
  onThisPage: 'On this page',
  next: 'Next: {1}',
  chooseAPageOr: 'Choose a page, or search at the left. New here? Start with the first one.',
  handStampVersionIt:
    'Hand Stamp, version {1}. It makes a code for each record of a list and merges the codes into badges, labels, signs, documents and emails. It reads every code back before it leaves.',
  handStampItselfHas:
    'Hand Stamp itself has the MIT licence. It uses the packages and typefaces below.',
} as const;
