import { expect, test } from '../helpers/browser';
import { clean } from '../helpers/axe';
import { readAll } from '../helpers/barcode';
import { renderPdf } from '../helpers/poppler';
import { bringIn, download, row } from '../helpers/screen';

test('things on a piece are pulled by their grips, drawn as they go; the piece keeps its size, and it can be undone', async ({
  page,
}) => {
  await bringIn(
    page,
    'pulled.csv',
    'No,Name\nDH-0142,Bartholomew Featherstonehaugh of Long Strand\n',
  );
  await page.keyboard.press('3');
  const piece = page.getByRole('img', { name: /^The front of the piece/ });
  const words = page.getByRole('button', { name: /^Text at/ }).first();
  await expect(words).toBeVisible();
  const before = (await piece.boundingBox())!;
  await words.click();
  const tools = page.getByRole('region', { name: 'Selected' });
  const width = async () =>
    Number.parseFloat(await tools.getByTitle('Width of the text').innerText());
  const wide = await width();
  const grip = (await page.locator('[data-grip=right]').boundingBox())!;
  await page.mouse.move(grip.x + 9, grip.y + 9);
  await page.mouse.down();
  await page.mouse.move(grip.x - 60, grip.y + 9, { steps: 6 });
  // during the drag: the text is laid out again, and text that overflows is marked
  await expect(words).toHaveAttribute('aria-label', /runs over by \d+ letters/);
  await page.mouse.up();
  await expect.poll(width).toBeLessThan(wide - 4);
  expect((await piece.boundingBox())!).toEqual(before);
  await clean(page);
  // the offered fixes work
  await tools
    .getByRole('button', { name: /^(Use \d+ lines|Shrink to)/ })
    .first()
    .click();
  await expect(tools.getByText(/runs over/)).toHaveCount(0);
  await page.keyboard.press('Control+z');
  await expect(tools.getByText(/runs over/)).toBeVisible();
  await page.keyboard.press('Control+z');
  await expect.poll(width).toBe(wide);
  // a code keeps its proportion and its whole dots
  const code = page.getByRole('button', { name: /^Code at/ });
  await code.click();
  const size = async () =>
    Number.parseFloat(await tools.getByTitle('Size of the code').innerText());
  const large = await size();
  const corner = (await page.locator('[data-grip=bottom-left]').boundingBox())!;
  await page.mouse.move(corner.x + 9, corner.y + 9);
  await page.mouse.down();
  await page.mouse.move(corner.x + 49, corner.y + 9, { steps: 4 });
  await page.mouse.up();
  await expect.poll(size).toBeLessThan(large - 2);
  const box = (await code.boundingBox())!;
  expect(box.width).toBeCloseTo(box.height, 0);
  // elements of the piece can be selected by name too
  await page.keyboard.press('Escape');
  await page.mouse.click(before.x - 60, before.y + 10);
  await page.getByRole('button', { name: /^Name( ?:|$)/ }).click();
  await expect(tools).toContainText('pt');
});

test('the cell in hand goes left and right; a block is pasted over several, worked columns passed over, and undone at once', async ({
  page,
}) => {
  await bringIn(page, 'cells.csv', 'No,Item,Where\n1,Rake,Barn\n2,Hoe,Shed\n3,Spade,Shed\n');
  await page.keyboard.press('1');
  await row(page, 0).getByText('Rake', { exact: true }).last().click();
  await page.keyboard.press('ArrowRight');
  await page.keyboard.press('Enter');
  await page.keyboard.type('Glasshouse');
  await page.keyboard.press('Enter');
  await expect(row(page, 0)).toContainText('Glasshouse');
  await page.keyboard.press('ArrowLeft');
  const clip = (text: string) =>
    page.evaluate((data) => {
      const clipboardData = new DataTransfer();
      clipboardData.setData('text/plain', data);
      window.dispatchEvent(new ClipboardEvent('paste', { clipboardData, bubbles: true }));
    }, text);
  await clip('Long rake\tDune House\n"Hoe, two\nblades"\tSalt Meadow\n');
  await expect(row(page, 0)).toContainText('Long rake');
  await expect(row(page, 1)).toContainText('blades');
  await expect(row(page, 1)).toContainText('Salt Meadow');
  await expect(row(page, 2)).toContainText('Spade');
  await page.keyboard.press('Control+z');
  await expect(row(page, 1)).toContainText('Hoe');
  await expect(row(page, 0)).toContainText('Rake');
  // more rows than there are become records
  await clip(Array.from({ length: 5 }, (_, i) => `Thing ${i}`).join('\n'));
  await expect(row(page, 0)).toContainText('Thing 0');
  await expect(row(page, 4)).toContainText('Thing 4');
  // typing on the cell goes into it, and ticks nothing
  await page.keyboard.type('Stall 4');
  await page.keyboard.press('Enter');
  await expect(row(page, 0)).toContainText('Stall 4');
  await expect(page.getByRole('checkbox', { checked: true })).toHaveCount(0);
  await page.keyboard.press('Delete');
  await expect(row(page, 0)).not.toContainText('Stall 4');
  // a new record is shown whatever the search, and receives the typing
  await page.getByRole('searchbox').fill('Thing 2');
  await expect(row(page, 0)).toContainText('Thing 2');
  await page.getByRole('button', { name: 'Add a record' }).click();
  await expect(row(page, 5)).toBeVisible();
  await page.keyboard.type('T-7');
  await page.keyboard.press('Enter');
  await expect(row(page, 5)).toContainText('T-7');
});

test('what is kept secret is not copied while it is masked', async ({ page }) => {
  await bringIn(page, 'tokens.csv', 'No,Token\n1,k7m2p9\n');
  await page.keyboard.press('1');
  await row(page, 0).getByText('••••••').last().click();
  const copied = () =>
    page.evaluate(() => {
      const clipboardData = new DataTransfer();
      window.dispatchEvent(
        new ClipboardEvent('copy', { clipboardData, bubbles: true, cancelable: true }),
      );
      return clipboardData.getData('text/plain');
    });
  expect(await copied()).toBe('');
  await expect(page.getByRole('alert').filter({ hasText: 'Token is secret' })).toBeVisible();
  await page.getByTitle('The column Token').click();
  await page.getByRole('button', { name: 'Show it on this screen for now' }).click();
  await page.keyboard.press('Escape');
  await expect(row(page, 0)).toContainText('k7m2p9');
  expect(await copied()).toBe('k7m2p9');
});

test('a fixed sign needs no list: typed, laid out, and printed as often as it is wanted', async ({
  page,
}) => {
  await page.goto('/bring-in');
  await page.getByRole('button', { name: /^No list: a poster/ }).click();
  await page.getByLabel('Text on it').fill('Potting shed');
  await page.getByLabel('Page').fill('https://marrambay.example/sheds/potting');
  await page.getByTitle('Kind of piece').click();
  await page.getByRole('option', { name: /^door sign/ }).click();
  await page.getByTitle('Copies of the poster').click();
  await page.getByLabel('How many').fill('3');
  await page.keyboard.press('Enter');
  await page.keyboard.press('Escape');
  await clean(page);
  await page.getByRole('button', { name: 'Create poster' }).click();
  await page.waitForURL(/\/jobs\/\d+/);
  await expect(page.getByTitle('Label stock')).toHaveText('signs, A5, 210 × 148 mm');
  await expect(page.getByTitle('Copies')).toHaveText('3 each');
  await page.keyboard.press('4');
  await page.getByRole('button', { name: /^Make \d/ }).click();
  await expect(page.getByRole('article').first().getByText('all 3 codes read back')).toBeVisible({
    timeout: 60_000,
  });
  const pages = renderPdf(await download(page, 'PDF for print'), 100);
  const codes = await Promise.all(pages.map((p) => readAll(p)));
  expect(codes.map((c) => c.map((r) => r.text))).toEqual(
    Array.from({ length: 3 }, () => ['https://marrambay.example/sheds/potting']),
  );
});

test('the ticked are made in the order that is wanted, and what cannot be made of them is said', async ({
  page,
}) => {
  await bringIn(page, 'order.csv', 'No,Name\n10,Wren\n9,Anselm\n,Odalys\n8,Maude\n');
  for (const name of ['Wren', 'Anselm', 'Odalys'])
    await page.getByRole('checkbox', { name: `Tick ${name}` }).check();
  await page.keyboard.press('4');
  await expect(page.getByTitle('Which records')).toHaveText('the 3 ticked');
  await expect(page.getByText(/2 pieces on 1 sheet/)).toBeVisible();
  await page.getByTitle('What is left out, and why').click();
  await expect(page.getByRole('dialog')).toContainText('No is blank');
  await expect(page.getByRole('dialog')).not.toContainText('Maude');
  await page.keyboard.press('Escape');
  const first = page.getByRole('button', { name: /^Piece of/ }).first();
  await expect(first).toHaveAccessibleName('Piece of Wren');
  await page.getByTitle('Order of the records').click();
  await page.getByRole('option', { name: 'sorted by No' }).click();
  await expect(first).toHaveAccessibleName('Piece of Anselm');
});

test('measures of one’s own in inches, every one of them on the drawing', async ({ page }) => {
  await bringIn(page, 'inches.csv', 'No,Name\n1,Rake\n');
  await page.keyboard.press('3');
  await page.getByTitle('Label stock').click();
  await page.getByRole('option', { name: /^Letter sheets of 30/ }).click();
  await page.getByTitle('Label stock').click();
  await page.getByRole('button', { name: 'Your own measures' }).click();
  const editor = page.getByRole('dialog');
  await editor.getByRole('button', { name: 'inches' }).click();
  await expect(editor.getByLabel('Piece width, in')).toHaveValue('2.625');
  await editor.getByLabel('Gutter down, in').fill('0.05');
  await page.keyboard.press('Tab');
  await editor.getByLabel('Bleed, in').fill('0.0625');
  await page.keyboard.press('Tab');
  const drawing = editor.getByRole('img', {
    name: 'The sheet with its seats and measures, to scale',
  });
  for (const measure of ['2.625', '8.5', '11', '0.05', '0.063'])
    await expect(drawing).toContainText(measure);
  await clean(page);
  await editor.getByRole('button', { name: 'Apply' }).click();
  await expect(page.getByTitle('Label stock')).toHaveText(/^sheets of 30, 66\.6[78] × 25\.4 mm$/);
});

test('what a run makes is chosen, run and taken to its receipt by the keyboard alone', async ({
  page,
}) => {
  await bringIn(page, 'keys.csv', 'No,Name\n1,Wren\n2,Anselm\n');
  await page.keyboard.press('4');
  const tabTo = async (name: string) => {
    for (let i = 0; i < 90; i++) {
      await page.keyboard.press('Tab');
      const called = await page.evaluate(() => {
        const at = document.activeElement;
        return at?.getAttribute('aria-label') ?? at?.getAttribute('title') ?? at?.textContent ?? '';
      });
      if (called === name) return;
    }
    throw new Error(`${name} is not reached by Tab`);
  };
  await expect(page.getByText('2 pieces on 1 sheet')).toBeVisible();
  await tabTo('What is made');
  await page.keyboard.press('Enter');
  await expect(page.getByRole('listbox')).toBeVisible();
  await page.keyboard.press('ArrowDown');
  await page.keyboard.press('Enter');
  await expect(page.getByTitle('What is made')).toHaveText('a PDF for each record');
  await tabTo('Make 2 PDFs');
  await page.keyboard.press('Enter');
  await expect(page.getByRole('article').first().getByText('all 2 codes read back')).toBeVisible({
    timeout: 60_000,
  });
  await tabTo('Receipt, page by page');
  await page.keyboard.press('Enter');
  await expect(page.getByRole('dialog')).toContainText('2 read back from the finished artwork');
  await page.keyboard.press('Escape');
  await expect(page.getByRole('dialog')).toHaveCount(0);
  // rows and bands are reached wherever the focus is
  await page.keyboard.press('2');
  await page.keyboard.press('ArrowDown');
  await expect(row(page, 1)).toHaveAttribute('aria-selected', 'true');
});
