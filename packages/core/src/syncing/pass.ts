import { applyOperations, emptyRecord, firstValue, valuesOf, type ContactRecord, type Operation } from '../model';
import { NO_TOTALS, type BrakeLimits, type BrakeReason, type PassTotals } from './brake';
import type { SyncLine } from './lines';
import type { Capabilities, OutsideRecord } from './outside';
import { isQuiet, planPair, type Base, type PairPlan, type PlannedConflict } from './plan-pair';
import {
  ToolTrouble,
  type ApartReason,
  type Changes,
  type Identity,
  type Intent,
  type Link,
  type OurPerson,
  type OutsideWrite,
  type OutsideWritten,
  type PairEvent,
  type PairWrite,
  type SyncStore,
  type Tool,
} from './ports';
import { itemsOf, outsideField, valuesThere, type SyncContext } from './project';
import { takesPart, type Scope } from './scope';

export interface SyncSetup {
  lines: SyncLine[];
  scopes: Scope[];
  newHere: boolean;
  newThere: boolean;
  whenGoneThere: 'keep' | 'makeAgain';
  /** When a contact is deleted here. */
  whenGoneHere: 'keep' | 'remove';
  /** When somebody does not take part any more. */
  whenLeaving: 'keep' | 'remove' | 'takeLabelOff';
  /** When two contacts that are linked were merged here: a person is asked what becomes of the second record, or it goes. */
  whenMergedHere: 'ask' | 'remove';
  limits: BrakeLimits;
}

/** What a pass does about one record over there and one contact here. */
export interface PassItem {
  link: Link;
  person: OurPerson | null;
  plan: PairPlan | null;
  action: 'pair' | 'makeHere' | 'makeThere' | 'ask' | 'apart' | 'removeThere' | 'note';
  operations: Operation[];
  /** The record to be made here. */
  create?: ContactRecord;
  event?: PairEvent;
  apart?: ApartReason;
  conflicts?: PlannedConflict[];
}

export interface PassPlan {
  items: PassItem[];
  totals: PassTotals;
  /** Reasons to wait that follow from the whole and not from counts. */
  reasons: BrakeReason[];
  cursors: { theirs: string | null; ours: string };
}

/** What comes of a pass. */
export interface PassEnd {
  totals: PassTotals;
  /** Ids over there that did not come to rest; the next pass begins where this one did. */
  left: number;
  stopped: boolean;
  full: boolean;
}

export interface PassOptions {
  run: number;
  context: SyncContext;
  /** Nonce of ids that are made over there: unlike in every run. */
  nonce: string;
  /** Only these contacts, and whom they are linked to. */
  only?: readonly number[] | undefined;
  /** Called between batches; false ends the pass there, and the next one goes on. */
  goOn?: ((done: number, total: number, totals: PassTotals) => Promise<boolean>) | undefined;
}

const AT_ONCE = 100;
const ROUNDS = 4;

function* batches<T>(list: readonly T[], size = AT_ONCE): Generator<T[]> {
  for (let i = 0; i < list.length; i += size) yield list.slice(i, i + size);
}

const freshLink = (outsideId: string, contactId: number): Link => ({
  outsideId,
  contactId,
  state: 'linked',
  apart: null,
  version: '',
  base: null,
  seen: null,
  intent: null,
  dirty: false,
  scope: null,
  candidates: [],
  asksTwo: false,
});

/**
 * One pass of a connection: collect what changed on both sides, find out who is who, plan, and write. Its work follows the
 * number of changes and not the size of the book. Nothing is written twice: what is about to be written over there is
 * noted before, and where no answer came the record is read before anything else is done with it.
 */
export class SyncPass {
  private capabilities!: Capabilities;
  private clock: Changes['clock'] = { aheadMs: 0, errorMs: 0 };
  private totals: PassTotals = { ...NO_TOTALS };
  private planned = new Set<string>();
  /** Contacts that are linked, or asked about, in this very pass. */
  private readonly claimed = new Set<number>();
  /** Records over there of which a person is asked, to be looked at again. */
  private reasked: ReadonlySet<string> = NONE;
  private lostLabels = new Map<string, { lost: number; kept: number }>();

  constructor(
    private readonly store: SyncStore,
    private readonly tool: Tool,
    private readonly setup: SyncSetup,
    private readonly options: PassOptions,
  ) {}

  /** Looks at everything that changed and says what would be done; writes nothing. */
  async plan(): Promise<PassPlan> {
    this.capabilities = await this.tool.capabilities();
    this.totals = { ...NO_TOTALS };
    this.planned.clear();
    this.claimed.clear();
    this.lostLabels.clear();
    const { only } = this.options;
    const cursors = await this.store.cursors();
    if (only) {
      const items = await this.planOurs(only);
      return { items, totals: this.totals, reasons: [], cursors: { theirs: cursors.theirs, ours: cursors.ours ?? '' } };
    }
    // Ours is looked up first: what changes here while the other side is asked belongs to the next pass.
    const ours = await this.store.changedHere(cursors.ours);
    const theirs = await this.changesThere(cursors.theirs);
    const unfinished = await this.store.unfinished();
    // Whoever somebody over there may be has changed, or was merged: the question may answer itself now.
    const asked = await this.store.askedAbout();
    this.reasked = new Set(ours.ids.flatMap((id) => asked.get(id) ?? []));
    const items = await this.planTheirs(
      [...new Set([...unfinished, ...this.reasked, ...theirs.changed.map(({ id }) => id)])],
      theirs,
    );
    items.push(...(await this.planGone(theirs.gone)));
    items.push(...(await this.planOurs(ours.ids)));
    return {
      items,
      totals: this.totals,
      reasons: this.reasonsOf(),
      cursors: { theirs: theirs.cursor, ours: ours.cursor },
    };
  }

  /** Plans and writes until nothing is left, or a few rounds are over. */
  async apply(first: PassPlan): Promise<PassEnd> {
    let { items } = first;
    const totals: PassTotals = { ...first.totals };
    const end: PassEnd = { totals, left: 0, stopped: false, full: false };
    const total = items.length;
    let done = 0;
    for (let round = 0; items.length && round < ROUNDS; round++) {
      const again = { outside: new Set<string>(), contacts: new Set<number>() };
      for (const batch of batches(items)) {
        const kept = end.full ? batch.filter(({ action }) => action !== 'makeThere') : batch;
        await this.write(kept, again, end);
        if (round === 0) done += batch.length;
        if (this.options.goOn && !(await this.options.goOn(done, total, totals))) return { ...end, stopped: true };
      }
      items = [];
      end.left = again.outside.size + again.contacts.size;
      if (!end.left) break;
      this.totals = { ...NO_TOTALS };
      this.planned.clear();
      this.claimed.clear();
      items = await this.planTheirs([...again.outside], null);
      items.push(...(await this.planOurs([...again.contacts])));
      if (!items.length) end.left = 0;
    }
    if (!end.left && !end.full && !this.options.only) await this.store.finish(first.cursors);
    return end;
  }

  private async changesThere(cursor: string | null): Promise<{
    changed: { id: string; version: string }[];
    gone: string[];
    cursor: string | null;
  }> {
    let changes: Changes;
    try {
      changes = await this.tool.changes(cursor);
    } catch (error) {
      if (!(error instanceof ToolTrouble) || error.kind !== 'cursorLost') throw error;
      changes = await this.tool.changes(null);
    }
    this.clock = changes.clock;
    // One that is named twice counts as it was named last.
    const last = new Map(changes.changed.map((one) => [one.id, one.version]));
    if (!changes.full) {
      const gone = changes.gone.filter((id) => !last.has(id));
      return { changed: [...last].map(([id, version]) => ({ id, version })), gone, cursor: changes.cursor };
    }
    const known = await this.store.versions();
    return {
      changed: [...last].filter(([id, version]) => known.get(id) !== version).map(([id, version]) => ({ id, version })),
      gone: [...known.keys()].filter((id) => !last.has(id)),
      cursor: changes.cursor,
    };
  }

  /** Plans for records over there. `changes` is null where they are looked at again whatever their version. */
  private async planTheirs(
    ids: readonly string[],
    changes: { changed: { id: string; version: string }[] } | null,
  ): Promise<PassItem[]> {
    const items: PassItem[] = [];
    const versions = new Map(changes?.changed.map(({ id, version }) => [id, version]));
    for (const batch of batches(ids)) {
      const links = await this.store.links(batch);
      const wanted = batch.filter((id) => {
        const link = links.get(id);
        const settled = link && !link.dirty && !link.intent && link.state !== 'making' && link.state !== 'fresh';
        return !(changes && settled && !this.reasked.has(id) && link.version === versions.get(id));
      });
      if (!wanted.length) continue;
      const records = new Map((await this.tool.read(wanted)).map((record) => [record.id, record]));
      const people = await this.store.people(
        [...links.values()].map(({ contactId }) => contactId).filter((id) => id > 0),
      );
      const extras = await this.extrasOf([...links.values()], people);
      const unknown: OutsideRecord[] = [];
      for (const id of wanted) {
        this.totals.looked++;
        const link = links.get(id);
        const record = records.get(id);
        if (!record) {
          if (link && extras.has(id)) items.push(...(isInStep(link) ? this.apart(link, null, 'merged') : []));
          else if (link) items.push(...this.goneThere(link, people.get(link.contactId) ?? null));
          continue;
        }
        if (link?.state === 'apart' && extras.has(id)) {
          if (link.dirty || link.intent) items.push(...this.note(link, record));
        } else if (link && extras.has(id)) items.push(...this.extra(link, record, people.get(link.contactId) ?? null));
        else if (link && !isNobody(link) && !(link.state === 'asking' && this.reasked.has(id)))
          items.push(...this.known(link, record, people.get(link.contactId) ?? null));
        else if (takesPart(this.setup.scopes, { record: null, theirs: record, choice: null, filters: NONE }).takesPart)
          unknown.push(record);
      }
      items.push(...(await this.whoIs(unknown)));
    }
    return items;
  }

  private async whoIs(records: readonly OutsideRecord[]): Promise<PassItem[]> {
    if (!records.length) return [];
    const identities = await this.store.identify(records);
    const ids = identities.flatMap((one) => (one.who === 'one' ? [one.contactId] : []));
    const people = await this.store.people(ids);
    const taken = new Set(
      (await this.store.linksOf([...people.values()].map(({ id }) => id)))
        .filter(isInStep)
        .map(({ contactId }) => contactId),
    );
    for (const id of ids) {
      const person = people.get(id);
      if (person && taken.has(id)) taken.add(person.id);
    }
    return records.flatMap((record, i) => this.identified(record, identities[i] ?? { who: 'nobody' }, people, taken));
  }

  private identified(
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

  private ask(link: Link, record: OutsideRecord, candidates: number[]): PassItem[] {
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

  private makeHere(link: Link, record: OutsideRecord): PassItem[] {
    this.planned.add(record.id);
    const verdict = takesPart(this.setup.scopes, { record: null, theirs: record, choice: null, filters: NONE });
    const scope = verdict.takesPart ? verdict.scope : null;
    const nobody = { ...link, version: record.version, seen: record, dirty: false };
    if (!this.setup.newHere && link.state !== 'fresh')
      return [{ link: { ...nobody, state: 'stranger' }, person: null, plan: null, action: 'note', operations: [] }];
    const given = give(0, emptyRecord(), scope, this.options.run);
    const start = apply(emptyRecord(), given);
    const plan = this.planPair(0, start, record, null, () => 0, []);
    const create = apply(start, plan.operations);
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
  private known(link: Link, record: OutsideRecord, person: OurPerson | null): PassItem[] {
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
        return this.linked({ ...link, state: 'linked', apart: null, base: null }, record, person, 'again');
      }
      default:
        return person
          ? this.linked({ ...link, state: 'linked' }, record, person)
          : this.apart(link, record, 'goneHere');
    }
  }

  /** Of these, records over there whose contact has another record there that is kept in step: after a merge here. */
  private async extrasOf(links: readonly Link[], people: ReadonlyMap<number, OurPerson>): Promise<Set<string>> {
    const rootOfLink = ({ contactId }: Link) => people.get(contactId)?.id ?? contactId;
    const doubtful = links.filter(
      (link) =>
        link.contactId > 0 && (isInStep(link) ? rootOfLink(link) !== link.contactId : COMES_BACK.has(link.apart)),
    );
    if (!doubtful.length) return new Set();
    const all = (await this.store.linksOf([...new Set(doubtful.map(rootOfLink))])).filter(isInStep);
    const rootOf = await this.store.people(all.map(({ contactId }) => contactId));
    return new Set(
      doubtful.flatMap((link) => {
        const root = rootOfLink(link);
        const own = all.filter(({ contactId }) => (rootOf.get(contactId)?.id ?? contactId) === root);
        return own.length && primary(own, root).outsideId !== link.outsideId ? [link.outsideId] : [];
      }),
    );
  }

  /** Two records over there are one contact here: a person is asked, or the second one goes, as was set. */
  private extra(link: Link, record: OutsideRecord, person: OurPerson | null): PassItem[] {
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

  private note(link: Link, record: OutsideRecord): PassItem[] {
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
  private recovered(link: Link, record: OutsideRecord): Link {
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

  private linked(link: Link, record: OutsideRecord, person: OurPerson, event?: PairEvent): PassItem[] {
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

  private pair(
    link: Link,
    record: OutsideRecord,
    person: OurPerson,
    scope: Scope | null,
    event?: PairEvent,
  ): PassItem[] {
    this.planned.add(record.id);
    this.claimed.add(person.id);
    const given = scope && scope.id !== link.scope ? give(person.id, person.record, scope, this.options.run) : [];
    const start = apply(person.record, given);
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

  private count(plan: PairPlan): void {
    this.totals.conflicts += plan.conflicts.length;
    for (const { side, kind } of plan.changes) {
      if (kind === 'change') this.totals[side === 'here' ? 'overwrittenHere' : 'overwrittenThere']++;
      if (kind === 'remove') this.totals[side === 'here' ? 'clearedHere' : 'clearedThere']++;
    }
  }

  /** A label that stands for a stage and is gone from everybody at once was renamed rather than taken off. */
  private countLabels(base: Base | null, record: OutsideRecord): void {
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

  private reasonsOf(): BrakeReason[] {
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

  private apart(link: Link, record: OutsideRecord | null, reason: ApartReason): PassItem[] {
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
  private leave(link: Link, record: OutsideRecord, person: OurPerson, reason: ApartReason): PassItem[] {
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
        const [item] = this.apart(link, record, reason);
        const plan: PairPlan = {
          operations: [],
          fields: null,
          labels,
          stopHere: [],
          stopThere: [],
          baseHere: link.base ?? {},
          base: link.base ?? {},
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

  private goneThere(link: Link, person: OurPerson | null): PassItem[] {
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

  private async planGone(ids: readonly string[]): Promise<PassItem[]> {
    const items: PassItem[] = [];
    for (const batch of batches(ids)) {
      const links = await this.store.links(batch);
      const people = await this.store.people(
        [...links.values()].map(({ contactId }) => contactId).filter((id) => id > 0),
      );
      const extras = await this.extrasOf([...links.values()], people);
      for (const link of links.values())
        if (extras.has(link.outsideId)) items.push(...(isInStep(link) ? this.apart(link, null, 'merged') : []));
        else items.push(...this.goneThere(link, people.get(link.contactId) ?? null));
    }
    return items;
  }

  private makeThere(link: Link, person: OurPerson): PassItem[] {
    const verdict = takesPart(this.setup.scopes, { ...person, theirs: null });
    if (!verdict.takesPart) return this.apart(link, null, 'left');
    this.planned.add(link.outsideId);
    const blank: OutsideRecord = { id: link.outsideId, version: '', fields: {}, labels: [] };
    const given = give(person.id, person.record, verdict.scope, this.options.run);
    const plan = this.planPair(person.id, apply(person.record, given), blank, null, person.changedAtMs, person.stopped);
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

  /** Plans for contacts here that changed; whoever was looked at from the other side already is passed over. */
  private async planOurs(ids: readonly number[]): Promise<PassItem[]> {
    const items: PassItem[] = [];
    const toMake: OurPerson[] = [];
    const unseen: string[] = [];
    for (const batch of batches(ids)) {
      const people = await this.store.people(batch);
      const roots = new Map([...people.values()].map((person) => [person.id, person]));
      const links = await this.store.linksOf([...roots.keys()]);
      const rootOf = await this.store.people(links.map(({ contactId }) => contactId));
      const byRoot = new Map<number, Link[]>();
      for (const link of links) {
        const root = rootOf.get(link.contactId)?.id ?? link.contactId;
        byRoot.set(root, [...(byRoot.get(root) ?? []), link]);
      }
      for (const [id, person] of roots) {
        this.totals.looked++;
        const own = byRoot.get(id) ?? [];
        const linked = own.filter(isInStep);
        const [first] = linked;
        if (!first) {
          const verdict = takesPart(this.setup.scopes, { ...person, theirs: null });
          if (!verdict.takesPart) continue;
          const parted = own.find(({ state }) => state === 'apart');
          if (parted && COMES_BACK.has(parted.apart)) unseen.push(parted.outsideId);
          else if (parted && !(person.choice === 'send' || this.setup.whenGoneThere === 'makeAgain')) continue;
          else if (this.setup.newThere || person.choice === 'send') toMake.push(person);
          continue;
        }
        for (const link of linked) {
          if (this.planned.has(link.outsideId)) continue;
          if (link.outsideId !== primary(linked, id).outsideId && link.seen)
            items.push(...this.extra(link, link.seen, person));
          else if (!link.seen || link.intent || link.dirty || link.state === 'making') unseen.push(link.outsideId);
          else items.push(...this.linked(link, link.seen, person));
        }
      }
    }
    if (unseen.length)
      items.push(
        ...(await this.planTheirs(
          [...new Set(unseen)].filter((id) => !this.planned.has(id)),
          null,
        )),
      );
    items.push(...(await this.planMaking(toMake)));
    return items;
  }

  /** New ones over there, unless they are there already under nobody's name, or a person is asked about them. */
  private async planMaking(people: OurPerson[]): Promise<PassItem[]> {
    if (!people.length) return [];
    const asked = await this.store.askedAbout();
    const items: PassItem[] = [];
    const there = new Set<number>();
    const strangers = await this.store.strangers();
    for (const batch of batches(strangers)) {
      const records = batch.flatMap(({ seen }) => (seen ? [seen] : []));
      const identities = await this.store.identify(records);
      records.forEach((record, i) => {
        const identity = identities[i];
        if (identity?.who === 'one') {
          const person = people.find(({ id }) => id === identity.contactId);
          if (!person || there.has(person.id)) return;
          there.add(person.id);
          this.totals.linked++;
          const verdict = takesPart(this.setup.scopes, { ...person, theirs: record });
          items.push(
            ...this.pair(
              freshLink(record.id, person.id),
              record,
              person,
              verdict.takesPart ? verdict.scope : null,
              'linked',
            ),
          );
        } else if (identity?.who === 'ask') {
          if (!identity.contactIds.some((id) => people.some((person) => person.id === id))) return;
          for (const id of identity.contactIds) there.add(id);
          items.push(...this.ask(freshLink(record.id, 0), record, identity.contactIds));
        }
      });
    }
    for (const person of people) {
      // Somebody may be about to be linked in this very pass.
      if (asked.has(person.id) || there.has(person.id) || this.claimed.has(person.id)) continue;
      items.push(...this.makeThere(freshLink(this.tool.newId(person.id, this.options.nonce), person.id), person));
    }
    return items;
  }

  /** Writes one batch: here first, then over there, then what is agreed on. */
  private async write(
    items: readonly PassItem[],
    again: { outside: Set<string>; contacts: Set<number> },
    end: PassEnd,
  ): Promise<void> {
    const first = await this.store.save(items.map((item) => this.firstWrite(item)));
    const outward: { item: PassItem; contactId: number; write: OutsideWrite }[] = [];
    items.forEach((item, i) => {
      const result = first[i];
      if (!result?.ok) {
        if (item.action === 'makeThere' && item.person) again.contacts.add(item.person.id);
        else again.outside.add(item.link.outsideId);
        return;
      }
      const write = this.outsideWrite(item);
      if (write) outward.push({ item, contactId: result.contactId, write });
    });
    if (!outward.length) return;
    const written = await this.tool.write(outward.map(({ write }) => write));
    const second: PairWrite[] = [];
    outward.forEach(({ item, contactId }, i) => {
      const result = written[i] ?? { ok: false, why: 'unknown', text: 'no answer' };
      // Where nobody knows whether it was written, the intent stays until the record was read.
      const isOpen =
        !result.ok && (result.why === 'unknown' || (item.action === 'makeThere' && result.why !== 'refused'));
      if (!isOpen) second.push(this.confirmation(item, contactId, result));
      if (result.ok) return;
      if (result.why === 'full') end.full = true;
      else if (result.why !== 'refused') again.outside.add(item.link.outsideId);
      if (result.why === 'refused' || result.why === 'full') end.totals.failed++;
    });
    await this.store.save(second);
  }

  private intentOf({ plan }: PassItem): Intent | null {
    return plan && (plan.fields || plan.labels || plan.stopThere.length)
      ? { fields: plan.fields, labels: plan.labels, base: plan.base }
      : null;
  }

  private firstWrite(item: PassItem): PairWrite {
    const { link, plan, person, operations, create, event, action } = item;
    const intent = this.intentOf(item);
    const making = action === 'makeThere';
    return {
      link: {
        ...link,
        base: plan && action !== 'apart' ? (making ? null : plan.baseHere) : link.base,
        intent: making ? (intent ?? { fields: {}, labels: null, base: plan?.base ?? {} }) : intent,
        dirty: intent !== null || making || action === 'removeThere',
      },
      ...(create ? { create } : {}),
      operations: action === 'makeThere' || action === 'pair' ? operations : [],
      version: person && operations.length ? person.version : null,
      stop: plan?.stopHere ?? [],
      changes: plan?.changes.filter(({ side }) => side === 'here') ?? [],
      ...(plan && (action === 'pair' || action === 'makeHere') ? { conflicts: plan.conflicts } : {}),
      ...(item.conflicts ? { conflicts: item.conflicts } : {}),
      ...(event && event !== 'madeThere' && event !== 'removedThere' ? { event } : {}),
    };
  }

  private outsideWrite(item: PassItem): OutsideWrite | null {
    const { link, plan, action } = item;
    if (action === 'removeThere') return { kind: 'remove', id: link.outsideId, version: link.version };
    if (!plan) return null;
    if (action === 'makeThere')
      return {
        kind: 'create',
        id: link.outsideId,
        fields: plan.fields ?? {},
        labels: plan.labels ?? [],
        stopped: plan.stopThere,
      };
    if (!this.intentOf(item) || !link.seen) return null;
    return {
      kind: 'update',
      id: link.outsideId,
      version: link.version,
      fields: plan.fields,
      labels: plan.labels,
      stop: plan.stopThere,
      seen: link.seen,
    };
  }

  private confirmation(item: PassItem, contactId: number, result: OutsideWritten): PairWrite {
    const { link, plan, action, event } = item;
    const write = (more: Partial<Link>, rest: Partial<PairWrite> = {}): PairWrite => ({
      link: { ...link, contactId: contactId || link.contactId, intent: null, dirty: false, ...more },
      operations: [],
      version: null,
      stop: [],
      changes: [],
      ...rest,
    });
    const there = plan?.changes.filter(({ side }) => side === 'there') ?? [];
    if (result.ok) {
      if (action === 'removeThere')
        return write({ state: 'apart', apart: item.apart ?? 'left' }, { event: 'removedThere' });
      const record = result.record;
      return write(
        {
          ...(action === 'apart' ? {} : { state: 'linked' as const, base: plan?.base ?? link.base }),
          version: record?.version ?? link.version,
          seen: record ?? link.seen,
          // Without a look at what stands there now, the next pass has one.
          dirty: record === null,
        },
        { changes: there, ...(event ? { event } : {}) },
      );
    }
    if (action === 'makeThere') return write({ state: 'apart', apart: 'refused', base: null }, { event: 'refused' });
    const back = plan && action !== 'apart' ? plan.baseHere : link.base;
    if (result.why === 'refused') return write({ base: back }, { event: 'refused' });
    return write({ base: back, dirty: true });
  }
}

const NONE: ReadonlySet<string> = new Set();
const TELLING = ['givenName', 'familyName', 'fullName', 'organization', 'email', 'tel', 'nickname'];

function apply(record: ContactRecord, operations: readonly Operation[]): ContactRecord {
  const applied = applyOperations(record, operations);
  return applied.ok ? applied.value : record;
}

/** Of several records over there for one contact, the one that is kept in step. */
function primary(links: readonly Link[], root: number): Link {
  const sorted = [...links].sort((a, b) => (a.outsideId < b.outsideId ? -1 : 1));
  return (sorted.find(({ contactId }) => contactId === root) ?? sorted[0]) as Link;
}

const isInStep = ({ state }: Link) => state === 'linked' || state === 'making';

/** Somebody over there of whom nothing is known here. */
const isNobody = ({ state, apart, contactId }: Link) =>
  state === 'stranger' || (state === 'apart' && apart === 'refused' && contactId === 0);
/** Reasons that end when somebody takes part again. */
const COMES_BACK: ReadonlySet<ApartReason | null> = new Set<ApartReason | null>([
  'left',
  'goneHere',
  'merged',
  'refused',
]);

function sameTexts(a: readonly string[], b: readonly string[]): boolean {
  return a.length === b.length && a.every((text) => b.includes(text));
}

/** What somebody who comes in by a scope is given: tags that are missing, and the others where they are blank. */
function give(target: number, record: ContactRecord, scope: Scope | null, run: number): Operation[] {
  if (!scope) return [];
  const operations: Operation[] = [];
  let slot = record.n;
  const there = new Set(valuesOf(record, 'tags').map(({ v }) => String(v).toLowerCase()));
  let rank = there.size;
  for (const tag of scope.give.tags) {
    if (there.has(tag.toLowerCase())) continue;
    operations.push({ target, field: 'tags', slot, before: null, after: { slot, v: tag, run, rank: rank++ } });
    slot++;
  }
  for (const field of ['source', 'owner', 'stage'] as const) {
    const v = scope.give[field];
    if (v && !firstValue(record, field))
      operations.push({ target, field, slot: 0, before: null, after: { slot: 0, v, run } });
  }
  return operations;
}
