import { readFileSync } from 'node:fs';
import type { Page } from '@playwright/test';

export const asFile = (name: string, content: string | Buffer) => ({
  name,
  mimeType: 'application/octet-stream',
  buffer: Buffer.from(content),
});

export const row = (page: Page, index: number) => page.locator(`#row-${index}`);

/** Brings a file in through the interface and waits for its job. */
export async function bringIn(page: Page, name: string, content: string | Buffer): Promise<void> {
  await page.goto('/bring-in');
  await page.locator('input[type=file]').setInputFiles(asFile(name, content));
  await page.getByRole('button', { name: /^Bring in [\d,]+ record/ }).click();
  await page.waitForURL(/\/jobs\/\d+/, { timeout: 60_000 });
  // a key pressed before the ledger stands would go nowhere
  await row(page, 0).waitFor();
}

/** Presses a link and gives the bytes of what it downloads. */
export async function download(page: Page, name: string | RegExp): Promise<Buffer> {
  const [started] = await Promise.all([
    page.waitForEvent('download'),
    page.getByRole('link', { name }).first().click(),
  ]);
  return readFileSync(await started.path());
}
