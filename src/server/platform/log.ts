import pino from 'pino';
import { configuration } from './configuration';

/** The database's details of an error, which quote values. */
const quotes = ['detail', 'where', 'hint', 'internalQuery', 'parameters', 'query'];

const set = configuration();

/** Structured logs, one JSON object a line. Values of records are never logged. */
export const log = pino({
  level: set.LOG_LEVEL ?? 'warn',
  base: { process: set.HAND_STAMP_PROCESS ?? 'web' },
  serializers: {
    err: (error: Error) => {
      const told = pino.stdSerializers.err(error);
      for (const name of quotes) delete told[name];
      return told;
    },
  },
});
