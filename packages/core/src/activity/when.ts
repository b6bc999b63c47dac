/** A day without a time (ISO 8601). */
export const DAY = /^\d{4}-\d{2}-\d{2}$/;
const MOMENT = /^(\d{4}-\d{2}-\d{2})T\d{2}:\d{2}(?::\d{2}(?:\.\d{1,3})?)?Z$/;

export function isRealDay(text: string): boolean {
  const day = new Date(`${text}T00:00:00Z`);
  return !Number.isNaN(day.getTime()) && day.toISOString().startsWith(text);
}

/** Whether a text is a moment in UTC, on a day that there is. */
export function isRealMoment(text: string): boolean {
  const day = MOMENT.exec(text)?.[1];
  return day !== undefined && isRealDay(day) && !Number.isNaN(Date.parse(text));
}

/** The day that something is on (UTC); null where it has none. */
export const dayOfWhen = (at: string | null): string | null => at?.slice(0, 10) ?? null;

/** The moment that something is ordered by, in ms since 1970 UTC: a day by its beginning. */
export const msOfWhen = (at: string): number => Date.parse(DAY.test(at) ? `${at}T00:00:00Z` : at);

const DAY_MS = 86_400_000;

/** Whole days from one day to another (ISO 8601); less than none where the other is earlier. */
export const daysBetween = (from: string, to: string): number => Math.round((msOfWhen(to) - msOfWhen(from)) / DAY_MS);

const partsIn = new Map<string, Intl.DateTimeFormat>();

function clockOf(zone: string): Intl.DateTimeFormat {
  let format = partsIn.get(zone);
  if (!format) {
    format = new Intl.DateTimeFormat('en-GB', {
      timeZone: zone,
      hourCycle: 'h23',
      year: 'numeric',
      month: '2-digit',
      day: '2-digit',
      hour: '2-digit',
      minute: '2-digit',
      second: '2-digit',
    });
    partsIn.set(zone, format);
  }
  return format;
}

/** Whether a zone (IANA, such as Europe/London) is known. */
export function isZone(zone: string): boolean {
  try {
    clockOf(zone);
    return true;
  } catch {
    return false;
  }
}

/** What a clock on the wall of a zone shows at a moment: `2026-03-29T09:00`. */
export function wallTime(ms: number, zone: string): string {
  const parts = Object.fromEntries(
    clockOf(zone)
      .formatToParts(ms)
      .map(({ type, value }) => [type, value]),
  );
  return `${parts.year}-${parts.month}-${parts.day}T${parts.hour}:${parts.minute}`;
}

/**
 * The moment at which a clock on the wall of a zone shows a time (`2026-03-29T09:00`), in ms since 1970 UTC. A time that is left out
 * when clocks go forward is as much later as they went; of one that is there twice, the first is meant.
 */
export function momentOf(wall: string, zone: string): number {
  const asUtc = Date.parse(`${wall.slice(0, 16)}:00Z`);
  const offsetAt = (ms: number) => Date.parse(`${wallTime(ms, zone)}:00Z`) - Math.floor(ms / 60_000) * 60_000;
  const offsets = [...new Set([offsetAt(asUtc - DAY_MS), offsetAt(asUtc + DAY_MS)])];
  const fits = offsets.map((offset) => asUtc - offset).filter((ms) => wallTime(ms, zone) === wall.slice(0, 16));
  return fits.length ? Math.min(...fits) : asUtc - (offsets[0] ?? 0);
}
