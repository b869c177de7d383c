import { escapedHtml } from '../../../core/base/html';
import { bodyOf, stylesOf } from '../../../core/documents/html-fill';
import { htmlText } from '../../../core/documents/html';
import { DomUtils } from 'htmlparser2';
import type { FrozenRun } from '../../../core/job/document';
import { pagesOf } from '../../documents';
import type { Database } from '../../platform';
import { readPictures } from '../codes';
import { itemsOf } from '../items';
import type { OutputMaker, RecordMaker, RunToAssemble } from '../maker';
import { zipOfRun } from '../zip';

export const htmlEach: OutputMaker = {
  begin: async (db, frozen): Promise<RecordMaker> => {
    const page = await pagesOf(db, frozen);
    return {
      one: async ({ name, values }) => {
        const { root, codes } = page(values);
        return {
          parts: [{ name: `${name}.html`, bytes: Buffer.from(htmlText(root)) }],
          codes: await readPictures(codes),
        };
      },
    };
  },
  assemble: async (run) => ({ ending: '.zip', mime: 'application/zip', bytes: zipOfRun(run) }),
};

export const htmlOne: OutputMaker = {
  begin: async (db: Database, frozen: FrozenRun): Promise<RecordMaker> => {
    const page = await pagesOf(db, frozen);
    return {
      one: async ({ seq, values }) => {
        const { root, codes } = page(values);
        const body = bodyOf(root);
        // ids occur once in a page
        if (seq > 0)
          for (const element of DomUtils.getElementsByTagName('*', body.children))
            delete element.attribs.id;
        const text = DomUtils.getInnerHTML(body, { encodeEntities: 'utf8' });
        return {
          parts: [{ name: 'body.html', bytes: Buffer.from(text) }],
          codes: await readPictures(codes),
        };
      },
    };
  },
  assemble: async (run) => ({
    ending: '.html',
    mime: 'text/html; charset=utf-8',
    bytes: onePage(run),
  }),
};

async function* onePage({ db, runId, frozen, title }: RunToAssemble): AsyncGenerator<Uint8Array> {
  const { root } = (await pagesOf(db, frozen))({});
  const body = bodyOf(root);
  const attributes =
    'attribs' in body
      ? Object.entries(body.attribs as Record<string, string>)
          .map(([name, value]) => ` ${name}="${escapedHtml(value)}"`)
          .join('')
      : '';
  yield Buffer.from(
    `<!doctype html>\n<html><head><meta charset="utf-8"><title>${escapedHtml(title)}</title><style>${stylesOf(root)}\n.record + .record { break-before: page; }</style></head><body${attributes}>\n`,
  );
  for await (const { parts } of itemsOf(db, runId))
    yield Buffer.from(`<div class="record">${parts[0]!.bytes.toString()}</div>\n`);
  yield Buffer.from('</body></html>\n');
}
