/** The texts of this folder, by file. `{1}` is the first part of a text (see kit/with-parts). */

export const inTray = {
  putPhotosOrScans:
    'Put photos or scans of printed sheets into the folder {1}. The results appear in the run’s receipt.',
  printedSheets: 'Printed sheets',
  printed: 'printed {1}',
  andOthers: ' and others',
  testPageOfSquares: 'test page of {1}: squares from {2} read',
  noCodeCouldBe: 'no code could be read',
  noneFromARun: '{1}, none from a run that is still kept',
  thisInstallationHasNo: 'This installation has no In-tray. Ask an administrator to set one up.',
  bringOneIn: 'Bring one in',
  otherFileIs: 'other file is',
  otherFilesAre: 'other files are',
  thereIsNoSpreadsheet: 'There is no spreadsheet in it.',
  itIsEmpty: 'It is empty.',
  name: 'Name',
  kind: 'Kind',
  kB: 'KB',
  saved: 'Saved',
  of: '{1} of {2}, {3}{4}',
  theFolderWhenYou:
    'The folder {1}. When you save a spreadsheet there, the lists made from it are updated. {2}.',
  thereSuchAsPDFs:
    '{1} there, such as PDFs and pictures. Standing orders and runs of PDFs use them from there.',
} as const;

export const outTray = {
  waitingForApproval: 'Waiting for approval',
  madeByStandingOrders: 'Made by standing orders. Sent after approval:',
  nothingMadeYet: 'nothing made yet',
  approveAndSend: 'Approve and send',
  doNotSend: 'Do not send',
  kB: '{1} KB',
  loading: 'Loading …',
  emailsLeaveByThe: 'Emails leave by the mail server in Settings. What it sends is not kept here.',
  noEmailHasBeen:
    'No email has been sent yet. The test mail server keeps emails here, so you can try everything and no one is written to.',
  asTheirReadersWould:
    '{1} {2}, as their readers would see them. The test mail server took them; no one was written to.',
  emails: 'Emails',
  showTheLatest: 'Show the latest {1}',
  to: '{1}, to {2}',
  noSubject: '(no subject)',
  attached: '{1} attached, ',
  from: 'From {1}',
  to2: 'To {1}',
  email: 'Email',
  close: 'Close',
  nothingHasBeenSent:
    'Nothing has been sent yet. When a run is done, a notice with its files appears here.',
  notices: 'Notices',
  showAll: 'Show all {1}',
} as const;

export const postRoom = {
  postRoom: 'Post room',
  inTray: 'In-tray',
  outTray: 'Out-tray',
  printers: 'Printers',
  programs: 'Programs',
} as const;

export const printers = {
  beingSent: 'being sent',
  notPrinted: 'not printed',
  perhapsPrinted: 'perhaps printed',
  sentTo: 'Sent to {1}',
  nothingWasSentTo: 'Nothing was sent to it yet. Send a finished run from its job.',
  stop: 'Stop',
  mostOfficePrintersUse:
    'Most office printers use IPP (a standard for network printers). You find the address in the printer’s network menu, for example ipp://printer.example/ipp/print. For a printer in your own network, Settings must allow private addresses.',
  addAPrinterBy: 'Add a printer by its address',
  addAPrinter: 'Add a printer',
  name: 'Name',
  address: 'Address',
  addPrinter: 'Add printer',
  dotsPerInch: '{1} dots per inch',
  dotsPerInch2: 'Dots per inch',
  mmAcrossAndMm: '{1} mm across and {2} mm down',
  offset: 'Offset',
  readTheNumberAt:
    'Read the number at the paper edge on the test page. If it says 2 mm right, enter −2.',
  toTheRightMm: 'To the right, mm',
  downMm: 'Down, mm',
  itsSheets: 'Its sheets',
  withoutAFault: 'without a fault',
  with: 'with {1}',
  areNotKept: 'are not kept',
  testPage: 'Test page',
  printTestPage: 'Print test page',
  removePrinter: 'Remove printer',
  theTestPageWas: 'The test page was not sent. {1}',
  noDetailsFromThis: 'No details from this printer yet',
  lastChecked: '; last checked {1}.',
  checked: ', checked {1}',
  checkAgain: 'Check again',
  finestSquare: 'Finest square',
  readItsPrintedTest: 'Read its printed test page',
  fromAPhotoOr: 'from a photo or a scan of it, or choose it yourself:',
  dotsOfTheFinest: 'Dots of the finest square that reads on its test page',
  itsFinestSquareIs: 'its finest square is not known yet',
  squaresFromMmRead: 'squares from {1}, {2} mm, read',
  putPicturesOfIts: 'Put pictures of its sheets into the In-tray, like a scanner',
  areInTheIn: 'are in the In-tray as pictures, {1}',
  itsSheets2: '; its sheets {1}',
  printsShiftedBy: 'Prints {1}, shifted by {2}; {3}{4}. {5}.{6}{7}',
} as const;

export const program = {
  theGardensApp: 'The garden’s app',
  thereIsNoTest:
    'There is no test program here. An administrator can create API keys for programs.',
  createsAccessionsByA:
    '{1} creates accessions by a key of its own, shows the code that comes back, and hears what happens to them, and what standing orders tell the seed vault.',
} as const;
