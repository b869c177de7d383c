/** The texts of this folder, by file. `{1}` is the first part of a text (see kit/with-parts). */

export const addressesPart = {
  pictureAddresses: 'Picture addresses',
  loading: 'Loading …',
  eachRecordsCodeAs:
    'Each record’s code as a picture at a web address that cannot be guessed. Use it in a web page, an email or a spreadsheet cell. It always shows the current code.',
  createAnAddressFor: 'Create an address for every record',
  kindOfPicture: 'Kind of picture',
  mmAtDpi: '{1} mm at {2} dpi',
  sizeOfThePicture: 'Size of the picture',
  widthWithItsQuiet: 'Width with its quiet zone, at most, mm',
  dotsPerInch: 'Dots per inch',
  lookOfThePicture: 'Look of the picture',
  theLookOfThe: 'the look of the stamp',
  theLook: 'the look {1}',
  createAnAddressForThis: 'Create an address for this record',
  downloadAllAsCSV: 'Download all {1} as CSV',
  addMissingAddresses: 'Add missing addresses',
  copyAddress: 'Copy address',
  copyAsHTMLImage: 'Copy as HTML image',
  imgSrcAltCode: '<img src="{1}" alt="Code">',
  withdrawThisAddress: 'Withdraw this address',
  withdrawAll: 'Withdraw all',
  aWithdrawnAddressNever:
    'A withdrawn address never works again. You can create a new one for a record.',
  copied: 'Copied.',
  asIn: 'As {1}, {2}, in {3}.',
} as const;

export const bench = {
  usedOutsideAJob: 'used outside a job and a bench',
} as const;

export const byExample = {
  showOneFinishedExample: 'Show one finished example instead',
  pasteWhatTheCode: 'Paste what the code of the selected record should say{1}',
  thisIsAWeb: 'This is a web address, so a scan will open a page.',
  thisExampleHasCharacters:
    'This example has {1} characters; no code holds more than {2}. Paste a shorter one.',
  selectAPartOf: 'Select a part of it to choose its column.',
  is: '“{1}” is',
  is2: '{1} is {2}',
  itContainsNoneOf:
    'It contains none of this record’s values. Is it the example of another record?',
  inAnotherForm: 'In another form',
  mayBeItStays: 'may be {1}. It stays fixed unless you choose it.',
  looksLikeInAnother: 'looks like {1} in another form and stays fixed. As {2} it would be {3}.',
  itIs: 'It is {1}',
  use: 'Use {1}',
  withTheseColumnsThis: 'With these columns, this record gives exactly your example.',
  theExampleFitsThis:
    'The example fits this record. But the parts listed above stay fixed: they would be the same on every code.',
  withTheseColumnsThisRecord:
    'With these columns, this record does not give exactly your example. Check the result below.',
  useTheseColumns: 'Use these columns',
  thisRecordHasThe: '. This record has the same value in {1}. {2}',
  is3: '{1} is {2}{3}',
} as const;

export const codeInHand = {
  frameAndQuietZone: 'Frame and quiet zone',
  coloursAndSquares: 'Colours and squares',
  finders: 'Finders',
  logo: 'Logo',
  textAtTheBars: 'Text at the bars',
  theQuietZoneBelongs: 'the quiet zone belongs to it',
  mm: '{1} mm',
  sizeMm: 'Size, {1} mm',
  size: 'Size',
} as const;

export const colourEditor = {
  darkGreen: 'dark green',
  darkBlue: 'dark blue',
  code: 'Code',
  background: 'Background',
  noBackground: 'no background',
  blendsIntoASecond: 'blends into a second colour',
  secondColour: 'Second colour',
  direction: 'Direction',
  contrastTo1Scanners: 'Contrast {1} to 1. Scanners need 4 or more.',
  anyColour: '{1}, any colour',
  asHex: '{1} as hex',
  thisIsNotA: 'This is not a colour. Enter it as #46298f or 70, 41, 143.',
} as const;

export const contentEditor = {
  contentTextAndColumns: 'Content: text and columns',
  writeSpacesAfterThe: 'Write spaces after the question mark as +, as some forms need',
  changeToAScan: 'Change to “A scan {1}”',
  aScanThen: 'A scan then {1}.',
  forTheSelectedRecord: 'For the selected record it says:',
  nothingAColumnOf: 'nothing: a column of it is blank',
  apply: 'Apply',
  inUse: 'In use',
  thisIsAWeb:
    'This is a web address, but the stamp shows it as text. Values in it are then not written the way an address needs.',
  thisLooksLikeThe:
    'This looks like the content of a code that {1}. There, each value has a field of its own and is written the right way.',
} as const;

export const doorPart = {
  willItWorkWhen: 'Will it work when scanned?',
  willItWorkWhenScanned: 'Will it work when scanned',
  checkingEveryAddress: 'Checking every address …',
  noRecordHasAn: 'No record has an address yet.',
  needsALook: 'needs a look',
  noProblemFound: 'no problem found',
  thisCheckLooksOnly:
    'This check looks only at the addresses. To see if the pages exist, ask their servers.',
  addressesChecked: 'Addresses checked',
  of: '{1} of {2}',
  stop: 'Stop',
  checkAgain: 'Check again',
  check: 'Check',
  eachAddressIsOpened:
    'Each address is opened once, a few at a time. Nothing from the list is sent.',
  andMore: 'and {1} more',
  theAddresses: '{1} the {2} addresses',
} as const;

export const extrasEditor = {
  remove: 'Remove',
  checkingThePicture: 'Checking the picture …',
  logoPNGJPEGOr: 'Logo (PNG, JPEG or SVG)',
  longerSideOfThe: 'Longer side, % of the code’s width',
  leaveOutTheSquares: 'leave out the squares under it',
  backgroundPicture: 'Background picture',
  strength: 'Strength, %',
  aLogoAndA: 'a logo and a background picture',
  aLogoOverOf: 'a logo over {1}% of its width',
  aBackgroundPicture: 'a background picture',
  noPicture: 'no picture',
  frame: 'Frame',
  caption: 'Caption',
  positionOfTheCaption: 'Position of the caption',
  caption2: 'caption {1}',
  saying: ' saying “{1}”',
  noFrame: 'no frame',
  turned90Right: 'turned 90° right',
  itsTopPointsRight: 'Its top points right.',
  upsideDown: 'upside down',
  turned90Left: 'turned 90° left',
  itsTopPointsLeft: 'Its top points left.',
  aFrame: 'a {1} frame{2}',
} as const;

export const kept = {
  save: 'Save',
  use: 'Use',
  delete: 'Delete',
  savedLooks: 'Saved looks',
  mm: '{1} mm, {2}',
  noSavedLooksYet: 'No saved looks yet. You can use a saved look for every stamp of every list.',
  saveThisLookAs: 'Save this look as',
  thisListHasNo: 'This list has no column called {1}. Choose the column to use instead.',
  saveThisContentFor: 'Save this content for other lists as',
} as const;

export const linkPart = {
  forAnyone: 'for anyone',
  n9CharactersTheSmallest: '9 characters, the smallest code. Use it when anyone may see the page.',
  forOnePersonEach: 'for one person each',
  n13CharactersThatCannot: '13 characters that cannot be guessed; treated as a secret in the list.',
  withALinkOr: 'With a link, or with the web address itself',
  throughAShortLink: 'through a short link',
  theWebAddressItself: 'the web address itself in the code',
  whereTheLinksLead: 'Where the links lead',
  everyLinkOfLeads: 'Every link of {1} leads there from now on, also printed ones.',
  empty: '(empty)',
  link: 'Link',
  aLinkIsA:
    'A link is a short address for each record. It stays the same after updates and reprints, and you can change where it leads after printing. Its scans are counted.',
  theWebAddressItself2: 'the web address itself',
  withALinkSame: 'with a link, same size of squares',
  theLinksStayWith:
    'The links stay with {1} and keep working, even if new codes contain the web address itself.',
  putTheWebAddress: 'Put the web address itself into the code',
  whoItIsFor: 'Who it is for',
  becauseItLeadsTo: ', because it leads to something secret',
  useShortLinks: 'Use short links',
  youCanChangeThe: '{1} {2}. You can change the address in Settings.',
  eachRecordGetsA: 'Each record gets a link {1}{2}.',
} as const;

export const lookWarnings = {
  warnings: 'Warnings',
} as const;

export const optionsPart = {
  settingsOfThisCode: 'Settings of this code type',
} as const;

export const proofPart = {
  toThisHandStamp: 'to this Hand Stamp',
  shortThisHandStamp: 'Short. This Hand Stamp checks it with its own key.',
  toAnyone: 'to anyone',
  signedEd25519DevicesCheck:
    'Signed (Ed25519). Devices check it offline, and others with a public key. Only this Hand Stamp can create one.',
  whoCanCheckThe: 'Who can check the proof',
  charactersMore: '{1} {2} characters more{3}.',
  modulesForThisRecord: ', {1} × {2} modules for this record',
  moreThanThisCode: ', more than this code holds',
  proved: ', proved {1}',
} as const;

export const purposePart = {
  whatAScanDoes: 'What a scan does',
  aDeletedColumn: 'a deleted column',
  add: ' (add {1})',
  empty: '(empty)',
  forTheSelectedRecord: 'For the selected record it says:',
  nothingAValueIt: 'nothing: a value it needs is blank',
} as const;

export const shapeEditor = {
  squares: 'Squares',
  shapeOfTheSquares: 'Shape of the squares',
  theThreeLargeCorners: 'The three large corners',
  findersTheThreeLarge: 'Finders, the three large corners',
  shapeOfTheFinders: 'Shape of the finders',
  barsAndTheSquares:
    'Bars and the squares of this code type keep their shape, because scanners need it.',
  narrowerToAllowFor: 'Narrower, to allow for spreading ink, mm',
  sWithFinders: '{1}s with {2} finders',
  narrower: '{1}, {2} narrower',
} as const;

export const sideBySide = {
  sideBySide: 'Side by side',
  sideBySideFor: 'Side by side, for {1}',
  whatIsCompared: 'What is compared',
  theFourLevelsOf: 'the four levels of error correction',
  theCodeTypesThat: 'the code types that fit',
  thisLookThePlainest: 'this look, the plainest and saved ones',
  theStampsOfThis: 'the stamps of this list',
  sameSizeOf: 'Same size of',
  sameSizeOfSquares: 'same size of squares',
  eachHasSquaresAs: 'Each has squares as small as this one. They differ in total size.',
  sameTotalSize: 'same total size',
  eachIsAsLarge: 'Each is as large as this one. They differ in the size of their squares.',
  close: 'Close',
  thisCodeContainsA:
    'This code contains a secret. Show the secret column in Records, then compare here.',
  thereIsNoCode: 'There is no code to compare.',
  stop: 'Stop',
  measuring: 'measuring: {1} …',
  runTheWearTest: 'Run the wear test again',
  runTheWearTest2: 'Run the wear test',
  eachVariantWasRead:
    'Each variant was read under growing damage, the same for all. A phone may do better or worse.',
  variants: 'Variants',
  asItIs: ' as it is',
  drawn: 'drawn',
  readsToAbout: 'reads to about',
  noRealDifference: 'no real difference',
  useThis: 'Use this',
  drawing: 'drawing …',
  mm: '{1} × {2} mm',
  mmDots: '{1} mm, {2} dots',
  version: 'version {1}',
  forFree: ' for free',
  modules: '{1} modules',
  at: ' at {1}',
  level2: 'level {1}{2}',
  compareAllAreDrawn: 'Compare {1}{2}. All are drawn to one scale. What is a {3}, and the {4}?',
} as const;

export const sizeEditor = {
  mm: 'mm',
  widthWithItsQuiet: 'Width with its quiet zone, at most, mm',
  theCodeWithIts: 'The code, with its quiet zone',
  dots: 'dots',
  oneSquarePrinterDots: 'One square, printer dots',
  oneSquareMm: 'one square, {1} mm',
  pixelsAtDpi: 'pixels at {1} dpi',
  theWholePixelsAt: 'The whole, pixels at {1} dpi',
  mmHighTheBars: 'mm high, the bars',
  heightOfTheBars: 'Height of the bars, mm',
  quietZoneTheLight: 'quiet zone, the light margin inside the dashes',
  theSizeOfA: 'The size of a square decides',
  thePixelsDecide: 'The pixels decide',
  itsPlaceOnThe: 'Its place on the piece decides',
  theWidthDecides: 'The width decides',
  pixelsExactlyInPNG: '{1} pixels exactly in PNG and JPEG; elsewhere at',
  inWholeDotsThis: 'In whole dots this is {1} mm, {2} dots per square.',
  theSquareFollowsDots: 'The square follows: {1} dots. These are not whole dots, so edges blur.',
  onThePieceIt: 'On the piece it is {1} mm; pictures of the code alone are {2} mm.',
  useMmForBoth: 'Use {1} mm for both',
  wholeDotsPerSquare: 'whole dots per square, so that every edge is sharp',
  dotsPerInchOf: 'Dots per inch of the printer',
  readFromHowFar: 'Read from how far away, cm (0: not set)',
  asAPictureOf: 'As a picture of its own, mm',
  textUnderTheBars: 'Text under the bars',
  noText: 'no text',
  text: 'text {1}',
  whatIsAA: 'What is a {1}, a {2}, {3}?',
  dotsEachTheWidth:
    '{1}: {2} dots each. The width depends on the content: {3} mm for this record, more for longer content.',
  mostMm: '{1}: {2} most {3} mm. {4}',
} as const;

export const stampSentence = {
  keepsReadingWithAbout: 'keeps reading with about 7% damaged (level L)',
  smallestCodeForClean: 'Smallest code. For clean screens and short-lived paper.',
  keepsReadingWithAbout15: 'keeps reading with about 15% damaged (level M)',
  forLabelsAndBadges: 'For labels and badges handled with care.',
  keepsReadingWithAbout25: 'keeps reading with about 25% damaged (level Q)',
  forBadgesWornAll: 'For badges worn all day and outdoor labels.',
  keepsReadingWithAbout30: 'keeps reading with about 30% damaged (level H)',
  forRoughUseThe: 'For rough use. The largest code.',
  dotsPerSquareAt: '{1} dots per square at {2} dpi',
  atDpi: 'at {1} dpi',
  into: ' into {1}',
  theWebAddressItself: 'the web address itself in the code',
  resolution: 'Resolution',
  errorCorrection: 'Error correction',
  colours: 'Colours',
  shapes: 'Shapes',
  pictures: 'Pictures',
  frame: 'Frame',
  turned: 'Turned',
  to: ' {1} to {2}',
  whatTheCodeSays: 'What the code says',
  empty: '(empty)',
  size: 'Size',
  mm: '{1} mm',
  onThePiece: ' on the piece',
  on: '{1}{2} on {3}',
  which: 'which {1}',
  drawnIn: 'drawn in {1}',
  with: 'with {1}',
  aScanAs: '{1}A scan {2}{3}{4}{5}{6}, as {7}{8}, {9}{10}',
} as const;

export const survival = {
  cm: '{1} cm',
  to: '{1} to {2}',
} as const;

export const symbologyPart = {
  codeTypeSymbology: 'Code type (symbology)',
  checkingWhichOnesFit: 'Checking which ones fit …',
  fits: '{1}, fits{2}',
  doesNotFit: '{1}, does not fit',
  notFit: '{1}, {2} not fit',
  withAWorkedColumn: 'With a worked column, which leaves the list’s own values unchanged:',
  left: ': {1} left',
  allThatWereChecked: ': all that were checked fit. Others may come out the same.',
  allFitAndNo: ': all fit, and no two are the same',
  apply: 'Apply',
  checkedOfRecordsThose:
    'Checked {1} of {2} records: those with content, and an even sample of long lists.',
  thereIsNothingTo: 'There is nothing to encode.',
} as const;
