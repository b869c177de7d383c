import { escapedHtml } from '../../../core/base/html';
import { openKeyColumn, titleColumn } from '../../../core/records/columns';
import { codePictures } from '../code-parts';
import { itemsOf } from '../items';
import type { OutputMaker, RunToAssemble } from '../maker';

export const html: OutputMaker = {
  perRecord: (frozen, record) => codePictures(frozen, record, 'svg'),
  assemble: async (run) => ({
    ending: '.html',
    mime: 'text/html; charset=utf-8',
    bytes: contactSheet(run),
  }),
};

/** One page with every code, its title and its key: everything it shows is in it. */
async function* contactSheet({
  db,
  runId,
  frozen,
  title,
}: RunToAssemble): AsyncGenerator<Uint8Array> {
  const key = openKeyColumn(frozen.columns);
  const name = titleColumn(frozen.columns);
  yield Buffer.from(`<!doctype html>
<html lang="en"><meta charset="utf-8"><title>${escapedHtml(title)}</title>
<style>body{font:14px/1.35 system-ui,sans-serif;margin:24px;color:#1d1a26}h1{font-size:22px}
ul{display:grid;grid-template-columns:repeat(auto-fill,minmax(150px,1fr));gap:22px;padding:0;list-style:none}
li{break-inside:avoid}img{display:block;width:130px;max-height:150px;object-fit:contain;object-position:left;margin-bottom:6px}
b{display:block;overflow-wrap:anywhere}code{font-size:12px;color:#575564;overflow-wrap:anywhere}</style>
<h1>${escapedHtml(title)}</h1><ul>\n`);
  for await (const { values, parts } of itemsOf(db, runId)) {
    const said = escapedHtml(values[name?.id ?? ''] ?? '');
    const images = parts
      .map(
        (p) =>
          `<img alt="Code of ${said}" src="data:image/svg+xml;base64,${p.bytes.toString('base64')}">`,
      )
      .join('');
    yield Buffer.from(
      `<li>${images}<b>${said}</b><code>${escapedHtml(key && key !== name ? (values[key.id] ?? '') : '')}</code></li>\n`,
    );
  }
  yield Buffer.from('</ul></html>\n');
}
