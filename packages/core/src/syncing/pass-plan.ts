import type { OutsideRecord } from './outside';
import {
  batches,
  COMES_BACK,
  freshLink,
  isInStep,
  isNobody,
  NONE,
  primary,
  type PassItem,
  type PassOptions,
  type SyncSetup,
} from './pass-item';
import { findExtras, identify } from './pass-identify';
import type { PassTally } from './pass-tally';
import type { ItemPlanner } from './plan-item';
import type { Link, OurPerson, SyncStore, Tool } from './ports';
import { takesPart } from './scope';

interface PassPlannerParts {
  store: SyncStore;
  tool: Tool;
  setup: SyncSetup;
  options: PassOptions;
  tally: PassTally;
  items: ItemPlanner;
  /** Records over there of which a person is asked, to be looked at again. */
  reasked: ReadonlySet<string>;
}

/** Step three of a pass: goes through what was collected in batches and plans each record and contact. Writes nothing. */
export class PassPlanner {
  constructor(private readonly parts: PassPlannerParts) {}

  /** Plans for records over there. `changes` is null where they are looked at again whatever their version. */
  async planTheirs(
    ids: readonly string[],
    changes: { changed: { id: string; version: string }[] } | null,
  ): Promise<PassItem[]> {
    const items: PassItem[] = [];
    const versions = new Map(changes?.changed.map(({ id, version }) => [id, version]));
    for (const batch of batches(ids)) {
      const links = await this.parts.store.links(batch);
      const wanted = batch.filter((id) => {
        const link = links.get(id);
        const settled = link && !link.dirty && !link.intent && link.state !== 'making' && link.state !== 'fresh';
        const isAsked = this.parts.reasked.has(id) || this.parts.options.pushed?.has(id);
        return !(changes && settled && !isAsked && link.version === versions.get(id));
      });
      if (!wanted.length) continue;
      const records = new Map((await this.parts.tool.read(wanted)).map((record) => [record.id, record]));
      const people = await this.parts.store.people(
        [...links.values()].map(({ contactId }) => contactId).filter((id) => id > 0),
      );
      const extras = await findExtras(this.parts.store, [...links.values()], people);
      const unknown: OutsideRecord[] = [];
      const open = new Map<string, Link>();
      for (const id of wanted) {
        this.parts.tally.totals.looked++;
        const link = links.get(id);
        const record = records.get(id);
        if (!record) {
          if (link && extras.has(id)) items.push(...this.goneExtra(link));
          else if (link) items.push(...this.parts.items.goneThere(link, people.get(link.contactId) ?? null));
          continue;
        }
        const known = link && this.planKnown(link, record, people.get(link.contactId) ?? null, extras.has(id));
        if (known) items.push(...known);
        else if (link?.state === 'asking') {
          open.set(id, link);
          unknown.push(record);
        } else if (
          this.parts.options.pushed?.has(record.id) ||
          takesPart(this.parts.setup.scopes, { record: null, theirs: record, choice: null, meets: NONE }).takesPart
        )
          unknown.push(record);
      }
      const { moved, others } = await this.planMoved(unknown);
      items.push(...moved, ...(await this.planUnknown(others, open)));
    }
    return items;
  }

  /** The second record of a contact is gone. */
  private goneExtra(link: Link): PassItem[] {
    const { items } = this.parts;
    return isInStep(link) ? items.apart(link, null, 'merged') : items.forgotten(link);
  }

  /** Plans for a record whose link is known; null where it is to be found out who it is. */
  private planKnown(link: Link, record: OutsideRecord, person: OurPerson | null, isExtra: boolean): PassItem[] | null {
    const { items, reasked } = this.parts;
    // One that was put back beside another of its contact is alive again, and a second one.
    if (isExtra && link.apart === 'goneThere')
      return items.extra({ ...link, state: 'linked', apart: null }, record, person);
    if (isExtra && link.state === 'apart') return link.dirty || link.intent ? items.note(link, record) : [];
    if (isExtra) return items.extra(link, record, person);
    // Whoever changes over there while a person is asked may be somebody else now.
    if (isNobody(link) || (link.state === 'asking' && (reasked.has(link.outsideId) || link.version !== record.version)))
      return null;
    return items.known(link, record, person);
  }

  /** Records that are at a new place over there: their links follow. `others` are nobody that is known. */
  private async planMoved(records: readonly OutsideRecord[]): Promise<{ moved: PassItem[]; others: OutsideRecord[] }> {
    const { store, tool, tally } = this.parts;
    const named = records.flatMap((record) => (record.uid ? [record.uid] : []));
    if (!named.length) return { moved: [], others: [...records] };
    const links = new Map([...(await this.makingByUid()), ...(await store.linksByUid(named))]);
    for (const uid of links.keys()) if (!named.includes(uid)) links.delete(uid);
    const before = [...links.values()].map(({ outsideId }) => outsideId);
    // One that is still where it was is another one, whatever it is called.
    const still = new Set(before.length ? (await tool.read(before)).map(({ id }) => id) : []);
    const people = await store.people([...links.values()].map(({ contactId }) => contactId).filter((id) => id > 0));
    const extras = await findExtras(store, [...links.values()], people);
    const moved: PassItem[] = [];
    const others: OutsideRecord[] = [];
    for (const record of records) {
      const link = record.uid ? links.get(record.uid) : undefined;
      if (!link || still.has(link.outsideId) || tally.planned.has(link.outsideId)) {
        others.push(record);
        continue;
      }
      tally.planned.add(link.outsideId);
      // Written in any case, so that it is at the new place from now on.
      const at: Link = { ...link, outsideId: record.id, dirty: true };
      const planned = this.planKnown(at, record, people.get(link.contactId) ?? null, extras.has(link.outsideId));
      if (planned) moved.push(...planned.map((item) => ({ ...item, movedFrom: link.outsideId })));
      else others.push(record);
    }
    return { moved, others };
  }

  /** Links of records that may have been made without our hearing of it, by the names that they got. */
  private async makingByUid(): Promise<[string, Link][]> {
    const { store, tool } = this.parts;
    if (!tool.newUid) return [];
    const links = await store.links(await store.unfinished());
    return [...links.values()].flatMap((link): [string, Link][] =>
      link.state === 'making' && tool.newUid ? [[tool.newUid(link.outsideId), link]] : [],
    );
  }

  async planGone(ids: readonly string[]): Promise<PassItem[]> {
    const items: PassItem[] = [];
    for (const batch of batches(ids)) {
      const links = await this.parts.store.links(batch);
      const people = await this.parts.store.people(
        [...links.values()].map(({ contactId }) => contactId).filter((id) => id > 0),
      );
      const extras = await findExtras(this.parts.store, [...links.values()], people);
      for (const link of links.values())
        if (extras.has(link.outsideId)) items.push(...this.goneExtra(link));
        else items.push(...this.parts.items.goneThere(link, people.get(link.contactId) ?? null));
    }
    return items;
  }

  /** Plans for contacts here that changed; whoever was looked at from the other side already is passed over. */
  async planOurs(ids: readonly number[]): Promise<PassItem[]> {
    const items: PassItem[] = [];
    const toMake: OurPerson[] = [];
    const unseen: string[] = [];
    for (const batch of batches(ids)) {
      const people = await this.parts.store.people(batch);
      const roots = new Map([...people.values()].map((person) => [person.id, person]));
      const links = await this.parts.store.linksOf([...roots.keys()]);
      const rootOf = await this.parts.store.people(links.map(({ contactId }) => contactId));
      const byRoot = new Map<number, Link[]>();
      for (const link of links) {
        const root = rootOf.get(link.contactId)?.id ?? link.contactId;
        byRoot.set(root, [...(byRoot.get(root) ?? []), link]);
      }
      for (const [id, person] of roots) {
        this.parts.tally.totals.looked++;
        const own = byRoot.get(id) ?? [];
        const linked = own.filter(isInStep);
        const [first] = linked;
        if (!first) {
          const verdict = takesPart(this.parts.setup.scopes, { ...person, theirs: null });
          if (!verdict.takesPart) continue;
          const parted = own.find(({ state }) => state === 'apart');
          if (parted && COMES_BACK.has(parted.apart)) unseen.push(parted.outsideId);
          else if (parted && !(person.choice === 'send' || this.parts.setup.whenGoneThere === 'makeAgain')) continue;
          else if (this.parts.setup.newThere || person.choice === 'send') toMake.push(person);
          continue;
        }
        for (const link of linked) {
          if (this.parts.tally.planned.has(link.outsideId)) continue;
          if (link.outsideId !== primary(linked, id).outsideId && link.seen)
            items.push(...this.parts.items.extra(link, link.seen, person));
          else if (!link.seen || link.intent || link.dirty || link.state === 'making') unseen.push(link.outsideId);
          else items.push(...this.parts.items.linked(link, link.seen, person));
        }
      }
    }
    if (unseen.length)
      items.push(
        ...(await this.planTheirs(
          [...new Set(unseen)].filter((id) => !this.parts.tally.planned.has(id)),
          null,
        )),
      );
    items.push(...(await this.planMaking(toMake)));
    return items;
  }

  /** New ones over there, unless they are there already under nobody's name, or a person is asked about them. */
  private async planMaking(people: OurPerson[]): Promise<PassItem[]> {
    if (!people.length) return [];
    const asked = await this.parts.store.askedAbout();
    const items: PassItem[] = [];
    const there = new Set<number>();
    const strangers = await this.parts.store.strangers();
    for (const batch of batches(strangers)) {
      const records = batch.flatMap(({ seen }) => (seen ? [seen] : []));
      const identities = await this.parts.store.identify(records);
      records.forEach((record, i) => {
        const identity = identities[i];
        if (identity?.who === 'one') {
          const person = people.find(({ id }) => id === identity.contactId);
          if (!person || there.has(person.id)) return;
          there.add(person.id);
          this.parts.tally.totals.linked++;
          const verdict = takesPart(this.parts.setup.scopes, { ...person, theirs: record });
          items.push(
            ...this.parts.items.pair(
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
          items.push(...this.parts.items.ask(freshLink(record.id, 0), record, identity));
        }
      });
    }
    for (const person of people) {
      // Somebody may be about to be linked in this very pass.
      if (asked.has(person.id) || there.has(person.id) || this.parts.tally.claimed.has(person.id)) continue;
      items.push(
        ...this.parts.items.makeThere(
          freshLink(this.parts.tool.newId(person.id, this.parts.options.nonce), person.id),
          person,
        ),
      );
    }
    return items;
  }

  /** Records over there that have no link yet, and those of which a person is asked. */
  private async planUnknown(
    records: readonly OutsideRecord[],
    open: ReadonlyMap<string, Link> = new Map(),
  ): Promise<PassItem[]> {
    if (!records.length) return [];
    const { identities, people, taken } = await identify(this.parts.store, records);
    return records.flatMap((record, i) =>
      this.parts.items.identified(
        record,
        identities[i] ?? { who: 'nobody' },
        people,
        taken,
        open.get(record.id) ?? null,
      ),
    );
  }
}
