import { expect, test } from '@jest/globals';
import { mkdtempSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { trialOffline } from './trial';

const folder = mkdtempSync(join(tmpdir(), 'gray-loom-trial-'));

interface Tried {
  newFields: { name: string; type: string }[];
  rows: {
    row: number;
    outcome: string;
    issues: { code: string; message: string }[];
    contact: Record<string, { v: unknown }[]>;
  }[];
}

function tried(name: string, content: string): Tried {
  const path = join(folder, name);
  writeFileSync(path, content);
  return trialOffline(path, 'GB') as unknown as Tried;
}

test('each row of a table has its outcome in an empty book, with reasons', () => {
  const { rows } = tried(
    'members.csv',
    [
      'Given name,Family name,E-mail,Phone,Born',
      'Ana,Reis,ana@example.org,01632 960111,14/07/1971',
      'ANA,REIS,Ana@example.org,01632 960112,',
      'Tom,Okoro,tom(at)example.org,,',
      ',,,01632 960113,',
      'Kari,Pike,kari@example.org,,31/02/1980',
    ].join('\n'),
  );
  expect(rows.map(({ row, outcome }) => [row, outcome])).toEqual([
    [1, 'new'],
    [2, 'fold'],
    [3, 'held'],
    [4, 'held'],
    [5, 'held'],
  ]);
  expect(rows[1]?.issues.map(({ code }) => code)).toContain('foldedInto');
  expect(rows[2]?.issues[0]?.message).toContain('tom(at)example.org');
  expect(rows[3]?.issues.map(({ code }) => code)).toEqual(['noIdentity']);
  expect(rows[0]?.contact.bday?.[0]?.v).toBe('1971-07-14');
});

test('columns without a meaning are tried as the fields that they would become', () => {
  const { rows, newFields } = tried(
    'gifts.csv',
    [
      'Name;E-mail;Gift;Last gift;Trained;Shed;Mixed',
      'Ana Reis;ana@example.org;1.250,50;24.12.2023;ja;north;1',
      'Tom Okoro;tom@example.org;80;29.02.2023;nein;south;two',
      'Kari Pike;kari@example.org;60,—;31.01.2024;ja;north;3',
      'Bo Lind;bo@example.org;15,00;02.03.2022;vielleicht;south;four',
      'Eva Wolf;eva@example.org;n/a;;ja;;5',
    ].join('\n'),
  );
  expect(newFields.map(({ name, type }) => [name, type])).toEqual([
    ['Gift', 'number'],
    ['Last gift', 'date'],
    ['Trained', 'yesNo'],
  ]);
  expect(rows.map(({ outcome, issues }) => [outcome, ...issues.map(({ code }) => code)])).toEqual([
    ['new'],
    ['held', 'invalidDate'],
    ['held', 'invalidNumber'],
    ['held', 'invalidYesNo'],
    ['new', 'placeholderValue'],
  ]);
  expect(rows[0]?.contact['custom.3']?.[0]?.v).toBe(1250.5);
});

test('cards are tried as rows', () => {
  const { rows } = tried(
    'book.vcf',
    [
      'BEGIN:VCARD\nVERSION:3.0\nN:Reis;Ana;;;\nEMAIL:ana@example.org\nEND:VCARD',
      'BEGIN:VCARD\nVERSION:1.0\nN:Okoro;Tom\nEND:VCARD',
      'BEGIN:VCARD\nVERSION:4.0\nKIND:org\nFN:Tarn Timber\nORG:Tarn Timber\nEND:VCARD',
    ].join('\n'),
  );
  expect(rows.map(({ outcome }) => outcome)).toEqual(['new', 'held', 'new']);
  expect(rows[2]?.contact.kind?.[0]?.v).toBe('organization');
});
