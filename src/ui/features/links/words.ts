import type { LinkRow } from '../../../contract';
import type { Leading, LinkRule } from '../../../core/links/leading';
import type { MarkName } from '../../kit/mark';

/** A day as people here say it: 5 December 2026. */
const dayWords = (day: string): string =>
  new Date(`${day}T12:00:00Z`).toLocaleDateString('en-GB', {
    day: 'numeric',
    month: 'long',
    year: 'numeric',
    timeZone: 'UTC',
  });
/** The same in a narrow place: 5 Dec. */
export const shortDay = (day: string): string =>
  new Date(`${day}T12:00:00Z`).toLocaleDateString('en-GB', {
    day: 'numeric',
    month: 'short',
    timeZone: 'UTC',
  });

const why: Record<Extract<Leading, { kind: 'nowhere' }>['why'], string> = {
  gone: 'leads nowhere: its record was deleted',
  blank: 'leads nowhere: a column it needs is blank',
  'no-address': 'leads nowhere: the result is not a web address',
  ring: 'leads back to a link of this Hand Stamp',
};

/** Where a link leads, in the few words of a row. */
export function leadingWords(leading: Leading): string {
  if (leading.kind === 'leads') return leading.to.replace(/^https?:\/\//i, '');
  if (leading.kind === 'not-yet') return `from ${shortDay(leading.opens)} on`;
  if (leading.kind === 'nowhere') return why[leading.why];
  return leading.kind;
}

const bad: ReadonlySet<LinkRow['answered']> = new Set(['not-found', 'fails', 'no-answer']);

/** The result of checking its page, if it is worth a word. */
export function answerWords(answered: LinkRow['answered']): string | undefined {
  if (answered === 'not-found') return 'the page was not found';
  if (answered === 'fails') return 'the page answers with an error';
  if (answered === 'no-answer') return 'the server does not answer';
  if (answered === 'sign-in') return 'the page asks for a sign-in';
  if (answered === 'redirected') return 'the page leads on elsewhere';
  return undefined;
}

/** The mark of a row: the same four as everywhere, and the ring for a link without scans. */
export function markOf({ leading, answered, scans }: LinkRow): { name: MarkName; label: string } {
  if (leading.kind === 'paused' || leading.kind === 'withdrawn' || leading.kind === 'ended')
    return { name: 'out', label: leading.kind };
  if (leading.kind === 'nowhere') return { name: 'look', label: why[leading.why] };
  if (leading.kind === 'leads' && bad.has(answered))
    return { name: 'look', label: answerWords(answered)! };
  if (leading.kind === 'not-yet') return { name: 'none', label: 'not open yet' };
  return scans > 0
    ? { name: 'ready', label: 'open' }
    : { name: 'none', label: 'open, no scans yet' };
}

/** For how long it leads there, in the words of its sentence. */
export function spanWords({
  state,
  opens,
  ends,
  after,
}: Omit<LinkRule, 'leads' | 'peeks'>): string {
  if (state === 'paused') return 'paused';
  if (state === 'withdrawn') return 'permanently withdrawn';
  const from = opens ? `from ${dayWords(opens)} on` : '';
  const until = ends ? `until ${dayWords(ends)}` : '';
  const then = ends && after ? `, then to ${after.replace(/^https?:\/\//i, '')}` : '';
  return from || until ? [from, until].filter(Boolean).join(', ') + then : 'no end';
}

export const charts = {
  onTheBestDay: 'on the best day',
  mon: 'Mon',
  tue: 'Tue',
  wed: 'Wed',
  thu: 'Thu',
  fri: 'Fri',
  sat: 'Sat',
  sun: 'Sun',
  scansByWeekdayAnd: 'Scans by weekday and hour, the most on {1} from {2} to {3} o’clock',
  scansADayFrom: 'Scans a day from {1} to {2}: {3}, {4}',
} as const;

export const linkInHand = {
  theSelectedLink: 'The selected link',
  loading: 'Loading …',
  noTitle: '(no title)',
  of: 'of {1}, ',
  printedOn: ', printed on {1}',
  notPrintedYet: ', not printed yet',
  isPermanentlyWithdrawn: 'is permanently withdrawn.',
  whereItLeads: 'Where it leads',
  whichFollowsItsRecord: ', which follows its record',
  howLongItWorks: 'How long it works',
  checked: 'Checked {1}.',
  theWebAddressItself: 'the web address itself',
  withThisLinkSame: 'with this link, same size of squares',
  addPreviewToSee: '{1} · add /preview to see first where it leads',
  scansADay: 'Scans a day',
  noScansSinceIt: 'No scans since it was printed.',
  noScansYet: 'No scans yet.',
  byWeekdayAndHour: 'By weekday and hour',
  moreByBotsOr: '; {1} more by bots or link previews',
  nameOfTheLink: 'Name of the link',
  apply: 'Apply',
  aDeletedColumn: 'a deleted column',
  changes: 'Changes',
  withOthers: ', with {1} others',
  forTheWholeColumn: ', for the whole column',
  undone: ', undone',
  undo: 'Undo',
  to: 'to {1}',
  followsItsRecordAgain: 'follows its record again',
  beforeTo: ', before to {1}',
  beforeItFollowedIts: ', before it followed its record',
  leads: 'leads {1}',
  showsFirstWhereIt: 'shows first where it leads',
  goesStraightThere: 'goes straight there',
  renamedTo: 'renamed to {1}',
  madeByOn: '{1}made by {2} on {3}{4}',
  leadsToPeopleWho: 'leads to {1}{2}, {3}; people who scan it {4}.',
  weDoNotStore: '{1}, {2}{3}. We do not store who scanned.',
} as const;

export const linksPage = {
  changed: '{1} changed',
  undoneWereChangedSince: '{1} undone; {2} were changed since and stay',
  undone: '{1} undone',
  links: 'Links',
  shortAddressesYouCan: 'Short addresses. You can change where they lead after printing.',
  newLink: 'New link',
  list: 'List',
  allLists: 'all lists',
  sortBy: 'Sort by',
  newestFirst: 'newest first',
  mostScannedFirst: 'most scanned first',
  byTitle: 'by title',
  searchByNameCode: 'Search by name, code or address',
  undo: 'Undo',
  noLinksYetA:
    'No links yet. A link is a short address for a code that you can change after printing. Create one here, or turn on links in a stamp.',
  noLinkMatches: 'No link matches.',
  allLinks: 'all links',
  openLinks: 'open links',
  linksWhoseWebPage: 'links whose web page is missing',
  linksWhoseRecordWas: 'links whose record was deleted',
  linksThatEndToday: 'links that end today or tomorrow',
  pausedLinks: 'paused links',
  endedOrWithdrawnLinks: 'ended or withdrawn links',
  linksPrintedButNever: 'links printed but never scanned',
  linksWithoutARecord: 'links without a record',
  open: '{1} open',
  leadsToAMissing: 'leads to a missing page',
  leadToAMissing: 'lead to a missing page',
  byTomorrow: '{1} {2} by tomorrow',
  paused: '{1} paused',
  ended: '{1} ended',
  printedAndNeverScanned: '{1} printed and never scanned',
  addressOfLinks: 'Address of links',
  youCanChangeThe: '{1} {2}. {3} You can change the address in Settings.',
  codesContainInCapitals: 'Codes contain {1}, in capitals, because a QR code then needs less room.',
  anAdministratorCanChange: 'An administrator can change the address in Settings.',
  checkWhetherTheyOpen: 'Check whether they open',
  ofChecked: '{1} of {2} checked.',
  handStampOpensEach:
    'Hand Stamp opens each web page once, a few at a time, at most 15 times a second per server. Only their servers know whether the pages exist.',
  lastCheckedOn: 'Last checked on {1}.',
  stopChecking: 'Stop checking',
  checkNow: 'Check now',
  checkingOf: 'Checking, {1} of {2}',
  tick: 'Tick {1}',
  until: ' (until {1})',
  theTickedLinks: 'The ticked links',
  shownAllOfThem: 'shown, all of them',
  changeWhereTheyLead: 'Change where they lead',
  letThemFollowTheir: 'Let them follow their records',
  pauseEndOrWithdraw: 'Pause, end or withdraw',
  peopleWhoScanOne: 'people who scan one {1}',
  onlyTheTickedOnes: 'Only the ticked ones',
  allShown: 'All {1} shown',
  untick: 'Untick',
  shownOf: 'Shown: {1} of {2}, {3}{4}.',
  onInTheLast: '{1} on {2}{3}{4}. {5}, {6} in the last seven days. {7}',
} as const;

export const newLink = {
  whatIsItFor: 'What is it for?',
  aSingleLink: 'a single link',
  aLinkForEach: 'a link for each record of a list',
  nameToFindIt: 'Name, to find it again',
  webAddressItLeads: 'Web address it leads to',
  whoItIsFor: 'Who it is for',
  forAnyone: 'for anyone',
  n9CharactersTheSmallest: '9 characters, the smallest code. Use it when anyone may see the page.',
  forOnePerson: 'for one person',
  n13CharactersItCannot: '13 characters. It cannot be guessed.',
  createLink: 'Create link',
  openAStampThat:
    'Open a stamp that leads to a web page and choose “by a short link”. Each record of the list then gets its own link. Where is the stamp?',
  itIs: 'It is {1}.',
} as const;

export const ruleParts = {
  webAddressItLeads: 'Web address it leads to',
  takesEffectAtOnce: 'Takes effect at once, also for printed codes. You can undo it.',
  changeAddress: 'Change address',
  followAgain: 'Follow {1} again',
  itWouldEndBefore: 'It would end before it begins.',
  swapTheTwoDays: 'Swap the two days.',
  state: 'State',
  isPaused: 'is paused',
  isPermanentlyWithdrawn: 'is permanently withdrawn',
  fromThisDay: 'From this day',
  untilThisDay: 'Until this day',
  afterThatLeadTo: 'After that, lead to (leave blank to show “This link no longer works”)',
  peopleWhoScanIt: 'People who scan it read that it is paused.',
  peopleWhoScanItRead: 'People who scan it read that it is withdrawn. You cannot undo this.',
  withdrawLinkPermanently: 'Withdraw link permanently',
  apply: 'Apply',
  whatPeopleSeeAfter: 'What people see after a scan',
  goStraightThere: 'go straight there',
  addPreviewToThe: 'Add /preview to the address to see first where it leads.',
  seeFirstWhereIt: 'see first where it leads',
  aPageShowsThe: 'A page shows the address. One more press opens it.',
} as const;
