import pino from 'pino';

/** Structured logs, one JSON object a line. Values of records are never logged. */
export const log = pino({ level: process.env.LOG_LEVEL ?? 'warn', base: { process: process.env.HAND_STAMP_PROCESS ?? 'web' } });
