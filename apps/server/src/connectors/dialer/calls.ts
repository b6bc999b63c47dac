import type { OutsideResult, OutsideStop } from '@gray-loom/core/syncing';
import { numberIn } from './people';

export interface DialerCall {
  id: number;
  personId: number | null;
  direction: 'out' | 'in';
  number: string;
  dialled: string;
  outcome: string;
  minutes: number;
  at: string;
  caller: string;
}

export interface DialerStop {
  number: string | null;
  stopped: boolean;
  at: string;
}

/** @param idOf the id that the record of a person has for us; a person who was removed has none */
export const resultOf = (call: DialerCall, idOf: ReadonlyMap<number, string>): OutsideResult => ({
  id: String(call.id),
  kind: 'call',
  recordId: call.personId === null ? null : (idOf.get(call.personId) ?? null),
  number: call.number,
  reached: call.dialled,
  incoming: call.direction === 'in',
  at: call.at,
  outcome: call.outcome,
  minutes: call.minutes,
  by: call.caller,
});

/** Stops of numbers. Those of people come with their records; that somebody may be called again is no word of theirs. */
export const stopsOf = (stops: readonly DialerStop[]): OutsideStop[] =>
  stops.flatMap(({ number, stopped, at }): OutsideStop[] =>
    number !== null && stopped ? [{ channel: 'call', address: number, at }] : [],
  );

/** What a person is asked for by: the number that they have there, or the name that we gave them. */
export const queryOf = (ids: readonly string[]): string =>
  [
    ...(ids.some((id) => numberIn(id) !== null) ? [`ids=${ids.flatMap((id) => numberIn(id) ?? []).join(',')}`] : []),
    ...ids.filter((id) => numberIn(id) === null).map((ref) => `ref=${encodeURIComponent(ref)}`),
  ].join('&');
