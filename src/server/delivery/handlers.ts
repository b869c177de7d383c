import type { Handlers } from '../access';
import { listLetters } from './letters';
import { viewMailServer, changeMailServer } from './mail-server';
import * as contract from '../../contract';
import { tryMailServer, mailWelcome } from './trying';
import { messageFile, viewMessage, viewOutTray } from './out-tray';
import { lockedPage, baseAddress, log } from '../platform';
import { resetFor, invite, countForgotten, forgottenBy } from '../access';
import { rightWords } from '../../core/access/rights';
import { stopPrint, sendToPrinter } from './printing';
import {
  askPrinterAgain,
  changePrinter,
  removePrinter,
  readTestPage,
  listPrinters,
  addPrinter,
} from './printers';
import { testPage } from './test-page';
import { mailAccount, listMails, sendMailsAgain, stopMails } from './mails';

/** The handlers of this module, by route. */
export const deliveryHandlers = {
  listLetters: async ({ db }) => ({
    letters: await listLetters(db),
  }),

  viewMailServer: async ({ db }) => ({
    server: await viewMailServer(db),
  }),

  changeMailServer: async ({ db, body }) => {
    await changeMailServer(db, body);
    return contract.done;
  },

  tryMailServer: async ({ db, body }) => {
    await tryMailServer(db, body.to);
    return contract.done;
  },

  messageFile: async ({ params }) => {
    const { name, bytes } = await messageFile(params.name, params.number);
    return new Response(Uint8Array.from(bytes), {
      headers: {
        'content-type': 'application/octet-stream',
        'content-disposition': `attachment; filename*=UTF-8''${encodeURIComponent(name)}`,
        'x-content-type-options': 'nosniff',
      },
    });
  },

  viewMessage: async ({ params }) => lockedPage(await viewMessage(params.name)),

  viewOutTray: async () => viewOutTray(),

  resetPerson: async ({ db, params, body, actor, tell }) => {
    const found = await resetFor(db, await baseAddress(db), params.id, actor);
    tell(`${found.name}, ${found.email}`);
    const mailed = body.mail && (await mailWelcome(db, { kind: 'reset', ...found }));
    return { address: found.address, mailed };
  },

  invite: async ({ db, body, actor, tell }) => {
    tell(`${body.name}, ${body.email}, ${rightWords[body.right].role}`);
    const address = await invite(db, await baseAddress(db), body, actor);
    const mailed =
      body.mail && (await mailWelcome(db, { kind: 'invitation', address, by: actor, ...body }));
    return { address, mailed };
  },

  stopPrintJob: async ({ db, params }) => {
    await stopPrint(db, params.id);
    return contract.done;
  },

  askPrinter: async ({ db, params }) => {
    await askPrinterAgain(db, params.id);
    return contract.done;
  },

  changePrinter: async ({ db, params, body }) => {
    await changePrinter(db, params.id, body);
    return contract.done;
  },

  sendToPrinter: ({ db, params, body }) =>
    sendToPrinter(db, params.id, { run: body.run }, body.anyway),

  removePrinter: async ({ db, params }) => {
    await removePrinter(db, params.id);
    return contract.done;
  },

  readTestPage: async ({ db, params, body }) => ({
    finest: await readTestPage(db, params.id, body.texts),
  }),

  printerTestPage: async ({ db, params }) => {
    const bytes = await testPage(db, params.id);
    return new Response(Buffer.from(bytes), {
      headers: {
        'content-type': 'application/pdf',
        'content-disposition': 'inline; filename="test-page.pdf"',
      },
    });
  },

  printTestPage: ({ db, params }) => sendToPrinter(db, params.id, 'test page'),

  listPrinters: async ({ db, person }) => ({
    printers: await listPrinters(db, person.right === 'administrator'),
  }),

  addPrinter: async ({ db, body }) => {
    await addPrinter(db, body);
    return contract.done;
  },

  mailAccount: async ({ db, params: { id } }) =>
    new Response(Uint8Array.from(await mailAccount(db, id)), {
      headers: {
        'content-type': 'text/csv; charset=utf-8',
        'content-disposition': `attachment; filename="mails-${id}.csv"`,
      },
    }),

  listMails: async ({ db, params }) => ({
    mails: await listMails(db, params.id),
  }),

  sendMailsAgain: async ({ db, params, body }) => {
    await sendMailsAgain(db, params.id, body.which);
    return contract.done;
  },

  stopMails: async ({ db, params }) => {
    await stopMails(db, params.id);
    return contract.done;
  },

  forgotten: async (asked) => {
    const { email } = asked.body;
    await countForgotten(asked, email);
    const send = async () => {
      const found = await forgottenBy(asked, email);
      if (found) await mailWelcome(asked.db, { kind: 'reset', ...found });
    };
    // not waited for: the time it takes would tell whether there is a person of that address
    void send().catch((error: unknown) => log.error({ err: error }, 'a new password was not sent'));
    return contract.done;
  },
} satisfies Partial<Handlers>;
