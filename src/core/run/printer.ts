import * as z from 'zod';
import { counted, listed } from '../base/words';
import type { Stock } from '../piece/stock';

const size = z.object({ width: z.number(), height: z.number() });
export type PaperSize = z.infer<typeof size>;

/** A printer's description of itself. Lengths in mm. */
export const printerFactsSchema = z.object({
  model: z.string(),
  takesPdf: z.boolean(),
  /** Sizes of paper it can print on, and those that are loaded; empty if it does not say. */
  papers: z.array(size),
  loaded: z.array(size),
  /** The smallest margin at each edge; null if it does not say. */
  blank: z
    .object({ left: z.number(), right: z.number(), top: z.number(), bottom: z.number() })
    .nullable(),
  /** Dots per inch, the usual first; empty if it does not say. */
  dpi: z.array(z.number()),
  /** What keeps it from printing, in words; null if nothing does. */
  trouble: z.string().nullable(),
});
export type PrinterFacts = z.infer<typeof printerFactsSchema>;

/**
 * The address that is asked over HTTP (RFC 8010, 4); port 631 where an address of IPP names none.
 * @throws TypeError
 */
export function printerUrl(address: string): string {
  const url = new URL(address.replace(/^ipp(s?):/i, 'http$1:'));
  if (/^ipps?:/i.test(address) && !/^ipps?:\/\/[^/]*:\d+/i.test(address)) url.port = '631';
  return url.href;
}

/** Whether an address can be a printer's: without sign-in and without a query. */
export function isPrinterAddress(address: string): boolean {
  if (!/^(ipps?|https?):\/\/[^/\s@?#]+(\/[^\s?#]*)?$/i.test(address)) return false;
  try {
    return printerUrl(address) !== '';
  } catch {
    return false;
  }
}

/** The state of a print job. */
export const printStates = [
  'waiting',
  'sending',
  'printing',
  'held',
  'printed',
  'stopped',
  'failed',
  'unsure',
] as const;
export type PrintState = (typeof printStates)[number];
export const onTheWay = ['waiting', 'sending', 'printing', 'held'] as const;

/** Papers that differ by less are the same, in mm. */
const sameWithin = 1;
/** What reaches beyond an edge by less is not missed, in mm. */
const unseen = 0.3;

const isSame = (a: PaperSize, b: PaperSize): boolean =>
  (Math.abs(a.width - b.width) <= sameWithin && Math.abs(a.height - b.height) <= sameWithin) ||
  (Math.abs(a.width - b.height) <= sameWithin && Math.abs(a.height - b.width) <= sameWithin);

const known: readonly (readonly [string, number, number])[] = [
  ['A3', 297, 420],
  ['A4', 210, 297],
  ['A5', 148, 210],
  ['A6', 105, 148],
  ['Letter', 215.9, 279.4],
  ['Legal', 215.9, 355.6],
];

/** A size of paper as people say it: `A4`, `57 × 32 mm`. */
export function paperName(paper: PaperSize): string {
  const found = known.find(([, width, height]) => isSame(paper, { width, height }));
  return found ? found[0] : `${mm(paper.width)} × ${mm(paper.height)} mm`;
}

const mm = (n: number): string => String(Math.round(n * 10) / 10);

/** What is sent to a printer. Lengths in mm. */
export interface ToPrint {
  page: PaperSize;
  /** The free margin at each edge of a sheet. */
  free: { left: number; right: number; top: number; bottom: number };
  /** Dots per inch for which the codes were made, if they were. */
  dpi: readonly number[];
}

/**
 * What does not fit between a run and a printer, each in a sentence; empty if nothing is known
 * against it.
 */
export function doesNotFit(facts: PrinterFacts, run: ToPrint): string[] {
  const out: string[] = [];
  if (!facts.takesPdf) out.push('It does not accept PDF.');
  if (facts.papers.length > 0 && !facts.papers.some((paper) => isSame(paper, run.page)))
    out.push(`It does not print on ${paperName(run.page)}.`);
  else if (facts.loaded.length > 0 && !facts.loaded.some((paper) => isSame(paper, run.page)))
    out.push(
      `It is loaded with ${listed(facts.loaded.map(paperName))}, and this run is for ${paperName(run.page)}.`,
    );
  if (facts.blank)
    for (const edge of ['left', 'right', 'top', 'bottom'] as const)
      if (facts.blank[edge] - run.free[edge] > unseen)
        out.push(
          `It leaves ${mm(facts.blank[edge])} mm blank at the ${edge} edge, and something in the run is ${run.free[edge] <= 0 ? 'at the very edge' : `${mm(run.free[edge])} mm from it`}.`,
        );
  for (const dpi of run.dpi)
    if (facts.dpi.length > 0 && !facts.dpi.some((own) => own % dpi === 0))
      out.push(
        `It prints ${listed(facts.dpi.map(String))} dots per inch, and the codes were fitted to ${dpi}.`,
      );
  return out;
}

/**
 * The free margin at the edges of a stock's sheets, in mm: the artwork may not reach as far as the
 * piece.
 */
export function freeEdges(
  stock: Stock,
  boxes: readonly { x: number; y: number; width: number; height: number }[],
  margin: number,
): ToPrint['free'] {
  const within = (n: number, most: number) => Math.max(0, Math.min(n, most));
  const { width, height } = stock.piece;
  const left = boxes.reduce((least, box) => Math.min(least, box.x), width);
  const top = boxes.reduce((least, box) => Math.min(least, box.y), height);
  const right = boxes.reduce((least, box) => Math.min(least, width - box.x - box.width), width);
  const bottom = boxes.reduce((least, box) => Math.min(least, height - box.y - box.height), height);
  const spread = (count: number, pitch: number, own: number) => (count - 1) * pitch + own;
  return {
    left: margin + stock.margin.left + within(left, width),
    top: margin + stock.margin.top + within(top, height),
    right:
      margin +
      stock.page.width -
      stock.margin.left -
      spread(stock.columns, stock.pitch.x, width) +
      within(right, width),
    bottom:
      margin +
      stock.page.height -
      stock.margin.top -
      spread(stock.rows, stock.pitch.y, height) +
      within(bottom, height),
  };
}

/** Reasons why a printer or a job waits, by the keywords of RFC 8011, without their suffix. */
const reasons: Readonly<Record<string, string>> = {
  'media-empty': 'it is out of paper',
  'media-needed': 'it waits for paper to be put in',
  'media-jam': 'paper is stuck in it',
  'input-tray-missing': 'a paper tray is out',
  'input-media-supply-low': 'paper runs low',
  'output-area-full': 'its output is full',
  'output-area-almost-full': 'its output is almost full',
  'cover-open': 'a cover is open',
  'door-open': 'a door is open',
  'interlock-open': 'something on it is open',
  'toner-empty': 'its toner is used up',
  'toner-low': 'its toner runs low',
  'marker-supply-empty': 'its ink or toner is used up',
  'marker-supply-low': 'its ink or toner runs low',
  paused: 'it is paused',
  shutdown: 'it is turned off',
  offline: 'it is turned off',
  'timed-out': 'its print unit does not answer',
  'connecting-to-device': 'it cannot reach its print unit',
  'stopped-partly': 'part of it is stopped',
  'spool-area-full': 'it has no room for more',
  'job-hold-until-specified': 'it holds the job until later',
  'job-password-wait': 'it waits for a password at the printer',
  'resources-are-not-ready': 'it waits for paper or for its print unit',
  'printer-stopped': 'it is stopped',
  'printer-stopped-partly': 'part of it is stopped',
  'job-canceled-by-user': 'someone cancelled it',
  'job-canceled-by-operator': 'someone cancelled it',
  'job-canceled-at-device': 'someone cancelled it at the printer',
  'aborted-by-system': 'the printer cancelled it',
  'document-format-error': 'it cannot read the file',
  'unsupported-document-format': 'it cannot read the file',
};
const silent =
  /^(none|job-printing|job-incoming|job-queued|job-completed-successfully|job-transforming|processing-to-stop-point)$/;
const ending = /-(error|warning|report)$/;

/**
 * Whether a reason stops a printer: not a report or a warning (RFC 8011, 5.4.12), and conditions
 * without which nothing is printed, although some printers only warn of them.
 */
export const keepsFromPrinting = (reason: string): boolean =>
  !/-(report|warning)$/.test(reason) ||
  /^(media-(empty|needed|jam)|(cover|door|interlock)-open|(toner|marker-supply)-empty|input-tray-missing|output-area-full)-warning$/.test(
    reason,
  );

/** Reasons of RFC 8011 in words, without “none”. */
export const reasonsInWords = (given: readonly string[]): string[] => [
  ...new Set(
    given
      .filter((reason) => !silent.test(reason))
      .map((reason) => reason.replace(ending, ''))
      .map((reason) => reasons[reason] ?? `it says “${reason.replaceAll('-', ' ').slice(0, 60)}”`)
      .slice(0, 6),
  ),
];

/** A printer in a few words: its model, paper and abilities. */
export function factsInWords(facts: PrinterFacts): string {
  const papers = facts.loaded.length > 0 ? facts.loaded : facts.papers;
  const blank = facts.blank && Math.max(...Object.values(facts.blank));
  return [
    facts.model || 'a printer',
    papers.length > 0 &&
      `${listed([...new Set(papers.map(paperName))].slice(0, 4))} ${facts.loaded.length > 0 ? 'in it' : 'can be put in'}`,
    facts.dpi.length > 0 && `${listed(facts.dpi.map(String))} dots per inch`,
    blank !== null && (blank === 0 ? 'to the very edge' : `to ${mm(blank)} mm from the edge`),
  ]
    .filter((part) => part !== false)
    .join(', ');
}

/** @returns how far a job of a printer is: `3 of 12 sheets` */
export const farIs = (printed: number, sheets: number): string =>
  `${printed.toLocaleString('en')} of ${counted(sheets, 'sheet')}`;
