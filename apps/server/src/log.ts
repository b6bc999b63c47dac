import { pino, type Logger } from 'pino';

export type { Logger };

/** What the database says of an error beside its sentence; none of it holds a value. */
const PLACES = ['code', 'severity', 'schema', 'table', 'column', 'constraint', 'dataType', 'routine', 'kind'] as const;
const DEEPEST = 4;

interface LoggedError {
  type: string;
  stack: string[];
  cause?: LoggedError | undefined;
  [place: string]: unknown;
}

/**
 * An error by what it is and where it arose. Its sentence is left out: those of the database, of parsers and of statements hold
 * what was sent, a person's values among it.
 */
export function loggedError(error: unknown, depth = 0): LoggedError {
  if (!(error instanceof Error)) return { type: typeof error, stack: [] };
  const found = error as Error & Record<string, unknown>;
  const places = PLACES.flatMap((place) => (typeof found[place] === 'string' ? [[place, found[place]]] : []));
  return {
    type: error.name,
    ...(Object.fromEntries(places) as Record<string, string>),
    stack: (error.stack ?? '').split('\n').filter((line) => /^\s+at /.test(line)),
    ...(error.cause && depth < DEEPEST ? { cause: loggedError(error.cause, depth + 1) } : {}),
  };
}

/** Logs carry codes, ids and counts, never a person's values. */
export function createLogger(name: string, level: string): Logger {
  return pino({ name, level, serializers: { err: (error: unknown) => loggedError(error) } });
}

/** A promise that fails while nobody waits for it is a fault of ours, but no reason to end what serves everybody. */
export function logUnawaited(log: Logger): void {
  process.on('unhandledRejection', (err) => log.error({ err }, 'a promise failed that nobody waited for'));
}
