/**
 * The ledger in a real browser: what its first load weighs, when its first row is there, and how
 * long stepping from record to record takes with a piece open, on the demo's badges.
 */
import { spawn } from 'node:child_process';
import { chromium, type Page } from 'playwright-core';
import { median, quantile } from './measure';
import { freePort } from './workers';

interface Weights {
  script: number;
  all: number;
  firstRowMs: number;
}

/**
 * What a first load fetches until nothing more comes, in bytes as they were sent, and when the
 * first row is there.
 */
async function firstLoad(page: Page, address: string): Promise<Weights> {
  const session = await page.context().newCDPSession(page);
  await session.send('Network.enable');
  const kinds = new Map<string, string>();
  const weights: Weights = { script: 0, all: 0, firstRowMs: 0 };
  session.on('Network.responseReceived', (e) => kinds.set(e.requestId, e.type));
  session.on('Network.loadingFinished', (e) => {
    weights.all += e.encodedDataLength;
    if (kinds.get(e.requestId) === 'Script') weights.script += e.encodedDataLength;
  });
  const from = performance.now();
  await page.goto(address);
  await page.locator('#row-0').waitFor();
  weights.firstRowMs = performance.now() - from;
  // until nothing has come for two seconds
  for (let before = -1; before !== weights.all;) {
    before = weights.all;
    await new Promise((resolve) => setTimeout(resolve, 2000));
  }
  await session.detach();
  return weights;
}

/**
 * From a key to what is painted after it, in ms to the next eighth, as the browser tells it, and
 * tasks of over 50 ms meanwhile. The tool that presses the keys is not part of it.
 */
async function stepping(page: Page, steps: number): Promise<{ times: number[]; long: number }> {
  await page.keyboard.press('3');
  await page.locator('svg').first().waitFor();
  await page.evaluate(() => {
    const held = window as typeof window & { stepping?: { times: number[]; long: number } };
    const told = (held.stepping = { times: [] as number[], long: 0 });
    new PerformanceObserver((list) => {
      told.long += list.getEntries().length;
    }).observe({ type: 'longtask' });
    new PerformanceObserver((list) => {
      for (const { name, duration } of list.getEntries())
        if (name === 'keydown') told.times.push(duration);
    }).observe({ type: 'event', durationThreshold: 16 } as PerformanceObserverInit);
  });
  for (let i = 0; i < steps; i++) {
    await page.keyboard.press('ArrowDown');
    await page.locator(`#row-${i + 1}[aria-selected=true]`).waitFor();
    // as a person does, who sees it before the next
    await page.evaluate(
      () => new Promise((seen) => requestAnimationFrame(() => setTimeout(seen, 50))),
    );
  }
  return page.evaluate(
    () =>
      (window as typeof window & { stepping?: { times: number[]; long: number } }).stepping ?? {
        times: [],
        long: 0,
      },
  );
}

export async function benchPages(): Promise<void> {
  const port = await freePort();
  const application = spawn(
    process.execPath,
    ['.next/programs/scripts/start.mjs', '--purpose=bench-pages', `--port=${port}`],
    { stdio: 'ignore', env: { ...process.env, HAND_STAMP_GARDEN: 'yes' } },
  );
  const browser = await chromium.launch({
    executablePath: '/usr/bin/chromium',
    args: ['--no-sandbox'],
  });
  try {
    const base = `http://localhost:${port}`;
    while (!(await fetch(`${base}/api/health`).catch(() => undefined))?.ok)
      await new Promise((resolve) => setTimeout(resolve, 500));
    const finder = await browser.newPage();
    await finder.goto(`${base}/jobs`);
    const job = await finder
      .getByRole('link', { name: 'Badges, open weekend' })
      .getAttribute('href');
    // once for the server, which reads its pages when they are first asked for
    await finder.goto(base + job!);
    await finder.locator('#row-0').waitFor();
    await finder.close();
    const loads: Weights[] = [];
    let page = finder;
    for (let i = 0; i < 5; i++) {
      const context = await browser.newContext({ viewport: { width: 1280, height: 800 } });
      page = await context.newPage();
      loads.push(await firstLoad(page, base + job!));
    }
    const { script, all } = loads[0];
    const firstRowMs = median(loads.map((load) => load.firstRowMs));
    console.log(
      `first load of the ledger: ${Math.round(script / 1000)} KB of script, ${(all / 1e6).toFixed(2)} MB in all, first row after ${Math.round(firstRowMs)} ms`,
    );
    const { times, long } = await stepping(page, 100);
    console.log(
      `stepping through ${times.length} records with a piece open: p50 ${quantile(times, 0.5).toFixed(0)} ms, p95 ${quantile(times, 0.95).toFixed(0)} ms; ${long} tasks over 50 ms`,
    );
  } finally {
    await browser.close();
    application.kill('SIGTERM');
    await new Promise((resolve) => application.once('exit', resolve));
  }
}
