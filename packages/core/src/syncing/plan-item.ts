import { emptyRecord, type ContactRecord } from '../model';
import type { Capabilities, OutsideRecord, OutsideValue } from './outside';
import {
  applied,
  COMES_BACK,
  isBack,
  freshLink,
  give,
  isInStep,
  NONE,
  TELLING,
  type PassItem,
  type SyncSetup,
} from './pass-item';
import type { PassOptions } from './pass-options';
import { linesOfHanded } from './hand-over';
import { LISTS } from './kept-lists';
import { NAME_FIELDS, stagesByLabel, WHOLE_NAME, type SyncLine } from './lines';
import type { PassTally } from './pass-tally';
import { HANDED, isQuiet, planPair, type Base, type PairInput, type PairPlan, type PlannedConflict } from './plan-pair';
import type { ApartReason, Changes, Identity, IdentityBand, Link, OurPerson, PairEvent, SecondTake } from './ports';
import { outsideField, project } from './project';
import { recoverIntent } from './recover-intent';
import { linesFor, takesPart, type Scope } from './scope';

const sameIds = (a: readonly number[], b: readonly number[]) =>
  a.length === b.length && a.every((id, i) => id === b[i]);

/** A link whose record is to be made from nothing. What was agreed on stands: somebody may put the old record back meanwhile. */
const notThere = (link: Link): Link => ({ ...link, seen: null, version: '' });

/** A plan that changes nothing. */
const NOTHING: Omit<PairPlan, 'baseHere' | 'base'> = {
  operations: [],
  fields: null,
  labels: null,
  stopHere: [],
  stopThere: [],
  changes: [],
  conflicts: [],
};

/** The name of a record, to show whom it is about. */
const namesIn = (record: OutsideRecord, lines: readonly SyncLine[]): OutsideValue[] =>
  lines
    .filter(({ field }) => [WHOLE_NAME, ...NAME_FIELDS].includes(field))
    .flatMap(({ outside }) => record.fields[outside] ?? []);

interface ItemPlannerParts {
  setup: SyncSetup;
  options: Pick<PassOptions, 'run' | 'context' | 'pushed'>;
  capabilities: Capabilities;
  clock: Changes['clock'];
  tally: PassTally;
}

/** What becomes of one record over there and one contact here, counted in the tally of its pass. Asks nobody and writes nothing. */
export class ItemPlanner {
  private readonly setup: SyncSetup;
  private readonly options: ItemPlannerParts['options'];
  private readonly capabilities: Capabilities;
  private readonly clock: Changes['clock'];
  private readonly tally: PassTally;

  constructor({ setup, options, capabilities, clock, tally }: ItemPlannerParts) {
    this.setup = setup;
    this.options = options;
    this.capabilities = capabilities;
    this.clock = clock;
    this.tally = tally;
  }

  /** What a colleague over there said of a record. */
  private choiceThere({ id }: OutsideRecord): 'send' | null {
    return this.options.pushed?.has(id) ? 'send' : null;
  }

  /** @param open the link of a record of which a person is asked already: that question stays open until it has an answer */
  identified(
    record: OutsideRecord,
    identity: Identity,
    people: ReadonlyMap<number, OurPerson>,
    taken: Set<number>,
    open: Link | null = null,
  ): PassItem[] {
    if (record.unreadable !== undefined) return this.unreadable(open ?? freshLink(record.id, 0), record);
    const link = freshLink(record.id, 0);
    if (identity.who === 'one') {
      const person = people.get(identity.contactId);
      if (person && !taken.has(person.id) && !this.tally.claimed.has(person.id)) {
        taken.add(person.id);
        const verdict = takesPart(this.setup.scopes, {
          ...person,
          choice: person.choice ?? this.choiceThere(record),
          theirs: record,
        });
        if (!verdict.takesPart && open) return this.stillAsking(open, record);
        if (!verdict.takesPart && verdict.why === 'deleted' && this.choiceThere(record))
          return this.leave({ ...link, contactId: person.id }, record, person, 'goneHere');
        if (!verdict.takesPart)
          // Whoever was deleted here is not brought back from over there; when a person brings them back, they are in step again.
          return this.apart(
            { ...link, contactId: person.id },
            record,
            verdict.why === 'deleted' ? 'goneHere' : 'person',
          );
        this.tally.totals.linked++;
        return this.pair({ ...link, contactId: person.id }, record, person, verdict.scope, 'linked');
      }
      // Somebody who is linked already would be there twice.
      return this.ask(open ?? link, record, { contactIds: [identity.contactId], band: 'certain' });
    }
    if (identity.who === 'ask') return this.ask(open ?? link, record, identity);
    if (identity.who === 'erased') return this.keepOut(link, record);
    return open ? this.stillAsking(open, record) : this.makeHere(link, record);
  }

  /** Whether a record that has no link takes part: by itself, by a word from over there, or by who it is, or may be, here. */
  mayTakePart(
    record: OutsideRecord,
    identity: Identity,
    people: ReadonlyMap<number, OurPerson>,
    candidates: readonly OurPerson[],
  ): boolean {
    if (identity.who === 'erased') return true;
    const takes = (person: Partial<OurPerson>) =>
      takesPart(this.setup.scopes, {
        record: null,
        meets: NONE,
        ...person,
        choice: person.choice ?? this.choiceThere(record),
        theirs: record,
      }).takesPart;
    const person = identity.who === 'one' ? people.get(identity.contactId) : undefined;
    return takes({}) || (person !== undefined && takes(person)) || candidates.some(takes);
  }

  /**
   * Somebody over there who does not take part. That they are there is kept: whoever of us is the same later is not made twice. A stop
   * that they said there holds all the same, where it is known who they are here.
   */
  stranger(record: OutsideRecord, person: OurPerson | null, base: Base | null): PassItem[] {
    this.tally.planned.add(record.id);
    const link: Link = {
      ...freshLink(record.id, person?.id ?? 0),
      state: 'stranger',
      version: record.version,
      seen: record,
    };
    const note = { person: null, action: 'note' as const, operations: [] };
    if (!person || !this.capabilities.keepsStops.length) return [{ ...note, link, plan: null }];
    const { changedAtMs, stopped, id } = person;
    const by = { base, changedAtMs, stopped, scope: null };
    const { stopHere, baseHere } = this.planPair(id, person.record, record, by, []);
    if (stopHere.length) this.tally.totals.stops++;
    const plan = { ...NOTHING, stopHere, baseHere, base: baseHere };
    return [{ ...note, link: { ...link, base: baseHere }, plan: stopHere.length ? plan : null }];
  }

  /** Nothing is kept of what it says, and nothing of it is taken in. */
  private keepOut(link: Link, { id, version }: OutsideRecord): PassItem[] {
    this.tally.planned.add(id);
    return [
      {
        link: { ...link, state: 'apart', apart: 'erased', version },
        person: null,
        plan: null,
        action: 'note',
        operations: [],
      },
    ];
  }

  /** Nobody is likely any more, and yet the question was put: only a person says that it is somebody new. */
  private stillAsking(link: Link, record: OutsideRecord): PassItem[] {
    for (const id of link.candidates) this.tally.claimed.add(id);
    const isKnown = link.version === record.version && !link.dirty;
    return isKnown ? [] : this.note(link, record);
  }

  ask(
    link: Link,
    record: OutsideRecord,
    { contactIds: candidates, band }: { contactIds: number[]; band: IdentityBand },
  ): PassItem[] {
    if (link.state === 'asking' && link.band === band && sameIds(link.candidates, candidates))
      return this.stillAsking(link, record);
    this.tally.totals.asked++;
    this.tally.planned.add(record.id);
    for (const id of candidates) this.tally.claimed.add(id);
    return [
      {
        link: { ...link, state: 'asking', version: record.version, seen: record, candidates, band, dirty: false },
        person: null,
        plan: null,
        action: 'ask',
        operations: [],
        event: 'asked',
      },
    ];
  }

  /** What it says is not known, so nothing is taken from it and nothing written into it; a person is told line and reason. */
  private unreadable(link: Link, record: OutsideRecord): PassItem[] {
    const { unreadable: text = '' } = record;
    this.tally.planned.add(record.id);
    if (link.version === record.version && link.unreadable === text && !link.dirty) return [];
    this.tally.totals.failed++;
    const isOurs = (isInStep(link) && link.contactId > 0) || link.state === 'asking';
    return [
      {
        link: {
          ...link,
          ...(isOurs ? {} : { state: 'apart', apart: 'unreadable' }),
          version: record.version,
          unreadable: text,
          dirty: false,
        },
        person: null,
        plan: null,
        action: 'note',
        operations: [],
        event: 'unreadable',
      },
    ];
  }

  private makeHere(link: Link, record: OutsideRecord): PassItem[] {
    this.tally.planned.add(record.id);
    const choice = this.choiceThere(record);
    const verdict = takesPart(this.setup.scopes, { record: null, theirs: record, choice, meets: NONE });
    const scope = verdict.takesPart ? verdict.scope : null;
    const nobody = { ...link, version: record.version, seen: record, dirty: false };
    if (!this.setup.newHere && link.state !== 'fresh' && !choice)
      return [{ link: { ...nobody, state: 'stranger' }, person: null, plan: null, action: 'note', operations: [] }];
    const given = give(0, emptyRecord(), scope, this.options.run);
    const start = applied(emptyRecord(), given);
    const plan = this.planPair(0, start, record, { base: null, changedAtMs: () => 0, stopped: [], scope });
    const create = applied(start, plan.operations);
    if (!TELLING.some((field) => create.f[field]?.length)) {
      this.tally.totals.failed++;
      return [
        {
          link: { ...nobody, state: 'apart', apart: 'refused' },
          person: null,
          plan: null,
          action: 'note',
          operations: [],
          event: 'apart',
        },
      ];
    }
    this.tally.totals.madeHere++;
    return [
      {
        link: { ...nobody, state: 'linked', scope: scope?.id ?? null },
        person: null,
        plan,
        action: 'makeHere',
        operations: [],
        create,
        event: 'madeHere',
      },
    ];
  }

  /** A record over there whose link is known. */
  known(link: Link, record: OutsideRecord, person: OurPerson | null): PassItem[] {
    if (record.unreadable !== undefined) return this.unreadable(link, record);
    if (link.unreadable !== null) link = { ...link, unreadable: null, dirty: true };
    if (link.intent)
      link = recoverIntent(link, record, this.setup.lines, this.capabilities.fields, this.options.context);
    switch (link.state) {
      case 'asking':
        return this.note(link, record);
      case 'fresh':
        return this.makeHere(link, record);
      case 'apart': {
        const verdict = person && takesPart(this.setup.scopes, { ...person, theirs: record });
        if (person && verdict?.takesPart === false && verdict.why === 'deleted' && this.choiceThere(record))
          return this.leave(link, record, person, 'goneHere');
        if (!isBack(link) || !person || !verdict?.takesPart)
          return link.dirty || link.intent ? this.note(link, record) : [];
        // What was agreed on with the same contact still stands, so that what changed on one side meanwhile is known as that.
        return this.linked(
          { ...link, state: 'linked', apart: null, base: link.contactId === person.id ? link.base : null },
          record,
          person,
          'again',
        );
      }
      default:
        return person
          ? this.linked({ ...link, state: 'linked' }, record, person)
          : this.apart(link, record, 'goneHere');
    }
  }

  /**
   * Two records over there are one contact here: a person is asked, or the second one goes, as was set.
   *
   * @param said what a person said of it already, of this tool or another one
   */
  extra(link: Link, record: OutsideRecord, person: OurPerson | null, said: SecondTake | null): PassItem[] {
    this.tally.planned.add(record.id);
    if (said === 'leave') return this.apart(link, record, 'merged');
    const goes = said === 'removeThere' || this.setup.whenMergedHere === 'remove';
    if (goes && this.capabilities.canRemove && person) {
      this.tally.totals.removedThere++;
      return [
        {
          link: { ...link, version: record.version, seen: record },
          person,
          plan: null,
          action: 'removeThere',
          operations: [],
          event: 'removedThere',
          apart: 'merged',
        },
      ];
    }
    return this.askOf('two', { ...link, state: 'linked' }, record, [
      { line: '', ours: [], theirs: [], why: 'twoThere' },
    ]);
  }

  /** Asks a person what becomes of a record over there, once for each of its versions. */
  private askOf(
    asks: NonNullable<Link['asks']>,
    link: Link,
    record: OutsideRecord,
    conflicts: PlannedConflict[],
  ): PassItem[] {
    this.tally.planned.add(record.id);
    const isAsked = link.version === record.version && !link.dirty && !link.intent && link.seen && link.asks === asks;
    if (isAsked) return [];
    this.tally.totals.conflicts += conflicts.length;
    const [item] = this.note({ ...link, asks }, record);
    return item ? [{ ...item, conflicts }] : [];
  }

  note(link: Link, record: OutsideRecord): PassItem[] {
    this.tally.planned.add(record.id);
    return [
      {
        link: { ...link, version: record.version, seen: record, dirty: false, intent: null },
        person: null,
        plan: null,
        action: 'note',
        operations: [],
      },
    ];
  }

  linked(link: Link, record: OutsideRecord, person: OurPerson, event?: PairEvent): PassItem[] {
    const verdict = takesPart(this.setup.scopes, { ...person, theirs: record });
    if (!verdict.takesPart)
      return this.leave(
        link,
        record,
        person,
        verdict.why === 'deleted' ? 'goneHere' : verdict.why === 'never' ? 'person' : 'left',
      );
    return this.pair(link, record, person, verdict.scope, event);
  }

  pair(link: Link, record: OutsideRecord, person: OurPerson, scope: Scope | null, event?: PairEvent): PassItem[] {
    this.tally.planned.add(record.id);
    this.tally.claimed.add(person.id);
    const given = scope && scope.id !== link.scope ? give(person.id, person.record, scope, this.options.run) : [];
    const start = applied(person.record, given);
    const { changedAtMs, stopped, segments } = person;
    const by = { base: link.base, changedAtMs, stopped, segments, scope };
    const lines = linesFor(this.setup.lines, scope);
    const plan = this.planPair(person.id, start, record, by, link.base?.[HANDED] ? linesOfHanded(lines) : lines);
    const operations = [...given, ...plan.operations];
    this.tally.countLabels(this.setup, link.base, record);
    const quiet = isQuiet(plan) && !operations.length;
    if (operations.length) this.tally.totals.changedHere++;
    if (plan.fields ?? plan.labels) this.tally.totals.changedThere++;
    if (plan.stopHere.length || plan.stopThere.length) this.tally.totals.stops++;
    this.tally.count(plan);
    if (
      quiet &&
      !event &&
      !link.dirty &&
      link.state === 'linked' &&
      link.version === record.version &&
      link.scope === (scope?.id ?? null) &&
      link.seen !== null &&
      link.asks === null &&
      JSON.stringify(link.base) === JSON.stringify(plan.baseHere) &&
      !plan.conflicts.length
    )
      return [];
    return [
      {
        link: {
          ...link,
          version: record.version,
          seen: record,
          scope: scope?.id ?? null,
          asks: null,
          kept: null,
          // Nothing is left to be written.
          notTaken: (plan.fields ?? plan.labels) ? link.notTaken : null,
        },
        person,
        plan,
        action: 'pair',
        operations,
        ...(event ? { event } : {}),
      },
    ];
  }

  private planPair(
    id: number,
    record: ContactRecord,
    theirs: OutsideRecord,
    { scope, ...by }: Pick<PairInput, 'base' | 'changedAtMs' | 'stopped' | 'segments'> & { scope: Scope | null },
    lines: readonly SyncLine[] = linesFor(this.setup.lines, scope),
  ): PairPlan {
    const ownLabels = this.setup.scopes.flatMap(({ who }) => (who.kind === 'labelThere' ? [who.label] : []));
    return planPair({
      id,
      record,
      theirs,
      ...by,
      lines,
      capabilities: this.capabilities,
      context: this.options.context,
      clock: this.clock,
      run: this.options.run,
      ownLabels,
      lists: lines.length ? (this.setup.lists ?? []) : [],
    });
  }

  apart(link: Link, record: OutsideRecord | null, reason: ApartReason): PassItem[] {
    this.tally.planned.add(link.outsideId);
    return [
      {
        link: {
          ...link,
          state: 'apart',
          apart: reason,
          intent: null,
          dirty: false,
          notTaken: null,
          unreadable: null,
          asks: null,
          // Without a version it is not there: it is heard of again when it is put back, and costs nothing until then.
          ...(record ? { version: record.version, seen: record } : { version: '' }),
        },
        person: null,
        plan: null,
        action: 'apart',
        operations: [],
        event: 'apart',
        apart: reason,
      },
    ];
  }

  /** Somebody who does not take part any more, or is deleted here; nothing is ever taken away here for it. */
  private leave(link: Link, record: OutsideRecord, person: OurPerson, reason: ApartReason): PassItem[] {
    if (reason === 'left') this.tally.totals.leftScope++;
    // Somebody over there has business with whoever was deleted here: a person decides whether they come back.
    if (reason === 'goneHere' && (this.choiceThere(record) || link.asks === 'removal')) {
      const edited = this.editedThere(link, record, person);
      const theirs = edited?.length ? edited : namesIn(record, this.setup.lines);
      return this.askOf('removal', { ...link, state: 'linked', apart: null }, record, [
        { line: '', ours: [], theirs, why: 'removal' },
      ]);
    }
    const rule = reason === 'goneHere' ? this.setup.whenGoneHere : reason === 'left' ? this.setup.whenLeaving : 'keep';
    if (rule === 'remove' && this.capabilities.canRemove) {
      const edited = this.editedThere(link, record, person);
      if (edited) return this.askOf('removal', link, record, [{ line: '', ours: [], theirs: edited, why: 'removal' }]);
      this.tally.totals.removedThere++;
      this.tally.planned.add(record.id);
      return [
        {
          link: { ...link, version: record.version, seen: record },
          person,
          plan: null,
          action: 'removeThere',
          operations: [],
          event: 'removedThere',
          apart: reason,
        },
      ];
    }
    const off = this.labelsOff(rule === 'takeLabelOff', reason);
    if (off.size) {
      const labels = record.labels.filter((label) => !off.has(label.toLowerCase()));
      if (labels.length < record.labels.length) {
        // Labels that we take off ourselves are agreed on no more: nobody over there took them.
        const base: Base = { ...link.base };
        delete base[LISTS];
        if (rule === 'takeLabelOff')
          for (const line of this.setup.lines) if (line.stageLabels || line.outside === 'labels') delete base[line.id];
        const [item] = this.apart({ ...link, base }, record, reason);
        const plan: PairPlan = {
          operations: [],
          fields: null,
          labels,
          stopHere: [],
          stopThere: [],
          baseHere: base,
          base,
          conflicts: [],
          changes: [
            {
              side: 'there',
              line: 'labels',
              before: record.labels.map((v) => ({ v })),
              after: labels.map((v) => ({ v })),
              kind: 'remove',
            },
          ],
        };
        this.tally.totals.changedThere++;
        return item ? [{ ...item, person, plan }] : [];
      }
    }
    return this.apart(link, record, reason);
  }

  /**
   * Labels, in lower case, that somebody loses who leaves: those of stages and scopes where that is set, and the lists that we keep in any
   * case, since nobody keeps them right for them any more. Whoever is left alone by a person's word keeps all.
   */
  private labelsOff(all: boolean, reason: ApartReason): Set<string> {
    const { lines, scopes, lists = [] } = this.setup;
    const kept =
      reason === 'person' ? [] : lists.flatMap(({ direction, label }) => (direction === 'out' ? [label] : []));
    const others = all
      ? [
          ...lines.flatMap((line) => [...stagesByLabel(line).keys()]),
          ...scopes.flatMap(({ who }) => (who.kind === 'labelThere' ? [who.label] : [])),
        ]
      : [];
    return new Set([...kept, ...others].map((label) => label.toLowerCase()));
  }

  /** What was edited over there since both sides agreed, and is in no contact here; null where nothing was. */
  private editedThere(link: Link, record: OutsideRecord, person: OurPerson): OutsideValue[] | null {
    const { changedAtMs } = person;
    const scope = this.setup.scopes.find(({ id }) => id === link.scope) ?? null;
    const by = { base: link.base, changedAtMs, stopped: [], scope };
    const { conflicts, changes } = this.planPair(person.id, person.record, record, by);
    const news = [
      ...changes.filter(({ side }) => side === 'here').flatMap(({ after, before }) => (after.length ? after : before)),
      ...conflicts.flatMap(({ theirs }) => theirs),
    ];
    // What we have no line for was edited as well. After an answer that was lost the version may be our own.
    const isOther = link.version !== record.version && !link.dirty && link.seen !== null;
    return news.length || isOther || link.asks === 'removal' ? news : null;
  }

  goneThere(link: Link, person: OurPerson | null): PassItem[] {
    if (this.tally.planned.has(link.outsideId)) return [];
    if (link.state === 'stranger' || link.state === 'asking' || link.state === 'fresh' || !person) {
      if (link.state === 'apart' && !link.version && !link.dirty) return [];
      this.tally.planned.add(link.outsideId);
      return [
        {
          link: { ...link, state: 'apart', apart: 'goneThere', version: '', candidates: [], band: null, dirty: false },
          person: null,
          plan: null,
          action: 'apart',
          operations: [],
          apart: 'goneThere',
        },
      ];
    }
    if (link.state === 'making') return this.makeThere(link, person);
    if (link.apart === 'shared') return this.stillWaits(link, person);
    const verdict = takesPart(this.setup.scopes, { ...person, theirs: null });
    if (link.state === 'apart') {
      if (COMES_BACK.has(link.apart) && verdict.takesPart && link.contactId === person.id)
        return this.makeThere(link.kept === null ? notThere(link) : link, person);
      return this.forgotten(link);
    }
    this.tally.totals.goneThere++;
    if (this.setup.whenGoneThere === 'makeAgain' && verdict.takesPart)
      return this.makeThere({ ...notThere(link), kept: null }, person);
    return this.apart(link, null, 'goneThere');
  }

  /** A record that is no longer in step is gone as well: it is looked at no more. */
  forgotten(link: Link): PassItem[] {
    if (!link.version && !link.dirty && !link.intent) return [];
    this.tally.planned.add(link.outsideId);
    return [
      {
        link: { ...link, version: '', dirty: false, intent: null },
        person: null,
        plan: null,
        action: 'note',
        operations: [],
      },
    ];
  }

  /** Whether the other side takes a record of this person; whoever lacks what it needs is no fault of anybody. */
  canBeMade({ record }: OurPerson): boolean {
    const { needs, fields } = this.capabilities;
    if (needs === undefined) return true;
    const into = this.setup.lines.filter(({ outside, direction }) => outside === needs && direction !== 'in');
    return into.some((line) => project(record, line, outsideField(line, fields), this.options.context).length > 0);
  }

  /** Somebody who waits for the place of another is looked at again: whether they still want it. */
  private stillWaits(link: Link, person: OurPerson): PassItem[] {
    const verdict = takesPart(this.setup.scopes, { ...person, theirs: null });
    if (verdict.takesPart && this.canBeMade(person)) return this.makeThere(link, person);
    return this.waitsNoMore(link, !verdict.takesPart && verdict.why === 'deleted' ? 'goneHere' : 'left');
  }

  waitsNoMore(link: Link, apart: ApartReason): PassItem[] {
    this.tally.planned.add(link.outsideId);
    const gone: Link = { ...link, state: 'apart', apart, waitsFor: null, dirty: false };
    return [{ link: gone, person: null, plan: null, action: 'note', operations: [] }];
  }

  makeThere(link: Link, person: OurPerson): PassItem[] {
    const verdict = takesPart(this.setup.scopes, { ...person, theirs: null });
    if (!verdict.takesPart) return this.apart(link, null, 'left');
    this.tally.planned.add(link.outsideId);
    // One that we removed is put back as it was last, with what changed here since.
    const isBack = link.kept !== null && link.seen !== null;
    const blank: OutsideRecord = { id: link.outsideId, version: '', fields: {}, labels: [] };
    const given = give(person.id, person.record, verdict.scope, this.options.run);
    const { changedAtMs, stopped, segments } = person;
    const theirs = isBack && link.seen ? link.seen : blank;
    const by = { base: isBack ? link.base : null, changedAtMs, stopped, segments, scope: verdict.scope };
    const plan = this.planPair(person.id, applied(person.record, given), theirs, by);
    this.tally.totals.madeThere++;
    return [
      {
        link: { ...link, state: 'making', scope: verdict.scope?.id ?? null, apart: null, asks: null },
        person,
        plan,
        action: 'makeThere',
        operations: isBack ? [...given, ...plan.operations] : given,
        event: 'madeThere',
      },
    ];
  }
}
