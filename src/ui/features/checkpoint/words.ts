import { answerWords, type Answer } from '../../../core/checkpoint/answer';
import type { Hold } from '../../../core/checkpoint/rule';
import type { TapeLine } from '../../../contract';
import type { MarkName } from '../../kit/mark';

const clock = new Intl.DateTimeFormat('en-GB', {
  hour: '2-digit',
  minute: '2-digit',
  second: '2-digit',
});
const short = new Intl.DateTimeFormat('en-GB', { hour: '2-digit', minute: '2-digit' });
const dated = new Intl.DateTimeFormat('en-GB', {
  weekday: 'short',
  day: 'numeric',
  month: 'short',
  hour: '2-digit',
  minute: '2-digit',
});

/** A time of day with its seconds, in the clock of this device. */
export const atClock = (iso: string): string => clock.format(new Date(iso));

/** A time of day, with the date if it is not today. */
export const atShort = (at: string | number): string => {
  const date = new Date(at);
  return (date.toDateString() === new Date().toDateString() ? short : dated).format(date);
};

export const markOf: Readonly<Record<Answer | 'taken-back', MarkName>> = {
  'comes-in': 'ready',
  'was-here': 'look',
  'not-now': 'look',
  altered: 'failed',
  unknown: 'failed',
  withdrawn: 'out',
  'not-certain': 'look',
  'taken-back': 'out',
};

/** A line of the tape in words, without its title. */
export function lineWords(line: TapeLine): string {
  if (line.answer === 'taken-back') return 'undone';
  const what =
    line.answer === 'was-here' && line.why ? `already in ${line.why}` : answerWords[line.answer];
  return line.how === 'hand' && line.answer === 'comes-in' ? `${what}, by hand` : what;
}

/** The other facts of a line. */
export function lineNotes(line: TapeLine): string {
  return [
    line.answer === 'was-here' ? '' : line.why,
    line.reason ?? '',
    line.apart ? 'offline' : '',
    line.found === null ? '' : `the list says: ${answerWords[line.found]}`,
    line.twice
      ? `also let in ${atShort(line.twice.at)} at ${line.twice.where}, ${line.twice.who}`
      : '',
    line.back ? 'undone' : '',
  ]
    .filter(Boolean)
    .join(' · ');
}

/** A condition in words. */
export function holdWords({ is, value }: Hold, column: string): string {
  if (is === 'session') return `its ${column} is the session’s`;
  if (is === 'blank') return `its ${column} is blank`;
  if (is === 'filled') return `its ${column} is not blank`;
  return `its ${column} is ${is === 'is-not' ? 'not ' : ''}${value || 'blank'}`;
}

export const oftenWords = {
  any: 'any number of times',
  once: 'once',
  'each-session': 'once each session',
} as const;

/** A list of names in words: `Name, Role and Site`. */
export const named = (names: readonly string[]): string =>
  names.length < 2 ? (names[0] ?? '') : `${names.slice(0, -1).join(', ')} and ${names.at(-1)!}`;

export const board = {
  arrivalsFromToThe: 'Arrivals from {1} to {2}, the most, {3}, from {4} on',
  letIn: 'let in',
  tape: 'Tape',
  nothingWasScannedYet: 'Nothing was scanned yet.',
  scansTheLatestFirst: 'Scans, the latest first',
  notOnTheList: 'not on the list',
} as const;

export const byOneselfPart = {
  with: ', with {1}',
  selfCheckIn: 'self check-in {1}',
  selfCheckIn2: 'Self check-in',
  oneChoice: 'one choice',
  yesOrNo: 'yes or no',
  theList: 'the list',
  openTheFirstPersons: 'Open the first person’s page',
  textAboveTheQuestions: 'Text above the questions',
  question: 'Question {1}',
  question2: 'Question',
  answer: 'Answer',
  choicesOnePerLine: 'Choices, one per line{1}',
  required: 'required',
  askedOf: 'Asked of {1}',
  deleteQuestion: 'Delete question',
  value: 'Value',
  addQuestion: 'Add question',
  answersCanBeChanged: 'answers can be changed until check-in ends',
  apply: 'Apply',
  turnOnSelfCheck: 'Turn on self check-in',
  stopSelfCheckIn: 'Stop self check-in',
  everyoneInGetsA:
    'Everyone in {1} gets a private page with their name filled in. Their answers go into columns of the list. Each check-in appears on the tape.',
  thePageAddressesAre: 'The page addresses are in the column {1}, for codes and emails. {2}',
} as const;

export const camera = {
  noCameraOnThis: 'no camera on this page',
  cameraPicture: 'Camera picture',
  aSecond: '{1} a second',
  turnLightOff: 'Turn light off',
  switchCamera: 'Switch camera',
} as const;

export const checkpointPage = {
  allCheckpoints: 'All checkpoints',
  renameOrDeleteThis: 'Rename or delete this checkpoint',
  aDeletedList: 'a deleted list',
  allOnline: 'all online',
  online: '{1} online',
  scanHere: 'Scan here',
  downloadTheLog: 'Download the log',
  everyLineOfThe: 'Every line of the tape, with who, where and why.',
  xLSXWorkbook: 'XLSX workbook',
  cSVText: 'CSV text',
  howManyAreIn: 'How many are in',
  ofAreIn: '{1} of {2} are in',
  whichSessionIsShown: 'Which session is shown',
  noSession: 'no session',
  notInYet: 'Not in yet, {1}',
  findANameOr: 'Find a name or key',
  theFirst500: 'the first 500',
  all: 'all {1}',
  tape: 'Tape',
  theLast500: 'the last 500',
  codeWasLetIn: 'code was let in twice',
  codesWereLetIn: 'codes were let in twice',
  undo: 'Undo',
  undoScan: 'Undo scan: {1}',
  itsLineStaysA: 'Its line stays. A second line says who undid it and why.',
  reason: 'Reason',
  undoScan2: 'Undo scan',
  name: 'Name',
  rename: 'Rename',
  thisCheckpoint: 'this checkpoint',
  lineOfItsTape: 'line of its tape is deleted',
  linesOfItsTape: 'lines of its tape are deleted',
  checks: 'checks {1}{2}',
  shown: 'Shown: {1}',
  show: 'Show {1}',
  showLines: 'Show {1} lines',
  whileDevicesWereOffline: '{1} while devices were offline.',
  itsDevicesAreRemoved:
    'Its devices are removed at once, and {1} permanently. Download the log first if you need it.',
  eachScanIsSaved:
    'Each scan is saved at once. Scans made offline join the tape when the device is online again.{1}',
} as const;

export const checkpointsPage = {
  checkpoints: 'Checkpoints',
  placesWhereCodesAre: 'places where codes are scanned and checked against a list',
  newCheckpoint: 'New checkpoint',
  noCheckpointsYetCreate:
    'No checkpoints yet. Create one for the list whose codes are scanned: at a door, a desk, a shelf.',
  noCheckpointsYet: 'No checkpoints yet.',
  checkpoint: 'Checkpoint',
  checksCodesOf: 'Checks codes of',
  session: 'Session',
  in: 'In',
  devices: 'Devices',
  lastScan: 'Last scan',
  scanHere: 'Scan here',
  aDeletedList: 'a deleted list',
  of: '{1} of {2}',
  noneYet: 'none yet',
  rounds: 'Rounds',
  checkWhatIsThere:
    'check what is there: scan one location after the other and compare with the list',
  newRound: 'New round',
  noRoundsYet:
    'No rounds yet. A round finds what is there, what is missing and what moved, location by location.',
  round: 'Round',
  list: 'List',
  found: 'Found',
  started: 'Started',
  closed: 'Closed',
  inProgress: 'in progress',
  nameOfTheRound: 'Name of the round',
  whichListDoYou: 'Which list do you want to check?',
  whichColumnHoldsThe: 'Which column holds the location?',
  column: 'Column',
  startRound: 'Start round',
  nameOfTheCheckpoint: 'Name of the checkpoint',
  whoseCodesAreScanned: 'Whose codes are scanned there?',
  createCheckpoint: 'Create checkpoint',
} as const;

export const devicePage = {
  thisDeviceWasRemoved: 'This device was removed',
  scansThatWereNot:
    'Scans that were not sent yet stay on this device. Join the checkpoint again to send them.',
  thisDeviceHasNot: 'This device has not joined',
  onTheCoordinatorsScreen:
    'On the coordinator’s screen, open the checkpoint and choose “Add a device”. Then scan the code there with this device.',
  joinThisCheckpoint: 'Join this checkpoint',
  thisDeviceCanThen: 'This device can then scan codes there, and nothing else in Hand Stamp.',
  useThisDeviceHere: 'Use this device here',
} as const;

export const devices = {
  hasNotJoinedYet: 'has not joined yet',
  devices: 'Devices{1}',
  noDeviceHasJoined: 'No device has joined. You can also scan on this computer.',
  lastSeen: 'last seen {1}',
  scanWaitsOnIt: 'scan waits on it',
  scansWaitOnIt: 'scans wait on it',
  itsClockIsHand: 'its clock is {1} {2}; Hand Stamp corrects this',
  until: 'until {1}',
  remove: 'Remove',
  deviceWasHere: 'device was here',
  devicesWereHere: 'devices were here',
  addADevice: 'Add a device',
  hasJoined: '{1} {2} has joined.',
  done: 'Done',
  addAnother: 'Add another',
  scanThisWithThe: 'Scan this with the device. It works once, until {1}.',
  codeByWhichThe: 'Code by which the device joins',
  phonesCannotOpenThis:
    'Phones cannot open this address; it works on this computer only. Set your address in Settings.',
  theCameraNeedsAn:
    'The camera needs an https address. You can still use a hand-held scanner, a picture or a name.',
  thisLink: 'this link',
  nameOfTheDevice: 'Name of the device',
  itMayScanFor: 'It may scan for',
  n4Hours: '4 hours',
  n12Hours: '12 hours',
  n3Days: '3 days',
  showItsCode: 'Show its code',
  before: '{1} before.',
  orOpenOnThe: 'Or open {1} on the device.',
} as const;

export const roundPage = {
  noLocation: '(no location)',
  allCheckpointsAndRounds: 'All checkpoints and rounds',
  chooseALocationFirst: 'Choose a location first: where are you?',
  scanItAgain: '{1} Scan it again.',
  closeTheRound: 'Close the round',
  whereAreYou: 'Where are you?',
  chooseALocation: 'choose a location',
  locations: 'Locations',
  ofFound: '{1} of {2} found',
  of: '{1} of {2}',
  whatWasFound: 'What was found',
  stopCamera: 'Stop camera',
  orAHandHeld: 'or a hand-held scanner, anywhere on this page',
  whatWasFoundThe: 'What was found, the latest first',
  movedHere: 'moved here',
  addedAsARecord: 'added as a record',
  moveItHere: 'Move it here',
  notFoundYet: 'Not found yet',
  chooseALocationTo: 'Choose a location to see what was not found there yet.',
  notFoundYetAt: 'Not found yet at {1}{2}',
  everythingThatBelongsHere: 'Everything that belongs here was found.',
  itIsHere: 'It is here',
  itIsHere2: 'It is here: {1}',
  closed: ', closed {1}',
  deleteRound: 'Delete round',
  deleteThisRound: 'Delete this round',
  thisRound: 'this round',
  whatWasFoundOn:
    'What was found on it is deleted permanently. What was moved or added stays in the list.',
  typeANewLocation: 'Type a new location, then press Enter',
  moveItTo: 'Move it to {1}',
  whatIsIt: 'What is it?',
  addAsARecord: 'Add as a record',
  everythingWasFound: 'Everything was found.',
  recordWas: 'record was',
  recordsWere: 'records were',
  closeRound: 'Close round',
  downloadReportPDF: 'Download report (PDF)',
  downloadWorkbook: 'Download workbook',
  earlierRoundToCompare: 'Earlier round to compare with',
  recordIs: 'record is',
  recordsAre: 'records are',
  everythingWasFoundWhere: 'Everything was found where it belongs.',
  result: 'Result',
  title: 'Title',
  key: 'Key',
  location: 'Location',
  foundAt: 'Found at',
  checkingByNowAt: 'Checking {1} by {2}, now at {3}.',
  started: '{1}, started {2}{3}',
  notFoundAndWill: '{1} not found and will be in the report as missing.',
  foundAgainStillMissing: ': {1} found again, {2} still missing, {3} newly missing',
  theReportIsSaved:
    '{1} The report is saved as it is then. Nothing more can be scanned on this round.',
  comparedWith: 'Compared with {1}{2}.',
} as const;

export const ruleSentence = {
  fromLeaveBlankFor: 'From (leave blank for always)',
  thisCheckpointOnly: 'this checkpoint only',
  togetherWith: 'together with {1}',
  noSessions: 'no sessions',
  fromWhenUntilWhen: 'From when until when',
  theTitle: 'the title',
  for: ' for {1}',
  shows: 'shows {1}{2}',
  whatIsShown: 'What is shown',
  withSessions: 'with sessions: ',
  sessions: 'Sessions',
  counts: 'counts {1}',
  countTogetherWithOther: 'Count together with other checkpoints',
  howOftenACode: 'How often a code may pass',
  eachTimeIsA: 'Each time is a line on the tape.',
  firstSetUpThe: 'First set up the sessions, at the end of the sentence.',
  aPersonWhoCame: 'A person who came in before may come in again in another session.',
  anotherList: '+ another list',
  addCodesOfAnother: 'Add codes of another list',
  currentSession: 'Current session',
  aDeletedColumn: 'a deleted column',
  remove: 'Remove',
  aCodeOf: 'A code of ',
  aCodeOf2: ' A code of ',
  whichCodes: 'Which codes',
  if: ', if ',
  whetherTheCodeMust: 'Whether the code must prove that it is genuine',
  itsCodeIsGenuine: 'its code is genuine',
  theCodeMustCarry: 'The code must carry a proof, and the proof must be right.',
  itHasACode: 'it has a code of the list',
  aCodeWithA: 'A code with a wrong proof still shows “Altered”.',
  aCondition: 'A condition',
  condition: '+ condition',
  addAnotherCondition: 'Add another condition',
  thereIsNoOther: 'There is no other list.',
  anotherList2: 'Another list',
  codesOfWhichStamps: 'Codes of which stamps of {1}?',
  allStampsAlsoNew: 'all stamps, also new ones',
  withAProof: ', with a proof',
  apply: 'Apply',
  removeThisList: 'Remove this list',
  column: 'Column',
  its: 'Its {1}',
  isNot: 'is not',
  isNotBlank: 'is not blank',
  isBlank: 'is blank',
  isTheSessions: 'is the session’s',
  value: 'Value',
  ifACellHolds: 'If a cell holds several values separated by commas, one match is enough.',
  anotherColumn: 'Another column',
  theTitleIsAlways: 'The title is always shown. You can add up to six columns:',
  atAnyTime: 'at any time',
  fromOn: 'from {1} on',
  until: 'until {1}',
  fromUntil: 'from {1} until {2}',
  untilLeaveBlankFor: 'Until (leave blank for no end)',
  itWouldEndBefore: 'It would end before it begins. Swap the two.',
  openToAll: ', open to all',
  eachForItsOwn: ', each for its own',
  oneByName: 'one by name',
  byTheClock: 'by the clock',
  byName: 'by name',
  switchedByHand: 'switched by hand',
  takenFromAColumn: 'taken from a column',
  switchedByTheClock: 'switched by the clock',
  sessionNamesOnePer: 'Session names, one per line{1}',
  recordsOfOtherSessions: 'Records of other sessions may come in, too',
  thisColumnIsEmpty: 'This column is empty.',
  session: 'Session',
  from: 'From',
  until2: 'Until',
  anotherSession: 'Another session',
  wouldEndBeforeIt: '{1} would end before it begins. Swap the two.',
  isThereTwiceGive: '{1} is there twice. Give each session its own name.',
  forTwoGatesOf:
    'For two gates of one event: a person let in at one gate counts as in at all of them.',
  thereIsNoOtherCheckpoint: 'There is no other checkpoint.',
  sessionNow: 'Session now: {1}.',
  oneOfItsLists: ' One of its lists was deleted{1}.',
  mayComeIn: '{1}{2} may come in {3}{4}{5}{6}{7}',
  thoseIn: 'those in {1}{2}',
} as const;

export const scanPage = {
  allCheckpoints: 'All checkpoints',
} as const;

export const station = {
  checkpoint: 'Checkpoint',
  ofIn: '{1} of {2} in',
  scanWaits: 'scan waits',
  scansWait: 'scans wait',
  connectingToHandStamp: 'connecting to Hand Stamp …',
  scanACode: 'Scan a code',
  useAHandHeld: 'Use a hand-held scanner now, or choose camera, picture or name below.',
  stopCamera: 'Stop camera',
  stopFilm: 'Stop film',
  playAFilmInstead: 'Play a film instead',
  findByName: 'Find by name',
  undoLastScan: 'Undo last scan',
  turnSoundOn: 'Turn sound on',
  turnSoundOff: 'Turn sound off',
  undone: 'undone',
  but: 'But {1}',
  wasAlsoLetIn: 'Was also let in {1} at {2}, {3}.',
  answeredOffline: 'answered offline',
  before: '“{1}” before',
  after: '“{1}” after',
  removeItFromNow: 'Remove it from now on',
  more: ' {1} more.',
  seen: 'Seen',
  noCodeWasFound: 'No code was found in this picture. Try one that is sharper or closer.',
  isNotAPicture: '{1} is not a picture that can be opened here.',
  scanAPicture: 'Scan a picture',
  whyWithoutACode: 'Why without a code?',
  badgeForgotten: 'badge forgotten',
  codeDoesNotRead: 'code does not read',
  badgeToBePrinted: 'badge to be printed',
  letIn: 'Let in',
  findAnotherPerson: 'Find another person',
  nameOrKey: 'Name or key',
  noOneWithThat: 'No one with that name or key is in the list.',
  backToScanning: 'Back to scanning',
  yourScannerSeemsTo: 'Your scanner seems to put {1} each code.',
  wasLetInHere: '{1} was let in here {2} and {3} at {4}, {5}.{6}',
} as const;

export const useStation = {
  theListCannotBe: 'the list cannot be checked now',
  thisDeviceHasNo: 'this device has no list yet',
  youAreOfflineSo: 'You are offline, so scans cannot be undone. Try again when you are online.',
} as const;
