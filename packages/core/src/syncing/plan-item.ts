import { emptyRecord, type ContactRecord } from '../model';
import { NO_TOTALS, type BrakeReason, type PassTotals } from './brake';
import type { Capabilities, OutsideRecord } from './outside';
import {
  applied,
  COMES_BACK,
  freshLink,
  give,
  NONE,
  sameTexts,
  TELLING,
  type PassItem,
  type PassOptions,
  type SyncSetup,
} from './pass-item';
import { isQuiet, planPair, type Base, type PairPlan } from './plan-pair';
import type { ApartReason, Changes, Identity, Link, OurPerson, PairEvent } from './ports';
import { itemsOf, outsideField, valuesThere } from './project';
import { takesPart, type Scope } from './scope';

/** What becomes of one record over there and one contact here, with the counts of a whole pass. Asks nobody and writes nothing. */
export abstract class ItemPlanner {
  protected capabilities!: Capabilities;
  protected clock: Changes['clock'] = { aheadMs: 0, errorMs: 0 };
  protected totals: PassTotals = { ...NO_TOTALS };
  /** Ids over there that are dealt with in this pass. */
  protected readonly planned = new Set<string>();
  /** Contacts that are linked, or asked about, in this very pass. */
  protected readonly claimed = new Set<number>();
  private readonly lostLabels = new Map<string, { lost: number; kept: number }>();

  constructor(
    protected readonly setup: SyncSetup,
    protected readonly options: PassOptions,
  ) {}

  protected beginCount(): void {
    this.totals = { ...NO_TOTALS };
    this.planned.clear();
    this.claimed.clear();
    this.lostLabels.clear();
  }

  protected identified(
    record: OutsideRecord,
    identity: Identity,
    people: ReadonlyMap<number, OurPerson>,
    taken: Set<number>,
  ): PassItem[] {
    const link = freshLink(record.id, 0);
    if (identity.who === 'one') {
      const person = people.get(identity.contactId);
      if (person && !taken.has(person.id) && !this.claimed.has(person.id)) {
        taken.add(person.id);
        const verdict = takesPart(this.setup.scopes, { ...person, theirs: record });
        if (!verdict.takesPart)
          // Whoever was deleted here is not brought back from over there; when a person brings them back, they are in step again.
          return this.apart(
            { ...link, contactId: person.id },
            record,
            verdict.why === 'deleted' ? 'goneHere' : 'person',
          );
        this.totals.linked++;
        return this.pair({ ...link, contactId: person.id }, record, person, verdict.scope, 'linked');
      }
      // Somebody who is linked already would be there twice.
      return this.ask(link, record, [identity.contactId]);
    }
    if (identity.who === 'ask') return this.ask(link, record, identity.contactIds);
    return this.makeHere(link, record);
  }

  protected ask(link: Link, record: OutsideRecord, candidates: number[]): PassItem[] {
    this.totals.asked++;
    this.planned.add(record.id);
    for (const id of candidates) this.claimed.add(id);
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

  protected makeHere(link: Link, record: OutsideRecord): PassItem[] {
    this.planned.add(record.id);
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
      this.totals.failed++;
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
    this.totals.madeHere++;
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
  protected known(link: Link, record: OutsideRecord, person: OurPerson | null): PassItem[] {
    if (link.intent) link = this.recovered(link, record);
    switch (link.state) {
      case 'asking':
        return this.note(link, record);
      case 'fresh':
        return this.makeHere(link, record);
      case 'apart': {
        if (
          !COMES_BACK.has(link.apart) ||
          !person ||
          !takesPart(this.setup.scopes, { ...person, theirs: record }).takesPart
        )
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
  protected extra(link: Link, record: OutsideRecord, person: OurPerson | null): PassItem[] {
    this.planned.add(record.id);
    if (this.setup.whenMergedHere === 'remove' && this.capabilities.canRemove && person) {
      this.totals.removedThere++;
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

  protected note(link: Link, record: OutsideRecord): PassItem[] {
    this.planned.add(record.id);
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

  /** Takes what was about to be written as agreed on, as far as it stands there: an answer that was lost was a yes. */
  protected recovered(link: Link, record: OutsideRecord): Link {
    const { intent } = link;
    if (!intent) return link;
    const base: Base = { ...link.base };
    for (const line of this.setup.lines) {
      const then = intent.base[line.id];
      if (!then) continue;
      if (line.stageLabels || line.outside === 'labels') {
        const labels = intent.labels ?? link.seen?.labels ?? [];
        if (sameTexts(labels, record.labels)) base[line.id] = then;
        continue;
      }
      const field = outsideField(line, this.capabilities.fields);
      const wanted = itemsOf(then.t ?? then.o, line, field, this.options.context);
      const there = itemsOf(valuesThere(record, line), line, field, this.options.context);
      if (wanted.length === there.length && wanted.every(({ key }) => there.some((item) => item.key === key)))
        base[line.id] = then;
    }
    return { ...link, base, intent: null, dirty: true };
  }

  protected linked(link: Link, record: OutsideRecord, person: OurPerson, event?: PairEvent): PassItem[] {
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

  protected pair(
    link: Link,
    record: OutsideRecord,
    person: OurPerson,
    scope: Scope | null,
    event?: PairEvent,
  ): PassItem[] {
    this.planned.add(record.id);
    this.claimed.add(person.id);
    const given = scope && scope.id !== link.scope ? give(person.id, person.record, scope, this.options.run) : [];
    const start = applied(person.record, given);
    const plan = this.planPair(person.id, start, record, link.base, person.changedAtMs, person.stopped);
    const operations = [...given, ...plan.operations];
    this.countLabels(link.base, record);
    const quiet = isQuiet(plan) && !operations.length;
    if (operations.length) this.totals.changedHere++;
    if (plan.fields ?? plan.labels) this.totals.changedThere++;
    this.count(plan);
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
        link: { ...link, version: record.version, seen: record, scope: scope?.id ?? null, asksTwo: false },
        person,
        plan,
        action: 'pair',
        operations,
        ...(event ? { event } : {}),
      },
    ];
  }

  protected planPair(
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

  protected count(plan: PairPlan): void {
    this.totals.conflicts += plan.conflicts.length;
    for (const { side, kind } of plan.changes) {
      if (kind === 'change') this.totals[side === 'here' ? 'overwrittenHere' : 'overwrittenThere']++;
      if (kind === 'remove') this.totals[side === 'here' ? 'clearedHere' : 'clearedThere']++;
    }
  }

  /** A label that stands for a stage and is gone from everybody at once was renamed rather than taken off. */
  protected countLabels(base: Base | null, record: OutsideRecord): void {
    for (const line of this.setup.lines) {
      if (!line.stageLabels) continue;
      for (const { v } of base?.[line.id]?.t ?? base?.[line.id]?.o ?? []) {
        const seen = this.lostLabels.get(String(v)) ?? { lost: 0, kept: 0 };
        const kept = record.labels.some((label) => label.toLowerCase() === String(v).toLowerCase());
        const others = Object.values(line.stageLabels).some((other) =>
          record.labels.some((label) => label.toLowerCase() === other.toLowerCase()),
        );
        if (kept) seen.kept++;
        else if (!others) seen.lost++;
        this.lostLabels.set(String(v), seen);
      }
    }
  }

  protected reasonsOf(): BrakeReason[] {
    const known = new Set(this.capabilities.knownLabels.map((label) => label.toLowerCase()));
    const reasons: BrakeReason[] = [];
    for (const [label, { lost, kept }] of this.lostLabels)
      if (lost >= 3 && kept === 0 && !known.has(label.toLowerCase()))
        reasons.push({ code: 'labelGone', count: lost, limit: 0, label });
    const { mostRecords, records } = this.capabilities;
    const after = (records ?? 0) + this.totals.madeThere - this.totals.removedThere;
    if (mostRecords !== null && records !== null && this.totals.madeThere > 0 && after > mostRecords)
      reasons.push({ code: 'tooMany', count: after - mostRecords, limit: mostRecords });
    return reasons;
  }

  protected apart(link: Link, record: OutsideRecord | null, reason: ApartReason): PassItem[] {
    this.planned.add(link.outsideId);
    return [
      {
        link: {
          ...link,
          state: 'apart',
          apart: reason,
          intent: null,
          dirty: false,
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
  protected leave(link: Link, record: OutsideRecord, person: OurPerson, reason: ApartReason): PassItem[] {
    if (reason === 'left') this.totals.leftScope++;
    const rule = reason === 'goneHere' ? this.setup.whenGoneHere : reason === 'left' ? this.setup.whenLeaving : 'keep';
    if (rule === 'remove' && this.capabilities.canRemove) {
      this.totals.removedThere++;
      this.planned.add(record.id);
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
        this.totals.changedThere++;
        return item ? [{ ...item, person, plan }] : [];
      }
    }
    return this.apart(link, record, reason);
  }

  protected goneThere(link: Link, person: OurPerson | null): PassItem[] {
    if (this.planned.has(link.outsideId)) return [];
    if (link.state === 'stranger' || link.state === 'asking' || link.state === 'fresh' || !person) {
      this.planned.add(link.outsideId);
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
    this.totals.goneThere++;
    if (this.setup.whenGoneThere === 'makeAgain' && verdict.takesPart)
      return this.makeThere({ ...link, base: null, seen: null, version: '' }, person);
    return this.apart(link, null, 'goneThere');
  }

  protected makeThere(link: Link, person: OurPerson): PassItem[] {
    const verdict = takesPart(this.setup.scopes, { ...person, theirs: null });
    if (!verdict.takesPart) return this.apart(link, null, 'left');
    this.planned.add(link.outsideId);
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
    this.totals.madeThere++;
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
