import { expect, test } from '@jest/globals';
import { ItemShelf, type ItemCodec } from './item-shelf';
import { freshLink, type PassItem } from './pass-item';

const item = (n: number, stop = false): PassItem => ({
  link: freshLink(`there-${n}`, n),
  person: { id: n, version: 1, record: { n: 1, f: {} } },
  plan: stop
    ? {
        operations: [],
        fields: null,
        labels: null,
        stopHere: ['call'],
        stopThere: [],
        baseHere: {},
        base: {},
        conflicts: [],
        changes: [],
      }
    : null,
  action: 'pair',
  operations: [],
});
const many = Array.from({ length: 250 }, (_, n) => item(n, n % 90 === 0));
const ids = (items: Iterable<PassItem>) => [...items].map(({ link }) => link.contactId);

test('gives all that was put, those with a stop first, as often as it is gone through', () => {
  const shelf = new ItemShelf();
  shelf.put(many.slice(0, 130));
  shelf.put(many.slice(130));
  expect(shelf.length).toBe(250);
  const all = ids(shelf);
  expect(all.slice(0, 3)).toEqual([0, 90, 180]);
  expect([...all].sort((a, b) => a - b)).toEqual(many.map((_, n) => n));
  expect(ids(shelf)).toEqual(all);
  expect([...shelf.pages()].every((page) => page.length <= 100)).toBe(true);
});

test('packs full pages, of a person only what is written by', () => {
  const packed: string[] = [];
  const codec: ItemCodec = {
    pack: (items) => {
      packed.push(JSON.stringify(items));
      return new TextEncoder().encode(JSON.stringify(items));
    },
    unpack: (bytes) => JSON.parse(new TextDecoder().decode(bytes)) as PassItem[],
  };
  const shelf = new ItemShelf(codec);
  const person = { id: 1, version: 2, record: { n: 1, f: {} }, meets: new Set(['a']), changedAtMs: () => 3 };
  shelf.put(many.map((one) => ({ ...one, person })));
  expect(packed).toHaveLength(2);
  expect(packed[0]).not.toContain('meets');
  expect(ids(shelf)).toHaveLength(250);
  expect([...shelf][200]?.person).toMatchObject({ id: 1, version: 2, record: { n: 1, f: {} } });
});
