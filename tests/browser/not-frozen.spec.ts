import { expect, test } from '../helpers/browser';
import { hostilePictures, hostileSheets } from '../hostile/files';
import { bringIn } from '../helpers/screen';

/**
 * While something hostile is worked on, others are answered. A server that were frozen by it would
 * answer them after it, so what counts is the order of the answers and not the time, which a busy
 * machine makes longer.
 */
test('the web server answers others while hostile pictures and files are worked on', async ({
  request,
}) => {
  test.setTimeout(240_000);
  const answered: string[] = [];
  const slow = Buffer.from(
    `<svg xmlns="http://www.w3.org/2000/svg" width="9" height="9">${'<rect width="9" height="9" opacity="0.5"/>'.repeat(60_000)}</svg>`,
  );
  // each hostile picture by itself: tests/server/platform/apart.test.ts
  for (const { name, bytes } of [hostilePictures()[0]!, { name: 'slow.svg', bytes: slow }]) {
    answered.length = 0;
    const hostile = request
      .post('/api/pictures', {
        data: bytes,
        headers: { 'content-type': 'application/octet-stream', 'x-file-name': name },
      })
      .then((response) => {
        expect([name, response.status()]).toEqual([name, expect.any(Number)]);
        expect(response.status()).toBeLessThan(500);
        answered.push('hostile');
      });
    for (let i = 0; i < 3; i++)
      await request
        .get('/api/settings')
        .then((response) => (expect(response.ok()).toBe(true), answered.push('other')));
    await hostile;
    // what takes no time at all may be first
    if (name === 'slow.svg') expect(answered.indexOf('hostile')).toBeGreaterThan(0);
  }
  // files are read by workers; while those wait, pages are answered and an honest file is read
  for (const { name, bytes } of hostileSheets()) {
    const sent = await request.post('/api/intakes', {
      data: bytes,
      headers: { 'content-type': 'application/octet-stream', 'x-file-name': name },
    });
    expect([name, sent.status() < 500]).toEqual([name, true]);
  }
  expect((await request.get('/api/health')).ok()).toBe(true);
});

test('an honest list is brought in after them', async ({ page }) => {
  await bringIn(page, 'honest.csv', 'No,Name\n1,Wren\n2,Tam\n');
  await expect(page.getByRole('grid')).toBeVisible();
});
