import { expect, test } from '@jest/globals';
import { mkdtempSync, readFileSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { matchFile } from './match';

const folder = mkdtempSync(join(tmpdir(), 'gray-loom-match-'));
const path = join(folder, 'people.csv');
const letters = (n: number) => String.fromCharCode(97 + (n % 26), 97 + ((n * 7) % 26), 97 + ((n * 3) % 26));
const lines = Array.from(
  { length: 80 },
  (_, i) => `r${i},Given${letters(i)},Family${letters(i + 5)},bluegull${i}@example.org,+1 ${300 + i} 555 0123`,
);
writeFileSync(
  path,
  [
    'record_id,given_name,family_name,email,phone',
    ...lines,
    'again,GIVENAAA,FAMILYFJP,bluegull0@example.org,',
    'slip,Givenbhd,Familygqs,bluegulll1@example.org,+1 301 555 0123',
  ].join('\n'),
);
const rows = (file: string) =>
  readFileSync(file, 'utf8')
    .trim()
    .split(/\r?\n/)
    .map((line) => line.split(','));

test('records of one person get one group, by the column of their ids', () => {
  const out = join(folder, 'groups.csv');
  const found = matchFile(path, { out, threshold01: 0.9, certainOnly: false });
  expect(found).toMatchObject({ records: 82, groups: 2, groupedRecords: 4 });
  const [head, ...groups] = rows(out);
  expect(head).toEqual(['record_id', 'group_id', 'probability']);
  const groupOf = new Map(groups.map(([record, group]) => [record, group]));
  expect(groupOf.get('again')).toBe(groupOf.get('r0'));
  expect(groupOf.get('slip')).toBe(groupOf.get('r1'));
  expect(new Set(groupOf.values()).size).toBe(80);
});

test('pairs are written with their weight, and with reasons that add up', () => {
  const pairs = join(folder, 'pairs.csv');
  matchFile(path, { out: join(folder, 'g.csv'), threshold01: 0.9, certainOnly: false, pairs, explain: true });
  const [head, ...found] = readFileSync(pairs, 'utf8').trim().split(/\r?\n/);
  expect(head).toBe('record_a,record_b,bits,probability,reasons');
  expect(found).toHaveLength(2);
  for (const line of found) {
    const bits = Number(line.split(',')[2]);
    const parts = [...line.matchAll(/ ([+-][\d.]+)(?:;|"?$)/g)].map(([, n]) => Number(n));
    expect(parts.length).toBeGreaterThan(2);
    expect(parts.reduce((sum, n) => sum + n, 0)).toBeCloseTo(bits, 0);
  }
});

test('a file of organizations is matched by fields of their own', () => {
  const file = join(folder, 'organizations.csv');
  writeFileSync(
    file,
    [
      'record_id,Organization,Website,Phone',
      'a,Tern Joinery Ltd,www.tern-joinery.example,',
      'b,Tern Joinery,tern-joinery.example,',
      'c,Bluewater Timber,,+44 1632 960300',
      'd,Greenwater Timber,,+44 1632 960301',
    ].join('\n'),
  );
  const out = join(folder, 'of-organizations.csv');
  const pairs = join(folder, 'pairs-of-organizations.csv');
  const found = matchFile(file, {
    out,
    threshold01: 0.9,
    certainOnly: false,
    organizations: true,
    pairs,
    explain: true,
  });
  expect(found).toMatchObject({ records: 4, groups: 1, groupedRecords: 2 });
  const groupOf = new Map(rows(out).map(([record, group]) => [record, group]));
  expect(groupOf.get('a')).toBe(groupOf.get('b'));
  expect(groupOf.get('c')).not.toBe(groupOf.get('d'));
  expect(readFileSync(pairs, 'utf8')).toContain('Same web domain, tern-joinery.example');
});
