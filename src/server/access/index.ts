/**
 * Who asks and what they may do: people, sessions, rights, shares, the gate of every route, the
 * journal, and the masking of secrets. Uses the platform.
 */
export { originOf } from './auth';
export { sealAnew } from './new-key';
export { type Asked, handle, type Handler, type Handlers, refusalOf, withoutKeys } from './gate';
export { type Device, deviceCookie, deviceHash } from './devices';
export { type Caller, endKey, listKeys, makeKey } from './keys';
export { journalCsv, note, noteShown, viewJournal } from './journal';
export { metricsText } from './metrics';
export { askedColumns, maskedCells, maskedText, maskedValues, recordToken } from './masking';
export {
  addPerson,
  changePerson,
  countForgotten,
  firstWelcome,
  forgottenBy,
  invite,
  listPeople,
  resetFor,
  takeBackInvitation,
  takeWelcome,
  viewWelcome,
} from './people';
export { forgetTheGone, sayHere, whoIsHere } from './presence';
export { shareIn, type Shared, sharesOf, shareWith } from './shares';
export {
  addPasskey,
  becomeStandIn,
  changePassword,
  confirmSecondFactor,
  endSessions,
  newPasskeyOptions,
  openSession,
  passkeyOptions,
  removePasskey,
  signInByPasskey,
  signInByPassword,
  signInBySecond,
  signOut,
  startSecondFactor,
  stopSecondFactor,
  viewSignIn,
} from './sign-in';
export { mayChange, rightOver, seenBy } from './things';
export { checkTries, forgetOldTries, inTurn, takeTry, triesOf } from './tries';
export { standInsFor, whoAsks, type Person } from './who';
export { mayName } from './references';
