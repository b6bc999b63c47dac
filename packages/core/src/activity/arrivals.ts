import { contentKey, type Activity } from './activity';
import { changedParts } from './undo';

/** An activity that is here already. */
export interface Here<Id> {
  id: Id;
  activity: Activity;
}

export type Arrival<Id> =
  | { is: 'new'; activity: Activity }
  | { is: 'changed'; id: Id; before: Activity; activity: Activity }
  | { is: 'same'; id: Id }
  /** The number stands further up among those that arrive, at this place; that one is as the last says. */
  | { is: 'again'; place: number };

/** What a file or tool may change of an activity that it brought before; who did it and whether it is done is ours. */
const THEIRS = ['at', 'what', 'text', 'quantity', 'amount', 'minutes', 'outcome', 'place', 'from'] as const;

function renewed(before: Activity, coming: Activity): Activity {
  const theirs = THEIRS.filter((part) => coming[part] !== null && coming[part] !== '');
  return { ...before, ...Object.fromEntries(theirs.map((part) => [part, coming[part]])) };
}

const NONE_EARLIER: ReadonlyMap<string, number> = new Map();

/**
 * What becomes of activities that arrive for one contact, an entry for each in their order, beside those that it has: each is the one with its number, else
 * the one with the same content that no other took, else new. So what comes again is the same, and of two equal ones in one file both count.
 * A number that is known brings what changed over there. `earlier` says how many of the same content (`contentKey`)
 * came before these, where a file comes in parts. Law: arriving a second time, whole or in parts, changes nothing.
 */
export function planArrivals<Id>(
  here: readonly Here<Id>[],
  coming: readonly Activity[],
  earlier: ReadonlyMap<string, number> = NONE_EARLIER,
): Arrival<Id>[] {
  const numberKey = ({ kind, outsideId }: Activity) => `${kind}\n${outsideId}`;
  const byNumber = new Map(
    here.filter(({ activity }) => activity.outsideId).map((one) => [numberKey(one.activity), one]),
  );
  const byContent = new Map<string, Here<Id>[]>();
  for (const one of here)
    if (!one.activity.outsideId) {
      const key = contentKey(one.activity);
      byContent.set(key, [...(byContent.get(key) ?? []), one]);
    }
  for (const [key, n] of earlier) byContent.get(key)?.splice(0, n);
  // What the same number says further down counts as well: one activity, as the last says.
  const places = new Map<string, number>();
  const meant = [...coming];
  coming.forEach((activity, place) => {
    if (!activity.outsideId) return;
    const first = places.get(numberKey(activity));
    if (first === undefined) places.set(numberKey(activity), place);
    else meant[first] = renewed(meant[first] ?? activity, activity);
  });
  return meant.map((activity, place): Arrival<Id> => {
    const first = activity.outsideId ? places.get(numberKey(activity)) : undefined;
    if (first !== undefined && first !== place) return { is: 'again', place: first };
    const known = activity.outsideId ? byNumber.get(numberKey(activity)) : byContent.get(contentKey(activity))?.shift();
    if (!known) return { is: 'new', activity };
    // One that was removed here stays removed: somebody decided so.
    const after = activity.outsideId && !known.activity.gone ? renewed(known.activity, activity) : known.activity;
    return changedParts(known.activity, after).length
      ? { is: 'changed', id: known.id, before: known.activity, activity: after }
      : { is: 'same', id: known.id };
  });
}
