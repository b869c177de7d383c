import { expect, test, type Page } from '../helpers/browser';
import { readFileSync } from 'node:fs';
import { clean } from '../helpers/axe';
import { asFile, bringIn, row } from '../helpers/screen';

const list = 'Tag,Item,Token\nT-1,Spade,k-spade\nT-2,Fork,k-fork\nT-3,Rake,k-rake\n';
const cell = (page: Page, at: number, text: string) =>
  row(page, at).getByText(text, { exact: true }).last();

test('two windows: each hears of the other’s change, a clash is told with both values, quick edits lose nothing', async ({
  page,
  context,
}) => {
  await bringIn(page, 'tools.csv', list);
  await page.keyboard.press('1');
  const other = await context.newPage();
  await other.goto(page.url());
  await expect(cell(other, 0, 'Spade')).toBeVisible();
  // typed in one window, seen in the other
  await cell(page, 1, 'Fork').dblclick();
  await page.keyboard.type('Garden fork');
  await page.keyboard.press('Enter');
  await expect(cell(other, 1, 'Garden fork')).toBeVisible();
  // both edit the same cell; the second one is asked
  await cell(other, 0, 'Spade').dblclick();
  await other.keyboard.type('Their spade');
  await cell(page, 0, 'Spade').dblclick();
  await page.keyboard.type('My spade');
  await other.keyboard.press('Enter');
  await expect(row(page, 1)).toContainText('Garden fork');
  await expect
    .poll(
      async () =>
        (
          await (
            await page.request.get(page.url().replace(/\/jobs\/(\d+).*/, '/api/jobs/$1/rows'))
          ).json()
        ).rows[0].values.c2,
    )
    .toBe('Their spade');
  await page.keyboard.press('Enter');
  // the router's own announcer is an alert too
  const told = page.locator('main').getByRole('alert');
  await expect(told).toContainText('“Their spade”');
  await expect(told).toContainText('“My spade”');
  await clean(page);
  await told.getByRole('button', { name: 'Use mine' }).click();
  await expect(cell(other, 0, 'My spade')).toBeVisible();
  // one after the other without waiting: both are saved
  await cell(page, 2, 'Rake').dblclick();
  await page.keyboard.type('Rake, long');
  await page.keyboard.press('Enter');
  await cell(page, 2, 'Rake, long').dblclick();
  await page.keyboard.type('Rake, very long');
  await page.keyboard.press('Enter');
  await cell(page, 1, 'Garden fork').dblclick();
  await page.keyboard.type('Fork');
  await page.keyboard.press('Enter');
  await expect(cell(other, 2, 'Rake, very long')).toBeVisible();
  await expect(cell(other, 1, 'Fork')).toBeVisible();
  await expect(told).toHaveCount(0);
  // a record that was taken out elsewhere
  await cell(page, 2, 'Rake, very long').dblclick();
  await page.keyboard.type('Rake again');
  await row(other, 2).getByRole('checkbox').click();
  await other.getByRole('button', { name: 'Remove from the list' }).click();
  await expect(row(other, 2)).toHaveCount(0);
  // the row is gone here too, and the typing in it is reported, not dropped
  await expect(told).toContainText('“Rake again”');
  await expect(told).toContainText('deleted in another window');
});

test('what was changed before a window heard of anything is shown in it', async ({
  page,
  context,
}) => {
  await bringIn(page, 'early.csv', list);
  await page.keyboard.press('1');
  const other = await context.newPage();
  let hears = () => {};
  const held = new Promise<void>((resolve) => (hears = resolve));
  const asked = new Promise<void>((resolve) => {
    void other.route('**/news', async (route) => {
      resolve();
      await held;
      await route.continue();
    });
  });
  await other.goto(page.url());
  await expect(cell(other, 1, 'Fork')).toBeVisible();
  await asked;
  await cell(page, 1, 'Fork').dblclick();
  await page.keyboard.type('Early fork');
  await page.keyboard.press('Enter');
  const rows = page.url().replace(/\/jobs\/(\d+).*/, '/api/jobs/$1/rows');
  await expect
    .poll(async () => (await (await page.request.get(rows)).json()).rows[1].values.c2)
    .toBe('Early fork');
  hears();
  await expect(cell(other, 1, 'Early fork')).toBeVisible();
});

test('reloading and going back keep the band, the search, the filter, the row and the ticks; undo goes on where it was', async ({
  page,
}) => {
  const names = Array.from({ length: 60 }, (_, i) => `T-${i + 1},Tool ${i + 1}`);
  await bringIn(page, 'many.csv', `Tag,Item\n${names.join('\n')}\n,Nameless\n`);
  await page.keyboard.press('1');
  await page.getByRole('searchbox').fill('Tool 5');
  await expect(page.getByText(/row 5 of 11/)).toBeVisible();
  await page.getByRole('searchbox').blur();
  await page.keyboard.press('ArrowDown');
  await page.keyboard.press('t');
  await page.keyboard.press('ArrowDown');
  await page.keyboard.press('t');
  const stands = async () => {
    await expect(page.getByRole('searchbox')).toHaveValue('Tool 5');
    await expect(page.getByText('2 records ticked')).toBeVisible();
    await expect(row(page, 2)).toHaveAttribute('aria-selected', 'true');
    await expect(page.getByRole('button', { name: /^Records:/ })).toHaveAttribute(
      'aria-expanded',
      'true',
    );
  };
  await expect(page).toHaveURL(/row=3/);
  await stands();
  await page.reload();
  await stands();
  // another band, another page, and back
  await page.keyboard.press('4');
  await expect(page).toHaveURL(/band=run/);
  await page.goBack();
  await stands();
  await page.getByRole('link', { name: 'Lists' }).click();
  await page.waitForURL('**/lists');
  await page.goBack();
  await stands();
  // changes from before the reload are undone in their order
  await row(page, 2).getByText(/^Tool/).last().dblclick();
  await page.keyboard.type('Changed');
  await page.keyboard.press('Enter');
  await page.getByRole('searchbox').fill('');
  await page.keyboard.press('Escape');
  await page.getByRole('button', { name: /^Piece:/ }).click();
  await page.getByTitle('Sides').click();
  await page.getByRole('option', { name: 'printed on both sides' }).click();
  await expect(page.getByTitle('Sides')).toHaveText('printed on both sides');
  await page.reload();
  await expect(page.getByTitle('Sides')).toHaveText('printed on both sides');
  await page.keyboard.press('Control+z');
  await expect(page.getByTitle('Sides')).toHaveText('printed on one side');
  await page.getByRole('button', { name: /^Records:/ }).click();
  await page.getByRole('searchbox').fill('Changed');
  await expect(row(page, 0)).toContainText('Changed');
  await expect(row(page, 1)).toHaveCount(0);
  await page.getByRole('searchbox').blur();
  await page.keyboard.press('Control+z');
  await expect(page.getByText('No record contains “Changed”.')).toBeVisible();
});

test('keys pressed while a page comes up are kept for it; Escape closes every editor and leaves the focus where keys mean something', async ({
  page,
}) => {
  await bringIn(page, 'keys.csv', list);
  const url = page.url().split('?')[0]!;
  // before anything of the page runs, as a quick hand does it
  await page.goto(url, { waitUntil: 'commit' });
  await page.waitForFunction(
    () => document.querySelector('h1') !== null && 'handStampEarly' in window,
  );
  await page.keyboard.press('3');
  await expect(page.getByRole('button', { name: /^Piece:/ })).toHaveAttribute(
    'aria-expanded',
    'true',
  );
  for (const band of ['1', '2', '3', '4']) {
    await page.keyboard.press(band);
    const parts = page.locator('.whole [role=button]');
    await expect(parts.first()).toBeVisible();
    for (let i = 0; i < (await parts.count()); i++) {
      const name = await parts.nth(i).getAttribute('title');
      await parts.nth(i).click();
      await expect(page.getByRole('dialog'), `${band}: ${name}`).toHaveCount(1);
      await page.keyboard.press('Escape');
      await expect(page.getByRole('dialog'), `${band}: ${name}`).toHaveCount(0);
      // it goes back with the next picture of the screen
      await expect
        .poll(() => page.evaluate(() => document.activeElement === document.body), {
          message: name ?? '',
        })
        .toBe(false);
    }
  }
  // a cell that was typed into gives the focus back to the records
  await page.keyboard.press('1');
  await cell(page, 0, 'Spade').dblclick();
  await page.keyboard.press('Escape');
  await expect(page.getByRole('grid')).toBeFocused();
  await page.keyboard.press('ArrowDown');
  await expect(row(page, 1)).toHaveAttribute('aria-selected', 'true');
});

test('what is pressed while a page comes up is pressed once it listens, and once only', async ({
  page,
}) => {
  let letThrough = (): void => undefined;
  const held = new Promise<void>((resolve) => (letThrough = resolve));
  await page.route(/\/_next\/static\/.*\.js/, async (route) => {
    await held;
    await route.continue().catch(() => undefined);
  });
  await page.goto('/bring-in', { waitUntil: 'commit' });
  // shown already, and nothing of it runs
  const paste = page.getByRole('button', { name: /^A paste/ });
  await paste.click();
  await expect(paste).not.toHaveAttribute('aria-pressed', 'true');
  letThrough();
  await expect(page.getByRole('heading', { name: 'From a paste' })).toBeVisible();

  // the last press counts, and a press elsewhere cancels it
  await page.unroute(/\/_next\/static\/.*\.js/);
  const again = new Promise<void>((resolve) => (letThrough = resolve));
  await page.route(/\/_next\/static\/.*\.js/, async (route) => {
    await again;
    await route.continue().catch(() => undefined);
  });
  await page.goto('/bring-in', { waitUntil: 'commit' });
  await paste.click();
  await page.getByRole('heading', { name: 'Bring in records' }).click();
  letThrough();
  await page.unroute(/\/_next\/static\/.*\.js/);
  await page.getByRole('button', { name: /^Typing/ }).click();
  await expect(page.getByRole('heading', { name: 'From a paste' })).toHaveCount(0);
});

test('secrets reach the window only when someone asks to see them', async ({ page }) => {
  const told: string[] = [];
  page.on('response', async (response) => {
    if (/json|html|event|component/.test(response.headers()['content-type'] ?? ''))
      told.push(await response.text().catch(() => ''));
  });
  await bringIn(page, 'secret.csv', list);
  await page.getByTitle('What the code says').click();
  const editor = page.getByRole('dialog');
  await editor.getByLabel('Text 2').fill('/');
  await editor.getByRole('button', { name: 'Token', exact: true }).click();
  await expect(editor).toContainText('T-1/••••••');
  await editor.getByRole('button', { name: 'Apply' }).click();
  await expect(row(page, 0)).toContainText('T-1/••••••');
  // it is drawn and read back all the same
  await expect(row(page, 0)).toContainText('correct,');
  for (const band of ['1', '3', '4', '2']) await page.keyboard.press(band);
  await page.reload();
  await expect(row(page, 0)).toContainText('correct,');
  expect(told.length).toBeGreaterThan(5);
  expect(told.filter((text) => /k-spade|k-fork|k-rake/.test(text))).toEqual([]);
  await page.keyboard.press('1');
  await page.getByTitle('The column Token').click();
  await page.getByRole('button', { name: 'Show it on this screen for now' }).click();
  await page.keyboard.press('Escape');
  await expect(cell(page, 0, 'k-spade')).toBeVisible();
});

test('an odd file says what is odd, and each of it can be changed in its sentence', async ({
  page,
}) => {
  const choose = async (name: string) => {
    await page.goto('/bring-in');
    await page
      .locator('input[type=file]')
      .setInputFiles(asFile(name, readFileSync(`tests/fixtures/odd/${name}`)));
  };
  await choose('windows-1250.csv');
  await expect(page.getByRole('cell', { name: 'Jiří Dvořák' })).toBeVisible();
  await page.getByTitle('Encoding').click();
  await page.getByRole('option', { name: /^Windows-1252/ }).click();
  await expect(page.getByRole('cell', { name: 'Jiøí Dvoøák' })).toBeVisible();
  await page.getByTitle('Separator').click();
  await page.getByRole('option', { name: 'commas' }).click();
  await expect(page.getByRole('cell', { name: '1;Jiøí Dvoøák;Plzeò' })).toBeVisible();
  await choose('cover-sheet-first.xlsx');
  await expect(page.getByTitle('Sheet')).toHaveText('sheet Tools');
  await expect(page.getByRole('button', { name: 'Bring in 3 records' })).toBeVisible();
  await choose('hidden.xlsx');
  await expect(page.getByText('1 row is hidden in the file')).toBeVisible();
  await page.getByTitle('Hidden rows and columns').click();
  await page.getByRole('option', { name: /^without/ }).click();
  await expect(page.getByRole('button', { name: 'Bring in 2 records' })).toBeVisible();
  await clean(page);
  await choose('totals.csv');
  await expect(page.getByText('The last row says Total, 22')).toBeVisible();
  await expect(page.getByRole('button', { name: 'Bring in 3 records' })).toBeVisible();
  await page.getByTitle('The last row').click();
  await page.getByRole('option', { name: /^with the last row/ }).click();
  await expect(page.getByRole('button', { name: 'Bring in 4 records' })).toBeVisible();
  await choose('no-headings.csv');
  await expect(page.getByText(/The first row looks like a record/)).toBeVisible();
  await choose('merged-down.xlsx');
  await page.getByTitle('Merged cells').click();
  await page.getByRole('option', { name: /^merged cells with the value repeated/ }).click();
  await page.getByRole('button', { name: 'Bring in 4 records' }).click();
  await page.waitForURL(/\/jobs\/\d+/);
  await page.keyboard.press('1');
  await expect(row(page, 2)).toContainText('Dune House');
});

test('a heading that was renamed is said to be the same, and nothing is lost', async ({ page }) => {
  await bringIn(page, 'tools.csv', 'Tag,Item,Where\nT-1,Spade,Shed\nT-2,Fork,Barn\n');
  await page.keyboard.press('1');
  await page.getByTitle('Update from the source').click();
  const [chooser] = await Promise.all([
    page.waitForEvent('filechooser'),
    page.getByRole('button', { name: /^Choose tools.csv again/ }).click(),
  ]);
  await chooser.setFiles(
    asFile('tools.csv', 'Number,Item,Place\nT-1,Spade,Shed\nT-2,Long fork,Barn\n'),
  );
  await page.getByRole('button', { name: 'Review changes' }).click();
  const account = page.getByRole('dialog');
  await expect(account).toContainText('Tag is the key');
  await expect(account.getByRole('button', { name: 'Apply changes' })).toBeDisabled();
  await clean(page);
  await account.getByRole('button', { name: 'Number is the same as Tag' }).click();
  await account.getByRole('button', { name: 'Place is the same as Where' }).click();
  await expect(account).toContainText('1 changed');
  await expect(account).toContainText('Long fork');
  await account.getByRole('button', { name: 'Apply changes' }).click();
  await expect(cell(page, 1, 'Long fork')).toBeVisible();
  await expect(page.getByText('2 records with 3 columns')).toBeVisible();
});

test('a whole job by what a screen reader says of it', async ({ page }) => {
  // on a busy computer its run waits behind those of other tests
  test.slow();
  await page.goto('/bring-in');
  await expect(page.getByRole('heading', { level: 1, name: 'Bring in records' })).toBeVisible();
  await expect(page.getByRole('navigation', { name: 'Where the records come from' })).toBeVisible();
  await page
    .locator('input[type=file]')
    .setInputFiles(asFile('spoken.csv', 'Tag,Item\nT-1,Spade\nT-2,Fork\n'));
  const preview = page.getByRole('region', { name: 'What spoken.csv contains' });
  await expect(preview).toBeFocused();
  await expect(
    preview.getByRole('region', { name: 'First rows' }).getByRole('columnheader', { name: /^Tag/ }),
  ).toBeVisible();
  await preview.getByRole('button', { name: 'Bring in 2 records' }).press('Enter');
  const grid = page.getByRole('grid', { name: 'Records of the job' });
  await expect(grid).toHaveAttribute('aria-rowcount', '3');
  await expect(grid.getByRole('columnheader')).toHaveText([
    'Record',
    'Records',
    'Stamps',
    'Piece',
    'Run',
  ]);
  const first = grid.getByRole('row', { name: /Spade/ });
  await expect(first.getByRole('rowheader')).toContainText('T-1');
  await expect(
    first.getByRole('img', {
      name: 'Records: ready, Stamps: ready, Piece: ready, Run: not run yet',
    }),
  ).toBeVisible();
  const active = async () => {
    const id = await grid.getAttribute('aria-activedescendant');
    return id && (await page.locator(`#${id}`).getAttribute('aria-selected'));
  };
  await grid.focus();
  await page.keyboard.press('End');
  expect(await active()).toBe('true');
  await page.getByRole('button', { name: /^Stamps: / }).press('Enter');
  await page
    .getByRole('button', { name: /^QR code/ })
    .first()
    .press('Enter');
  const fits = page
    .getByRole('dialog', { name: 'Code type (symbology)' })
    .getByRole('listbox', { name: 'Code type (symbology)' });
  await expect(fits.getByRole('option', { name: /^Code 128, fits all/ })).toBeVisible();
  await page.keyboard.press('Escape');
  await page.getByRole('button', { name: /^Piece: / }).press('Enter');
  await page.getByRole('button', { name: /^A4 sheets of 21/ }).press('Enter');
  await page
    .getByRole('searchbox', { name: 'Find by a measure, a number or a word' })
    .fill('badge');
  await expect(page.getByRole('listbox', { name: 'Label stock' }).getByRole('option')).toHaveCount(
    4,
  );
  await page.keyboard.press('ArrowDown');
  await page.keyboard.press('Enter');
  await expect(page.getByRole('dialog')).toHaveCount(0);
  await page.getByRole('button', { name: /^Run: / }).press('Enter');
  await page.getByRole('button', { name: /^Make 1 sheet/ }).press('Enter');
  const run = page.getByRole('article', { name: /^Run spoken/ });
  await expect(run.getByText('all 2 codes read back')).toBeVisible({ timeout: 120_000 });
  await expect(run.getByRole('link', { name: /^PDF for print/ })).toBeVisible();
  expect(await page.evaluate(() => document.activeElement === document.body)).toBe(false);
  await clean(page);
});

test('single keys can be switched off and then go with Alt; at 200% everything is reached', async ({
  page,
}) => {
  await bringIn(page, 'keys.csv', list);
  await page.getByTitle('Help', { exact: true }).click();
  await page.getByRole('button', { name: 'Show keyboard shortcuts' }).click();
  await page.getByText('Single-key shortcuts on').click();
  await clean(page);
  await page.keyboard.press('Escape');
  await page.keyboard.press('4');
  await expect(page.getByRole('button', { name: /^Stamps:/ })).toHaveAttribute(
    'aria-expanded',
    'true',
  );
  await page.keyboard.press('Alt+4');
  await expect(page.getByRole('button', { name: /^Run:/ })).toHaveAttribute(
    'aria-expanded',
    'true',
  );
  await page.setViewportSize({ width: 640, height: 400 });
  const make = page.getByRole('button', { name: /^Make \d/ });
  await make.scrollIntoViewIfNeeded();
  await expect(make).toBeInViewport();
  await page.getByRole('button', { name: /^Records:/ }).click();
  await row(page, 2).scrollIntoViewIfNeeded();
  await expect(row(page, 2)).toBeInViewport();
});
