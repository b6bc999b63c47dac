import { foldText, isRoleMailbox, normOf, postalKey, streetKey } from '../fields';
import { firstText, isAddress, valuesOf, type ContactRecord } from '../model';
import { groupPairs, type MatchGroup, type ScoredPair } from './pairs/group';
import { isSamePhone, lineOf } from './people/keys';
import { organizationWords, usefulPhone } from './people/person';
import { isSlip } from './comparing/text-distance';

/** An organization prepared for comparison: its names without legal form, its own domains, lines and place. */
export interface MatchOrganization {
  /** Words of each name it goes by, the first its own. */
  names: string[][];
  domains: string[];
  phones: string[];
  street: string;
  postal: string;
  locality: string;
}

const NAME_FIELDS = ['organization', 'nickname', 'legalName'] as const;

/** Mailboxes of many people, whose domain is nobody's own. */
const OPEN_DOMAIN = /^(?:mail|inbox|post|web|free)?(?:mail|post|box)\.|^example\./;

function domainOf(text: string): string {
  const host = text
    .toLowerCase()
    .replace(/^[a-z]+:\/\//, '')
    .replace(/^www\./, '')
    .replace(/[/:?#].*$/, '');
  return /^[^\s.]+(?:\.[^\s.]+)+$/.test(host) && !OPEN_DOMAIN.test(host) ? host : '';
}

/** Prepares an organization from its record. */
export function organizationOf(record: ContactRecord): MatchOrganization {
  const address = valuesOf(record, 'adr')
    .map(({ v }) => v)
    .find(isAddress);
  const distinct = (texts: string[]) => [...new Set(texts.filter(Boolean))];
  const mailDomains = valuesOf(record, 'email')
    .map(normOf)
    .filter((mail) => mail.includes('@'))
    .map((mail) => [mail.slice(0, mail.lastIndexOf('@')), mail.slice(mail.lastIndexOf('@') + 1)] as const);
  const texts = distinct(NAME_FIELDS.map((field) => organizationWords(firstText(record, field)).join(' ')));
  return {
    names: texts.map((text) => text.split(' ')),
    domains: distinct([
      domainOf(firstText(record, 'domain')),
      ...valuesOf(record, 'url').map(({ v }) => domainOf(String(v))),
      // The domain of an office's mailbox is its own; a person's may be anybody's.
      ...mailDomains.map(([local, domain]) => (isRoleMailbox(local) ? domainOf(domain) : '')),
    ]),
    phones: distinct(valuesOf(record, 'tel').map((value) => usefulPhone(normOf(value)))),
    street: address?.street ? streetKey(address.street) : '',
    postal: address?.postalCode ? postalKey(address.postalCode) : '',
    locality: address?.locality ? foldText(address.locality) : '',
  };
}

/** How two organizations agree in a field, in words and bits. */
export interface OrganizationReason {
  field: 'name' | 'domain' | 'phone' | 'place' | 'prior' | 'rule';
  text: string;
  bits: number;
}

/** What all organizations together tell: how many there are, and how common each word and name is. */
export interface OrganizationModel {
  count: number;
  words: ReadonlyMap<string, number>;
}

export function learnOrganizations(all: readonly MatchOrganization[]): OrganizationModel {
  const words = new Map<string, number>();
  for (const { names } of all) for (const word of new Set(names.flat())) words.set(word, (words.get(word) ?? 0) + 1);
  return { count: all.length, words };
}

/** Organizations believed in before any data, and how often a rare word is believed to occur among them. */
const BELIEVED = 50;
const RARE = 0.1;

/** Bits that a word in common is worth: the rarer, the more. */
function rarity(model: OrganizationModel, word: string): number {
  return Math.log2((model.count + BELIEVED) / (Math.max(0, (model.words.get(word) ?? 0) - 1) + RARE));
}

const LONG_WORD = 4;
/** No name is worth more than this, however rare; what else agrees has to do the rest. */
const MOST_OF_NAME = 11;
const WEIGHTS = {
  slip: -1.5,
  part: -2.5,
  otherName: -6,
  sameDomain: 9,
  otherDomain: -3,
  samePhone: 7,
  otherPhone: -1,
  sameStreet: 5,
  samePostal: 3,
  sameTown: 1,
  otherTown: -1.5,
} as const;

function nameReason(model: OrganizationModel, a: MatchOrganization, b: MatchOrganization): OrganizationReason {
  let best: OrganizationReason = { field: 'name', text: 'Different names', bits: WEIGHTS.otherName };
  const worth = (words: readonly string[]) =>
    Math.min(
      MOST_OF_NAME,
      words.reduce((sum, word) => sum + Math.max(0.5, rarity(model, word)), 0),
    );
  for (const x of a.names)
    for (const y of b.names) {
      const [short, long] = x.length <= y.length ? [x, y] : [y, x];
      const shown = x.join(' ') === y.join(' ') ? x.join(' ') : `${x.join(' ')} / ${y.join(' ')}`;
      const common = short.filter((word) => long.includes(word) || long.some((other) => isSlip(word, other)));
      const found: OrganizationReason | null =
        x.join('') === y.join('')
          ? { field: 'name', text: `Same name, ${shown}`, bits: worth(x) }
          : isSlip(x.join(''), y.join('')) || common.length === long.length
            ? { field: 'name', text: `Names a slip apart, ${shown}`, bits: worth(short) + WEIGHTS.slip }
            : common.length === short.length && common.some((word) => word.length >= LONG_WORD)
              ? { field: 'name', text: `One name within the other, ${shown}`, bits: worth(common) + WEIGHTS.part }
              : null;
      if (found && found.bits > best.bits) best = found;
    }
  return best;
}

function placeReason(a: MatchOrganization, b: MatchOrganization): OrganizationReason | null {
  const there = (o: MatchOrganization) => o.street !== '' || o.postal !== '' || o.locality !== '';
  if (!there(a) || !there(b)) return null;
  const postal = a.postal !== '' && a.postal === b.postal;
  const town = a.locality !== '' && a.locality === b.locality;
  if (a.street !== '' && a.street === b.street && (postal || town))
    return { field: 'place', text: 'Same street address', bits: WEIGHTS.sameStreet };
  if (postal) return { field: 'place', text: 'Same postal code', bits: WEIGHTS.samePostal };
  if (town) return { field: 'place', text: 'Same town', bits: WEIGHTS.sameTown };
  return { field: 'place', text: 'Different places', bits: WEIGHTS.otherTown };
}

/**
 * Why two organizations are, or are not, taken for one; the bits add up to the verdict. Symmetric. The legal form of a name
 * says nothing, and a name alone is never certain: branches and namesakes are many.
 */
export function explainOrganizations(
  model: OrganizationModel,
  a: MatchOrganization,
  b: MatchOrganization,
): OrganizationReason[] {
  const reasons: OrganizationReason[] = [nameReason(model, a, b)];
  if (a.domains.length && b.domains.length) {
    const same = a.domains.find((domain) => b.domains.includes(domain));
    reasons.push(
      same
        ? { field: 'domain', text: `Same web domain, ${same}`, bits: WEIGHTS.sameDomain }
        : { field: 'domain', text: 'Different web domains', bits: WEIGHTS.otherDomain },
    );
  }
  if (a.phones.length && b.phones.length)
    reasons.push(
      a.phones.some((x) => b.phones.some((y) => isSamePhone(x, y)))
        ? { field: 'phone', text: 'Same phone', bits: WEIGHTS.samePhone }
        : { field: 'phone', text: 'Different phones', bits: WEIGHTS.otherPhone },
    );
  const place = placeReason(a, b);
  if (place) reasons.push(place);
  reasons.sort((x, y) => Math.abs(y.bits) - Math.abs(x.bits));
  reasons.push({
    field: 'prior',
    text: 'Starting odds, given how many organizations there are',
    bits: -Math.log2(Math.max(8, model.count * 4)),
  });
  const beside = reasons.some(
    ({ field, bits }) => bits >= WEIGHTS.samePostal && (field === 'domain' || field === 'phone' || field === 'place'),
  );
  const total = reasons.reduce((sum, reason) => sum + reason.bits, 0);
  if (!beside && total > NAME_ALONE_BITS)
    reasons.push({ field: 'rule', text: 'A name alone is never certain', bits: NAME_ALONE_BITS - total });
  return reasons;
}

/** Below certain, above likely, as shipped. */
const NAME_ALONE_BITS = 6;

export function scoreOrganizations(model: OrganizationModel, a: MatchOrganization, b: MatchOrganization): number {
  return explainOrganizations(model, a, b).reduce((sum, reason) => sum + reason.bits, 0);
}

/** Keys that bring organizations together to be compared. */
function keysOf({ names, domains, phones }: MatchOrganization): string[] {
  return [
    ...names.map((words) => `n:${words.join('').slice(0, 6)}`),
    ...names.flatMap((words) => words.filter((word) => word.length >= LONG_WORD).map((word) => `w:${word}`)),
    ...domains.map((domain) => `d:${domain}`),
    ...phones.map((phone) => `p:${lineOf(phone)}`),
  ];
}

/** A word that more organizations than this share brings nobody together. */
const BLOCK_LIMIT = 80;

/** Organizations by the keys that bring them together, with a model learned from them: who one that is looked at may be. */
export class OrganizationBook {
  private readonly byKey = new Map<string, number[]>();

  constructor(
    private readonly all: readonly MatchOrganization[],
    readonly model: OrganizationModel = learnOrganizations(all),
  ) {
    all.forEach((one, i) => {
      for (const key of new Set(keysOf(one))) {
        const block = this.byKey.get(key);
        if (block) block.push(i);
        else this.byKey.set(key, [i]);
      }
    });
  }

  /** Blocks of those who share a key; what many share is passed over. */
  *blocks(): Iterable<readonly number[]> {
    for (const members of this.byKey.values()) if (members.length <= BLOCK_LIMIT) yield members;
  }

  /** Those who may be the same as one, by their place, with their weight in bits; the likeliest first. */
  likely(one: MatchOrganization, leastBits: number): { at: number; bits: number }[] {
    const near = new Set(
      keysOf(one).flatMap((key) => {
        const block = this.byKey.get(key) ?? [];
        return block.length <= BLOCK_LIMIT ? block : [];
      }),
    );
    return [...near]
      .map((at) => ({ at, bits: scoreOrganizations(this.model, one, this.all[at] as MatchOrganization) }))
      .filter(({ bits }) => bits >= leastBits)
      .sort((a, b) => b.bits - a.bits || a.at - b.at);
  }
}

/** Finds organizations that are one. Sets are weighed by the mean of their pairs. Cost near linear in their number. */
export function matchOrganizations(
  all: readonly MatchOrganization[],
  thresholdBits: number,
  isKeptApart: (a: number, b: number) => boolean = () => false,
  known?: OrganizationModel,
): { model: OrganizationModel; groups: MatchGroup[]; comparedPairs: number } {
  const book = new OrganizationBook(all, known);
  const { model } = book;
  const seen = new Set<string>();
  const pairs: ScoredPair[] = [];
  const bitsOf = (a: number, b: number): number => {
    const [x, y] = [all[a], all[b]];
    return x && y ? scoreOrganizations(model, x, y) : -40;
  };
  for (const members of book.blocks()) {
    for (let i = 0; i < members.length; i++)
      for (let j = i + 1; j < members.length; j++) {
        const [a, b] = [members[i] ?? 0, members[j] ?? 0];
        const key = `${a}:${b}`;
        if (seen.has(key) || isKeptApart(a, b)) continue;
        seen.add(key);
        const bits = bitsOf(a, b);
        if (bits >= thresholdBits) pairs.push({ a, b, bits });
      }
  }
  const groups = groupPairs(pairs, thresholdBits, (x, y) => {
    let sum = 0;
    for (const a of x)
      for (const b of y) {
        if (isKeptApart(a, b)) return -Infinity;
        sum += bitsOf(a, b);
      }
    return sum / (x.length * y.length);
  });
  return { model, groups, comparedPairs: seen.size };
}
