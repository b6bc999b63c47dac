import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { modelToJson, withoutNames } from '../matching';
import { believedModel, DEFAULT_THRESHOLDS } from '../matching';
import { applyOperations, emptyRecord, lifecycleOf, type ContactRecord, type Operation } from '../model';
import {
  asMerged,
  blockedBy,
  ERASED,
  erasedChanges,
  erasingOperations,
  identityForms,
  namesEver,
  type Identified,
} from './index';

const person = (more: Partial<Identified>): Identified => ({
  given: ['ana'],
  familyText: 'reis',
  familyInferred: false,
  bday: '',
  phones: [],
  ids: [],
  mailboxes: [],
  ...more,
});
const texts = (one: Identified) => identityForms(one).map(({ text }) => text);

describe('what somebody can be told by again', () => {
  test('a mailbox alone; a line, number or whole birthday with the name only', () => {
    const forms = texts(
      person({ mailboxes: ['ana@x.example'], phones: ['+441632960111'], ids: ['x:7'], bday: '1980-02-03' }),
    );
    expect(forms).toHaveLength(5);
    expect(forms.filter((text) => !text.includes('|'))).toEqual(['e:ana@x.example']);
    expect(texts(person({ bday: '02-03' }))).toEqual([]);
    expect(texts(person({ given: [], phones: ['+441632960111'] }))).toEqual([]);
  });

  test('the name in either order is one name, and a number one line however it was read', () => {
    const [there] = texts(person({ phones: ['+441632960111'] }));
    expect(texts(person({ given: ['reis'], familyText: 'ana', phones: ['01632960111'] }))).toEqual([there]);
  });

  test('every name of merged records goes with every line of them; a shared mailbox keeps nobody out alone', () => {
    const records = [
      person({ mailboxes: ['both@x.example'] }),
      person({ familyText: 'quay', phones: ['+441632960111'] }),
    ];
    const forms = blockedBy(records, (mailbox) => mailbox === 'both@x.example');
    expect(forms).not.toContain('e:both@x.example');
    for (const one of records)
      for (const text of texts(person({ familyText: one.familyText, phones: ['+441632960111'] })))
        expect(forms).toContain(text);
  });
});

const text = (field: string, slot: number, v: string, run = 1) => ({ field, slot, v, run });
const recordOf = (values: { field: string; slot: number; v: string; run: number }[]): ContactRecord => {
  const f: ContactRecord['f'] = {};
  for (const { field, ...value } of values) f[field] = [...(f[field] ?? []), value];
  return { n: 1000, f };
};

describe('erasing a record', () => {
  const values = fc.uniqueArray(
    fc.record({
      field: fc.constantFrom('givenName', 'email', 'tags', 'also.familyName', 'custom.1'),
      slot: fc.nat(20),
      v: fc.string({ minLength: 1 }),
      run: fc.constant(1),
    }),
    { selector: ({ field, slot }) => `${field}:${slot}` },
  );

  test('leaves no value, whatever stood there, and changes without content', () =>
    fc.assert(
      fc.property(values, (list) => {
        const record = recordOf(list);
        const operations = erasingOperations(record, 7, 9);
        const after = applyOperations(record, operations);
        expect(after.ok && Object.values(after.value.f).flat().length).toBe(1);
        expect(after.ok && lifecycleOf(after.value)).toEqual({ state: 'erased' });
        const left = erasedChanges(operations);
        expect(left).toHaveLength(operations.length);
        for (const { field, before, after: now } of left)
          if (field !== 'lifecycle') expect([before?.v ?? ERASED, now?.v ?? ERASED]).toEqual([ERASED, ERASED]);
      }),
    ));

  test('names are found back to where somebody came in', () => {
    const rename = (before: string, after: string): Omit<Operation, 'target'> => ({
      field: 'familyName',
      slot: 0,
      before: { slot: 0, v: before, run: 1 },
      after: { slot: 0, v: after, run: 1 },
    });
    const record = recordOf([text('givenName', 0, 'Ana'), text('familyName', 0, 'Quay')]);
    expect(namesEver(record, [[rename('Reis', 'Quay')], [rename('Reyes', 'Reis')], null])).toEqual([
      'Ana Quay',
      'Ana Reis',
      'Ana Reyes',
    ]);
    expect(namesEver(emptyRecord(), [])).toEqual([]);
  });

  test('a merged record is also what was not chosen', () => {
    const record = recordOf([text('familyName', 0, 'Reis'), text('also.familyName', 4, 'Quay')]);
    expect(asMerged(record).map(({ f }) => f.familyName?.[0]?.v)).toEqual(['Reis', 'Quay']);
  });
});

test('a model forgets names that nobody has any more, and keeps the others as they were', () => {
  const model = { ...modelToJson(believedModel(DEFAULT_THRESHOLDS)) };
  model.givenShare = [
    ['ana', 0.5],
    ['zennorina', 0.5],
  ];
  model.nameShare = [['zennorina reis', 0.1]];
  model.sharedLines = ['zq@x.example', 'office@x.example'];
  const left = withoutNames(model, new Set(['zennorina']), new Set(['zq@x.example']));
  expect(left).toEqual({ ...model, givenShare: [['ana', 0.5]], nameShare: [], sharedLines: ['office@x.example'] });
  expect(withoutNames(model, new Set(['tom']), new Set())).toBeNull();
});
