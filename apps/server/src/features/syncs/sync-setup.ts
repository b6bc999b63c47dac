import type { Catalogue } from '@gray-loom/core/fields';
import { inArray } from 'drizzle-orm';
import { wordTable } from '@gray-loom/core/model';
import { blanksOf, checkFields, readCondition } from '@gray-loom/core/segments';
import {
  DEFAULT_LIMITS,
  findFights,
  LABELS,
  stagesByLabel,
  SYNCED_TYPES,
  WHOLE_NAME,
  type Capabilities,
  type SyncLine,
  type SyncSetup,
} from '@gray-loom/core/syncing';
import type { Database, Db } from '../../db/connect';
import { connection, segment } from '../../db/schema';
import { refuseSetup } from './refusals';
import { fieldsGoingBackAndForth } from './statements/sync-setup';

/** Fields here that fields over there are likely to mean, by the key over there. */
const LIKELY = wordTable({
  prefix: 'prefix',
  given: 'givenName',
  additional: 'additionalNames',
  family: 'familyName',
  suffix: 'suffix',
  nickname: 'nickname',
  org: 'organization',
  title: 'title',
  email: 'email',
  tel: 'tel',
  url: 'url',
  adr: 'adr',
  bday: 'bday',
  anniversary: 'anniversary',
  note: 'note',
  name: WHOLE_NAME,
});

/** A set-up to begin with: every field both ways, what contradicts is asked, stages by labels of the same name. */
export function firstSetup(capabilities: Capabilities, stages: readonly string[]): SyncSetup {
  const lines: SyncLine[] = capabilities.fields.flatMap(({ key }): SyncLine[] => {
    const field = LIKELY[key];
    return field
      ? [{ id: key, field, outside: key, direction: 'both', rule: field === 'note' ? 'newest' : 'ask' }]
      : [];
  });
  // Whose labels are lists that mail goes to is given no list of ours before somebody says which.
  if (capabilities.labels && capabilities.listsInside === undefined) {
    const known = new Map(capabilities.knownLabels.map((label) => [label.toLowerCase(), label]));
    const stageLabels = Object.fromEntries(stages.map((stage) => [stage, known.get(stage.toLowerCase()) ?? stage]));
    if (stages.length)
      lines.push({ id: 'stage', field: 'stage', outside: LABELS, direction: 'both', rule: 'newest', stageLabels });
    lines.push({ id: 'tags', field: 'tags', outside: LABELS, direction: 'both', rule: 'ask' });
  }
  return {
    lines,
    scopes: [{ id: 'all', who: { kind: 'everybody' }, give: { tags: [], source: '', owner: '', stage: '' } }],
    newHere: true,
    newThere: false,
    whenGoneThere: 'keep',
    whenGoneHere: 'keep',
    whenLeaving: 'keep',
    whenMergedHere: 'ask',
    limits: DEFAULT_LIMITS,
  };
}

/** Refuses a set-up that cannot be kept to: fields that do not exist, or one box over there that two lines write into. */
export function checkSetup(setup: SyncSetup, capabilities: Capabilities, catalogue: Catalogue): void {
  const written = new Map<string, string>();
  const read = new Map<string, string>();
  const there = new Map(capabilities.fields.map((field) => [field.key, field.name]));
  for (const line of setup.lines) {
    const at = { line: line.id };
    const isLabels = line.outside === LABELS;
    const name = isLabels ? 'Labels' : there.get(line.outside);
    if (!name) throw refuseSetup.noSuchOutsideField({ ...at, outside: line.outside });
    if (line.fixed !== undefined) {
      if (isLabels) throw refuseSetup.fixedLabels(at);
    } else if (line.field !== WHOLE_NAME) {
      const field = catalogue.find(line.field);
      if (!field || field.retired) throw refuseSetup.noSuchField({ ...at, field: line.field });
      if (!SYNCED_TYPES.has(field.type)) throw refuseSetup.notSynced({ ...at, name: field.name, type: field.type });
    }
    if (isLabels) continue;
    const say = line.field === WHOLE_NAME ? 'the name' : catalogue.nameOf(line.field);
    if (line.direction !== 'in') {
      if (written.has(line.outside)) throw refuseSetup.twoIntoOne({ ...at, name, where: 'there' });
      written.set(line.outside, line.id);
    }
    if (line.direction !== 'out' && line.fixed === undefined) {
      if (read.has(line.field)) throw refuseSetup.twoIntoOne({ ...at, name: say, where: 'here' });
      read.set(line.field, line.id);
    }
  }
  checkLists(setup, capabilities);
  for (const scope of setup.scopes)
    if (scope.who.kind === 'labelThere' && !scope.who.label) throw refuseSetup.noLabel({ scope: scope.id });
    else if (scope.who.kind === 'condition') {
      const read = readCondition(scope.who.condition);
      const checked = read.ok ? checkFields(read.value, catalogue) : read;
      if (!checked.ok) throw refuseSetup.badCondition(checked.error);
    }
}

/** Refuses lists that the tool has not, a list with two lines, and one that stands for a stage. */
function checkLists({ lines, lists = [] }: SyncSetup, { labels }: Capabilities): void {
  const stages = new Set(lines.flatMap((line) => [...stagesByLabel(line).keys()]));
  const known = new Set<string>();
  for (const { id, label, direction, tag } of lists) {
    const at = { list: id, label };
    if (!labels) throw refuseSetup.noLists({ list: id });
    if (direction === 'in' && !tag) throw refuseSetup.noTag({ list: id });
    if (known.has(label.toLowerCase())) throw refuseSetup.listTwice(at);
    if (stages.has(label.toLowerCase())) throw refuseSetup.listIsStage(at);
    known.add(label.toLowerCase());
  }
}

/** Refuses lists of segments that there are not, or that ask for a value before anybody is in them. */
export async function checkSegments({ db }: Pick<Database, 'db'>, { lists = [] }: SyncSetup): Promise<void> {
  const wanted = lists.filter(({ direction }) => direction === 'out');
  if (!wanted.length) return;
  const found = await db
    .select({ id: segment.id, condition: segment.condition })
    .from(segment)
    .where(
      inArray(
        segment.id,
        wanted.map((one) => one.segment),
      ),
    );
  const known = new Set(found.flatMap(({ id, condition }) => (blanksOf(condition).length ? [] : [id])));
  const missing = wanted.find((one) => !known.has(one.segment));
  if (missing) throw refuseSetup.noSuchSegment({ list: missing.id });
}

/** Other connections that would put their own value of a field in place of this one's, for ever. */
export async function fightsOf(
  db: Db,
  own: { id: number; lines: readonly SyncLine[] },
  catalogue: Catalogue,
): Promise<{ field: string; with: string }[]> {
  const others = (await db.select().from(connection)).filter(({ id, state }) => id !== own.id && state !== 'stopped');
  const names = new Map(others.map(({ id, name }) => [id, name]));
  return findFights([own, ...others.map(({ id, setup }) => ({ id, lines: setup.lines }))])
    .filter(({ connections }) => connections.includes(own.id))
    .map(({ field, connections }) => ({
      field: catalogue.nameOf(field),
      with: connections.flatMap((id) => names.get(id) ?? []).join(' and '),
    }));
}

/** Options in a sentence; of many the first. */
const listInWords = (options: readonly string[]) =>
  options.length > 5 ? `${options.slice(0, 4).join(', ')} and ${options.length - 4} more` : options.join(', ');

/** What the other side cannot hold, by line, in words. */
export function limitWords(setup: SyncSetup, capabilities: Capabilities, catalogue: Catalogue): Record<string, string> {
  return Object.fromEntries(
    setup.lines.flatMap((line) => {
      const field = capabilities.fields.find(({ key }) => key === line.outside);
      if (!field || line.direction === 'in') return [];
      const several = catalogue.find(line.field)?.several;
      const words = [
        field.key === capabilities.oneFor
          ? 'takes the preferred one, and finds the record by it: another one renames the record'
          : '',
        several && field.key !== capabilities.oneFor && field.most < 50
          ? `takes ${field.most === 1 ? 'one' : field.most}`
          : '',
        field.longest ? `at most ${field.longest} characters` : '',
        field.capitals ? 'capitals only' : '',
        field.options ? `only ${listInWords(field.options)}` : '',
      ].filter(Boolean);
      return words.length ? [[line.id, `${field.name} over there: ${words.join(', ')}.`]] : [];
    }),
  );
}

/**
 * Lines whose field goes back and forth between this connection and others: the brake stops the field, not the sync, until
 * the set-up of one of them is changed. Found by what happened, beside what the set-ups say.
 */
export async function foughtLines(
  pool: Database['pool'],
  own: { id: number; setup: SyncSetup; setupAt: Date },
  catalogue: Catalogue,
): Promise<{ line: string; field: string; with: string }[]> {
  const { rows } = await fieldsGoingBackAndForth(pool, own.id, own.setupAt);
  return rows.flatMap(({ field, others }) =>
    own.setup.lines
      .filter((line) => (line.field === WHOLE_NAME ? 'Name' : catalogue.nameOf(line.field)) === field)
      .map((line) => ({ line: line.id, field, with: others.join(' and ') })),
  );
}
