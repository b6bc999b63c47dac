import { LISTS, type ListLine } from './kept-lists';
import { LABELS, stagesByLabel, type SyncLine } from './lines';
import type { OutsideRecord, OutsideValue } from './outside';
import { freshLink, type SyncSetup } from './pass-item';
import { HANDED, type Base } from './plan-pair';
import type { Link, PairWrite } from './ports';
import { valuesThere } from './project';

/** The lines of a record that is handed to somebody: what both sides hold is as it is here. */
export const linesOfHanded = (lines: readonly SyncLine[]): SyncLine[] =>
  lines.map((line) => (line.direction === 'in' ? line : { ...line, direction: 'out', rule: 'replace', wins: 'here' }));

function standsIn(line: SyncLine, record: OutsideRecord): OutsideValue[] {
  const stages = stagesByLabel(line);
  if (line.outside === LABELS && !line.stageLabels) return record.labels.map((v) => ({ v }));
  if (line.stageLabels) return record.labels.filter((label) => stages.has(label.toLowerCase())).map((v) => ({ v }));
  return valuesThere(record, line);
}

/** What stands over there as if it was agreed on: only what is here goes there, and nothing of it comes here. */
function asItStands(record: OutsideRecord, lines: readonly SyncLine[], lists: readonly ListLine[]): Base {
  const labels = new Set(record.labels.map((label) => label.toLowerCase()));
  const listed = lists.flatMap(({ id, label }) => (labels.has(label.toLowerCase()) ? [{ v: id }] : []));
  return {
    ...Object.fromEntries(lines.map((line) => [line.id, { o: standsIn(line, record) }])),
    [LISTS]: { o: listed },
    [HANDED]: { o: [] },
  };
}

/**
 * The link of a record that somebody else had: it says from the next pass on what is known of its new contact. What stands there of the
 * former one does not come here, but for stops, which are of the address.
 */
export function handedTo(link: Link, contactId: number, { lines, lists = [] }: SyncSetup): Link {
  const { outsideId, version, seen } = link;
  const base = seen ? asItStands(seen, lines, lists) : null;
  return { ...freshLink(outsideId, contactId), version, seen, base, dirty: true };
}

/** A link of somebody whose record would be at a place that somebody else has. */
export const waitingLink = (outsideId: string, contactId: number, place: string): Link => ({
  ...freshLink(outsideId, contactId),
  state: 'apart',
  apart: 'shared',
  waitsFor: place,
});

const written = (link: Link): PairWrite => ({
  link,
  operations: [],
  version: null,
  stop: [],
  changes: [],
  conflicts: [],
});

/**
 * What a person's word writes whose the record at a place is. The one who had it waits from now on; a place that nobody has is taken by
 * the next pass.
 *
 * @param waiting the link of the one who gets it
 * @param holder the link of the record that is at the place; null where there is none
 * @param newId an id for the waiting link of the one who had it
 */
export function chooseHolder(
  { waiting, holder, newId }: { waiting: Link; holder: Link | null; newId: string },
  setup: SyncSetup,
): PairWrite[] {
  if (!holder) return [written({ ...waiting, dirty: true })];
  return [
    { ...written(handedTo(holder, waiting.contactId, setup)), movedFrom: waiting.outsideId, event: 'linked' },
    { ...written(waitingLink(newId, holder.contactId, waiting.waitsFor ?? holder.outsideId)), event: 'apart' },
  ];
}
