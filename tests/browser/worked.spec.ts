import { expect, test } from '../helpers/browser';
import { clean } from '../helpers/axe';

test('a worked column is a sentence, covers every row, and carries a code', async ({ page }) => {
  await page.goto('/bring-in');
  await page.locator('input[type=file]').setInputFiles({
    name: 'tools.csv',
    mimeType: 'text/csv',
    buffer: Buffer.from('Site,No,Item\ndh,1,Pump\nsm,22,Rake\ngh,,Hose\n'),
  });
  await page.getByRole('button', { name: 'Bring in 3 records' }).click();
  await page.waitForURL(/\/jobs\/\d+/);
  await expect(page.locator('#row-0')).toContainText('Pump');
  await expect(page.locator('#row-0')).toContainText('correct,');
  await page.keyboard.press('1');
  await page.getByTitle('Add a worked column').click();
  await page.getByLabel('Name of the new column').fill('Tag');
  await page.getByRole('button', { name: 'Create column' }).click();
  await page.getByTitle('What Tag is made from').click();
  const editor = page.getByRole('dialog');
  await editor.getByLabel('Text 2').fill('-');
  await editor.getByRole('button', { name: 'No', exact: true }).click();
  await editor.getByRole('button', { name: 'Apply' }).click();
  await page.getByTitle('Another step for Tag').click();
  await page.getByRole('option', { name: /^capitals or small letters/ }).click();
  await expect(page.getByRole('dialog')).toContainText(
    'The selected record, and the ones most different from it',
  );
  await page.getByRole('dialog').getByRole('button', { name: 'Apply' }).click();
  const cell = (row: number) => page.locator(`#row-${row}`);
  await expect(cell(0)).toContainText('DH-1');
  await expect(cell(1)).toContainText('SM-22');
  // it follows an edit, and cannot be typed over
  await cell(1).getByText('22', { exact: true }).last().dblclick();
  await page.getByLabel('No of record 2').fill('7');
  await page.keyboard.press('Enter');
  await expect(cell(1)).toContainText('SM-7');
  await cell(1).getByText('SM-7', { exact: true }).last().dblclick();
  await expect(
    page.getByText('Tag is worked out from other columns, so you cannot type over it.'),
  ).toBeVisible();
  await clean(page);
  // a stamp is made from it like from any other
  // keys are shortcuts again
  await page.keyboard.press('Escape');
  await page.keyboard.press('2');
  await page.getByTitle('What the code says').click();
  await page
    .getByRole('dialog')
    .getByRole('button', { name: /^Remove / })
    .click();
  await page.getByRole('dialog').getByRole('button', { name: 'Tag', exact: true }).click();
  await page.getByRole('button', { name: 'Apply' }).click();
  await expect(cell(0)).toContainText('DH-1');
  await page.keyboard.press('Home');
  await expect(cell(0)).toContainText('correct, 4 characters');
});
