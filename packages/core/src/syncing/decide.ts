import type { SyncLine } from './lines';
import type { Item } from './project';

/** What both sides last agreed on, for one line: ours as it was shown over there, and what stood there. */
export interface AgreedItems {
  o: Item[];
  t: Item[];
}

/** When each side was last changed, in ms since 1970 UTC by our clock, and how far that may be wrong. */
export interface Moments {
  oursMs: number;
  /** Null where the other side does not tell. */
  theirsMs: number | null;
  errorMs: number;
}

export type Verdict = 'nothing' | 'in' | 'out' | 'ask';

const brings = (line: SyncLine) => line.direction !== 'out';
const sends = (line: SyncLine) => line.direction !== 'in';

/** Which side was changed last; `ask` where the clocks cannot tell. */
function newer({ oursMs, theirsMs, errorMs }: Moments): 'in' | 'out' | 'ask' {
  if (theirsMs === null) return 'ask';
  const ahead = theirsMs - oursMs;
  if (Math.abs(ahead) <= errorMs) return 'ask';
  return ahead > 0 ? 'in' : 'out';
}

function bothMoved(line: SyncLine, o: string, t: string, moments: Moments): Verdict {
  switch (line.rule) {
    case 'fill':
      return o === '' ? 'in' : t === '' ? 'out' : 'nothing';
    case 'ask':
      return 'ask';
    case 'newest':
      return newer(moments);
    case 'replace':
      if (line.direction !== 'both') return line.direction;
      return line.wins === 'here' ? 'out' : 'in';
  }
}

/**
 * Compares one value three ways. Laws: equal values are left alone; what did not move never replaces what did; a blank
 * that was never filled takes nothing away; a direction that is off is never taken.
 */
export function decideOne(
  line: SyncLine,
  ours: readonly Item[],
  theirs: readonly Item[],
  agreed: AgreedItems | null,
  moments: Moments,
): Verdict {
  const o = ours[0]?.key ?? '';
  const t = theirs[0]?.key ?? '';
  if (o === t) return 'nothing';
  const allowed = (verdict: Verdict): Verdict =>
    (verdict === 'in' && !brings(line)) || (verdict === 'out' && !sends(line)) ? 'nothing' : verdict;
  if (line.fixed !== undefined) return allowed('out');
  if (!agreed) {
    if (o === '') return allowed('in');
    if (t === '') return allowed('out');
    return allowed(bothMoved(line, o, t, moments));
  }
  const oursMoved = o !== (agreed.o[0]?.key ?? '');
  const theirsMoved = t !== (agreed.t[0]?.key ?? '');
  if (oursMoved && theirsMoved) return allowed(bothMoved(line, o, t, moments));
  if (theirsMoved) {
    if (!brings(line)) return line.rule === 'replace' && o !== '' ? 'out' : 'nothing';
    return line.rule === 'fill' && o !== '' ? 'nothing' : 'in';
  }
  if (oursMoved) {
    if (!sends(line)) return line.rule === 'replace' && t !== '' ? 'in' : 'nothing';
    return line.rule === 'fill' && t !== '' ? 'nothing' : 'out';
  }
  return 'nothing';
}

/** What becomes of a field with several values. */
export interface SetVerdict {
  ask: boolean;
  /** From there, not here yet. */
  add: Item[];
  /** Here, taken away over there. */
  remove: Item[];
  /** Here with another label over there. */
  relabel: { item: Item; label: string | undefined }[];
  /** Keys that are to stand over there besides what is here afterwards, and those that are not. */
  keepThere: Item[];
  dropThere: ReadonlySet<string>;
}

const labelOf = (item: Item | undefined) => item?.outside.label?.toLowerCase() ?? '';

/**
 * Merges several values three ways as sets by their normal form. Two edits of one and the same value contradict each
 * other and go by the write rule; everything else is united, so that nothing is lost.
 * @param all every value here, also those the other side has no room for
 */
export function decideSet(
  line: SyncLine,
  ours: readonly Item[],
  all: readonly Item[],
  theirs: readonly Item[],
  agreed: AgreedItems | null,
  moments: Moments,
): SetVerdict {
  const keys = (items: readonly Item[]) => new Set(items.map((item) => item.key));
  const [o, t, everything] = [keys(ours), keys(theirs), keys(all)];
  const [wasO, wasT] = [keys(agreed?.o ?? []), keys(agreed?.t ?? [])];
  const addedThere = theirs.filter(({ key }) => !wasT.has(key));
  const addedHere = ours.filter(({ key }) => !wasO.has(key));
  const removedThere = new Set([...wasT].filter((key) => !t.has(key)));
  const removedHere = new Set([...wasO].filter((key) => !o.has(key) && !everything.has(key)));
  const verdict: SetVerdict = { ask: false, add: [], remove: [], relabel: [], keepThere: [], dropThere: new Set() };

  const onlyThere = addedThere.filter(({ key }) => !everything.has(key));
  const onlyHere = addedHere.filter(({ key }) => !t.has(key));
  const gone = [...removedThere].filter((key) => removedHere.has(key));
  let lost: 'here' | 'there' | null = null;
  if (
    line.direction === 'both' &&
    line.rule !== 'fill' &&
    gone.length > 0 &&
    gone.length === onlyThere.length &&
    gone.length === onlyHere.length
  ) {
    const winner = bothMoved(line, 'o', 't', moments);
    if (winner === 'ask') return { ...verdict, ask: true };
    lost = winner === 'in' ? 'here' : 'there';
  }

  if (brings(line)) {
    const mirror = line.direction === 'in' && line.rule === 'replace';
    verdict.add = lost === 'there' ? [] : (mirror ? theirs : addedThere).filter(({ key }) => !everything.has(key));
    if (line.rule !== 'fill')
      verdict.remove = all.filter(({ key }) => removedThere.has(key) && wasO.has(key) && !t.has(key));
    if (lost === 'here') verdict.remove.push(...onlyHere);
    const before = new Map(agreed?.t.map((item) => [item.key, item]));
    const beforeHere = new Map(agreed?.o.map((item) => [item.key, item]));
    for (const item of theirs) {
      const here = all.find(({ key }) => key === item.key);
      if (!here || labelOf(here) === labelOf(item)) continue;
      const moved = before.has(item.key) && labelOf(before.get(item.key)) !== labelOf(item);
      const movedHere = beforeHere.has(item.key) && labelOf(beforeHere.get(item.key)) !== labelOf(here);
      const filled = !before.has(item.key) && !labelOf(here);
      if ((moved && !(movedHere && line.wins === 'here')) || filled)
        verdict.relabel.push({ item: here, label: item.outside.label });
    }
  }
  if (sends(line)) {
    if (line.rule === 'fill') verdict.keepThere = [...theirs];
    else if (line.direction === 'out' && line.rule === 'replace') verdict.keepThere = [];
    else if (line.direction === 'out') verdict.keepThere = theirs.filter(({ key }) => !removedHere.has(key));
    verdict.dropThere = new Set(lost === 'there' ? onlyThere.map(({ key }) => key) : []);
  }
  return verdict;
}
