import { firstText, isAddress, valuesOf, type AddressValue, type ContactRecord, type ValueContent } from '../../model';
import { normOf } from '../../fields';
import type { PersonFacts } from './person-facts';

const NOWHERE: AddressValue = {};

function addressOf(v: ValueContent | undefined): AddressValue {
  return isAddress(v) ? v : NOWHERE;
}

/** The fields that the matching engine reads. */
export const FACT_FIELDS: readonly string[] =
  'givenName additionalNames familyName suffix nickname fullName organization title email tel bday adr'.split(' ');

/** What a contact's values tell the matching engine. */
export function factsOf(record: ContactRecord): PersonFacts {
  const address = addressOf(valuesOf(record, 'adr')[0]?.v);
  // Written out, since an object that is spread and added to costs twenty times as much.
  return {
    givenName: firstText(record, 'givenName'),
    additionalNames: firstText(record, 'additionalNames'),
    familyName: firstText(record, 'familyName'),
    fullName: firstText(record, 'fullName'),
    organization: firstText(record, 'organization'),
    emails: valuesOf(record, 'email').map(normOf),
    phones: valuesOf(record, 'tel').map(normOf),
    suffix: firstText(record, 'suffix'),
    nickname: firstText(record, 'nickname'),
    title: firstText(record, 'title'),
    bday: firstText(record, 'bday'),
    street: address.street,
    locality: address.locality,
    region: address.region,
    postalCode: address.postalCode,
    country: address.country,
  };
}

/** Of the same only what look-up keys are made of: names, mailboxes, phones and the organization. */
export function keyFactsOf(record: ContactRecord): PersonFacts {
  return {
    givenName: firstText(record, 'givenName'),
    additionalNames: firstText(record, 'additionalNames'),
    familyName: firstText(record, 'familyName'),
    fullName: firstText(record, 'fullName'),
    organization: firstText(record, 'organization'),
    emails: valuesOf(record, 'email').map(normOf),
    phones: valuesOf(record, 'tel').map(normOf),
  };
}

/** The same of values that are nobody's yet, by field key. */
export function candidateFacts(values: Record<string, { v: ValueContent; norm?: string }[] | undefined>): PersonFacts {
  const text = (field: string) => {
    const v = values[field]?.[0]?.v;
    return typeof v === 'string' ? v : '';
  };
  const address = addressOf(values.adr?.[0]?.v);
  return {
    givenName: text('givenName'),
    additionalNames: text('additionalNames'),
    familyName: text('familyName'),
    suffix: text('suffix'),
    nickname: text('nickname'),
    fullName: text('fullName'),
    organization: text('organization'),
    title: text('title'),
    emails: (values.email ?? []).map((value) => value.norm ?? String(value.v)),
    phones: (values.tel ?? []).map((value) => value.norm ?? String(value.v)),
    bday: text('bday'),
    street: address.street,
    locality: address.locality,
    region: address.region,
    postalCode: address.postalCode,
    country: address.country,
  };
}
