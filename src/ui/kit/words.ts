/** The texts of this folder, by file. `{1}` is the first part of a text (see kit/with-parts). */

export const brand = {
  handStamp: '{1}Hand Stamp',
} as const;

export const camera = {
  thisPageMayNot:
    'This page may not use the camera. Allow it in the browser, next to the address, or choose a picture file.',
  thisDeviceHasNo: 'This device has no camera. Choose a picture file instead.',
  anotherProgramIsUsing:
    'Another program is using the camera. Close that program, or choose a picture file.',
  theCameraWorksOnly: 'The camera works only on https addresses. Choose a picture file instead.',
  isNotAPicture: '{1} is not a picture that can be opened here. Choose a PNG, JPEG or WebP file.',
} as const;

export const controls = {
  smaller: 'Smaller',
  larger: 'Larger',
} as const;

export const copy = {
  yourBrowserBlockedCopying: 'Your browser blocked copying. Select the text and press Ctrl+C.',
} as const;

export const mark = {
  needsALook: 'needs a look',
  leftOut: 'left out',
  notRunYet: 'not run yet',
} as const;

export const opening = {
  openingThePage: 'Opening the page …',
} as const;

export const pageError = {
  thisPageCouldNot: 'This page could not be shown just now',
  handStampWasUpdated:
    'Hand Stamp was updated while this window was open, or part of it did not load. Nothing that was saved is lost. The page loads again by itself.',
  theDatabaseIsProbably:
    'The database is probably restarting, which takes a few seconds. Nothing that was saved is lost. The page tries again by itself.',
  tryNow: 'Try now',
  forTheLog: 'For the log: {1}',
} as const;

export const port = {
  isNotAPort: '“{1}” is not a port. Enter a whole number up to 65535, usually {2}.',
} as const;

export const reading = {
  reading: 'reading …',
  thereIsNoCode: 'there is no code',
  doesNotRead: '{1}does not read',
  different: '{1}different: {2}',
  correctCharacters: '{1}correct, {2} characters',
} as const;

export const sharing = {
  asAViewer: 'as a Viewer',
  asAnEditor: 'as an Editor',
  loadingWhoItIs: 'Loading who it is shared with …',
  notSharedWithAnyone: 'Not shared with anyone else.',
  sharedWith: 'Shared with:',
  stopSharing: 'Stop sharing',
  stopSharingWith: 'Stop sharing with {1}',
  share: 'Share',
  with: 'with {1}',
} as const;

export const term = {
  whatIsThis: '{1}: what is this?',
} as const;

export const throwAway = {
  delete: 'Delete {1} …',
  deletePermanently: 'Delete permanently',
  cancel: 'Cancel',
  deleting: 'Deleting …',
} as const;

export const twoCodes = {
  noCode: 'no code',
  squares: '{1} squares',
} as const;

export const usual = {
  otherwiseWithThe: 'Otherwise with the ',
  withThe: 'With the ',
  usualSettings: 'usual settings',
} as const;
