import type { PassTotals } from './brake';
import type { OutsideRecord } from './outside';
import {
  batches,
  COMES_BACK,
  freshLink,
  isInStep,
  isNobody,
  NONE,
  primary,
  type PassEnd,
  type PassItem,
  type PassOptions,
  type PassPlan,
  type SyncSetup,
} from './pass-item';
import { confirmation, firstWrite, outsideWrite } from './pass-writes';
import { ItemPlanner } from './plan-item';
import {
  ToolTrouble,
  type Changes,
  type Link,
  type OurPerson,
  type OutsideWrite,
  type PairWrite,
  type SyncStore,
  type Tool,
} from './ports';
import { takesPart } from './scope';

const ROUNDS = 4;
/** Batches that are written over there at a time. */
const IN_FLIGHT = 2;

/** What did not come to rest and is looked at once more. */
interface Again {
  outside: Set<string>;
  contacts: Set<number>;
}

interface Outward {
  item: PassItem;
  contactId: number;
  write: OutsideWrite;
}

/**
 * One pass of a connection: collect what changed on both sides, find out who is who, plan, and write. Its work follows the
 * number of changes and not the size of the book. Nothing is written twice: what is about to be written over there is
 * noted before, and where no answer came the record is read before anything else is done with it.
 */
export class SyncPass extends ItemPlanner {
  /** Records over there of which a person is asked, to be looked at again. */
  private reasked: ReadonlySet<string> = NONE;

  constructor(
    private readonly store: SyncStore,
    private readonly tool: Tool,
    setup: SyncSetup,
    options: PassOptions,
  ) {
    super(setup, options);
  }

  /** Looks at everything that changed and says what would be done; writes nothing. */
  async plan(): Promise<PassPlan> {
    this.capabilities = this.options.capabilities ?? (await this.tool.capabilities());
    this.beginCount();
    const { only } = this.options;
    const cursors = await this.store.cursors();
    if (only) {
      const items = await this.planTheirs(this.options.onlyThere ?? [], null);
      items.push(...(await this.planOurs(only)));
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
      const again: Again = { outside: new Set(), contacts: new Set() };
      const sending: Promise<void>[] = [];
      for (const batch of batches(items)) {
        const kept = end.full ? batch.filter(({ action }) => action !== 'makeThere') : batch;
        // While batches are written over there, the next is written here.
        const outward = await this.writeHere(kept, again).catch(async (error: unknown) => {
          await Promise.allSettled(sending);
          throw error;
        });
        if (sending.length >= IN_FLIGHT) await sending.shift();
        const sent = this.writeThere(outward, again, end);
        // Whoever waits for it is told of a failure; until then it is nobody's.
        sent.catch(() => undefined);
        sending.push(sent);
        if (round === 0) done += batch.length;
        if (this.options.goOn && !(await this.options.goOn(done, total, totals))) {
          await Promise.all(sending);
          return { ...end, stopped: true };
        }
      }
      await Promise.all(sending);
      items = [];
      end.left = again.outside.size + again.contacts.size;
      if (!end.left) break;
      this.beginCount();
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

  /** Writes one batch here, with what is about to be written over there. Gives what that is. */
  private async writeHere(items: readonly PassItem[], again: Again): Promise<Outward[]> {
    const results = await this.store.save(items.map((item) => firstWrite(item)));
    return items.flatMap((item, i): Outward[] => {
      const result = results[i];
      if (!result?.ok) {
        if (item.action === 'makeThere' && item.person) again.contacts.add(item.person.id);
        else again.outside.add(item.link.outsideId);
        return [];
      }
      const write = outsideWrite(item);
      return write ? [{ item, contactId: result.contactId, write }] : [];
    });
  }

  /** Writes a batch over there, and keeps what is agreed on then. */
  private async writeThere(outward: readonly Outward[], again: Again, end: PassEnd): Promise<void> {
    if (!outward.length) return;
    const written = await this.tool.write(outward.map(({ write }) => write));
    const second: PairWrite[] = [];
    outward.forEach(({ item, contactId }, i) => {
      const result = written[i] ?? { ok: false, why: 'unknown', text: 'no answer' };
      // Where nobody knows whether it was written, the intent stays until the record was read.
      const isOpen =
        !result.ok && (result.why === 'unknown' || (item.action === 'makeThere' && result.why !== 'refused'));
      if (!isOpen) second.push(confirmation(item, contactId, result));
      if (result.ok) return;
      if (result.why === 'full') end.full = true;
      else if (result.why !== 'refused') again.outside.add(item.link.outsideId);
      if (result.why === 'refused' || result.why === 'full') end.totals.failed++;
    });
    await this.store.save(second);
  }
}
