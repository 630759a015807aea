import pino from 'pino';

/** Logs say what happened to which flow, never what stands in it. */
export const log = pino({ level: process.env.LOG_LEVEL ?? 'info', base: undefined });
