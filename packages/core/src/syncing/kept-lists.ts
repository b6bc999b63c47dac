import type { OutsideRecord } from './outside';

/** What becomes of a list that we keep where somebody over there puts people in or takes them out by hand. */
export const BY_HAND = ['putRight', 'leave', 'ask'] as const;
export type ByHand = (typeof BY_HAND)[number];

/** A segment here that is kept as a list over there, or a list over there that is a tag here. */
export interface ListLine {
  /** Names it within its connection for good, so that a list may be renamed. */
  id: string;
  /** out: the list is kept by a segment; in: the tag follows the list. */
  direction: 'out' | 'in';
  /** The segment; 0 where a list is a tag. */
  segment: number;
  /** The tag; '' where a segment is a list. */
  tag: string;
  /** Name of the list over there. */
  label: string;
  byHand: ByHand;
}

/** Where a base keeps lists: the ids of those that somebody belongs in by us, and of those that they were in over there. */
export const LISTS = '*lists';

export interface ListsBase {
  wanted: ReadonlySet<string>;
  stood: ReadonlySet<string>;
}

/** What becomes of somebody's lists. */
export interface ListsPlan {
  /** Names of lists over there that they are put into, and taken out of. */
  put: { line: ListLine; label: string }[];
  takeOut: { line: ListLine; label: string }[];
  /** Tags here that they get, and lose. */
  tag: ListLine[];
  untag: ListLine[];
  /** Lists that somebody over there changed by hand, and a person is asked about. */
  asks: { line: ListLine; wants: boolean }[];
  /** What is agreed on now, and once it is written over there. */
  now: { wanted: string[]; stood: string[] };
  after: { wanted: string[]; stood: string[] };
}

const lower = (text: string) => text.toLowerCase();

/** Names of lists that somebody is in as well by being in these: a list that has a part of it. */
function withWhole(labels: ReadonlySet<string>, inside: string | undefined): Set<string> {
  const all = new Set(labels);
  if (inside !== undefined)
    for (const label of labels) {
      const at = label.indexOf(inside);
      if (at > 0) all.add(label.slice(0, at));
    }
  return all;
}

/**
 * Plans one person's lists. A list changes over there by what changed here; what changed over there by hand is put right, left as it is,
 * or asked about; a tag follows its list, and is left where it was changed here. Laws: planned again after both sides are written there
 * is nothing to do; a difference that was left stays until either side moves.
 *
 * @param segments ids of the segments that the person is in
 * @param tags tags that the person has, in lower case
 * @param inside what stands between the name of a list and that of a part of it, for tools that have such
 */
export function planLists(
  lines: readonly ListLine[],
  {
    segments,
    tags,
    theirs,
    base,
    inside,
  }: {
    segments: ReadonlySet<number>;
    tags: ReadonlySet<string>;
    theirs: Pick<OutsideRecord, 'labels'>;
    base: ListsBase;
    inside?: string | undefined;
  },
): ListsPlan {
  const plan: ListsPlan = {
    put: [],
    takeOut: [],
    tag: [],
    untag: [],
    asks: [],
    now: { wanted: [], stood: [] },
    after: { wanted: [], stood: [] },
  };
  const there = new Set(theirs.labels.map(lower));
  const wantedLabels = withWhole(
    new Set(
      lines.flatMap(({ direction, segment, label }) =>
        direction === 'out' && segments.has(segment) ? lower(label) : [],
      ),
    ),
    inside?.toLowerCase(),
  );
  for (const line of lines) {
    const { id, direction, label, tag, byHand } = line;
    const stands = there.has(lower(label));
    const wants = direction === 'out' ? wantedLabels.has(lower(label)) : tags.has(lower(tag));
    const wasWanted = base.wanted.has(id);
    const stood = base.stood.has(id);
    const keep = (when: 'now' | 'after', w: boolean, s: boolean) => {
      if (w) plan[when].wanted.push(id);
      if (s) plan[when].stood.push(id);
    };
    const both = (w: boolean, s: boolean) => {
      keep('now', w, s);
      keep('after', w, s);
    };
    if (wants === stands) both(wants, stands);
    else if (direction === 'in') {
      // Only what changed over there comes here.
      if (stands === stood) both(wants, stands);
      else {
        (stands ? plan.tag : plan.untag).push(line);
        both(stands, stands);
      }
    } else if (stands === stood && wants === wasWanted) both(wants, stands);
    else if (stands === stood || byHand === 'putRight') {
      (wants ? plan.put : plan.takeOut).push({
        line,
        label: theirs.labels.find((one) => lower(one) === lower(label)) ?? label,
      });
      // Until it is written only our side has moved.
      keep('now', !wants, stands);
      keep('after', wants, wants);
    } else if (byHand === 'leave') both(wants, stands);
    else {
      plan.asks.push({ line, wants });
      both(wasWanted, stood);
    }
  }
  return plan;
}

/** What is agreed on once a person has said what becomes of a list that was changed by hand: left as it is there, or put right. */
export function settledList(
  base: ListsBase,
  { line, wants, take }: { line: ListLine; wants: boolean; take: 'ours' | 'theirs' },
): { wanted: string[]; stood: string[] } {
  const others = (ids: ReadonlySet<string>) => [...ids].filter((id) => id !== line.id);
  const stands = !wants;
  const wanted = take === 'theirs' ? wants : !wants;
  return {
    wanted: [...others(base.wanted), ...(wanted ? [line.id] : [])],
    stood: [...others(base.stood), ...(stands ? [line.id] : [])],
  };
}
