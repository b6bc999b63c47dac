import { expect, test } from '@jest/globals';
import { keys, TOPICS, touchedBy } from './keys';

test('a key is its subject followed by what narrows the question', () => {
  expect(keys.contact(7, 'syncs')).toEqual(['contact', 7, 'syncs']);
});

test('whatever changes touches something on screen', () => {
  for (const topic of TOPICS) expect(touchedBy(topic).length).toBeGreaterThan(0);
});

test('a contact that changed is looked at again wherever it shows', () => {
  expect(touchedBy('contacts')).toEqual(
    expect.arrayContaining(['contacts', 'contact', 'history', 'lists', 'board', 'opportunities', 'worklist']),
  );
  expect(touchedBy('looks')).toEqual(['lookers', 'duplicates']);
});
