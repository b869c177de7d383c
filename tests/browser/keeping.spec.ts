import { mkdirSync, mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { expect, test } from '../helpers/browser';
import { clean } from '../helpers/axe';
import { bringIn, row } from '../helpers/screen';

test('a folder of files becomes a list: one record per file, with its title and its address', async ({
  page,
}) => {
  const folder = mkdtempSync(join(tmpdir(), 'hand-stamp-folder-'));
  try {
    const plans = join(folder, 'plans');
    mkdirSync(plans);
    for (const name of ['dune-house.pdf', 'salt meadow.pdf', 'glasshouse.pdf'])
      writeFileSync(join(plans, name), 'a made-up plan');
    await page.goto('/bring-in');
    await page.getByRole('button', { name: /^A folder of files/ }).click();
    await page.getByLabel(/^Web address of/).fill('https://marrambay.example/plans/');
    const [chooser] = await Promise.all([
      page.waitForEvent('filechooser'),
      page.getByRole('button', { name: 'Choose a folder' }).click(),
    ]);
    await chooser.setFiles(plans);
    await page.getByRole('button', { name: /^Bring in 3 records/ }).click();
    await page.waitForURL(/\/jobs\/\d+/);
    await page.getByLabel('Search the records').fill('salt');
    await expect(row(page, 0)).toContainText('https://marrambay.example/plans/salt%20meadow.pdf');
    await expect(row(page, 1)).toHaveCount(0);
  } finally {
    rmSync(folder, { recursive: true, force: true });
  }
});

test('a job is renamed, and thrown away with its list after being asked', async ({ page }) => {
  await bringIn(page, 'spare-parts.csv', 'No,Name\n1,Valve\n2,Hose\n');
  await page.getByTitle('Rename, share or delete this job').click();
  await page.getByLabel('Name of this job').fill('Spare parts, autumn');
  await page.getByRole('button', { name: 'Rename' }).click();
  await expect(page.getByRole('heading', { level: 1 })).toHaveText('Spare parts, autumn');
  await page.reload();
  await page.getByTitle('Rename, share or delete this job').click();
  const editor = page.getByRole('dialog');
  await editor.getByRole('button', { name: /^Delete this job/ }).click();
  await expect(editor).toContainText('The list spare-parts with its 2 records is deleted too');
  await clean(page);
  await editor.getByRole('button', { name: 'Cancel' }).click();
  await editor.getByRole('button', { name: /^Delete this job/ }).click();
  await editor.getByRole('button', { name: 'Delete permanently' }).click();
  await page.waitForURL(/\/jobs$/);
  await expect(page.getByRole('heading', { name: 'Jobs' })).toBeVisible();
  await expect(page.getByRole('link', { name: 'Spare parts, autumn' })).toHaveCount(0);
});

test('a list is renamed and thrown away where the lists are', async ({ page }) => {
  await bringIn(page, 'old-tools.csv', 'No,Name\n1,Rake\n');
  await page.goto('/lists');
  await page.getByTitle('Rename or delete old-tools').click();
  await page.getByLabel('Name of this list').fill('Old tools, barn');
  await page.getByRole('button', { name: 'Rename' }).click();
  await page.getByTitle('Rename or delete Old tools, barn').click();
  const editor = page.getByRole('dialog');
  await editor.getByRole('button', { name: /^Delete this list/ }).click();
  await expect(editor).toContainText('This deletes 1 record, and the job old-tools');
  await editor.getByRole('button', { name: 'Delete permanently' }).click();
  await expect(page.getByTitle('Rename or delete Old tools, barn')).toHaveCount(0);
});
