import type { OutsideRecord } from './outside';
import {
  batches,
  COMES_BACK,
  freshLink,
  isInStep,
  isNobody,
  primary,
  type PassItem,
  type SyncSetup,
} from './pass-item';
import type { PassOptions } from './pass-options';
import { findExtras, identify } from './pass-identify';
import { Places } from './pass-places';
import type { ItemShelf } from './item-shelf';
import type { PassTally } from './pass-tally';
import type { ItemPlanner } from './plan-item';
import type { Link, OurPerson, SecondTake, SyncStore, Tool } from './ports';
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

/** Whether the record at a place is another one than the link knows: both have names, and they differ. */
const isAnother = ({ seen }: Link, { uid }: OutsideRecord): boolean =>
  seen?.uid !== undefined && uid !== undefined && seen.uid !== uid;

/** Where a link is kept whose record is gone and whose place another record has. */
const placeless = ({ outsideId, seen }: Link): string => `${outsideId} (${seen?.uid ?? ''})`;

/** Step three of a pass: goes through what was collected in batches and plans each record and contact. Writes nothing. */
export class PassPlanner {
  private readonly places: Places;
  /** What was said of records of merged contacts. */
  private readonly said = new Map<number, SecondTake>();

  constructor(private readonly parts: PassPlannerParts) {
    this.places = new Places(parts);
  }

  private async put(items: readonly PassItem[], out: ItemShelf): Promise<void> {
    out.put(this.parts.tool.placeOf ? await this.places.settle(items) : items);
  }

  /** Those of these links whose contact has another record over there, with what was said of them. */
  private async extrasAmong(links: readonly Link[], people: ReadonlyMap<number, OurPerson>): Promise<Set<string>> {
    const extras = await findExtras(this.parts.store, links, people);
    await this.learnSaid(links.filter(({ outsideId }) => extras.has(outsideId)));
    return extras;
  }

  private async learnSaid(extras: readonly Link[]): Promise<void> {
    if (!extras.length) return;
    const said = await this.parts.store.saidOfMerged(extras.map(({ contactId }) => contactId));
    for (const [id, take] of said) this.said.set(id, take);
  }

  private extra(link: Link, record: OutsideRecord, person: OurPerson | null): PassItem[] {
    return this.parts.items.extra(link, record, person, this.said.get(link.contactId) ?? null);
  }

  /** Plans for records over there. `changes` is null where they are looked at again whatever their version. */
  async planTheirs(
    ids: readonly string[],
    changes: { changed: { id: string; version: string }[] } | null,
    out: ItemShelf,
  ): Promise<void> {
    const versions = new Map(changes?.changed.map(({ id, version }) => [id, version]));
    const claims: { record: OutsideRecord; link: Link }[] = [];
    const missing: string[] = [];
    for (const batch of batches(ids)) {
      const links = await this.parts.store.links(batch);
      const wanted = batch.filter((id) => {
        const link = links.get(id);
        const settled = link && !link.dirty && !link.intent && link.state !== 'making' && link.state !== 'fresh';
        const isAsked = this.parts.reasked.has(id) || this.parts.options.pushed?.has(id);
        return !(changes && settled && !isAsked && link.version === versions.get(id));
      });
      if (!wanted.length) continue;
      const items: PassItem[] = [];
      const records = new Map((await this.parts.tool.read(wanted)).map((record) => [record.id, record]));
      const people = await this.parts.store.people(
        [...links.values()].map(({ contactId }) => contactId).filter((id) => id > 0),
      );
      const extras = await this.extrasAmong([...links.values()], people);
      const unknown: OutsideRecord[] = [];
      const open = new Map<string, Link>();
      for (const id of wanted) {
        this.parts.tally.totals.looked++;
        const link = links.get(id);
        const record = records.get(id);
        if (!record) {
          if (link) missing.push(id);
          continue;
        }
        if (link && isAnother(link, record)) {
          claims.push({ record, link });
          continue;
        }
        const known = link && this.planKnown(link, record, people.get(link.contactId) ?? null, extras.has(id));
        if (known) items.push(...known);
        else if (link?.state === 'asking') {
          open.set(id, link);
          unknown.push(record);
        } else unknown.push(record);
      }
      const { moved, others } = await this.planMoved(unknown);
      await this.put([...items, ...moved, ...(await this.planUnknown(others, open, links))], out);
    }
    // Who moved is known by now: whatever is left at such a place is gone.
    for (const batch of batches(claims)) await this.put(await this.planClaims(batch), out);
    // Only whoever is nowhere else is gone.
    await this.planGone(missing, out);
  }

  /** Records that took the place of other ones: those are forgotten there, unless they were found elsewhere, and these looked up anew. */
  private async planClaims(claims: readonly { record: OutsideRecord; link: Link }[]): Promise<PassItem[]> {
    const { items, store, tally } = this.parts;
    const left = claims.filter(({ link }) => !tally.planned.has(link.outsideId));
    const people = await store.people(left.map(({ link }) => link.contactId).filter((id) => id > 0));
    const gone = left.flatMap(({ link }) =>
      items
        .goneThere({ ...link, outsideId: placeless(link) }, people.get(link.contactId) ?? null)
        .map((item) => ({ ...item, movedFrom: link.outsideId })),
    );
    for (const { record } of claims) tally.planned.delete(record.id);
    const { moved, others } = await this.planMoved(claims.map(({ record }) => record));
    return [...gone, ...moved, ...(await this.planUnknown(others, new Map(), new Map()))];
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
      return this.extra({ ...link, state: 'linked', apart: null }, record, person);
    if (isExtra && link.state === 'apart') return link.dirty || link.intent ? items.note(link, record) : [];
    if (isExtra) return this.extra(link, record, person);
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
    const still = new Map(before.length ? (await tool.read(before)).map((record) => [record.id, record]) : []);
    const people = await store.people([...links.values()].map(({ contactId }) => contactId).filter((id) => id > 0));
    const extras = await this.extrasAmong([...links.values()], people);
    const moved: PassItem[] = [];
    const others: OutsideRecord[] = [];
    for (const record of records) {
      const link = record.uid ? links.get(record.uid) : undefined;
      const there = link && still.get(link.outsideId);
      if (!link || (there && !isAnother(link, there)) || tally.planned.has(link.outsideId)) {
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

  async planGone(ids: readonly string[], out: ItemShelf): Promise<void> {
    for (const batch of batches(ids)) {
      const links = await this.parts.store.links(batch);
      const people = await this.parts.store.people(
        [...links.values()].map(({ contactId }) => contactId).filter((id) => id > 0),
      );
      const extras = await this.extrasAmong([...links.values()], people);
      const { items, tally } = this.parts;
      const gone = [...links.values()].flatMap((link) => {
        if (tally.planned.has(link.outsideId)) return [];
        if (extras.has(link.outsideId)) return this.goneExtra(link);
        return items.goneThere(link, people.get(link.contactId) ?? null);
      });
      await this.put(gone, out);
    }
  }

  /** Plans for contacts here that changed; whoever was looked at from the other side already is passed over. */
  async planOurs(ids: readonly number[], out: ItemShelf): Promise<void> {
    const { items, setup, store, tally } = this.parts;
    const toMake: number[] = [];
    const unseen = new Set<string>();
    const waits = new Set<string>();
    for (const batch of batches(ids)) {
      const people = await store.people(batch);
      const roots = new Map([...people.values()].map((person) => [person.id, person]));
      const links = await store.linksOf([...roots.keys()]);
      const rootOf = await store.people(links.map(({ contactId }) => contactId));
      const byRoot = new Map<number, Link[]>();
      for (const link of links) {
        const root = rootOf.get(link.contactId)?.id ?? link.contactId;
        byRoot.set(root, [...(byRoot.get(root) ?? []), link]);
      }
      for (const [id, person] of roots) {
        tally.totals.looked++;
        const own = byRoot.get(id) ?? [];
        const linked = own.filter(isInStep);
        const [first] = linked;
        if (!first) {
          const verdict = takesPart(setup.scopes, { ...person, theirs: null });
          const waiting = own.find(({ apart }) => apart === 'shared');
          if (waiting) waits.add(waiting.outsideId);
          if (!verdict.takesPart || waiting) continue;
          const parted = own.find(({ state }) => state === 'apart');
          if (parted && COMES_BACK.has(parted.apart)) unseen.add(parted.outsideId);
          else if (parted && !(person.choice === 'send' || setup.whenGoneThere === 'makeAgain')) continue;
          else if (setup.newThere || person.choice === 'send') toMake.push(id);
          continue;
        }
        // Whoever waits for a place and was merged into somebody who is there wants none.
        for (const link of own) if (link.apart === 'shared') out.put(items.waitsNoMore(link, 'merged'));
        if (linked.length > 1) await this.learnSaid(linked);
        for (const link of linked) {
          if (tally.planned.has(link.outsideId)) continue;
          if (link.outsideId !== primary(linked, id).outsideId && link.seen)
            out.put(this.extra(link, link.seen, person));
          else if (!link.seen || link.intent || link.dirty || link.state === 'making') unseen.add(link.outsideId);
          else out.put(items.linked(link, link.seen, person));
        }
      }
    }
    await this.planGone([...waits], out);
    if (unseen.size)
      await this.planTheirs(
        [...unseen].filter((id) => !tally.planned.has(id)),
        null,
        out,
      );
    await this.planMaking([...new Set(toMake)], out);
  }

  /** New ones over there, unless they are there already under nobody's name, or a person is asked about them. */
  private async planMaking(ids: readonly number[], out: ItemShelf): Promise<void> {
    if (!ids.length) return;
    const { items, options, store, tally, tool } = this.parts;
    const asked = await store.askedAbout();
    const there = await this.amongStrangers(new Set(ids), out);
    // Somebody may be about to be linked in this very pass.
    const missing = ids.filter((id) => !asked.has(id) && !there.has(id) && !tally.claimed.has(id));
    for (const batch of batches(missing)) {
      const people = await store.people(batch);
      const made = batch.flatMap((id) => {
        const person = people.get(id);
        return person && items.canBeMade(person)
          ? items.makeThere(freshLink(tool.newId(id, options.nonce), id), person)
          : [];
      });
      await this.put(made, out);
    }
  }

  /** Links those of these contacts who are there already under nobody's name, or asks; gives whom that settles. */
  private async amongStrangers(ids: ReadonlySet<number>, out: ItemShelf): Promise<Set<number>> {
    const { items, setup, store, tally } = this.parts;
    const there = new Set<number>();
    for (const batch of batches(await store.strangers())) {
      const records = batch.flatMap(({ seen }) => (seen ? [seen] : []));
      const identities = await store.identify(records);
      const found = identities.flatMap((one) => (one.who === 'one' && ids.has(one.contactId) ? [one.contactId] : []));
      const people = await store.people(found);
      records.forEach((record, i) => {
        const identity = identities[i];
        if (identity?.who === 'one') {
          const person = people.get(identity.contactId);
          if (!person || there.has(person.id)) return;
          there.add(person.id);
          tally.totals.linked++;
          const verdict = takesPart(setup.scopes, { ...person, theirs: record });
          const scope = verdict.takesPart ? verdict.scope : null;
          out.put(items.pair(freshLink(record.id, person.id), record, person, scope, 'linked'));
        } else if (identity?.who === 'ask') {
          if (!identity.contactIds.some((id) => ids.has(id))) return;
          for (const id of identity.contactIds) there.add(id);
          out.put(items.ask(freshLink(record.id, 0), record, identity));
        }
      });
    }
    return there;
  }

  /** Records over there that have no link yet, and those of which a person is asked. */
  private async planUnknown(
    records: readonly OutsideRecord[],
    open: ReadonlyMap<string, Link>,
    links: ReadonlyMap<string, Link>,
  ): Promise<PassItem[]> {
    if (!records.length) return [];
    const { items, store } = this.parts;
    const { identities, people, taken } = await identify(store, records);
    const asked = identities.flatMap((one) => (one.who === 'ask' ? one.contactIds : []));
    const candidates = await store.people([...new Set(asked)]);
    return records.flatMap((record, i) => {
      const identity = identities[i] ?? { who: 'nobody' };
      const among = identity.who === 'ask' ? identity.contactIds.flatMap((id) => candidates.get(id) ?? []) : [];
      // Whoever takes part by nothing that is known over there may by what is known of them here.
      if (open.has(record.id) || items.mayTakePart(record, identity, people, among))
        return items.identified(record, identity, people, taken, open.get(record.id) ?? null);
      const person = identity.who === 'one' ? (people.get(identity.contactId) ?? null) : null;
      return items.stranger(record, person, links.get(record.id)?.base ?? null);
    });
  }
}
