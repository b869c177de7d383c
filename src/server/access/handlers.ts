import type { Handlers } from './gate';
import {
  newsStream,
  fontPart,
  Refusal,
  fontFile,
  warmUp,
  checkHealth,
  streamed,
  fileNameOf,
  bytesOf,
  redrawnPicture,
  readSettings,
  writeSettings,
  settingsInWords,
  standInProgram,
} from '../platform';
import * as contract from '../../contract';
import { takeBackInvitation, changePerson, listPeople, viewWelcome, takeWelcome } from './people';
import { sayHere, whoIsHere } from './presence';
import { sharesOf, shareWith } from './shares';
import { journalCsv, viewJournal } from './journal';
import { endKey, listKeys, makeKey } from './keys';
import { keyRightWords } from '../../core/access/keys';
import {
  becomeStandIn,
  removePasskey,
  newPasskeyOptions,
  addPasskey,
  changePassword,
  confirmSecondFactor,
  startSecondFactor,
  stopSecondFactor,
  endSessions,
  viewSignIn,
  passkeyOptions,
  signInByPasskey,
  signInByPassword,
  signInBySecond,
  signOut,
} from './sign-in';
import { standInsFor } from './who';
import { metricsText } from './metrics';

/** The handlers of this module, by route. */
export const accessHandlers = {
  checkpointNews: async (asked) => newsStream(asked, new Set([`checkpoint:${asked.params.id}`])),

  typefacePart: async ({ params }) => {
    const file = await fontPart(params.key, params.slice);
    if (!file) throw new Refusal('This part of a typeface does not exist. Reload the page.', 404);
    return new Response(Uint8Array.from(file), {
      headers: {
        'content-type': 'font/ttf',
        'cache-control': 'public, max-age=31536000, immutable',
      },
    });
  },

  typeface: async ({ params }) => {
    const file = await fontFile(params.key);
    if (!file) throw new Refusal('This typeface does not exist. Reload the page.', 404);
    return new Response(Uint8Array.from(file), {
      headers: {
        'content-type': 'font/ttf',
        'cache-control': 'public, max-age=31536000, immutable',
      },
    });
  },

  health: async ({ query }) => {
    if (query.only === 'live') return contract.done;
    warmUp();
    await checkHealth();
    return contract.done;
  },

  takeBackInvitation: async ({ db, params }) => {
    await takeBackInvitation(db, params.id);
    return contract.done;
  },

  sayHere: async ({ db, params, person, body }) => {
    await sayHere(db, params.id, person, body);
    return contract.done;
  },

  whoIsHere: async ({ db, params, person, query }) => ({
    others: await whoIsHere(db, params.id, person, query.window),
  }),

  jobShares: async ({ db, params, person }) => sharesOf(db, { job: params.id }, person),

  shareJob: async ({ db, params, body, actor, person, tell }) => {
    tell(await shareWith(db, { job: params.id }, body, actor, person));
    return sharesOf(db, { job: params.id }, person);
  },

  journalFile: async ({ db, query }) =>
    new Response(streamed(journalCsv(db, query)), {
      headers: {
        'content-type': 'text/csv; charset=utf-8',
        'content-disposition': 'attachment; filename="journal.csv"',
      },
    }),

  viewJournal: async ({ db, query }) => viewJournal(db, query),

  endKey: async ({ db, params, tell }) => {
    tell(await endKey(db, params.id));
    return contract.done;
  },

  listKeys: async ({ db }) => ({ keys: await listKeys(db) }),

  makeKey: async ({ db, body, actor, tell }) => {
    tell(`${body.name}: ${body.rights.map((right) => keyRightWords[right].name).join(', ')}`);
    return makeKey(db, body, actor);
  },

  listShares: async ({ db, params, person }) => sharesOf(db, { list: params.id }, person),

  shareList: async ({ db, params, body, actor, person, tell }) => {
    tell(await shareWith(db, { list: params.id }, body, actor, person));
    return sharesOf(db, { list: params.id }, person);
  },

  becomeStandIn: async (asked) => {
    await becomeStandIn(asked, asked.body.person);
    return contract.done;
  },

  removePasskey: async ({ db, person, params }) => {
    await removePasskey(db, person, params.id);
    return contract.done;
  },

  newPasskeyOptions: async (asked) => newPasskeyOptions(asked),

  addPasskey: async (asked) => {
    await addPasskey(asked, asked.body);
    return contract.done;
  },

  changePassword: async (asked) => {
    await changePassword(asked, asked.person, asked.body);
    return contract.done;
  },

  viewMe: async ({ db, request, person }) => ({
    person: { id: person.id, name: person.name, email: person.email, right: person.right },
    standIns: await standInsFor(db, request.headers),
  }),

  confirmSecondFactor: async (asked) => {
    await confirmSecondFactor(asked, asked.person, asked.body.code);
    return contract.done;
  },

  startSecondFactor: async (asked) => startSecondFactor(asked, asked.person, asked.body.password),

  stopSecondFactor: async (asked) => {
    await stopSecondFactor(asked, asked.person, asked.body.password);
    return contract.done;
  },

  endSession: async ({ db, person, params }) => {
    await endSessions(db, person, params);
    return contract.done;
  },

  endOtherSessions: async ({ db, person }) => {
    await endSessions(db, person, 'others');
    return contract.done;
  },

  viewSignIn: async (asked) => viewSignIn(asked, asked.person),

  viewMetrics: async ({ db }) => {
    const { text, type } = await metricsText(db);
    return new Response(text, { headers: { 'content-type': type } });
  },

  changePerson: async ({ db, params, body, tell }) => {
    tell(await changePerson(db, params.id, body));
    return contract.done;
  },

  listPeople: async ({ db }) => listPeople(db),

  redrawPicture: async ({ request }) => {
    const name = fileNameOf(request, 'picture');
    const bytes = await bytesOf(
      request,
      contract.redrawPicture.upload.most,
      (n) =>
        new Refusal(
          `${name} is too large: ${Math.ceil(n / 2 ** 20)} MB of at most 10 MB. Make it smaller and try again.`,
          413,
        ),
    );
    return redrawnPicture(name, bytes);
  },

  roundNews: async (asked) => newsStream(asked, new Set([`round:${asked.params.id}`])),

  viewSettings: async ({ db }) => readSettings(db),

  changeSettings: async ({ db, body, tell }) => {
    await writeSettings(db, body);
    tell(settingsInWords(body));
    return readSettings(db);
  },

  askPasskey: async (asked) => passkeyOptions(asked),

  signInByPasskey: async (asked) => {
    await signInByPasskey(asked, asked.body.response);
    return contract.done;
  },

  viewStandIns: async ({ db, request }) => ({
    standIns: await standInsFor(db, request.headers),
  }),

  signIn: async (asked) => signInByPassword(asked, asked.body),

  signInSecond: async (asked) => {
    await signInBySecond(asked, asked.body);
    return contract.done;
  },

  signOut: async (asked) => {
    await signOut(asked);
    return contract.done;
  },

  viewStandInProgram: async ({ db }) => ({
    program: await standInProgram(db),
  }),

  viewWelcome: async ({ db, params }) => viewWelcome(db, params.token),

  takeWelcome: async (asked) => {
    await takeWelcome(asked, asked.params.token, asked.body);
    return contract.done;
  },
} satisfies Partial<Handlers>;
