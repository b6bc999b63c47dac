import { formatDistanceToNowStrict } from 'date-fns';

const SHORT: [RegExp, string][] = [
  [/ seconds?/, ' s'],
  [/ minutes?/, ' min'],
  [/ hours?/, ' h'],
  [/ days?/, ' d'],
  [/ months?/, ' mo'],
  [/ years?/, ' y'],
];

/** How long ago, in few letters: "5 d", "2 y". */
export function ago(at: string | number): string {
  const text = formatDistanceToNowStrict(new Date(at));
  return SHORT.reduce((short, [word, letters]) => short.replace(word, letters), text);
}

export function exactly(at: string | number): string {
  return new Date(at).toLocaleString('en-GB', { dateStyle: 'medium', timeStyle: 'short' });
}

/** A relative time with the exact one on hover and focus. */
export function When({ at }: { at: string | number }) {
  const date = new Date(at);
  return (
    <time dateTime={date.toISOString()} title={exactly(at)}>
      {ago(at)}
    </time>
  );
}

export const count = (n: number): string => n.toLocaleString('en-GB');

/** "1 row", "1,204 rows". */
export const rowsOf = (n: number): string => (n === 1 ? '1 row' : `${count(n)} rows`);
