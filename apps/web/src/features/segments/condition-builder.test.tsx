import { afterEach, describe, expect, test } from '@jest/globals';
import { cleanup, screen } from '@testing-library/react';
import { useState } from 'react';
import { allOf, isOneOf, type Condition, type Group, type Test } from '@gray-loom/core/segments';
import { onPage } from '../../testing/on-page';
import { ConditionBuilder } from './condition-builder';
import { answerOf, groupOf } from './drafts';
import { knownOf } from './names';
import { fieldChoices, newTest } from './operators';
import { saidSoFar } from './use-look';

afterEach(cleanup);

const label = (text: string) => ({ label: text, people: 0, organizations: 0, meaning: '', colour: 0 });
const known = knownOf(
  {
    fields: [
      { key: 'custom.1', name: 'Boat length', type: 'range', group: 'custom', several: false },
      { key: 'custom.2', name: 'Old berth', type: 'text', group: 'custom', several: false, retired: true },
    ],
    tags: [label('press'), label('regatta')],
    sources: [],
    stages: [],
    owners: [],
    areas: [],
    people: 2,
    organizations: 0,
    opportunities: 0,
    country: 'GB',
  },
  {
    segments: [{ id: 4, name: 'Donors', kind: 'person' }],
    connections: [{ id: 1, name: 'Office', canCallNext: false }],
    threads: [],
    colleagues: [],
    runs: [{ id: 7, name: 'fair.csv' }],
  },
);

let now: Group = { join: 'all', of: [] };
function Held({ first, onBuilt }: { first: Condition; onBuilt: (condition: Group) => void }) {
  const [condition, setCondition] = useState(groupOf(first));
  const change = (next: Group) => {
    onBuilt(next);
    setCondition(next);
  };
  return <ConditionBuilder condition={condition} known={known} counts={[12, 3]} onChange={change} />;
}
const built = (first: Condition) =>
  onPage(
    <Held
      first={first}
      onBuilt={(next) => {
        now = next;
      }}
    />,
  );

test('a condition is chosen by its name, compared, and counted alone', async () => {
  const person = built({ join: 'all', of: [] });
  await person.click(screen.getByRole('button', { name: 'Add a condition' }));
  await person.type(await screen.findByPlaceholderText('Type to find'), 'tag{Enter}');
  await person.click(screen.getByRole('button', { name: 'Choose a value' }));
  await person.type(await screen.findByPlaceholderText('Type to find'), 'pres{Enter}');
  expect(now).toEqual(allOf(isOneOf('tags', 'press')));
  expect(screen.getByTitle('How many this lets through alone').textContent).toBe('12');
  await person.selectOptions(screen.getByLabelText('How it compares'), 'is not');
  expect(now.of[0]).toEqual({ ...isOneOf('tags', 'press'), not: true });
  await person.selectOptions(screen.getByLabelText('How it compares'), 'is missing');
  expect(now.of[0]).toEqual({ field: 'tags', op: 'missing' });
  await person.click(screen.getByRole('button', { name: 'Take away: tag' }));
  expect(now.of).toEqual([]);
});

test('groups stand within groups, and are joined in three ways', async () => {
  const person = built(allOf(isOneOf('tags', 'press')));
  await person.click(screen.getByRole('button', { name: '+ group' }));
  const [, inner] = screen.getAllByLabelText('How these are joined');
  if (!inner) throw new Error('no inner group');
  await person.selectOptions(inner, 'none of these');
  expect(now.of[1]).toEqual({ join: 'none', of: [] });
  await person.click(screen.getByRole('button', { name: 'Take the group out' }));
  expect(now.of).toHaveLength(1);
});

test('a value is typed, or asked for on opening', async () => {
  const person = built(allOf({ field: 'custom.1', op: 'holds', value: Number.NaN }));
  await person.type(screen.getByLabelText('Number'), '14,5');
  expect(now.of[0]).toMatchObject({ op: 'holds', value: 14.5 });
  await person.click(screen.getByRole('button', { name: 'ask on opening' }));
  expect(now.of[0]).toMatchObject({ value: { ask: 'Boat length?' } });
  await person.type(screen.getByLabelText('The question that is asked'), '!');
  expect(now.of[0]).toMatchObject({ value: { ask: 'Boat length?!' } });
});

test('days are counted from today, or stand between two dates', async () => {
  const person = built(allOf(newTest('@changed', known)));
  await person.selectOptions(screen.getByLabelText('Which days'), 'longer ago than');
  await person.selectOptions(screen.getByLabelText('Days, months or years'), 'months');
  expect(now.of[0]).toMatchObject({ value: { to: { n: -30, unit: 'month' } } });
  await person.selectOptions(screen.getByLabelText('Which days'), 'from … to');
  expect(now.of[0]).toMatchObject({ value: {} });
  expect(saidSoFar(now)).toMatchObject({ isWhole: false, condition: { of: [] } });
});

describe('what is said so far', () => {
  test('leaves out what has nothing to compare with yet, and tells the places of the rest', () => {
    const open: Test = { field: 'tags', op: 'is', value: [] };
    const group = allOf(open, isOneOf('stage', 'Donor'), { join: 'any', of: [open, isOneOf('tags', 'a')] }) as Group;
    expect(saidSoFar(group)).toEqual({
      isWhole: false,
      places: [1, 3],
      condition: allOf(isOneOf('stage', 'Donor'), { join: 'any', of: [isOneOf('tags', 'a')] }),
    });
  });
  test.each<[Test['op'], string, unknown]>([
    ['holds', '14', 14],
    ['holds', 'long', null],
    ['number', '3,5', { from: 3.5, to: 3.5 }],
    ['is', ' press ', ['press']],
    ['contains', 'oak', 'oak'],
    ['contains', '  ', null],
  ])('an answer to %s', (op, typed, value) => expect(answerOf({ field: 'x', op }, typed)).toEqual(value));
});

test('retired fields are not offered, and what is referred to by number has its name', () => {
  const names = fieldChoices(known).map(({ text }) => text);
  expect(names).toContain('Boat length');
  expect(names).not.toContain('Old berth');
  expect([known.value('@segment', '4'), known.value('@run', '7'), known.value('@segment', '9')]).toEqual([
    'Donors',
    'fair.csv',
    'number 9',
  ]);
});
