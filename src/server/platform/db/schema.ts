import type { ColumnType, Generated, JSONColumnType, RawBuilder } from 'kysely';
import type { Column, Values } from '../../../core/records/columns';
import type { Stored } from '../../../core/base/stored';
import type { FrozenRun, JobDocument, StoredDocument } from '../../../core/job/document';
import type { KeptPicture } from '../../../core/drawing/picture';
import type { Stamp } from '../../../core/payload/stamp';
import type { Clash } from '../../../core/records/differences';
import type { Origin } from '../../../core/job/sources';
import type { Doubts } from '../../../core/records/reading';
import type { ProblemKind } from '../../../core/records/problems';
import type {
  BookPreview,
  PaperTold,
  RereadTake,
  RereadTold,
  RevisionCounts,
  RunState,
  SaidSame,
  TakeOptions,
} from '../../../contract';
import type { Answer } from '../../../core/checkpoint/answer';
import type { ByOneself } from '../../../core/checkpoint/by-oneself';
import type { RoundAnswer, RoundOutcome } from '../../../core/checkpoint/round';
import type { Rule } from '../../../core/checkpoint/rule';
import type { Device } from '../../../core/links/device';
import type { Leads, LinkRule, LinkState } from '../../../core/links/leading';
import type { OwnPageDocument } from '../../../core/links/own';
import type { PageSetDocument } from '../../../core/links/pages';
import type { DoorState } from '../../../core/payload/door';
import type { MailState } from '../../../core/mail/states';
import type { Asked } from '../../../core/orders/conditions';
import type { Made, Order, WhenKind } from '../../../core/orders/order';
import type { WebhookEvent } from '../../../core/access/webhooks';
import type { KeyRight } from '../../../core/access/keys';
import type { Right, SharedRight } from '../../../core/access/rights';
import type { Mark, RowVerdict } from '../../../core/run/judge';
import type { PaperMarks } from '../../../core/run/paper';
import type { PrinterFacts, PrintState, ToPrint } from '../../../core/run/printer';

type Timestamp = ColumnType<Date, Date | string | undefined, Date | string>;
/** JSON that is written as text and read back parsed. */
type Json<T> = ColumnType<T, string, string>;
type JsonOrNull<T> = ColumnType<T | null, string | null | undefined, string | null>;
type TimestampOrNull = ColumnType<
  Date | null,
  Date | string | null | undefined,
  Date | string | null
>;

export interface Lists {
  id: Generated<number>;
  name: string;
  columns: JSONColumnType<Column[]>;
  source: string;
  /** The source of the records, and how to read it again. */
  origin: JsonOrNull<Origin>;
  /** Stamps of the list; every job of it uses them. */
  stamps: ColumnType<Stamp[], string | undefined, string>;
  /** Shape that nearly all values of a column have, by column id. */
  shapes: ColumnType<Record<string, string>, string | undefined, string>;
  /** Number for the next column's id, so that an id is never used twice. */
  next_column: Generated<number>;
  /**
   * Records whose worked columns are still to be worked out; while it is not 0, no checking makes
   * the list fresh.
   */
  working: Generated<number>;
  /**
   * Changes of whatever verdicts depend on, and the count of them that verdicts and worked columns
   * were last worked out from.
   */
  changes: Generated<number>;
  judged: Generated<number>;
  revision: Generated<number>;
  created_by: string;
  created_at: Timestamp;
  updated_at: Timestamp;
}

export interface Records {
  id: Generated<number>;
  list_id: number;
  position: number;
  /** Values by column id, exactly as they came in. */
  values: Json<Values>;
  /** For cells changed by hand: the value of the source at the last reading. */
  hand: JsonOrNull<Values>;
  /** Doubts about cells from the time their file was read. */
  doubts: JsonOrNull<Doubts>;
}

export interface Revisions {
  list_id: number;
  number: number;
  kind: RevisionKind;
  note: string;
  undone: Generated<boolean>;
  undone_at: TimestampOrNull;
  /** Undone, and something else was done since: it can be done again from the history only. */
  dropped: Generated<boolean>;
  counts: JsonOrNull<RevisionCounts>;
  columns_before: JsonOrNull<Column[]>;
  columns_after: JsonOrNull<Column[]>;
  /** Standing orders by whose work it came about, the first of them first. */
  chain: Generated<number[]>;
  created_by: string;
  created_at: Timestamp;
}

export type RevisionKind =
  'intake' | 'reread' | 'edit' | 'mend' | 'rows' | 'columns' | 'undo' | 'redo';

/** What happened to one record in a revision. */
export interface RevisionRows {
  list_id: number;
  number: number;
  seq: number;
  record_id: number;
  change: 'added' | 'changed' | 'gone';
  before: JsonOrNull<Values>;
  after: JsonOrNull<Values>;
  /** Place of an added or gone record in the list. */
  position: number | null;
  /** Of a deleted record: hand edits and where it was printed, so that undo can restore it. */
  kept: JsonOrNull<KeptWithRecord>;
}

export interface KeptWithRecord {
  hand: Values | null;
  doubts?: Doubts | null;
  printed: {
    job_id: number;
    run_mark: 'ready' | 'failed' | null;
    run_id: number | null;
    run_page: number | null;
    run_place: number | null;
    printed: string | null;
  }[];
}

/**
 * What a record is weighed by against the others: its key, its key by eye, its finished code for
 * each stamp.
 */
export interface Prints {
  list_id: number;
  what: string;
  record_id: number;
  print: string | null;
  mark: Mark;
}

export interface Problems {
  list_id: number;
  record_id: number;
  kind: ProblemKind;
  column_id: string;
  text: string;
  mended: string | null;
}

export interface Connections {
  id: Generated<number>;
  name: string;
  host: string;
  port: number;
  database: string;
  username: string;
  /** Sealed; the key is not in this database. */
  password: string;
  tls: Generated<string>;
  created_by: string;
  created_at: Timestamp;
}

export interface Kept {
  id: Generated<number>;
  kind: 'look' | 'content' | 'piece' | 'stock';
  name: string;
  document: JSONColumnType<Record<string, unknown>>;
  created_by: string;
  created_at: Timestamp;
}

/** Addresses of a stamp that are still to be asked. */
export interface DoorAsks {
  job_id: number;
  stamp: string;
  address: string;
}

/** What an address answered when it was asked for. */
export interface Answers {
  address: string;
  state: string;
  status: number | null;
  leads_to: string | null;
  asked_at: Timestamp;
}

/** One record of a re-read that waits to be taken. */
export interface IntakeRows {
  intake_id: number;
  seq: number;
  change: 'added' | 'changed' | 'gone';
  record_id: number | null;
  before: JsonOrNull<Values>;
  after: JsonOrNull<Values>;
  clashes: JsonOrNull<Clash[]>;
}

export interface Intakes {
  id: Generated<number>;
  file_name: string;
  bytes: Buffer;
  state: 'waiting' | 'read' | 'taking' | 'taken' | 'failed';
  error: Generated<string | null>;
  preview: JsonOrNull<BookPreview>;
  take: JsonOrNull<TakeOptions | RereadTake>;
  job_id: Generated<number | null>;
  /** Set when a list is read again. */
  list_id: number | null;
  origin: JsonOrNull<Origin>;
  told: JsonOrNull<RereadTold>;
  /** What a person declared to be the same before the next comparison. */
  same: JsonOrNull<SaidSame>;
  created_by: string;
  created_at: Timestamp;
}

export interface Jobs {
  id: Generated<number>;
  name: string;
  list_id: number;
  document: ColumnType<Stored<StoredDocument>, string, string>;
  /** Changes of its document, and the count of them that its verdicts were last worked out from. */
  changes: Generated<number>;
  judged: Generated<number>;
  version: Generated<number>;
  /**
   * Rows that the current check has done, for display. Whether a check is needed is decided by
   * `changes` and `judged`.
   */
  checked: Generated<number>;
  /** Asking the addresses of a stamp: which, and how far it is. */
  asking: JsonOrNull<{ stamp: string; done: number; of: number }>;
  created_by: string;
  created_at: Timestamp;
  updated_at: Timestamp;
}

export interface JobVersions {
  job_id: number;
  version: number;
  /** The whole document with the stamps of the list at that time. */
  document: ColumnType<Stored<JobDocument>, string, string>;
  created_by: string;
  created_at: Timestamp;
  /**
   * A change of the document can be undone. A new name, an undo and a redo are not changes of their
   * own.
   */
  kind: ColumnType<
    'change' | 'name' | 'undo' | 'redo',
    'change' | 'name' | 'undo' | 'redo' | undefined,
    never
  >;
  undone_at: TimestampOrNull;
  /** Undone, and something else was done since. */
  dropped: Generated<boolean>;
}

export interface JobRows {
  job_id: number;
  record_id: number;
  /** The record's place in its list, so that windows of the ledger need no join to be found. */
  position: number;
  records_mark: Mark;
  stamps_mark: Mark;
  piece_mark: Mark;
  overall: Mark;
  /** The same for outputs that use only the codes. */
  codes: Generated<Mark>;
  /** Every code on its piece is there. */
  drawn: Generated<boolean>;
  notes: Json<RowVerdict['notes']>;
  run_mark: 'ready' | 'failed' | null;
  run_id: number | null;
  run_page: number | null;
  run_place: number | null;
  /** What the piece says of the record, shortened to a hash: now, and when it was last printed. */
  content: Generated<string | null>;
  printed: Generated<string | null>;
}

export interface Runs {
  id: Generated<number>;
  job_id: number;
  /** A print of codes and titles of some records; it does not count as a print of the job. */
  kind: Generated<'job' | 'quick'>;
  name: string;
  state: RunState;
  /** Everything the run is made from, frozen when it was asked for. */
  frozen: ColumnType<Stored<FrozenRun>, string, string>;
  pieces: number;
  sheets: number;
  codes: Generated<number>;
  codes_read: Generated<number>;
  codes_failed: Generated<number>;
  pieces_made: Generated<number>;
  left_out: Json<{ title: string; reason: string; record?: number }[]>;
  error: Generated<string | null>;
  created_by: string;
  created_at: Timestamp;
  started_at: TimestampOrNull;
  finished_at: TimestampOrNull;
  /** Since when its files are not kept any more. */
  files_gone_at: TimestampOrNull;
  /** What keeps its mails from going out, in words. */
  mail_trouble: Generated<string | null>;
}

export interface RunItems {
  run_id: number;
  /** Piece number in the run, from 0. */
  seq: number;
  record_id: number;
  values: Json<Values>;
  content: Generated<string | null>;
  /** Name of its file, without ending, where each record gets one. */
  name: Generated<string | null>;
  /** Of a document for several records: all of them. */
  members: Generated<{ record: number; content: string | null }[] | null>;
}

/** Files of single records, until they are put together. */
export interface RunParts {
  run_id: number;
  seq: number;
  part: number;
  name: string;
  bytes: Buffer;
}

export interface RunPictures {
  run_id: number;
  name: string;
  picture: Json<KeptPicture>;
}

export interface ListPictures {
  list_id: number;
  name: string;
  picture: Json<KeptPicture>;
}

export interface Printers {
  id: Generated<number>;
  name: string;
  dpi: number;
  /** In mm, to the right and down. */
  offset_x: Generated<number>;
  offset_y: Generated<number>;
  /** Dots of the finest module that its test page showed to read; null before one was printed. */
  finest_dots: number | null;
  created_at: Timestamp;
  /** Of a real printer: `ipp://…`; null for a test printer. */
  address: string | null;
  facts: JsonOrNull<PrinterFacts>;
  /** When the printer last reported them. */
  asked_at: TimestampOrNull;
  /** Why it was not reached when it was last asked. */
  trouble: string | null;
  /** Of a test printer: the fault of its prints. */
  faults: Generated<string[]>;
  /** Of a test printer: pictures of its sheets go into the In-tray. */
  into_tray: Generated<boolean>;
}

export interface PrintJobs {
  id: Generated<number>;
  printer_id: number;
  run_id: number | null;
  name: string;
  sheets: number;
  sent_at: Timestamp;
  stopped_at: TimestampOrNull;
  /** Null for a test printer that only follows the clock. */
  state: PrintState | null;
  /** Why it waits or ended like this, in words. */
  reason: Generated<string>;
  printed: Generated<number>;
  /** By which it is found again at the printer. */
  name_there: string | null;
  job_there: number | null;
  /** When it was begun to be handed over. */
  began_at: TimestampOrNull;
  ended_at: TimestampOrNull;
  tries: Generated<number>;
  needs: JsonOrNull<ToPrint>;
  /** It goes though something does not fit. */
  anyway: Generated<boolean>;
  test_page: Generated<boolean>;
}

export interface Letters {
  id: Generated<number>;
  kind: string;
  subject: string;
  body: string;
  run_id: number | null;
  job_id: number | null;
  written_at: Timestamp;
}

export interface Mails {
  id: Generated<number>;
  /** To a person of a list, a test email, or a notice that a run is done. */
  kind: 'person' | 'trial' | 'notice';
  job_id: number;
  run_id: number | null;
  seq: number | null;
  record_id: number | null;
  title: string;
  address: string;
  subject: string;
  state: MailState;
  /** The answer of the mail server, or why the email is held. */
  reply: Generated<string>;
  tries: Generated<number>;
  due_at: Generated<Date>;
  ended_at: TimestampOrNull;
  /** The worker that is sending it; a new name for each attempt. */
  handed_by: string | null;
  /** It is sent although the person may have had it: somebody chose that. */
  again: Generated<boolean>;
  /** The whole of it (RFC 5322); gone once it was sent. */
  message: Buffer | null;
}

/** When the next mail may go out. */
export interface MailPace {
  one: Generated<boolean>;
  next_at: Generated<Date>;
}

export interface CodeAddresses {
  token: string;
  list_id: number;
  record_id: number;
  stamp: string;
  withdrawn: Generated<boolean>;
  created_by: string;
  created_at: Timestamp;
}

export interface RunChunks {
  run_id: number;
  number: number;
  done: Generated<boolean>;
  glyphs: JsonOrNull<[font: string, glyphs: [number, string][]][]>;
}

export interface RunPages {
  run_id: number;
  page: number;
  /** Compressed content stream of the page. */
  content: Buffer;
}

export interface Receipts {
  run_id: number;
  seq: number;
  stamp: string;
  /** Which of the stamp's codes in table rows, from 1; 0 for the code of the record itself. */
  nth: Generated<number>;
  record_id: number;
  title: string;
  key: string;
  payload: string;
  /** From 1. */
  page: number;
  place: number;
  result: 'read' | 'differs' | 'unread';
  read_text: string | null;
  /** When it was read from the paper. */
  paper_at: TimestampOrNull;
}

/** A picture of printed sheets that was read. */
export interface PaperPictures {
  id: Generated<number>;
  run_id: number;
  name: string;
  /** Codes of the run on it, and others. */
  found: number;
  other: number;
  pages: ColumnType<number[], RawBuilder<unknown>, never>;
  marks: ColumnType<PaperMarks, string, string>;
  /**
   * Hash of the contents and their positions, so that one picture counts once, however often it is
   * read; null for older ones.
   */
  shows: string | null;
  made_by: string;
  created_at: Timestamp;
}

export interface PaperFiles {
  id: Generated<number>;
  /** Null if the pictures themselves identify the run. */
  run_id: number | null;
  name: string;
  /** Until it is read; null if it is in the In-tray. */
  bytes: Buffer | null;
  tray_path: string | null;
  tray_stamp: string | null;
  state: Generated<'waiting' | 'read' | 'failed'>;
  error: string | null;
  told: JsonOrNull<PaperTold[]>;
  made_by: string;
  created_at: Timestamp;
}

export interface Files {
  id: Generated<number>;
  run_id: number;
  name: string;
  mime: string;
  size: number;
  created_at: Timestamp;
}

export interface FilePieces {
  file_id: number;
  number: number;
  bytes: Buffer;
}

export interface Documents {
  id: Generated<number>;
  kind: 'docx' | 'html' | 'pdf';
  name: string;
  size: number;
  hash: string;
  /** The contents of a DOCX; the pages of a PDF. */
  facts: ColumnType<unknown, string, never>;
  created_by: string;
  created_at: Timestamp;
  set_id: ColumnType<number | null, number | undefined, null>;
  name_keys: ColumnType<string[], string[] | undefined, never>;
  title_keys: ColumnType<string[], string[] | undefined, never>;
  text_keys: ColumnType<string[], string[] | undefined, never>;
  code_keys: ColumnType<string[], string[] | undefined, never>;
  /** With which a locked one opens, sealed. */
  password: ColumnType<string | null, string | null | undefined, never>;
}

export interface DocumentSets {
  id: Generated<number>;
  name: string;
  created_by: string;
  created_at: Timestamp;
}

export interface DocumentPieces {
  document_id: number;
  number: number;
  bytes: Buffer;
}

export interface Workers {
  id: string;
  seen_at: Timestamp;
}

export interface Settings {
  name: string;
  value: string;
}

export interface People {
  id: string;
  name: string;
  /** In lower case. */
  email: string;
  email_verified: Generated<boolean>;
  created_at: Timestamp;
  updated_at: Timestamp;
  two_factor_enabled: Generated<boolean>;
  right: Right;
  /** Deactivated: their name stays next to what they did. */
  ended: Generated<boolean>;
  /** One of the demo's made-up people. */
  stand_in: Generated<boolean>;
}
export interface Sessions {
  id: string;
  token: string;
  person_id: string;
  expires_at: Timestamp;
  created_at: Timestamp;
  updated_at: Timestamp;
  user_agent: string | null;
}
export interface SignIns {
  id: string;
  person_id: string;
  provider_id: string;
  account_id: string;
  password: string | null;
  updated_at: Timestamp;
}
export interface Passkeys {
  id: string;
  person_id: string;
  name: string | null;
  created_at: TimestampOrNull;
}
export interface SecondFactors {
  id: string;
  person_id: string;
  verified: boolean | null;
}
export interface Welcomes {
  token_hash: string;
  kind: 'first' | 'invitation' | 'reset';
  email: string | null;
  name: string | null;
  right: Right | null;
  person_id: string | null;
  made_by: string;
  created_at: Timestamp;
  expires_at: Timestamp;
}
/** Codes of second factors that were used, each for a few minutes. */
export interface UsedCodes {
  person_id: string;
  code_hash: string;
  at: Timestamp;
}
export interface Tries {
  key: string;
  at: Timestamp;
}
export interface Shares {
  person_id: string;
  list_id: number | null;
  job_id: number | null;
  right: SharedRight;
  made_by: string;
  created_at: Timestamp;
}
export interface Presence {
  window_id: string;
  job_id: number;
  person_id: string;
  record_id: number | null;
  seen_at: Timestamp;
}
export interface Journal {
  id: Generated<number>;
  at: Timestamp;
  person_id: string | null;
  who: string;
  /** What a route does, in the contract's words. */
  what: string;
  /** Of what, by its name then. */
  about: Generated<string>;
  list_id: number | null;
  job_id: number | null;
  /** Number of the request, as the log and an error page give it. */
  request: string;
  /** Null while the result is unknown: it is in progress, or its process ended. */
  outcome: string | null;
  settled_at: TimestampOrNull;
}

/** Where the links of a column lead; also stored here for when the column is deleted. */
export interface LinkSets {
  id: Generated<number>;
  list_id: number | null;
  column_id: string;
  leads: JSONColumnType<Leads>;
  created_by: string;
  created_at: Timestamp;
}
export interface Links {
  /** With its check character. */
  code: string;
  /** Null for a single link. */
  set_id: number | null;
  list_id: number | null;
  record_id: number | null;
  /** Of its record, also when that is gone; or its own. */
  title: Generated<string>;
  /** Its own target; null if it leads where its set does. */
  leads: JsonOrNull<Leads>;
  state: Generated<LinkState>;
  opens: string | null;
  ends: string | null;
  after: string | null;
  peeks: Generated<boolean>;
  printed_at: TimestampOrNull;
  /** Scans by people; those of robots are only in the hourly counts. */
  scans: Generated<number>;
  scanned_at: TimestampOrNull;
  /** When the page of the link was last checked, and what it answered. */
  asked_at: TimestampOrNull;
  answered: DoorState | null;
  created_by: string;
  created_at: Timestamp;
}
/** What a link, or the links of a column, were before a change and after it. */
export interface LinkChanges {
  id: Generated<number>;
  code: string | null;
  set_id: number | null;
  batch: string;
  before: Json<Partial<LinkRule>>;
  after: Json<Partial<LinkRule>>;
  undone: Generated<boolean>;
  changed_by: string | null;
  changed_at: Timestamp;
}
export interface LinkScans {
  code: string;
  hour: Timestamp;
  device: Device;
  scans: number;
}
/** Lots of scans that are counted, so that none is counted twice. */
export interface LinkFlushes {
  id: string;
  at: Timestamp;
}

/** What the pages of the records of a list show. */
export interface PageSets {
  list_id: number;
  document: JSONColumnType<PageSetDocument>;
  version: Generated<number>;
  changed_by: string;
  changed_at: Timestamp;
}
export interface RecordPages {
  id: string;
  list_id: number | null;
  record_id: number;
  created_at: Timestamp;
}

/** A page on which people get their own code. */
export interface OwnPages {
  job_id: number;
  token: string;
  document: JSONColumnType<OwnPageDocument>;
  version: Generated<number>;
  fetched: Generated<number>;
  changed_by: string;
  changed_at: Timestamp;
}

/** By which programs ask. */
export interface ApiKeys {
  id: Generated<number>;
  name: string;
  hash: string;
  ending: string;
  rights: KeyRight[];
  list_id: number | null;
  /** Last day on which it is good, in the calendar of the server. */
  ends: string | null;
  used_at: TimestampOrNull;
  made_by: string;
  created_at: Timestamp;
}
/** The answer to a request with an Idempotency-Key; without a status it is in progress. */
export interface ApiRepeats {
  key_id: number;
  repeat: string;
  asked: string;
  status: number | null;
  answer: JsonOrNull<unknown>;
  created_at: Timestamp;
}

/** Programs that are notified of events. */
export interface Webhooks {
  id: Generated<number>;
  name: string;
  address: string;
  events: WebhookEvent[];
  list_id: number | null;
  /** Sealed. */
  secret: string;
  open: Generated<boolean>;
  /** Since when nothing but failures. */
  failing_since: TimestampOrNull;
  /** Why it is no longer notified, in words. */
  trouble: string | null;
  made_by: string;
  created_at: Timestamp;
}
export interface StandingOrders {
  id: Generated<number>;
  name: string;
  state: Generated<'on' | 'off' | 'stopped'>;
  /** Why it stopped itself. */
  why: string | null;
  paused_until: TimestampOrNull;
  /** What happened before does not start it. */
  on_since: TimestampOrNull;
  document: Json<Order>;
  version: Generated<number>;
  /** The list of the event, if there is one. */
  list_id: number | null;
  kind: WhenKind;
  /** By the clock: when it is next. */
  next_at: TimestampOrNull;
  /** Of an incoming call. */
  token: string | null;
  /** Sealed. */
  secret: string | null;
  example: JsonOrNull<unknown>;
  changed_by: string;
  changed_at: Timestamp;
  created_at: Timestamp;
}
export interface OrderVersions {
  order_id: number;
  version: number;
  name: string;
  document: Json<Order>;
  made_by: string;
  made_at: Timestamp;
}
/** What happened, once, before it is known which orders start from it. */
export interface OrderEvents {
  id: Generated<number>;
  kind: 'record' | 'document' | 'call' | 'scan' | 'schedule' | 'hand';
  order_id: number | null;
  list_id: number | null;
  record_id: number | null;
  change: string | null;
  thing: string;
  title: Generated<string>;
  before: JsonOrNull<Values>;
  after: JsonOrNull<Values>;
  given: JsonOrNull<Values>;
  once: string | null;
  chain: Generated<number[]>;
  actor: Generated<string>;
  at: Timestamp;
  due_at: Timestamp;
  told_at: TimestampOrNull;
}
export interface OrderFirings {
  id: Generated<number>;
  order_id: number;
  version: number;
  event_id: number;
  part: Generated<string>;
  parent_id: number | null;
  record_id: number | null;
  thing: string;
  state: Generated<'waiting' | 'asking' | 'done' | 'stopped' | 'failed' | 'declined'>;
  /** The step that is next. */
  seq: Generated<number>;
  conditions: JsonOrNull<(Asked | null)[]>;
  why: string | null;
  chips: ColumnType<Values, string | undefined, string>;
  tries: Generated<number>;
  approved_by: string | null;
  due_at: Timestamp;
  created_at: Timestamp;
  ended_at: TimestampOrNull;
}
/** What an order has done, by the thing it was done for. */
export interface OrderDone {
  order_id: number;
  thing: string;
  at: Timestamp;
}
export interface FiringSteps {
  firing_id: number;
  seq: number;
  kind: string;
  state: 'did' | 'failed' | 'waits';
  words: string;
  made: JsonOrNull<Made>;
  ms: Generated<number>;
  tries: Generated<number>;
  at: Timestamp;
}
export interface WebhookDeliveries {
  id: Generated<string>;
  webhook_id: number;
  kind: string;
  body: Json<unknown>;
  state: Generated<'waiting' | 'delivered' | 'failed'>;
  tries: Generated<number>;
  due_at: Timestamp;
  status: number | null;
  answer: string | null;
  created_at: Timestamp;
  ended_at: TimestampOrNull;
}

export interface Checkpoints {
  id: Generated<number>;
  name: string;
  rule: Json<Rule>;
  version: Generated<number>;
  /** Number of the checkpoint with which it counts together. */
  circle: number | null;
  /** How people check in by themselves. */
  by_oneself: JsonOrNull<ByOneself>;
  created_by: string;
  created_at: Timestamp;
}

/** A phone or a reader's machine at a checkpoint. */
export interface CheckpointDevices {
  id: Generated<number>;
  checkpoint_id: number;
  name: string;
  /** Hash of what the code by which it joins says; gone once it has joined. */
  joins: string | null;
  joins_until: TimestampOrNull;
  /** Hash of the stored document. */
  secret: string | null;
  ends_at: Timestamp;
  shut_at: TimestampOrNull;
  joined_at: TimestampOrNull;
  seen_at: TimestampOrNull;
  offset_ms: Generated<number>;
  waiting: Generated<number>;
  made_by: string;
  created_at: Timestamp;
}

/** One line of a tape; nothing of it is ever changed but by `twice_with`. */
export interface CheckpointScans {
  id: Generated<number>;
  checkpoint_id: number;
  key: string;
  device_id: number | null;
  who: string;
  how: 'camera' | 'reader' | 'picture' | 'hand' | 'page';
  at: Timestamp;
  received_at: Timestamp;
  answer: Answer | 'taken-back';
  why: Generated<string>;
  session: string | null;
  list_id: number | null;
  record_id: number | null;
  title: Generated<string>;
  record_key: Generated<string>;
  text: string | null;
  reason: string | null;
  apart: Generated<boolean>;
  found: Answer | null;
  twice_with: number | null;
  takes_back: number | null;
}

export interface Rounds {
  id: Generated<number>;
  name: string;
  list_id: number;
  /** Column of the list that says the place. */
  place_column: string;
  started_by: string;
  created_at: Timestamp;
  closed_at: TimestampOrNull;
  closed_by: string | null;
}

export interface RoundScans {
  id: Generated<number>;
  round_id: number;
  key: string;
  who: string;
  how: 'camera' | 'reader' | 'picture' | 'hand';
  at: Timestamp;
  place: string;
  answer: RoundAnswer;
  why: Generated<string>;
  record_id: number | null;
  title: Generated<string>;
  record_key: Generated<string>;
  belongs: string | null;
  text: string | null;
  done: 'moved' | 'made' | null;
}

export interface RoundLines {
  round_id: number;
  seq: number;
  record_id: number | null;
  title: string;
  record_key: string;
  place: string;
  seen_at: string | null;
  outcome: RoundOutcome;
}

export interface Schema {
  rounds: Rounds;
  round_scans: RoundScans;
  round_lines: RoundLines;
  checkpoints: Checkpoints;
  checkpoint_devices: CheckpointDevices;
  checkpoint_scans: CheckpointScans;
  standing_orders: StandingOrders;
  order_versions: OrderVersions;
  order_events: OrderEvents;
  order_firings: OrderFirings;
  order_done: OrderDone;
  firing_steps: FiringSteps;
  webhooks: Webhooks;
  webhook_deliveries: WebhookDeliveries;
  api_keys: ApiKeys;
  api_repeats: ApiRepeats;
  own_pages: OwnPages;
  page_sets: PageSets;
  record_pages: RecordPages;
  link_sets: LinkSets;
  links: Links;
  link_changes: LinkChanges;
  link_scans: LinkScans;
  link_flushes: LinkFlushes;
  lists: Lists;
  records: Records;
  revisions: Revisions;
  revision_rows: RevisionRows;
  prints: Prints;
  problems: Problems;
  connections: Connections;
  kept: Kept;
  answers: Answers;
  door_asks: DoorAsks;
  intake_rows: IntakeRows;
  intakes: Intakes;
  jobs: Jobs;
  job_versions: JobVersions;
  job_rows: JobRows;
  runs: Runs;
  run_items: RunItems;
  run_chunks: RunChunks;
  run_pages: RunPages;
  receipts: Receipts;
  paper_pictures: PaperPictures;
  paper_files: PaperFiles;
  run_parts: RunParts;
  list_pictures: ListPictures;
  run_pictures: RunPictures;
  printers: Printers;
  print_jobs: PrintJobs;
  letters: Letters;
  mails: Mails;
  mail_pace: MailPace;
  code_addresses: CodeAddresses;
  files: Files;
  file_pieces: FilePieces;
  documents: Documents;
  document_sets: DocumentSets;
  document_pieces: DocumentPieces;
  workers: Workers;
  settings: Settings;
  people: People;
  sessions: Sessions;
  sign_ins: SignIns;
  passkeys: Passkeys;
  second_factors: SecondFactors;
  welcomes: Welcomes;
  tries: Tries;
  used_codes: UsedCodes;
  shares: Shares;
  journal: Journal;
  presence: Presence;
}
