import pino from 'pino';

/** What the database adds to its errors quotes the values that they are about. */
const quotes = ['detail', 'where', 'hint', 'internalQuery', 'parameters', 'query'];

/** Structured logs, one JSON object a line. Values of records are never logged. */
export const log = pino({
  level: process.env.LOG_LEVEL ?? 'warn',
  base: { process: process.env.HAND_STAMP_PROCESS ?? 'web' },
  serializers: {
    err: (error: Error) => {
      const told = pino.stdSerializers.err(error);
      for (const name of quotes) delete told[name];
      return told;
    },
  },
});
