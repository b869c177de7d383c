import { listed } from '../base/words';
import { outputOf } from '../run/outputs';
import type { Part } from '../records/parts';
import type { Condition } from './conditions';
import { chipsBefore, listOf, type Order, type OrderStep, type When } from './order';
import type { Column } from '../records/columns';
import { saysSchedule } from './schedule';

/** The names of things in a sentence; undefined for deleted ones. */
export interface Names {
  list(id: number): string | undefined;
  column(id: string, list?: number): string | undefined;
  job(id: number): string | undefined;
  stamp(id: string): string | undefined;
  printer(id: number): string | undefined;
  checkpoint(id: number): string | undefined;
}

const gone = (what: string): string => `a deleted ${what}`;
const changeWords = { came: 'is added to', changed: 'changes', went: 'goes' } as const;

/** What an order starts from, read aloud after “When”. */
export function saysWhen(when: When, names: Names): string {
  const list = (id: number) => names.list(id) ?? gone('list');
  switch (when.kind) {
    case 'record': {
      const [first, ...others] = (['came', 'changed', 'went'] as const).filter((c) =>
        when.on.includes(c),
      );
      const of =
        first === 'came'
          ? `${changeWords.came} ${list(when.list)}`
          : `of ${list(when.list)} ${changeWords[first ?? 'changed']}`;
      return `a record ${[of, ...others.map((c) => changeWords[c])].join(' or ')}`;
    }
    case 'reaches':
      return `${names.column(when.column, when.list) ?? gone('column')} of a record of ${list(when.list)} becomes ${when.value === '' ? 'nothing' : `“${when.value}”`}`;
    case 'document':
      return `a file arrives in ${when.folder === '' ? 'the In-tray' : `the In-tray’s folder ${when.folder}`}${when.again ? ' or is saved again' : ''}`;
    case 'call':
      return 'a program calls this order';
    case 'scan':
      return when.of === 'link'
        ? `a link of ${list(when.list)} is opened`
        : `a code of ${list(when.list)} is scanned at ${when.checkpoint === null ? 'any checkpoint' : (names.checkpoint(when.checkpoint) ?? gone('checkpoint'))}`;
    case 'schedule':
      return `it is time: ${saysSchedule(when.schedule)}`;
    case 'hand':
      return `someone starts it by hand for records of ${list(when.list)}`;
  }
}

const compareWords = {
  is: 'is',
  'is-not': 'is not',
  blank: 'is blank',
  filled: 'is not blank',
  begins: 'begins with',
  ends: 'ends with',
  contains: 'contains',
  before: 'is before',
  more: 'is more than',
} as const;

const sizeOf = (bytes: number): string =>
  bytes >= 1_000_000
    ? `${(bytes / 1_000_000).toLocaleString('en')} MB`
    : `${(bytes / 1000).toLocaleString('en')} kB`;

/** A condition, read aloud after “and”. */
export function saysCondition(condition: Condition, names: Names): string {
  switch (condition.of) {
    case 'column': {
      const own = `its ${names.column(condition.column) ?? gone('column')} ${compareWords[condition.is]}`;
      return condition.is === 'blank' || condition.is === 'filled'
        ? own
        : `${own} “${condition.value}”`;
    }
    case 'ending':
      return `it is a ${condition.value.replace(/^\./, '').toUpperCase()}`;
    case 'bytes':
      return `it is ${condition.is === 'more' ? 'larger than' : 'no larger than'} ${sizeOf(condition.value)}`;
    case 'pages':
      return `it has ${condition.is === 'more' ? 'more than' : 'at most'} ${condition.value} ${condition.value === 1 ? 'page' : 'pages'}`;
    case 'done':
      return condition.done ? 'this was done before' : 'only once for each record';
    case 'fits':
      return 'its stamps fit';
    case 'record':
      return 'its record is known';
  }
}

/** Words with columns in them, as they are shown: columns by their names. */
const saysParts = (parts: readonly Part[], names: Names): string =>
  parts
    .map((p) => (p.kind === 'text' ? p.text : (names.column(p.column) ?? gone('column'))))
    .join('') || '…';

/** What an order does, read aloud: `make the bed sign of the record, as PDF for print`. */
export function saysStep(step: OrderStep, names: Names): string {
  switch (step.kind) {
    case 'make': {
      const job = names.job(step.job) ?? gone('job');
      const as = outputName(step.output);
      // of one record there is one of it
      const ofOne = as.replace(/^one /, '').replace(/ of all of them$/, '');
      return step.which === 'record'
        ? `make ${job} for it, as ${ofOne}`
        : `run ${job} for ${step.which === 'new' ? 'what was not printed yet' : 'all that is ready'}, as ${as}`;
    }
    case 'take':
      return `add the file to the PDFs of ${names.job(step.job) ?? gone('job')}`;
    case 'write':
      return `write ${saysParts(step.parts, names)} to its ${names.column(step.column) ?? gone('column')}`;
    case 'link':
      return `create a link to ${saysParts(step.to, names)}`;
    case 'picture':
      return `publish the picture of its ${names.stamp(step.stamp) ?? gone('stamp')}`;
    case 'mail':
      return `email it to ${saysParts(step.to, names)}`;
    case 'out':
      return step.folder === ''
        ? 'put it into the Out-tray'
        : `put it into the Out-tray’s folder ${step.folder}`;
    case 'print':
      return `print it on ${names.printer(step.printer) ?? gone('printer')}`;
    case 'call':
      return `call ${saysParts(step.to, names)}`;
    case 'each':
      return `for each row of ${names.list(step.list) ?? gone('list')} whose ${names.column(step.column, step.list) ?? gone('column')} is ${saysParts(step.is, names)}`;
    case 'stop':
      return 'stop here';
  }
}

function outputName(kind: string): string {
  try {
    return outputOf(kind).name;
  } catch {
    return 'something that is no longer made';
  }
}

/** The whole sentence, read aloud. */
export function saysOrder(
  {
    when,
    conditions,
    steps,
  }: {
    when: When;
    conditions: { all: boolean; list: readonly Condition[] };
    steps: readonly OrderStep[];
  },
  names: Names,
): string {
  const if_ = conditions.list.map((c) => saysCondition(c, names));
  const asked =
    if_.length === 0
      ? ''
      : conditions.all
        ? ` and ${listed(if_)}`
        : ` and one of these is true: ${if_.join('; ')}`;
  const does = steps.map((s) => saysStep(s, names));
  return `When ${saysWhen(when, names)}${asked}: ${does.length > 0 ? does.join(', then ') : 'do nothing yet'}.`;
}

const shortSteps: Record<OrderStep['kind'], string> = {
  make: 'make it',
  take: 'add the file',
  write: 'write a value',
  link: 'create a link',
  picture: 'publish picture',
  mail: 'email it',
  out: 'Out-tray',
  print: 'print it',
  call: 'call',
  each: 'each row',
  stop: 'stop',
};

/** The same in few words, over a column of the rehearsal. */
export const shortStep = (step: OrderStep): string =>
  step.kind === 'make' && step.which !== 'record' ? 'run the job' : shortSteps[step.kind];

const shortWhens: Record<When['kind'], string> = {
  record: 'comes or changes',
  reaches: 'reaches it',
  document: 'arrives',
  call: 'calls',
  scan: 'scanned',
  schedule: 'its time',
  hand: 'started by hand',
};
export const shortWhen = (when: When): string =>
  when.kind === 'record'
    ? when.on.map((c) => ({ came: 'comes', changed: 'changes', went: 'goes' })[c]).join(' or ')
    : shortWhens[when.kind];

export function shortCondition(condition: Condition, names: Names): string {
  switch (condition.of) {
    case 'column': {
      const name = names.column(condition.column) ?? 'column deleted';
      if (condition.is === 'blank') return `${name} blank`;
      if (condition.is === 'filled') return `${name} not blank`;
      return `${name} ${compareWords[condition.is].replace(/^is /, '')}`;
    }
    case 'ending':
      return condition.value.replace(/^\./, '').toUpperCase();
    case 'bytes':
      return 'size';
    case 'pages':
      return 'pages';
    case 'done':
      return condition.done ? 'done before' : 'only once';
    case 'fits':
      return 'stamps fit';
    case 'record':
      return 'record known';
  }
}

/** What sentences speak of. */
interface Spoken {
  lists: readonly { id: number; name: string; columns: readonly Column[] }[];
  jobs: readonly {
    id: number;
    name: string;
    stamps: readonly { id: string; name: string }[];
  }[];
  printers: readonly { id: number; name: string }[];
  checkpoints: readonly { id: number; name: string }[];
}

/** How things are called that one order speaks of. */
export function namesOf(
  { lists, jobs, printers, checkpoints }: Spoken,
  order: Pick<Order, 'when' | 'steps'>,
): Names {
  const columnsOf = (id: number | null) => lists.find((l) => l.id === id)?.columns ?? [];
  const chips = chipsBefore(order, order.steps.length, [], columnsOf);
  return {
    list: (id) => lists.find((l) => l.id === id)?.name,
    column: (id, list) =>
      columnsOf(list ?? listOf(order.when)).find((c) => c.id === id)?.name ??
      chips.find((c) => c.id === id)?.name ??
      (id.startsWith('given.') ? id.slice('given.'.length) : undefined),
    job: (id) => jobs.find((j) => j.id === id)?.name,
    stamp: (id) => jobs.flatMap((j) => j.stamps).find((s) => s.id === id)?.name,
    printer: (id) => printers.find((p) => p.id === id)?.name,
    checkpoint: (id) => checkpoints.find((c) => c.id === id)?.name,
  };
}
