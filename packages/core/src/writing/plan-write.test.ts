import { describe, expect, test } from '@jest/globals';
import { Catalogue } from '../fields';
import { applyOperations, emptyRecord, type ContactRecord } from '../model';
import type { Candidate } from './candidate';
import { planWrite, recordFrom, type WriteRule } from './plan-write';

const catalogue = new Catalogue();
const ana: Candidate = {
  givenName: [{ v: 'Ana' }],
  familyName: [{ v: 'Reis' }],
  email: [{ v: 'ana@example.org' }],
  adr: [{ v: { street: '14 Slip Lane', locality: 'Falmouth' } }],
  tags: [{ v: 'regatta' }],
};
const here = recordFrom(ana, catalogue, { run: 1, row: 5 });
const plan = (record: ContactRecord, candidate: Candidate, rule: WriteRule) =>
  planWrite(9, record, candidate, () => rule, catalogue, { run: 2, row: 8 });

describe('write rules', () => {
  test('saying the same again writes nothing', () => expect(plan(here, ana, 'replace').operations).toEqual([]));
  test('filling blanks leaves what is there', () => {
    const { operations, filled, replaced } = plan(
      here,
      { givenName: [{ v: 'Anna' }], organization: [{ v: 'Tern Joinery' }] },
      'fill',
    );
    expect(operations.map((operation) => operation.field)).toEqual(['organization']);
    expect({ filled, replaced }).toEqual({ filled: 1, replaced: 0 });
  });
  test('replacing takes the place and knows what was there', () => {
    const { operations, replaced } = plan(here, { givenName: [{ v: 'Anna' }] }, 'replace');
    expect(replaced).toBe(1);
    expect(operations[0]).toMatchObject({ before: { v: 'Ana', run: 1, row: 5 }, after: { v: 'Anna', run: 2, row: 8 } });
  });
  test.each<[string, { now?: number; then?: number }, string]>([
    ['what is newer takes the place', { now: 2000 }, 'Anna'],
    ['what is older does not', { now: 500 }, 'Ana'],
    ['as old is not newer', { now: 1000 }, 'Ana'],
    ['the time a value had at its source counts for it', { now: 2000, then: 3000 }, 'Ana'],
    ['what has no time of its own is as new as its run', {}, 'Anna'],
  ])('the newest stands: %s', (_name, { now, then }, stands) => {
    const timeOfRun = (run: number) => (run === 1 ? 1000 : 5000);
    const [given] = here.f.givenName ?? [];
    if (!given) throw new Error('there is no given name');
    const record = { ...here, f: { ...here.f, givenName: [then ? { ...given, atMs: then } : given] } };
    const offered: Candidate = { givenName: [{ v: 'Anna', ...(now ? { atMs: now } : {}) }] };
    const { operations } = planWrite(9, record, offered, () => 'newest', catalogue, { run: 2, timeOfRun });
    const applied = applyOperations(record, operations);
    expect(applied.ok && applied.value.f.givenName?.[0]?.v).toBe(stands);
  });
  test('where a person is asked nothing is planned for the field, the rest goes on', () => {
    const { operations, asked } = plan(
      here,
      { givenName: [{ v: 'Anna' }], title: [{ v: 'Skipper' }], familyName: [{ v: 'Reis' }] },
      'ask',
    );
    expect(operations.map(({ field }) => field)).toEqual(['title']);
    expect(asked).toEqual([{ field: 'givenName', before: here.f.givenName?.[0], offered: { v: 'Anna' } }]);
  });
  test('several values are united by normal form under either rule', () => {
    const { operations } = plan(
      here,
      {
        email: [{ v: 'ANA@example.org', norm: 'ana@example.org' }, { v: 'work@tern.example' }],
        tags: [{ v: 'Regatta' }],
      },
      'replace',
    );
    expect(operations).toHaveLength(1);
    expect(operations[0]?.after).toMatchObject({ v: 'work@tern.example', slot: here.n, rank: 1 });
  });
  test('an address that agrees completes the one that is there', () => {
    const { operations } = plan(here, { adr: [{ v: { street: '14 Slip Ln', postalCode: 'TR11 3AB' } }] }, 'fill');
    expect(operations[0]?.after?.v).toEqual({ street: '14 Slip Lane', locality: 'Falmouth', postalCode: 'TR11 3AB' });
  });
  test('a name written whole is not laid upon known parts', () =>
    expect(plan(here, { fullName: [{ v: 'Ana Reis' }] }, 'fill').operations).toEqual([]));
  test('planning after applying plans nothing', () => {
    const offered: Candidate = {
      ...ana,
      note: [{ v: 'Prefers larch' }],
      tel: [
        { v: '07700 900301', norm: '+447700900301' },
        { v: '+44 7700 900301', norm: '+447700900301' },
      ],
    };
    const applied = applyOperations(here, plan(here, offered, 'replace').operations);
    expect(applied.ok && plan(applied.value, offered, 'replace').operations).toEqual([]);
    expect(applied.ok && applied.value.f.tel).toHaveLength(1);
  });
  test('a new record is the same as planning into an empty one', () => {
    const applied = applyOperations(
      emptyRecord(),
      planWrite(1, emptyRecord(), ana, () => 'fill', catalogue, { run: 1, row: 5 }).operations,
    );
    expect(applied.ok && applied.value.f).toEqual(here.f);
  });
});
