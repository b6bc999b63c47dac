import { handedTo, waitingLink } from './hand-over';
import type { OutsideRecord } from './outside';
import { freshLink, isInStep, isNobody, type PassItem, type SyncSetup } from './pass-item';
import type { PassTally } from './pass-tally';
import type { ItemPlanner } from './plan-item';
import type { Link, OurPerson, SyncStore, Tool } from './ports';
import { takesPart } from './scope';

interface PlacesParts {
  store: SyncStore;
  tool: Tool;
  setup: SyncSetup;
  tally: PassTally;
  items: ItemPlanner;
}

interface Wanting {
  item: PassItem;
  contactId: number;
  place: string;
}

/** What is made waits for nothing. */
const asMade = (item: PassItem): PassItem =>
  item.link.waitsFor === null ? item : { ...item, link: { ...item.link, waitsFor: null } };

/**
 * Whose a record is, for tools that find it by an address: of several people with one address one has it, and the others wait. It stays
 * with whoever has it; a free one goes to the one who was here first, or to the one whom a person named. Law: no two people are in step
 * with one place, and nobody waits for a place that is nobody's, but for those of whom a person has to name one.
 */
export class Places {
  /** Places that are given to somebody in this very pass. */
  private readonly given = new Map<string, number>();

  constructor(private readonly parts: PlacesParts) {}

  /** The same items, but for those that are to be made at a place that is not free. */
  async settle(items: readonly PassItem[]): Promise<PassItem[]> {
    const wanting = new Map(items.flatMap((item) => this.wantingOf(item)).map((one) => [one.item, one]));
    if (!wanting.size) return items.map((item) => (item.action === 'makeThere' ? asMade(item) : item));
    const { store } = this.parts;
    const places = [...new Set([...wanting.values()].map(({ place }) => place))];
    const links = await store.links(places);
    const waiting = this.parts.setup.whoShares === 'ask' ? await store.waitingFor(places) : [];
    const ids = [...wanting.values()].map(({ contactId }) => contactId);
    const people = await store.people([...ids, ...[...links.values()].map(({ contactId }) => contactId)]);
    const settled = new Map<PassItem, PassItem[]>();
    // Whoever was here first is looked at first.
    for (const one of [...wanting.values()].sort((a, b) => a.contactId - b.contactId)) {
      const rivals = new Set([
        ...[...wanting.values()].filter(({ place }) => place === one.place).map(({ contactId }) => contactId),
        ...waiting.filter(({ waitsFor }) => waitsFor === one.place).map(({ contactId }) => contactId),
      ]);
      settled.set(one.item, this.settleOne(one, links.get(one.place), people, rivals.size));
    }
    return items.flatMap((item) => settled.get(item) ?? [asMade(item)]);
  }

  private wantingOf(item: PassItem): Wanting[] {
    const { person, plan, action } = item;
    if (action !== 'makeThere' || !person || !plan?.fields) return [];
    const place = this.parts.tool.placeOf?.(plan.fields) ?? null;
    return place === null ? [] : [{ item, contactId: person.id, place }];
  }

  private settleOne(
    { item, contactId, place }: Wanting,
    there: Link | undefined,
    people: ReadonlyMap<number, OurPerson>,
    rivals: number,
  ): PassItem[] {
    const holder = this.given.get(place) ?? (there && isInStep(there) ? people.get(there.contactId)?.id : undefined);
    // A person is asked who is at that place, or it is dealt with in this very pass: the next one knows whether it is free.
    const isOwn = item.link.outsideId === place;
    const isOpen = there?.state === 'asking' || (there !== undefined && !isOwn && this.parts.tally.planned.has(place));
    if (holder === contactId && there && !isOwn && isInStep(there)) return this.hasIt(item);
    if ((holder !== undefined && holder !== contactId) || isOpen) return this.waits(item, place);
    const isNamed = item.link.waitsFor === place && item.link.dirty;
    if (this.parts.setup.whoShares === 'ask' && rivals > 1 && !isNamed) return this.waits(item, place);
    if (there && !isOwn && there.version !== '' && !isInStep(there)) {
      const [person, record] = [people.get(contactId), there.seen];
      // An entry that is nobody's here may be theirs: a person says so. One that was left out stays as it is.
      if (isNobody(there) && record) return [...this.asks(there, record, contactId), ...this.waits(item, place)];
      if (there.contactId <= 0 || !person) return this.waits(item, place);
      if (there.contactId !== contactId) {
        this.given.set(place, contactId);
        return this.takesOver(item, there, person);
      }
    }
    this.given.set(place, contactId);
    return [asMade(item)];
  }

  private asks({ outsideId }: Link, record: OutsideRecord, contactId: number): PassItem[] {
    return this.parts.items.ask(freshLink(outsideId, 0), record, { contactIds: [contactId], band: 'likely' });
  }

  /** Whoever waited has the place by now. */
  private hasIt({ link }: PassItem): PassItem[] {
    this.parts.tally.totals.madeThere--;
    return link.waitsFor === null ? [] : this.parts.items.waitsNoMore(link, 'merged');
  }

  /** What was to be made has its place taken: it waits, and is told once. */
  private waits({ link, person }: PassItem, place: string): PassItem[] {
    const { tally } = this.parts;
    tally.totals.madeThere--;
    const note = { person, plan: null, action: 'note' as const, operations: [] };
    if (link.waitsFor === place && !link.dirty) return [];
    tally.totals.shared++;
    const waiting = waitingLink(link.outsideId, link.contactId, place);
    return [{ ...note, link: waiting, event: 'apart', apart: 'shared' }];
  }

  /** Somebody who was to be made has a record there already, that was somebody else's: it says from now on what is here. */
  private takesOver(making: PassItem, there: Link, person: OurPerson): PassItem[] {
    const { items, setup, tally } = this.parts;
    const verdict = takesPart(setup.scopes, { ...person, theirs: there.seen });
    if (!verdict.takesPart || !there.seen) return [asMade(making)];
    tally.totals.madeThere--;
    tally.totals.linked++;
    const link = handedTo(there, person.id, setup);
    return items
      .pair(link, there.seen, person, verdict.scope, 'linked')
      .map((item) => ({ ...item, movedFrom: making.link.outsideId }));
  }
}
