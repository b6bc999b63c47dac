/** A number as people read it. */
const shown = (n: number) => n.toLocaleString('en');

function said(counts: Record<string, number | undefined>, words: readonly (readonly [string, string])[]): string {
  return words.flatMap(([key, word]) => (counts[key] ? [`${shown(counts[key])} ${word}`] : [])).join(', ');
}

/** What counts of new activities begin with; their kind follows. */
export const ACTIVITY_COUNT = 'activity.';
const KINDS: Record<string, [one: string, many: string]> = {
  note: ['note', 'notes'],
  gift: ['gift', 'gifts'],
  purchase: ['purchase', 'purchases'],
  enrolment: ['enrolment', 'enrolments'],
  call: ['call', 'calls'],
  message: ['message', 'messages'],
  result: ['result', 'results'],
  talk: ['talk', 'talks'],
  enquiry: ['enquiry', 'enquiries'],
  appointment: ['appointment', 'appointments'],
  task: ['task', 'tasks'],
};

/** What of activities a file brings, in words: "40 gifts", "3 changed entries". */
export function activitiesInWords(counts: Record<string, number | undefined>): string[] {
  const fresh = Object.entries(counts).flatMap(([key, n]) => {
    const words = key.startsWith(ACTIVITY_COUNT) ? KINDS[key.slice(ACTIVITY_COUNT.length)] : undefined;
    return words && n ? [`${shown(n)} ${n === 1 ? words[0] : words[1]}`] : [];
  });
  const changed = counts.activitiesChanged ?? 0;
  const same = counts.activitiesSame ?? 0;
  return [
    ...fresh,
    ...(changed ? [`${shown(changed)} ${changed === 1 ? 'entry' : 'entries'} changed`] : []),
    ...(same ? [`${shown(same)} ${same === 1 ? 'entry' : 'entries'} here already`] : []),
  ];
}

const OUTCOMES = [
  ['new', 'new'],
  ['fill', 'filled'],
  ['replace', 'replaced'],
  ['same', 'same'],
  ['fold', 'folded'],
  ['held', 'held'],
  ['stops', 'with a stop'],
  ['allows', 'with a permission'],
] as const;

/** What of opportunities a file brings: "1 new opportunity, 2 opportunities changed". */
export function opportunitiesInWords(counts: Record<string, number | undefined>): string[] {
  const { opportunitiesNew: fresh = 0, opportunitiesChanged: changed = 0 } = counts;
  const word = (n: number) => (n === 1 ? 'opportunity' : 'opportunities');
  return [
    ...(fresh ? [`${shown(fresh)} new ${word(fresh)}`] : []),
    ...(changed ? [`${shown(changed)} ${word(changed)} changed`] : []),
  ];
}

/** Outcomes of an import in words: "312 new, 52 filled, 11 held". */
export function outcomesInWords(counts: Record<string, number | undefined>): string {
  return (
    [said(counts, OUTCOMES), ...opportunitiesInWords(counts), ...activitiesInWords(counts)]
      .filter(Boolean)
      .join(', ') || 'no rows'
  );
}

const SYNCED = [
  ['linked', 'found to be the same'],
  ['madeHere', 'new here'],
  ['madeThere', 'new over there'],
  ['changedHere', 'changed here'],
  ['changedThere', 'changed over there'],
  ['stops', 'with a stop passed on'],
  ['shared', 'with the address of another'],
  ['removedThere', 'removed over there'],
  ['goneThere', 'gone over there'],
  ['asked', 'to be asked about'],
  ['conflicts', 'in conflict'],
  ['failed', 'not taken'],
] as const;

/** What a sync did or would do, in one line. Older runs counted as imports do. */
export function syncInWords(counts: Record<string, number | undefined>): string {
  return counts.new !== undefined ? outcomesInWords(counts) : said(counts, SYNCED) || 'nothing to do';
}

const RETURNED: readonly [key: string, one: string, many: string][] = [
  ['entries', 'with a contact', 'with contacts'],
  ['enquiries', 'new enquiry', 'new enquiries'],
  ['stops', 'stop of a number', 'stops of numbers'],
  ['asked', 'to be decided', 'to be decided'],
  ['waiting', 'waits for its contact', 'wait for their contacts'],
  ['letGo', 'let go', 'let go'],
  ['unreadable', 'that cannot be read', 'that cannot be read'],
];

/** What came back from a tool. */
export function resultsInWords(counts: Record<string, number | undefined>): string {
  const words = RETURNED.flatMap(([key, one, many]) => {
    const n = counts[key];
    return n ? [`${shown(n)} ${n === 1 ? one : many}`] : [];
  });
  return words.join(', ') || 'nothing new';
}

const UNDONE = [
  ['removed', 'removed'],
  ['restored', 'restored'],
  ['left', 'left as they are'],
] as const;

/** What an undo did; empty where it had nothing to do. */
export function undoInWords(counts: Record<string, number | undefined>): string {
  return said(counts, UNDONE);
}

/** What a look for duplicates found. */
export function groupsInWords(counts: Record<string, number | undefined>): string {
  const { people = 0, certain = 0, likely = 0, possible = 0 } = counts;
  return `${shown(people)} people, ${shown(certain)} certain, ${shown(likely)} likely, ${shown(possible)} possible groups`;
}

/** How many contacts a change of many changed. */
export function changedInWords(counts: Record<string, number | undefined>): string {
  const n = counts.changed ?? 0;
  return `${shown(n)} ${n === 1 ? 'contact' : 'contacts'}`;
}

/** How many groups of a batch were merged and how many were left; nothing of a merge by hand, whose title says it. */
export function mergedInWords({ groups, left }: Record<string, number | undefined>): string {
  if (!left) return '';
  return `: ${shown(groups ?? 0)} merged, ${shown(left)} left to a person`;
}
