import { expect, test } from '@jest/globals';
import type { ContactRecord } from '../model';
import { explainOrganizations, learnOrganizations, matchOrganizations, organizationOf } from './organizations';

interface Said {
  name: string;
  email?: string;
  url?: string;
  tel?: string;
  street?: string;
  locality?: string;
}

function organization({ name, email, url, tel, street, locality }: Said) {
  const record: ContactRecord = { n: 9, f: { organization: [{ slot: 0, v: name, run: 1 }] } };
  const put = (field: string, v: unknown, norm?: string) => {
    record.f[field] = [{ slot: 1, v: v as string, run: 1, ...(norm ? { norm } : {}) }];
  };
  if (email) put('email', email);
  if (url) put('url', url);
  if (tel) put('tel', tel, tel);
  if (street || locality) put('adr', { street, locality });
  return organizationOf(record);
}

const OTHERS =
  'Larch Heron Quay Rope Sail Tide Spar Keel Oak Anchor Brass Cedar Dory Eddy Fathom Gaff Halyard Ketch Lugger Mast'
    .split(' ')
    .flatMap((word, i) => [
      organization({ name: `${word} Timber Ltd`, tel: `+4416329607${10 + i}` }),
      organization({ name: `${word} Sails`, url: `https://${word.toLowerCase()}-sails.example` }),
    ]);

const found = (...these: ReturnType<typeof organization>[]) => {
  const all = [...OTHERS, ...these];
  return matchOrganizations(all, 3.17).groups.map(({ members }) => members.map((i) => i - OTHERS.length));
};

test('the legal form of a name says nothing, and a domain makes it certain', () => {
  expect(
    found(
      organization({ name: 'Tern Joinery Limited', url: 'https://www.tern-joinery.example/contact' }),
      organization({ name: 'TERN JOINERY', email: 'info@tern-joinery.example' }),
    ),
  ).toEqual([[0, 1]]);
});

test('what many do is no sign: two timber merchants are two', () => {
  expect(found(organization({ name: 'Wren Timber Ltd' }), organization({ name: 'Finch Timber Ltd' }))).toEqual([]);
});

test('one line and a name within the other are enough; two domains are not one', () => {
  expect(
    found(
      organization({ name: 'Wren Boatyard', tel: '+441632960301' }),
      organization({ name: 'Wren Boatyard and Chandlery', tel: '+441632960301' }),
    ),
  ).toEqual([[0, 1]]);
  expect(
    found(
      organization({ name: 'Wren Boatyard', url: 'wren-boatyard.example', locality: 'Oban' }),
      organization({ name: 'Wren Boatyard', url: 'wrenboats.test', locality: 'Maldon' }),
    ),
  ).toEqual([]);
});

test('a name alone is never certain, however few there are', () => {
  const two = [organization({ name: 'Jessop & Strand' }), organization({ name: 'Jessop and Strand GmbH' })] as const;
  const { model, groups } = matchOrganizations(two, 3.17);
  expect(groups).toHaveLength(1);
  expect(groups[0]?.weakestBits).toBeLessThan(7.6);
  expect(explainOrganizations(model, ...two).at(-1)?.text).toBe('A name alone is never certain');
});

test('the verdict does not depend on the order of the two', () => {
  const model = learnOrganizations(OTHERS);
  const [a, b] = [OTHERS[0], OTHERS[2]] as [(typeof OTHERS)[0], (typeof OTHERS)[0]];
  const bits = (x: typeof a, y: typeof b) => explainOrganizations(model, x, y).reduce((sum, one) => sum + one.bits, 0);
  expect(bits(a, b)).toBeCloseTo(bits(b, a), 9);
});
