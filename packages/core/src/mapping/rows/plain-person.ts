import {
  foldText,
  formatPhone,
  foundIn,
  foundInAddress,
  isPlaceholderDate,
  joinName,
  postalKey,
  summaryOfName,
  type ContactSummary,
} from '../../fields';
import {
  keyHash,
  mailboxKey,
  organizationWords,
  phoneBlock,
  preparePerson,
  soundKeys,
  usefulPhone,
  wholeNameKeys,
} from '../../matching';
import type { AddressValue } from '../../model';
import type { CandidateValue } from '../../writing';
import type { Recogniser } from '../mapping';
import { externalKey, type IdentityCard, type IdentityKey } from './recognise';

/** A value as it is said: its JSON with content, normal form and label, without the closing bracket. */
export interface SaidValue {
  value: CandidateValue;
  said: string;
}

/** The values that a row has for one field, several only where the field may have several. */
export interface PlainField {
  key: string;
  several: boolean;
  values: SaidValue[];
}

/**
 * A row that reads without a doubt and names one person, with everything that is made of it when that person is new: what
 * the long way makes through candidate, record and summary.
 */
export interface PlainRow {
  /** In the order in which the record has them. */
  fields: PlainField[];
  summary: ContactSummary;
  address: AddressValue | null;
  /** What somebody here or in the file is recognised by. */
  keys: IdentityKey[];
  /** Numbers of the look-up keys, each once. */
  hashes: number[];
  card: IdentityCard;
  /** Keys of its mailboxes. */
  mailboxes: string[];
}

/** One word in plain letters; of those, a placeholder has been found out as a cell. */
const WORD = /^[A-Za-z]{2,60}$/;
const TEXTS_KEPT = 5000;

/** Texts worked out before, forgotten all at once when they become many. */
class Kept<T> {
  private readonly known = new Map<string, T>();

  constructor(private readonly make: (text: string) => T) {}

  of(text: string): T {
    const known = this.known.get(text);
    if (known !== undefined) return known;
    const made = this.make(text);
    if (this.known.size >= TEXTS_KEPT) this.known.clear();
    this.known.set(text, made);
    return made;
  }
}

interface PersonName {
  given: string[];
  givenText: string;
  family: string[];
  familyText: string;
  foldedGiven: string;
  foldedFamily: string;
  generation: string;
  script: IdentityCard['script'];
  unreadable: boolean;
}

/** What a row has to be looked into for beside its values, by field. */
export const LOOKED_AT = [
  'givenName',
  'familyName',
  'email',
  'tel',
  'adr',
  'organization',
  'bday',
  'externalId',
  'tags',
  'stage',
  'source',
  'owner',
  'title',
  'legalName',
  'note',
] as const;
/** What of that somebody is only found by. */
const BESIDE = ['title', 'legalName', 'note'] as const;
export type LookedAt = (typeof LOOKED_AT)[number];

/** Makes of the values of a row what a new person is found, shown and recognised by. */
export class PlainPeople {
  private readonly foldedText = new Kept(foldText);
  private readonly postal = new Kept(postalKey);
  private readonly organization = new Kept((text: string) => {
    const words = organizationWords(text).join('');
    return { words, hash: words ? keyHash(`o:${words}`) : null };
  });
  private readonly hashOfText = new Kept(keyHash);

  constructor(private readonly recognise: readonly Recogniser[]) {}

  /** The row of these values, of which `filled` are in fields worth having; null where the name has to be looked into. */
  rowOf(
    fields: PlainField[],
    fieldOf: (key: LookedAt) => PlainField | undefined,
    address: AddressValue | null,
    filled: number,
  ): PlainRow | null {
    const valuesOf = (key: LookedAt) => fieldOf(key)?.values ?? NONE;
    const textOf = (key: LookedAt) => {
      const v = valuesOf(key)[0]?.value.v;
      return typeof v === 'string' ? v : '';
    };
    const given = textOf('givenName');
    const family = textOf('familyName');
    if (!given || !family) return null;
    const name = this.nameOf(given, family);
    if (!name) return null;
    const emails = valuesOf('email');
    const tels = valuesOf('tel');
    const ids = valuesOf('externalId');
    const tags = valuesOf('tags').map(({ value }) => String(value.v));
    const organizationText = textOf('organization');
    const organization = organizationText ? this.organization.of(organizationText) : null;
    const boxes: string[] = [];
    for (const { value } of emails) {
      const box = mailboxKey(normOf(value));
      if (box) boxes.push(box);
    }
    const phones: string[] = [];
    for (const { value } of tels) {
      const phone = usefulPhone(normOf(value));
      if (phone && !phones.includes(phone)) phones.push(phone);
    }
    const bday = textOf('bday');
    // Written out, since an object that is spread and added to costs twenty times as much.
    const card: IdentityCard = {
      given: name.given,
      givenText: name.givenText,
      nickname: '',
      unreadable: name.unreadable,
      script: name.script,
      family: name.family,
      familyText: name.familyText,
      familyInferred: false,
      generation: name.generation,
      postal: address?.postalCode ? this.postal.of(address.postalCode) : '',
      locality: address?.locality ? this.foldedText.of(address.locality) : '',
      bday: bday && !isPlaceholderDate(bday) ? bday : '',
      organizationText: organization?.words ?? '',
      phones,
      hasMailbox: boxes.length > 0,
      ids: ids.map(({ value }) => externalKey(String(value.v))),
    };
    const { keys, hashes } = this.keysOf(card, boxes, ids);
    if (organization?.hash) addOnce(hashes, organization.hash);
    for (const { value } of ids) addOnce(hashes, keyHash(externalKey(String(value.v))));
    for (const tag of tags) addOnce(hashes, this.hashOfText.of(`t:${tag.toLowerCase()}`));
    const [tel] = tels;
    const summary = summaryOfName({
      displayName:
        ASCII.test(given) && ASCII.test(family)
          ? `${given} ${family}`
          : joinName({ givenName: given, familyName: family }),
      given,
      family,
      foldedGiven: name.foldedGiven,
      foldedFamily: name.foldedFamily,
      emails: emails.map(({ value }) => normOf(value)),
      phones: tels.map(({ value }) => normOf(value)),
      email: emails[0] ? String(emails[0].value.v) : '',
      tel: tel ? (tel.value.norm ? formatPhone(tel.value.norm) : String(tel.value.v)) : '',
      organization: organizationText,
      foldedOrganization: organizationText ? this.foldedText.of(organizationText) : '',
      foundBeside: this.foundBeside(valuesOf, address),
      stage: textOf('stage'),
      source: textOf('source'),
      owner: textOf('owner'),
      tags,
      filled,
    });
    return { fields, summary, address, keys, hashes, card, mailboxes: boxes };
  }

  private foundBeside(valuesOf: (key: LookedAt) => readonly SaidValue[], address: AddressValue | null): string[] {
    const parts: string[] = [];
    for (const key of BESIDE) for (const { value } of valuesOf(key)) parts.push(foundIn(String(value.v)));
    return address ? [...parts, ...foundInAddress(address)] : parts;
  }

  /** The name prepared for comparison; null where nothing of it is left, and the mailbox might tell it. */
  private nameOf(given: string, family: string): PersonName | null {
    if (WORD.test(given) && WORD.test(family)) {
      const givenText = given.toLowerCase();
      const familyText = family.toLowerCase();
      return {
        given: [givenText],
        givenText,
        family: [familyText],
        familyText,
        foldedGiven: givenText,
        foldedFamily: familyText,
        generation: '',
        script: '',
        unreadable: false,
      };
    }
    const person = preparePerson({ givenName: given, familyName: family });
    if (!person.given.length || !person.family.length) return null;
    const { givenText, familyText, generation, script, unreadable } = person;
    return {
      given: person.given,
      givenText,
      family: person.family,
      familyText,
      foldedGiven: foldText(given),
      foldedFamily: foldText(family),
      generation,
      script,
      unreadable,
    };
  }

  private keysOf(
    card: IdentityCard,
    boxes: readonly string[],
    ids: readonly SaidValue[],
  ): { keys: IdentityKey[]; hashes: number[] } {
    const mailboxes = boxes.map((box): IdentityKey => keyOf('email', `e:${box}`, box));
    const lines = card.phones.map((phone): IdentityKey => keyOf('tel', `p:${phoneBlock(phone)}`, phone));
    const names = wholeNameKeys(card).map((key): IdentityKey =>
      keyOf('name', key, `${card.given[0]} ${card.familyText}`),
    );
    const keys: IdentityKey[] = [];
    for (const by of this.recognise) {
      if (by === 'email') keys.push(...mailboxes);
      else if (by === 'tel') keys.push(...lines);
      else if (by === 'name') keys.push(...names);
      else for (const { value } of ids) keys.push(keyOf('externalId', externalKey(String(value.v)), String(value.v)));
    }
    const hashes: number[] = [];
    for (const { hash } of mailboxes) addOnce(hashes, hash);
    for (const { hash } of lines) addOnce(hashes, hash);
    for (const key of soundKeys(card)) addOnce(hashes, keyHash(key));
    for (const { hash } of names) addOnce(hashes, hash);
    return { keys, hashes };
  }
}

function keyOf(by: IdentityKey['by'], key: string, shown: string): IdentityKey {
  return { by, key, hash: keyHash(key), shown };
}

function addOnce(hashes: number[], hash: number): void {
  if (!hashes.includes(hash)) hashes.push(hash);
}

const normOf = ({ v, norm }: CandidateValue): string => norm ?? String(v);
const NONE: readonly SaidValue[] = [];
const ASCII = /^[\x20-\x7e]*$/;
