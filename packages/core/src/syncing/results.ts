import { activityOf, MOST_WHAT, type Activity } from '../activity';
import type { Channel } from '../writing';

/** What comes back from a tool that talks to people: what happened with whom, dated. */
export const RESULT_KINDS = ['call', 'message', 'result', 'purchase'] as const;
export type ResultKind = (typeof RESULT_KINDS)[number];

/** Something that happened over there with somebody. */
export interface OutsideResult {
  /** Its id over there; no other ever has it. */
  id: string;
  kind: ResultKind;
  /** Id of the record of whom it tells; null where nobody over there is known by it. */
  recordId: string | null;
  /** The other one's number or mailbox; '' where it was withheld. */
  number: string;
  /** The published number or mailbox of ours that was reached; '' where we began. */
  reached: string;
  /** Whether the other one began. */
  incoming: boolean;
  /** When (ISO 8601, UTC). */
  at: string;
  outcome: string;
  minutes: number | null;
  /** Who of the office it was, by the name that the tool has for them; '' where it does not say. */
  by: string;
  /** What it belongs to over there, such as a mailing that went to many: its id, and its subject. */
  of?: { id: string; subject: string };
  /** The address on the web that was clicked. */
  link?: string;
}

/** Somebody said over there that they want no more of a channel: of an address or number, whoever has it. */
export interface OutsideStop {
  channel: Channel;
  address: string;
  /** By the clock over there (ISO 8601, UTC). */
  at: string;
  /** The list that they said it of, for tools that ask so; it holds for the channel here. */
  list?: string;
  /** What it was said by or in, where the tool keeps that. */
  how?: string;
  /** Nobody said it: what was sent to the address came back. */
  undeliverable?: boolean;
}

/** A stop as evidence, with all that the tool says of it. */
export const howOfStop = ({ list, how }: OutsideStop, connection: string): string =>
  [`Said in ${connection}`, ...(list ? [`of the list ${list}`] : []), ...(how ? [how] : [])].join(', ').slice(0, 300);

/** A part of a list that only grows: what is in it, and where to go on from. */
export interface OutsidePage<T> {
  entries: T[];
  cursor: string;
  more: boolean;
}

const EARLIEST_MS = Date.UTC(1970, 0, 1);
/** A clock over there may be wrong by as much; what is dated later than that is no time. */
const LATEST_AHEAD_MS = 366 * 86_400_000;
const MOST_MINUTES = 7 * 24 * 60;

/** Why a result cannot be taken in, in words; null where it can. What a tool sends is not what it says that it sends. */
export function faultOfResult(result: OutsideResult, nowMs: number): string | null {
  const { id, kind, at, minutes } = result;
  const { subject = '', id: ofId = '' } = result.of ?? {};
  const texts = [id, at, result.number, result.reached, result.outcome, result.by, subject, ofId, result.link ?? ''];
  if (texts.some((text) => typeof text !== 'string') || !id) return 'one has a part missing';
  if (!RESULT_KINDS.includes(kind)) return `${id} is of a kind that is not known`;
  const ms = Date.parse(at);
  if (!(ms >= EARLIEST_MS && ms <= nowMs + LATEST_AHEAD_MS))
    return `${id} has no time that can be read: "${at.slice(0, 40)}"`;
  if (minutes !== null && !(minutes >= 0 && minutes <= MOST_MINUTES))
    return `${id} lasted "${String(minutes).slice(0, 40)}" minutes`;
  return null;
}

/** What is known here of whom a result may tell. */
export interface ResultKnown {
  /** Whom its record stands for here; null where it stands for nobody yet. */
  linked: number | null;
  /** Whether whoever its record is was erased here on request. */
  erased: boolean;
  /** Everybody alive here who has the number. */
  haveNumber: readonly number[];
}

/**
 * What becomes of a result here: an entry with a contact; an enquiry of somebody who is nobody here yet; it waits until its record stands
 * for somebody; a person is asked which of several it is; or it is let go, since whom it tells of was erased.
 */
export type ResultFate =
  | { is: 'entry'; contactId: number }
  | { is: 'enquiry' }
  | { is: 'waits' }
  | { is: 'asks'; candidates: number[] }
  | { is: 'letGo' };

/**
 * Whose a result is. The record that it names tells before the number: two people may have one number. A number alone tells only where
 * nobody else has it; whoever calls from one that nobody here has is somebody new who asks for something.
 */
export function fateOf(result: OutsideResult, { linked, erased, haveNumber }: ResultKnown): ResultFate {
  if (erased) return { is: 'letGo' };
  if (linked !== null) return { is: 'entry', contactId: linked };
  if (result.recordId !== null) return { is: 'waits' };
  const [first, ...others] = haveNumber;
  // What we sent to somebody who is nobody here is no question; who has the address later is not whom it went to.
  if (first === undefined && result.kind === 'result') return { is: 'waits' };
  if (first !== undefined && !others.length) return { is: 'entry', contactId: first };
  if (first !== undefined || !result.number || !result.incoming) return { is: 'asks', candidates: [...haveNumber] };
  return { is: 'enquiry' };
}

/** The number that an entry has here: that of its tool, told apart from those of other tools. */
export const resultNumber = (connectionId: number, id: string): string => `tool ${connectionId}: ${id}`;

const OUTCOMES: ReadonlyMap<string, string> = new Map([
  ['noanswer', 'no answer'],
  ['callback', 'call back'],
  ['off', 'unsubscribed'],
  ['undeliverable', 'mail came back'],
]);

/** "noAnswer" as people write it. */
export const sayOutcome = (outcome: string): string =>
  OUTCOMES.get(outcome.toLowerCase()) ?? outcome.replace(/([a-z])([A-Z])/g, '$1 $2').toLowerCase();

interface Told {
  connectionId: number;
  /** The account that `by` names here; null where it names none. */
  who: number | null;
  /** What the number that was reached stands for here: where enquiries by it come from. */
  source: string;
}

/** A result as an entry of a contact. A name that is no account stands in the text, so that it is not lost. */
export function entryOfResult(result: OutsideResult, { connectionId, who, source }: Told): Activity {
  const { kind, at, outcome, minutes, by, incoming, reached, of, link } = result;
  const told = [
    ...(by && who === null ? [`${incoming ? 'Taken' : 'Made'} by ${by}.`] : []),
    ...(incoming && reached ? [`Called ${reached}.`] : []),
    ...(link ? [link] : []),
  ];
  return activityOf(kind, {
    at,
    who,
    what: kind === 'call' ? (incoming ? 'Called us' : 'Was called') : (of?.subject ?? '').slice(0, MOST_WHAT),
    outcome: sayOutcome(outcome),
    minutes,
    from: incoming ? source : '',
    text: told.join(' '),
    outsideId: resultNumber(connectionId, result.id),
    isOpen: false,
  });
}

/** A call by somebody who is nobody here yet, as the question that it is: open until somebody answers. */
export function enquiryOfResult(result: OutsideResult, told: Told): Activity {
  const { text, outcome, minutes, at, outsideId } = entryOfResult(result, told);
  return activityOf('enquiry', {
    at,
    what: `Called from ${result.number}`,
    text: [text, outcome && `Outcome: ${outcome}.`].filter(Boolean).join(' '),
    minutes,
    from: told.source || (result.reached ? `Call to ${result.reached}` : ''),
    outsideId,
  });
}
