/**
 * The base of all other modules: database and migrations, queue, requests, files, sealing, outgoing
 * requests, processes for dangerous work, retention. It knows no list, job or run.
 */
export { breather } from './breather';
export { clock, goBy } from './clock';
export {
  baseAddress,
  ourAddresses,
  type OurAddresses,
  ourHosts,
  writeAddresses,
} from './addresses';
export type { Asked as AskedWork, Input, Output, Told, WorkName } from './apart/contract';
export { drawnCode, type DrawnCode, redrawnPicture } from './apart/pictures';
export { lanes, WorkEnded } from './apart/pool';
export { harmlessEnvironment } from './apart/surroundings';
export { newWorkbook } from './workbook';
export { configuration, outFolderName, printedFolderName } from './configuration';
export {
  database,
  type Database,
  databaseUrl,
  checkHealth,
  isAway,
  oneOf,
  openDatabase,
} from './db';
export { columnsOf } from './db/columns-of';
export { joined } from './db/joined';
export type { CheckpointScans, Intakes, KeptWithRecord, Receipts, RevisionKind } from './db/schema';
export { csvLines } from './csv';
export { deflate } from './deflate';
export { ending } from './ending';
export { fileHead, readFilePieces, writeFile } from './files';
export { fontBook, fontFile, fontPart, fontsOf } from './fonts';
export { checkDoor, isKnownHost, isOwnMachine } from './doors';
export { bytesOf } from './bodies';
export { askedOf, fileNameOf, lockedPage, paramsOf, passwordOf, streamed } from './http';
export { keyFits } from './key-check';
export { log } from './log';
export { placeOf } from './place';
export { holdSlot, Slots } from './slots';
export { heavy, Memo } from './memo';
export { newsStream } from './news-stream';
export {
  askAddress,
  type AskOptions,
  askPicture,
  type DoorAnswer,
  exchange,
  postTo,
  Unreached,
} from './outbound';
export { proofKeyPlaces, stampWithSealedKey, workedWithSealedKey } from './proof-keys';
export { oncePerProcess } from './process';
export { defineTask, enqueue, mostTries, type Task, taskCard, type TaskCard } from './queue';
export { ownFile, packageFile } from './packages';
export { provideReader } from './reader';
export { finalWords, IntakeError, Refusal, RunError } from './refusal';
export { checkRoom, takeAwayTheOld } from './retention';
export { reseal, seal, unseal } from './sealed';
export { randomText } from './secret';
export {
  askOptions,
  demoMark,
  isDemo,
  readSettings,
  settingsInWords,
  standInProgram,
  writeSettings,
} from './settings';
export { warmUp } from './warm';
export { programOf } from './programs';
