import type { OutsideRecord } from './outside';
import { isBack, isInStep, primary } from './pass-item';
import type { Identity, Link, OurPerson, SyncStore } from './ports';

export interface Identified {
  identities: Identity[];
  people: Map<number, OurPerson>;
  /** Contacts among them that have a record over there already. */
  taken: Set<number>;
}

/** Step two of a pass: who records over there are that have no link yet. Writes nothing. */
export async function identify(store: SyncStore, records: readonly OutsideRecord[]): Promise<Identified> {
  const identities = await store.identify(records);
  const ids = identities.flatMap((one) => (one.who === 'one' ? [one.contactId] : []));
  const people = await store.people(ids);
  const links = await store.linksOf([...people.values()].map(({ id }) => id));
  const taken = new Set(links.filter(isInStep).map(({ contactId }) => contactId));
  for (const id of ids) {
    const person = people.get(id);
    if (person && taken.has(id)) taken.add(person.id);
  }
  return { identities, people, taken };
}

/** Of these, records over there whose contact has another record there that is kept in step: after a merge here. */
export async function findExtras(
  store: SyncStore,
  links: readonly Link[],
  people: ReadonlyMap<number, OurPerson>,
): Promise<Set<string>> {
  const rootOfLink = ({ contactId }: Link) => people.get(contactId)?.id ?? contactId;
  const doubtful = links.filter(
    (link) => link.contactId > 0 && (isInStep(link) ? rootOfLink(link) !== link.contactId : isBack(link)),
  );
  if (!doubtful.length) return new Set();
  const all = (await store.linksOf([...new Set(doubtful.map(rootOfLink))])).filter(isInStep);
  const rootOf = await store.people(all.map(({ contactId }) => contactId));
  return new Set(
    doubtful.flatMap((link) => {
      const root = rootOfLink(link);
      const own = all.filter(({ contactId }) => (rootOf.get(contactId)?.id ?? contactId) === root);
      return own.length && primary(own, root).outsideId !== link.outsideId ? [link.outsideId] : [];
    }),
  );
}
