import { pino, type Logger } from 'pino';

export type { Logger };

/** Logs carry codes, ids and counts, never a person's values. */
export function createLogger(name: string, level: string): Logger {
  return pino({ name, level });
}
