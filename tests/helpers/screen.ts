import { readFileSync } from 'node:fs';
import type { APIResponse, Page } from '@playwright/test';
import type { Intake } from '../../src/contract';

export const asFile = (name: string, content: string | Buffer) => ({
  name,
  mimeType: 'application/octet-stream',
  buffer: Buffer.from(content),
});

export const row = (page: Page, index: number) => page.locator(`#row-${index}`);

/** Brings a file in through the interface and waits for its job. */
export async function upload(page: Page, name: string, content: string | Buffer): Promise<void> {
  await page.goto('/bring-in');
  await page.locator('input[type=file]').setInputFiles(asFile(name, content));
  await page.getByRole('button', { name: /^Bring in [\d,]+ record/ }).click();
  await page.waitForURL(/\/jobs\/\d+/, { timeout: 60_000 });
  // a key pressed before the ledger is drawn would be lost
  await row(page, 0).waitFor();
}

/**
 * Brings a file in by the routes of the interface, with its suggestions unchanged, and opens its
 * job.
 */
export async function bringIn(page: Page, name: string, content: string | Buffer): Promise<void> {
  const { request } = page;
  const answer = async <T>(asked: Promise<APIResponse>): Promise<T> => {
    const got = await asked;
    if (!got.ok()) throw new Error(`${got.url()}: ${got.status()} ${await got.text()}`);
    return (await got.json()) as T;
  };
  const { id } = await answer<{ id: number }>(
    request.post('/api/intakes', {
      data: Buffer.from(content),
      headers: {
        'content-type': 'application/octet-stream',
        'x-file-name': encodeURIComponent(name),
      },
    }),
  );
  const until = async (state: Intake['state']): Promise<Intake> => {
    for (;;) {
      const intake = await answer<Intake>(request.get(`/api/intakes/${id}`));
      if (intake.state === state) return intake;
      if (intake.state === 'failed') throw new Error(intake.error ?? 'the intake failed');
      await new Promise((resolve) => setTimeout(resolve, 100));
    }
  };
  const { preview } = await until('read');
  const sheet = preview!.sheets[preview!.suggested]!;
  await answer(
    request.post(`/api/intakes/${id}/take`, {
      data: {
        sheet: preview!.suggested,
        headerRow: sheet.headerRow,
        lastOut: sheet.sum !== undefined,
        roles: sheet.roles,
        name: name.replace(/\.[^.]+$/, ''),
      },
    }),
  );
  const { job_id: job } = await until('taken');
  await page.goto(`/jobs/${job}`);
  await row(page, 0).waitFor();
  // keys that are pressed before the page hears them are dropped at the next click
  await page.waitForFunction(() => window.handStampEarly?.taken);
}

/** Presses a link and returns the bytes of its download. */
export async function download(page: Page, name: string | RegExp): Promise<Buffer> {
  const [started] = await Promise.all([
    page.waitForEvent('download'),
    page.getByRole('link', { name }).first().click(),
  ]);
  return readFileSync(await started.path());
}
