import { emptyRecord, type ContactRecord } from '../model';
import type { Capabilities, OutsideRecord } from './outside';
import {
  applied,
  COMES_BACK,
  isBack,
  freshLink,
  give,
  NONE,
  TELLING,
  type PassItem,
  type PassOptions,
  type SyncSetup,
} from './pass-item';
import type { PassTally } from './pass-tally';
import { isQuiet, planPair, type Base, type PairPlan } from './plan-pair';
import type { ApartReason, Changes, Identity, Link, OurPerson, PairEvent } from './ports';
import { recoverIntent } from './recover-intent';
import { takesPart, type Scope } from './scope';

interface ItemPlannerParts {
  setup: SyncSetup;
  options: Pick<PassOptions, 'run' | 'context'>;
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

  identified(
    record: OutsideRecord,
    identity: Identity,
    people: ReadonlyMap<number, OurPerson>,
    taken: Set<number>,
  ): PassItem[] {
    const link = freshLink(record.id, 0);
    if (identity.who === 'one') {
      const person = people.get(identity.contactId);
      if (person && !taken.has(person.id) && !this.tally.claimed.has(person.id)) {
        taken.add(person.id);
        const verdict = takesPart(this.setup.scopes, { ...person, theirs: record });
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
      return this.ask(link, record, [identity.contactId]);
    }
    if (identity.who === 'ask') return this.ask(link, record, identity.contactIds);
    return this.makeHere(link, record);
  }

  ask(link: Link, record: OutsideRecord, candidates: number[]): PassItem[] {
    this.tally.totals.asked++;
    this.tally.planned.add(record.id);
    for (const id of candidates) this.tally.claimed.add(id);
    return [
      {
        link: { ...link, state: 'asking', version: record.version, seen: record, candidates },
        person: null,
        plan: null,
        action: 'ask',
        operations: [],
        event: 'asked',
      },
    ];
  }

  private makeHere(link: Link, record: OutsideRecord): PassItem[] {
    this.tally.planned.add(record.id);
    const verdict = takesPart(this.setup.scopes, { record: null, theirs: record, choice: null, filters: NONE });
    const scope = verdict.takesPart ? verdict.scope : null;
    const nobody = { ...link, version: record.version, seen: record, dirty: false };
    if (!this.setup.newHere && link.state !== 'fresh')
      return [{ link: { ...nobody, state: 'stranger' }, person: null, plan: null, action: 'note', operations: [] }];
    const given = give(0, emptyRecord(), scope, this.options.run);
    const start = applied(emptyRecord(), given);
    const plan = this.planPair(0, start, record, null, () => 0, []);
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
    if (link.intent)
      link = recoverIntent(link, record, this.setup.lines, this.capabilities.fields, this.options.context);
    switch (link.state) {
      case 'asking':
        return this.note(link, record);
      case 'fresh':
        return this.makeHere(link, record);
      case 'apart': {
        if (!isBack(link) || !person || !takesPart(this.setup.scopes, { ...person, theirs: record }).takesPart)
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

  /** Two records over there are one contact here: a person is asked, or the second one goes, as was set. */
  extra(link: Link, record: OutsideRecord, person: OurPerson | null): PassItem[] {
    this.tally.planned.add(record.id);
    if (this.setup.whenMergedHere === 'remove' && this.capabilities.canRemove && person) {
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
    const isKnown =
      link.version === record.version && !link.dirty && !link.intent && link.seen !== null && link.asksTwo;
    if (isKnown) return [];
    const [item] = this.note({ ...link, state: 'linked', asksTwo: true }, record);
    return item ? [{ ...item, conflicts: [{ line: '', ours: [], theirs: [], why: 'twoThere' }] }] : [];
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
    const plan = this.planPair(person.id, start, record, link.base, person.changedAtMs, person.stopped);
    const operations = [...given, ...plan.operations];
    this.tally.countLabels(this.setup.lines, link.base, record);
    const quiet = isQuiet(plan) && !operations.length;
    if (operations.length) this.tally.totals.changedHere++;
    if (plan.fields ?? plan.labels) this.tally.totals.changedThere++;
    this.tally.count(plan);
    if (
      quiet &&
      !event &&
      !link.dirty &&
      link.state === 'linked' &&
      link.version === record.version &&
      link.scope === (scope?.id ?? null) &&
      link.seen !== null &&
      !link.asksTwo &&
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
          asksTwo: false,
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
    base: Base | null,
    changedAtMs: (field: string) => number,
    stopped: OurPerson['stopped'],
  ): PairPlan {
    const ownLabels = this.setup.scopes.flatMap(({ who }) => (who.kind === 'labelThere' ? [who.label] : []));
    return planPair({
      id,
      record,
      stopped,
      changedAtMs,
      theirs,
      base,
      lines: this.setup.lines,
      capabilities: this.capabilities,
      context: this.options.context,
      clock: this.clock,
      run: this.options.run,
      ownLabels,
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
          ...(record ? { version: record.version, seen: record } : {}),
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
    const rule = reason === 'goneHere' ? this.setup.whenGoneHere : reason === 'left' ? this.setup.whenLeaving : 'keep';
    if (rule === 'remove' && this.capabilities.canRemove) {
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
    if (rule === 'takeLabelOff') {
      const stages = this.setup.lines.flatMap((line) => Object.values(line.stageLabels ?? {}));
      const scopes = this.setup.scopes.flatMap(({ who }) => (who.kind === 'labelThere' ? [who.label] : []));
      const off = new Set([...stages, ...scopes].map((label) => label.toLowerCase()));
      const labels = record.labels.filter((label) => !off.has(label.toLowerCase()));
      if (labels.length < record.labels.length) {
        // Labels that we take off ourselves are agreed on no more: nobody over there took them.
        const base: Base = { ...link.base };
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

  goneThere(link: Link, person: OurPerson | null): PassItem[] {
    if (this.tally.planned.has(link.outsideId)) return [];
    if (link.state === 'stranger' || link.state === 'asking' || link.state === 'fresh' || !person) {
      this.tally.planned.add(link.outsideId);
      return [
        {
          link: { ...link, state: 'apart', apart: 'goneThere' },
          person: null,
          plan: null,
          action: 'apart',
          operations: [],
          apart: 'goneThere',
        },
      ];
    }
    if (link.state === 'making') return this.makeThere(link, person);
    const verdict = takesPart(this.setup.scopes, { ...person, theirs: null });
    if (link.state === 'apart')
      return COMES_BACK.has(link.apart) && verdict.takesPart && link.contactId === person.id
        ? this.makeThere({ ...link, base: null, seen: null, version: '' }, person)
        : [];
    this.tally.totals.goneThere++;
    if (this.setup.whenGoneThere === 'makeAgain' && verdict.takesPart)
      return this.makeThere({ ...link, base: null, seen: null, version: '' }, person);
    return this.apart(link, null, 'goneThere');
  }

  makeThere(link: Link, person: OurPerson): PassItem[] {
    const verdict = takesPart(this.setup.scopes, { ...person, theirs: null });
    if (!verdict.takesPart) return this.apart(link, null, 'left');
    this.tally.planned.add(link.outsideId);
    const blank: OutsideRecord = { id: link.outsideId, version: '', fields: {}, labels: [] };
    const given = give(person.id, person.record, verdict.scope, this.options.run);
    const plan = this.planPair(
      person.id,
      applied(person.record, given),
      blank,
      null,
      person.changedAtMs,
      person.stopped,
    );
    this.tally.totals.madeThere++;
    return [
      {
        link: { ...link, state: 'making', scope: verdict.scope?.id ?? null, apart: null },
        person,
        plan,
        action: 'makeThere',
        operations: given,
        event: 'madeThere',
      },
    ];
  }
}
