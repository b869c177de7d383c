import ipp from '@sealsystems/ipp';
import * as z from 'zod';
import { keepable } from '../../core/records/keepable';
import {
  keepsFromPrinting,
  type PrinterFacts,
  printerUrl,
  reasonsInWords,
} from '../../core/run/printer';
import { exchange, type AskOptions, Unreached } from '../platform';

/** How long a printer may take to answer, and to receive a document, in ms. */
const answerWithin = 10_000;
const documentWithin = 5 * 60_000;
const mostAnswer = 4 * 1024 * 1024;

/** A printer refused, in its own words or ours. */
export class PrinterRefused extends Error {
  constructor(
    message: string,
    readonly status: string,
  ) {
    super(message);
  }
}

/** A document that is sent along. */
export interface PrintDocument {
  parts: AsyncIterable<Uint8Array>;
  size: number;
}

/** The most entries that are read of any list of a printer; it may send any number. */
const mostListed = 400;

const list = <T extends z.ZodType>(of: T) =>
  z.preprocess(
    (value) =>
      value === undefined || value === null || value === ''
        ? []
        : Array.isArray(value)
          ? value
          : [value],
    z
      .array(of)
      .catch([])
      .transform((values) => values.slice(0, mostListed)),
  );
/** a single resolution has three values, so several are a list of lists */
const resolutions = z.preprocess(
  (value) => (Array.isArray(value) && Array.isArray(value[0]) ? value : [value]),
  z.array(z.tuple([z.number(), z.number(), z.string()]).catch([0, 0, 'dpi'])),
);
const number = z.preprocess(
  (value) => (Array.isArray(value) ? value[0] : value),
  z.number().int().nonnegative().optional().catch(undefined),
);
const word = z.preprocess(
  (value) => (Array.isArray(value) ? value[0] : value),
  z.string().catch(''),
);
const sizes = list(
  z.object({ 'x-dimension': z.number(), 'y-dimension': z.number() }).or(z.unknown()),
);

const printerSchema = z.looseObject({
  'printer-make-and-model': word,
  'printer-state': word,
  'printer-state-reasons': list(z.string()),
  'printer-up-time': number,
  'document-format-supported': list(z.string()),
  'media-supported': list(z.string()),
  'media-ready': list(z.string()),
  'media-size-supported': sizes,
  'media-left-margin-supported': list(z.number()),
  'media-right-margin-supported': list(z.number()),
  'media-top-margin-supported': list(z.number()),
  'media-bottom-margin-supported': list(z.number()),
  'printer-resolution-default': resolutions,
  'printer-resolution-supported': resolutions,
});

const jobSchema = z.looseObject({
  'job-id': number,
  'job-name': word,
  'job-state': word,
  'job-state-reasons': list(z.string()),
  'job-media-sheets-completed': number,
  'job-impressions-completed': number,
});

/** A print job as its printer reports it. */
export interface JobThere {
  id: number;
  name: string;
  state: string;
  /** The reason for its state, in words. */
  reasons: string[];
  /** Sheets that came out, if the printer counts them. */
  sheets: number | undefined;
}

/** A printer at an address, by RFC 8010 and 8011. */
export class IppPrinter {
  private number = 1;

  /** @param address `ipp://host[:631]/path`, or `ipps:`, `http:`, `https:` */
  constructor(
    private readonly address: string,
    private readonly options: AskOptions,
  ) {}

  /**
   * A printer's description of itself, and for how many seconds it has been on. @throws Unreached,
   * PrinterRefused
   */
  async facts(): Promise<{ facts: PrinterFacts; upSeconds: number | undefined }> {
    const answer = await this.ask('Get-Printer-Attributes', {
      'requested-attributes': Object.keys(printerSchema.shape),
    });
    const said = printerSchema.parse(groupsOf(answer, 'printer-attributes-tag')[0] ?? {});
    const formats = said['document-format-supported'];
    const edges = (['left', 'right', 'top', 'bottom'] as const).map((edge) => ({
      edge,
      values: said[`media-${edge}-margin-supported`],
    }));
    const [usual] = said['printer-resolution-default'];
    const dpi = [usual, ...said['printer-resolution-supported']].flatMap((one) =>
      one ? dpiOf(one) : [],
    );
    const reasonsThere = said['printer-state-reasons'].map(keepable);
    const wrong = reasonsThere.filter(keepsFromPrinting);
    const stopped = said['printer-state'] === 'stopped';
    const reasons = reasonsInWords(stopped ? reasonsThere : wrong);
    return {
      upSeconds: said['printer-up-time'],
      facts: {
        model: keepable(said['printer-make-and-model']).slice(0, 120),
        takesPdf: formats.length === 0 || formats.includes('application/pdf'),
        papers: papersOf(said['media-supported'], said['media-size-supported']),
        loaded: papersOf(said['media-ready'], []),
        blank: edges.every(({ values }) => values.length > 0)
          ? (Object.fromEntries(
              edges.map(({ edge, values }) => [edge, Math.min(...values) / 100]),
            ) as PrinterFacts['blank'])
          : null,
        dpi: [...new Set(dpi)],
        trouble: reasons.join(', ') || (stopped ? 'it is stopped' : null),
      },
    };
  }

  /**
   * Hands a document over as a new job. @returns its number there @throws Unreached, PrinterRefused
   */
  async print(
    name: string,
    page: { width: number; height: number },
    document: PrintDocument,
  ): Promise<number> {
    const answer = await this.ask(
      'Print-Job',
      { 'job-name': name, 'document-format': 'application/pdf' },
      {
        'media-col': {
          'media-size': {
            'x-dimension': Math.round(page.width * 100),
            'y-dimension': Math.round(page.height * 100),
          },
        },
        'print-scaling': 'none',
      },
      document,
    );
    const job = jobSchema.parse(groupsOf(answer, 'job-attributes-tag')[0] ?? {})['job-id'];
    if (job === undefined)
      // it may have it: its name shows
      throw new Unreached('it gave no number for the job');
    return job;
  }

  /** The state of a job; undefined if the printer knows none of this number. */
  async job(id: number): Promise<JobThere | undefined> {
    try {
      const answer = await this.ask('Get-Job-Attributes', { 'job-id': id });
      return jobOf(groupsOf(answer, 'job-attributes-tag')[0]);
    } catch (error) {
      if (error instanceof PrinterRefused && /not-found|gone/.test(error.status)) return undefined;
      throw error;
    }
  }

  /**
   * A job that a printer accepted under a name, finished or not. Printers may cut names, so the
   * beginning of the name decides.
   */
  async jobNamed(name: string): Promise<JobThere | undefined> {
    for (const which of ['not-completed', 'completed']) {
      const answer = await this.ask('Get-Jobs', {
        'which-jobs': which,
        'requested-attributes': Object.keys(jobSchema.shape),
      });
      const found = groupsOf(answer, 'job-attributes-tag')
        .map(jobOf)
        .find((job) => job && isNamed(job, name));
      if (found) return found;
    }
    return undefined;
  }

  /** Cancels a job; a finished one stays as it is. */
  async callOff(id: number): Promise<void> {
    await this.ask('Cancel-Job', { 'job-id': id }).catch((error: unknown) => {
      if (!(error instanceof PrinterRefused)) throw error;
    });
  }

  private async ask(
    operation: string,
    attributes: Record<string, unknown>,
    job?: Record<string, unknown>,
    document?: PrintDocument,
  ): Promise<Record<string, unknown>> {
    const url = printerUrl(this.address);
    const head = ipp.serialize({
      version: '2.0',
      operation,
      id: this.number++,
      'operation-attributes-tag': {
        'attributes-charset': 'utf-8',
        'attributes-natural-language': 'en',
        'printer-uri': this.address.replace(/^http(s?):/i, 'ipp$1:'),
        'requesting-user-name': 'hand-stamp',
        ...attributes,
      },
      ...(job ? { 'job-attributes-tag': job } : {}),
    });
    const { status, bytes } = await exchange(
      url,
      { ...this.options, timeLimit: document ? documentWithin : answerWithin },
      {
        parts: document ? withHead(head, document.parts) : [head],
        size: head.length + (document?.size ?? 0),
        headers: { 'content-type': 'application/ipp', accept: 'application/ipp' },
      },
      mostAnswer,
    );
    if (status === 401 || status === 403)
      throw new PrinterRefused('it wants a password, and Hand Stamp has none for it', 'password');
    if (status !== 200)
      throw new Unreached(
        `the server there is not a printer, or not at this path (${status})`,
        true,
      );
    let answer: Record<string, unknown>;
    try {
      answer = ipp.parse(bytes);
    } catch {
      throw new Unreached('the server there is not a printer', true);
    }
    const code = String(answer.statusCode);
    if (!code.startsWith('successful')) throw new PrinterRefused(refusalWords(code), code);
    return answer;
  }
}

/** Whether a job has a given name, by the unique beginning of the name. */
export const isNamed = (job: JobThere, name: string): boolean =>
  job.name.startsWith(name.slice(0, signLength));
/** Characters with which the name of a job begins that no other has. */
const signLength = 13;

async function* withHead(head: Uint8Array, rest: AsyncIterable<Uint8Array>) {
  yield head;
  yield* rest;
}

const groupsOf = (answer: Record<string, unknown>, tag: string): Record<string, unknown>[] => {
  const group = answer[tag];
  return (Array.isArray(group) ? group : group ? [group] : []) as Record<string, unknown>[];
};

function jobOf(group: Record<string, unknown> | undefined): JobThere | undefined {
  const job = jobSchema.parse(group ?? {});
  const id = job['job-id'];
  return id === undefined
    ? undefined
    : {
        id,
        name: job['job-name'],
        state: job['job-state'],
        reasons: reasonsInWords(job['job-state-reasons'].map(keepable)),
        sheets: job['job-media-sheets-completed'] ?? job['job-impressions-completed'],
      };
}

const inchMm = 25.4;
const dpiOf = ([x, y, unit]: [number, number, string]): number[] => {
  const least = Math.round(Math.min(x, y) * (unit === 'dpcm' ? inchMm / 10 : 1));
  return least > 0 ? [least] : [];
};

/**
 * Papers by their self-describing names (PWG 5101.1) or their sizes in hundredths of mm; the ends
 * of a range that is taken are none.
 */
function papersOf(names: readonly string[], sizes: readonly unknown[]): PrinterFacts['papers'] {
  const named = names.flatMap((name) => {
    const found = /_([\d.]+)x([\d.]+)(mm|in)$/.exec(name);
    if (!found || /^custom_(min|max)/.test(name)) return [];
    const unit = found[3] === 'in' ? inchMm : 1;
    return [{ width: Number(found[1]) * unit, height: Number(found[2]) * unit }];
  });
  const measured = sizes.flatMap((size) => {
    const { 'x-dimension': x, 'y-dimension': y } = (size ?? {}) as Record<string, unknown>;
    return typeof x === 'number' && typeof y === 'number'
      ? [{ width: x / 100, height: y / 100 }]
      : [];
  });
  const all = [...named, ...measured].filter(
    ({ width, height }) => Number.isFinite(width) && Number.isFinite(height),
  );
  return all.filter(
    (paper, i) =>
      all.findIndex(
        (other) =>
          Math.abs(other.width - paper.width) < 0.5 && Math.abs(other.height - paper.height) < 0.5,
      ) === i,
  );
}

function refusalWords(code: string): string {
  if (/not-accepting/.test(code)) return 'it accepts no jobs now';
  if (/busy/.test(code)) return 'it is busy';
  if (/document-format/.test(code)) return 'it does not accept PDF';
  if (/forbidden|not-auth/.test(code)) return 'it does not let Hand Stamp print';
  if (/not-found/.test(code)) return 'there is no printer at this path';
  return `it says “${code.replace(/^(client|server)-error-/, '').replaceAll('-', ' ')}”`;
}
