import { DAY, typeInWords, type Activity, type ActivityKind } from '@gray-loom/core/activity';
import { showValue } from '@gray-loom/core/fields';

/** Kinds that are written here, in the order of their buttons. */
export const WRITTEN: readonly ActivityKind[] = ['note', 'talk', 'task', 'appointment', 'enquiry'];

const NAMES: Record<ActivityKind, [one: string, many: string]> = {
  note: ['Note', 'notes'],
  task: ['Task', 'tasks'],
  appointment: ['Appointment', 'appointments'],
  talk: ['Talk', 'talks'],
  enquiry: ['Enquiry', 'enquiries'],
  call: ['Call', 'calls'],
  message: ['Message', 'messages'],
  result: ['Result', 'results'],
  purchase: ['Purchase', 'purchases'],
  gift: ['Gift', 'gifts'],
  enrolment: ['Enrolment', 'enrolments'],
  file: ['File', 'files'],
};
export const nameOfKind = (kind: ActivityKind): string => NAMES[kind][0];
export const nameOfKinds = (kind: ActivityKind): string => NAMES[kind][1];

const day = (at: string) =>
  new Date(`${at.slice(0, 10)}T00:00:00`).toLocaleDateString('en-GB', {
    day: 'numeric',
    month: 'short',
    year: 'numeric',
  });
const time = (at: string) => new Date(at).toLocaleTimeString('en-GB', { hour: '2-digit', minute: '2-digit' });
const dayHere = (at: string) =>
  new Date(at).toLocaleDateString('en-GB', { day: 'numeric', month: 'short', year: 'numeric' });

/** When something is, by the clock of whoever looks: "4 Mar 2026", "4 Mar 2026, 09:30 to 10:15". */
export function whenOf({ at, end }: Pick<Activity, 'at' | 'end'>): string {
  if (at === null) return 'no day';
  if (DAY.test(at)) return end && end !== at ? `${day(at)} to ${day(end)}` : day(at);
  const start = `${dayHere(at)}, ${time(at)}`;
  if (!end) return start;
  return dayHere(at) === dayHere(end) ? `${start} to ${time(end)}` : `${start} to ${dayHere(end)}, ${time(end)}`;
}

/** The facts of an entry beside its text: how long, what came of it, how much. */
export function factsOf(activity: Activity): string[] {
  const { kind, way, minutes, outcome, place, from, quantity, amount, repeat, file } = activity;
  return [
    kind === 'talk' && way ? (way === 'call' ? 'by phone' : 'met') : '',
    minutes === null ? '' : `${minutes} min`,
    outcome,
    place,
    from ? `from ${from}` : '',
    quantity === null ? '' : `${quantity.toLocaleString('en-GB')} ×`,
    amount ? showValue('opportunityValue', { v: amount }) : '',
    repeat ? everyInWords(repeat) : '',
    file ? `${typeInWords(file.mediaType)}, ${sizeInWords(file.bytes)}` : '',
  ].filter(Boolean);
}

/** How large a file is: "640 bytes", "12 KB", "2.3 MB". */
export function sizeInWords(bytes: number): string {
  if (bytes < 1024) return `${bytes} bytes`;
  if (bytes < 1024 * 1024) return `${Math.round(bytes / 1024)} KB`;
  return `${(bytes / 1024 / 1024).toFixed(1)} MB`;
}

/** How often something repeats: "every week", "every 3 months". */
export function everyInWords({ every, unit, until }: { every: number; unit: string; until: string | null }): string {
  const how = every === 1 ? `every ${unit}` : `every ${every} ${unit}s`;
  return until ? `${how} until ${day(until)}` : how;
}

/** Where something open stands to a day (YYYY-MM-DD): how late it is, or how soon. */
export function lateness(at: string | null, today: string): { words: string; isLate: boolean } {
  if (at === null) return { words: '', isLate: false };
  const days = Math.round((Date.parse(localDay(at)) - Date.parse(today)) / 86_400_000);
  if (days < 0) return { words: days === -1 ? '1 day late' : `${-days} days late`, isLate: true };
  if (days === 0) return { words: 'today', isLate: false };
  return { words: days === 1 ? 'tomorrow' : `in ${days} days`, isLate: false };
}

const two = (n: number) => String(n).padStart(2, '0');
const isoDay = (date: Date) => `${date.getFullYear()}-${two(date.getMonth() + 1)}-${two(date.getDate())}`;

/** The day that something is on, by the clock of whoever looks. */
export const localDay = (at: string): string => (DAY.test(at) ? at : isoDay(new Date(at)));
/** Today by the clock of whoever looks. */
export const todayHere = (): string => isoDay(new Date());
/** The time of day (HH:MM) by the clock of whoever looks; '' of a whole day. */
export const localTime = (at: string | null): string =>
  at === null || DAY.test(at) ? '' : `${two(new Date(at).getHours())}:${two(new Date(at).getMinutes())}`;

/** A day, with a time where there is one, as it is kept. */
export function whenFrom(dayText: string, timeText: string): string | null {
  if (!dayText) return null;
  return timeText ? new Date(`${dayText}T${timeText}`).toISOString() : dayText;
}
