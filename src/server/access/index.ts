/** Who may see what: secrets are masked here on their way out. Uses the platform. */
export { askedColumns, maskedCells, maskedText, maskedValues, recordToken } from './masking';
