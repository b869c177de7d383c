/**
 * The ledger's way of showing 100,000 records, beside React Aria's Table in its Virtualizer: the
 * same rows of the same height and cells, as bare as both can be, in a real browser.
 */
import { build } from 'esbuild';
import { join } from 'node:path';
import { chromium, type Page } from 'playwright-core';
import { median, quantile } from './measure';

const records = 100_000;
const columns = ['No', 'Item', 'Place', 'Since', 'State', 'Note'];

const shared = `
  const columns = ${JSON.stringify(columns)};
  const items = Array.from({ length: ${records} }, (_, id) => ({ id, cells: columns.map((c) => c + ' ' + id) }));
  const style = { height: 400, width: 900, overflow: 'auto' };`;

/** As the ledger does it: rows placed by the virtualizer, the one in hand named by the grid. */
const ours = `
  import { useRef, useState, memo } from 'react';
  import { createRoot } from 'react-dom/client';
  import { flushSync } from 'react-dom';
  import { useVirtualizer } from '@tanstack/react-virtual';
  ${shared}
  const Row = memo(({ item, top, selected }) =>
    <div role="row" id={'row-' + item.id} aria-selected={selected} aria-rowindex={item.id + 2}
      style={{ position: 'absolute', top, height: 36, display: 'grid', gridTemplateColumns: 'repeat(6, 150px)' }}>
      {item.cells.map((c, i) => <span key={i} role="gridcell">{c}</span>)}
    </div>);
  function Ledger() {
    const scroller = useRef(null);
    const [hand, setHand] = useState(0);
    const rows = useVirtualizer({ count: items.length, getScrollElement: () => scroller.current, estimateSize: () => 36, overscan: 5 });
    const press = (e) => {
      if (e.key !== 'ArrowDown') return;
      e.preventDefault();
      setHand(hand + 1);
      rows.scrollToIndex(hand + 1);
    };
    return <div role="grid" aria-label="Records" aria-rowcount={items.length + 1} aria-activedescendant={'row-' + hand} ref={scroller} tabIndex={0} onKeyDown={press} style={style}>
      <div style={{ height: rows.getTotalSize(), position: 'relative' }}>
        {rows.getVirtualItems().map((v) => <Row key={v.index} item={items[v.index]} top={v.start} selected={v.index === hand} />)}
      </div>
    </div>;
  }
  window.begin = () => createRoot(document.body.appendChild(document.createElement('div'))).render(<Ledger />);`;

const theirs = `
  import { createRoot } from 'react-dom/client';
  import { Cell, Column, Row, Table, TableBody, TableHeader, TableLayout, Virtualizer } from 'react-aria-components';
  ${shared}
  function Records() {
    return <Virtualizer layout={TableLayout} layoutOptions={{ rowHeight: 36, headingHeight: 36 }}>
      <Table aria-label="Records" selectionMode="single" selectionBehavior="replace" disallowEmptySelection defaultSelectedKeys={[0]} style={style}>
        <TableHeader>{columns.map((c, i) => <Column key={c} id={c} isRowHeader={i === 0} width={150}>{c}</Column>)}</TableHeader>
        <TableBody items={items}>
          {(item) => <Row id={item.id}>{item.cells.map((c, i) => <Cell key={i}>{c}</Cell>)}</Row>}
        </TableBody>
      </Table>
    </Virtualizer>;
  }
  window.begin = () => createRoot(document.body.appendChild(document.createElement('div'))).render(<Records />);`;

interface Shown {
  firstRowMs: number;
  steps: number[];
  jumpMs: number;
  heapMb: number;
  scriptKb: number;
  long: number;
}

async function bundled(source: string): Promise<string> {
  const made = await build({
    stdin: { contents: source, loader: 'tsx', resolveDir: join(import.meta.dirname, '..') },
    bundle: true,
    write: false,
    minify: true,
    format: 'iife',
    jsx: 'automatic',
    define: { 'process.env.NODE_ENV': '"production"' },
  });
  return made.outputFiles[0]!.text;
}

async function shown(page: Page, script: string): Promise<Shown> {
  const session = await page.context().newCDPSession(page);
  await page.goto('about:blank');
  await page.addScriptTag({ content: script });
  const first = await page.evaluate(async () => {
    const told = window as typeof window & { begin(): void; times: number[]; long: number };
    told.times = [];
    told.long = 0;
    new PerformanceObserver((list) => {
      for (const { name, duration } of list.getEntries())
        if (name === 'keydown') told.times.push(duration);
    }).observe({ type: 'event', durationThreshold: 16 } as PerformanceObserverInit);
    new PerformanceObserver((list) => {
      told.long += list.getEntries().length;
    }).observe({ type: 'longtask' });
    const from = performance.now();
    told.begin();
    while (!document.body.innerText.includes('Item 3'))
      await new Promise((next) => requestAnimationFrame(next));
    return performance.now() - from;
  });
  const grid = page.getByLabel('Records');
  await (script.includes('gridcell') ? grid : page.getByRole('row').nth(1)).focus();
  await grid.press('ArrowDown');
  await page.evaluate(() => {
    const told = window as typeof window & { times: number[]; long: number };
    told.times.length = 0;
    told.long = 0;
  });
  for (let i = 0; i < 100; i++) {
    await page.keyboard.press('ArrowDown');
    await page.evaluate(
      () => new Promise((seen) => requestAnimationFrame(() => setTimeout(seen, 20))),
    );
  }
  const { times, long } = await page.evaluate(() => {
    const told = window as typeof window & { times: number[]; long: number };
    return { times: [...told.times], long: told.long };
  });
  const jumpMs = await page.evaluate(async (row) => {
    const scroller = [...document.querySelectorAll<HTMLElement>('*')].find(
      (e) => e.scrollHeight > 1e6 && getComputedStyle(e).overflow.includes('auto'),
    )!;
    const from = performance.now();
    scroller.scrollTop = row * 36;
    while (!document.body.innerText.includes(`Item ${row + 2}`))
      await new Promise((next) => requestAnimationFrame(next));
    return performance.now() - from;
  }, records / 2);
  await session.send('HeapProfiler.collectGarbage');
  const { usedSize } = await session.send('Runtime.getHeapUsage');
  return {
    firstRowMs: first,
    steps: times,
    jumpMs,
    heapMb: usedSize / 2 ** 20,
    scriptKb: script.length / 1024,
    long,
  };
}

export async function benchTable(): Promise<void> {
  const browser = await chromium.launch({
    executablePath: '/usr/bin/chromium',
    args: ['--no-sandbox', '--disable-gpu'],
  });
  try {
    const scripts = { ours: await bundled(ours), 'React Aria': await bundled(theirs) };
    const all = new Map<string, Shown[]>();
    for (let round = 0; round < 3; round++)
      for (const [name, script] of Object.entries(scripts)) {
        const page = await browser.newPage({ viewport: { width: 1280, height: 800 } });
        all.set(name, [...(all.get(name) ?? []), await shown(page, script)]);
        await page.close();
      }
    for (const [name, runs] of all) {
      const of = (value: (one: Shown) => number) => Math.round(median(runs.map(value)));
      const steps = runs.flatMap((one) => one.steps);
      console.log(
        `table of ${records.toLocaleString('en')}, ${name}: first row ${of((r) => r.firstRowMs)} ms, a step ${median(steps)} ms (p95 ${quantile(steps, 0.95)}), to the middle ${of((r) => r.jumpMs)} ms, ${of((r) => r.heapMb)} MB, ${of((r) => r.scriptKb)} KB of script before packing, ${of((r) => r.long)} tasks over 50 ms in 100 steps`,
      );
    }
  } finally {
    await browser.close();
  }
}
