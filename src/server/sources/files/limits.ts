import { IntakeError } from '../../platform';

export const mostBytes = 40 * 1024 * 1024;
export const mostUnpacked = 400 * 1024 * 1024;
/** Records of one list, beside the headings and what is above them. */
export const mostRows = 200_000;
const mostColumns = 500;
const mostCells = 20_000_000;
const longestCell = 100_000;
const headRoom = 52;

const count = (n: number): string => n.toLocaleString('en');
export const megabytes = (bytes: number): string => `${Math.round(bytes / 1024 / 1024)} MB`;

/** Counts while reading, so that nothing too large is ever in memory. */
export class Limits {
  private rows = 0;
  private cells = 0;

  constructor(private readonly name: string) {}

  /** Whether a row holds anything. @throws IntakeError when it, or all of them, are too much */
  row(cells: readonly string[]): boolean {
    let last = -1;
    for (let c = 0; c < cells.length; c++) {
      if (cells[c]!.length > longestCell)
        throw new IntakeError(
          `${this.name} has a cell of ${count(cells[c]!.length)} characters in row ${count(this.rows + 1)}; the most is ${count(longestCell)}. Is a quotation mark missing there?`,
        );
      if (cells[c]!.trim() !== '') last = c;
    }
    if (last < 0) return false;
    this.columns(last + 1);
    this.rows++;
    this.cells += last + 1;
    if (this.rows > mostRows + headRoom)
      throw new IntakeError(
        `${this.name} has more than ${count(mostRows)} rows, the most in one list. Split it and bring in the parts.`,
      );
    if (this.cells > mostCells)
      throw new IntakeError(
        `${this.name} has more than ${count(mostCells)} cells. Remove the columns that no code or label needs, or split it.`,
      );
    return true;
  }

  /** Refuses more records than allowed, once the heading is known. */
  records(n: number): void {
    if (n > mostRows)
      throw new IntakeError(
        `${this.name} has ${count(n)} records; one list holds up to ${count(mostRows)}. Split it and bring in the parts.`,
      );
  }

  columns(n: number): void {
    if (n > mostColumns)
      throw new IntakeError(
        `${this.name} has ${count(n)} columns; the most is ${mostColumns}. Remove the columns that no code or label needs.`,
      );
  }
}
