import { spawnSync } from 'node:child_process';
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import PDFDocument from 'pdfkit';
import { expect, test } from 'vitest';

/** A page with some words on it. */
function onePage(): Promise<Buffer> {
  const document = new PDFDocument({ size: [200, 100] });
  const parts: Buffer[] = [];
  return new Promise((resolve) => {
    document.on('data', (part: Buffer) => parts.push(part));
    document.on('end', () => resolve(Buffer.concat(parts)));
    document.text('Dune House', 20, 20).end();
  });
}

test('no package puts functions of its own in the place of those of the engine', async () => {
  const folder = mkdtempSync(join(tmpdir(), 'hand-stamp-natives-'));
  try {
    const file = join(folder, 'page.pdf');
    writeFileSync(file, await onePage());
    // a process of its own: here other tests may have read anything
    const program = `
      const owners = { JSON, Object, Array, 'Array.prototype': Array.prototype, 'String.prototype': String.prototype,
        'RegExp.prototype': RegExp.prototype, 'Promise.prototype': Promise.prototype, 'Function.prototype': Function.prototype,
        'Map.prototype': Map.prototype, 'Uint8Array.prototype': Uint8Array.prototype };
      const own = Object.entries(owners).flatMap(([name, owner]) =>
        Reflect.ownKeys(owner).map((key) => [name, owner, key, Object.getOwnPropertyDescriptor(owner, key).value]));
      const taken = () => own
        .filter(([, owner, key, value]) => !Object.is(Object.getOwnPropertyDescriptor(owner, key)?.value, value))
        .map(([name, , key]) => name + '.' + String(key));
      const { readFileSync } = await import('node:fs');
      const imported = [];
      for (const room of ['api', 'checkpoints', 'delivery', 'documents', 'jobs', 'judging', 'links', 'lists', 'mail', 'orders', 'outputs', 'pages', 'runs', 'sources', 'webhooks'])
        imported.push(await import('./src/server/' + room + '/index.ts').catch((error) => { if (error.code !== 'ERR_MODULE_NOT_FOUND') throw error; }));
      const before = taken();
      const { greyPages } = await import('./src/server/documents/index.ts');
      let dark = 0;
      for await (const { pixels } of greyPages(readFileSync(process.argv[1]), { from: 0 }, 100))
        dark += pixels.filter((value) => value < 128).length;
      process.stdout.write(JSON.stringify({ rooms: imported.filter(Boolean).length, before, dark, after: taken() }));
      process.exit();`;
    const { stdout, stderr } = spawnSync(
      process.execPath,
      ['--import', 'tsx', '--input-type=module', '-e', program, file],
      { cwd: join(import.meta.dirname, '../../..'), encoding: 'utf8' },
    );
    expect(stderr).not.toContain('Error');
    const said = JSON.parse(stdout) as { rooms: number; before: []; dark: number; after: [] };
    expect(said.rooms).toBeGreaterThan(10);
    expect(said.before).toEqual([]);
    expect(said.after).toEqual([]);
    // the page was really drawn
    expect(said.dark).toBeGreaterThan(20);
  } finally {
    rmSync(folder, { recursive: true });
  }
});
