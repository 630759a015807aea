import pino from 'pino';

/** An error for the log. That of a database holds the query and its values in its message: of it only the code is told. */
function plain(error: Error) {
  for (let at: unknown = error; at instanceof Error; at = at.cause)
    if ('sqlState' in at || 'query' in at || 'sql' in at) {
      const { code } = (at.cause ?? at) as { code?: string };
      return { type: 'database', code: code ?? at.name };
    }
  return pino.stdSerializers.err(error);
}

/** Logs say what happened to which flow, never what stands in it. */
export const log = pino({ level: process.env.LOG_LEVEL ?? 'info', base: undefined, serializers: { err: plain } });
