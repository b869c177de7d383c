import type { OrderChoices, ReadyKind } from '../../contract';
import { madeChip, orderSchema, type Order } from '../../core/orders/order';
import type { Part } from '../../core/records/parts';
import { type Database, Refusal } from '../platform';
import { orderChoices } from './names';

const text = (words: string): Part => ({ kind: 'text', text: words });
const column = (id: string): Part => ({ kind: 'column', column: id });

/**
 * A ready-made sentence with the lists and jobs of this installation that suit it best. The rest is
 * changed in the sentence.
 * @throws Refusal if there is nothing it could use
 */
export async function readyOrder(
  db: Database,
  kind: ReadyKind,
): Promise<{ name: string; document: Order }> {
  const choices = await orderChoices(db);
  const { name, ...document } = sentences[kind](choices);
  return { name, document: orderSchema.parse(document) };
}

type Sentence = { name: string } & Record<string, unknown>;
type Job = OrderChoices['jobs'][number];

/** The list that suits best, by words in its name or in the names of its jobs. */
function listFor({ lists, jobs }: OrderChoices, words: RegExp) {
  const score = (l: OrderChoices['lists'][number]) =>
    (words.test(l.name) ? 4 : 0) +
    (jobs.some((j) => j.list === l.id && words.test(j.name)) ? 2 : 0) +
    (jobs.some((j) => j.list === l.id) ? 1 : 0);
  const [best] = [...lists].sort((a, b) => score(b) - score(a));
  if (!best) throw new Refusal('Bring in a list first. A standing order needs records.');
  return best;
}
function jobFor({ jobs }: OrderChoices, list: number, words: RegExp): Job {
  const own = jobs.filter((j) => j.list === list);
  const best = own.find((j) => words.test(j.name)) ?? own[0];
  if (!best) throw new Refusal('Create a job for that list first. A standing order runs a job.');
  return best;
}
const all = (...list: unknown[]) => ({ all: true, list });
const outputFor = (job: Job, wanted: string) =>
  job.outputs.find((o) => o.kind === wanted)?.kind ?? job.outputs[0]?.kind ?? 'pdf';

const sentences: Record<ReadyKind, (choices: OrderChoices) => Sentence> = {
  volunteers: (c) => {
    const list = listFor(c, /volunteer|people|staff/i);
    const job = jobFor(c, list.id, /badge|volunteer/i);
    const mail = list.columns.find((x) => x.role === 'email');
    return {
      name: 'Email a code to each new person',
      when: { kind: 'record', list: list.id, on: ['came'] },
      conditions: all(
        ...(mail ? [{ of: 'column', column: mail.id, is: 'filled', value: '' }] : []),
        { of: 'done', done: false },
      ),
      steps: [
        { kind: 'make', id: 'a', job: job.id, output: outputFor(job, 'pdf-each'), which: 'record' },
        {
          kind: 'mail',
          id: 'b',
          to: mail ? [column(mail.id)] : [],
          subject: [text('Your code')],
          text: [text('Hello,\n\nHere is your code. Show it on your phone, or print it.')],
        },
      ],
    };
  },
  agreements: (c) => {
    const job =
      c.jobs.find((j) => j.pdfs && /agreement|loan/i.test(j.name)) ?? c.jobs.find((j) => j.pdfs);
    if (!job)
      throw new Refusal(
        'First create a job that puts codes on PDFs. The job sets the place on the page.',
      );
    return {
      name: 'PDFs from the In-tray',
      when: {
        kind: 'document',
        folder: c.folders?.find((f) => /agreement|loan/i.test(f)) ?? '',
        again: true,
        list: job.list,
      },
      conditions: all(
        { of: 'ending', value: 'pdf' },
        { of: 'record' },
        { of: 'done', done: false },
      ),
      steps: [
        { kind: 'take', id: 'a', job: job.id },
        { kind: 'make', id: 'b', job: job.id, output: outputFor(job, 'pdfs-one'), which: 'record' },
        { kind: 'out', id: 'c', folder: 'Agreements' },
      ],
    };
  },
  signs: (c) => {
    const list = listFor(c, /accession|bed|plant/i);
    const job = jobFor(c, list.id, /sign|bed/i);
    const bed = list.columns.find((x) => /bed|place|where/i.test(x.name));
    return {
      name: 'A sign for each new record',
      when: { kind: 'record', list: list.id, on: ['came', 'changed'] },
      conditions: all(...(bed ? [{ of: 'column', column: bed.id, is: 'filled', value: '' }] : []), {
        of: 'done',
        done: false,
      }),
      steps: [
        { kind: 'make', id: 'a', job: job.id, output: outputFor(job, 'pdf'), which: 'record' },
        { kind: 'out', id: 'b', folder: 'Signs' },
      ],
    };
  },
  'check-in': (c) => {
    const list = listFor(c, /workshop|visitor|course|volunteer/i);
    const job = jobFor(c, list.id, /check|badge|workshop/i);
    return {
      name: 'Check-in sheet, every Friday',
      when: {
        kind: 'schedule',
        schedule: { kind: 'days', days: [5], at: '07:30', zone: 'Europe/London' },
      },
      conditions: all(),
      steps: [
        { kind: 'make', id: 'a', job: job.id, output: outputFor(job, 'xlsx'), which: 'ready' },
        { kind: 'out', id: 'b', folder: 'Check-in' },
      ],
    };
  },
  links: (c) => {
    const list = listFor(c, /accession|plant|asset/i);
    const own = c.jobs.filter((j) => j.list === list.id && j.stamps.length > 0);
    const free = list.columns.filter((x) => !x.worked && x.role !== 'key' && x.role !== 'name');
    const to = list.columns.find((x) => x.role === 'address');
    const key = list.columns.find((x) => x.role === 'key') ?? list.columns[0]!;
    const [first, second] = [
      free.find((x) => /link/i.test(x.name)),
      free.find((x) => /picture|code/i.test(x.name)),
    ];
    return {
      name: 'A link and a picture for each new record',
      when: { kind: 'record', list: list.id, on: ['came'] },
      conditions: all({ of: 'done', done: false }),
      steps: [
        {
          kind: 'link',
          id: 'a',
          to: to ? [column(to.id)] : [text('https://garden.marrambay.example/'), column(key.id)],
        },
        ...(first
          ? [
              {
                kind: 'write',
                id: 'b',
                column: first.id,
                parts: [column(madeChip('a', 'address'))],
              },
            ]
          : []),
        ...(own[0]
          ? [
              { kind: 'picture', id: 'c', job: own[0].id, stamp: own[0].stamps[0]!.id },
              ...(second
                ? [
                    {
                      kind: 'write',
                      id: 'd',
                      column: second.id,
                      parts: [column(madeChip('c', 'address'))],
                    },
                  ]
                : []),
            ]
          : []),
      ],
    };
  },
  withdrawals: (c) => {
    const list = listFor(c, /volunteer|badge|people|staff/i);
    const state = list.columns.find((x) => /state|status/i.test(x.name));
    const key = list.columns.find((x) => x.role === 'key') ?? list.columns[0]!;
    return {
      name: 'Call a web address when something is withdrawn',
      when: state
        ? { kind: 'reaches', list: list.id, column: state.id, value: 'withdrawn' }
        : { kind: 'record', list: list.id, on: ['went'] },
      conditions: all(),
      steps: [
        {
          kind: 'call',
          id: 'a',
          method: 'POST',
          to: [text('https://vault.marrambay.example/withdrawn')],
          headers: [],
          fields: [{ name: 'badge', parts: [column(key.id)] }],
        },
      ],
    };
  },
};
