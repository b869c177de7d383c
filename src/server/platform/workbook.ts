import type { Workbook } from 'exceljs';

/** An empty workbook to be written; what writes it is loaded with the first. */
export async function newWorkbook(): Promise<Workbook> {
  const { default: exceljs } = await import('exceljs');
  return new exceljs.Workbook();
}
