import { summarise } from '@gray-loom/core/fields';
import { externalKey } from '@gray-loom/core/mapping';
import { factsOf, indexKeys, keyHash, preparePerson, type MatchPerson } from '@gray-loom/core/matching';
import { lifecycleOf, valuesOf, type ContactRecord } from '@gray-loom/core/model';
import type { ContactSummary } from '@gray-loom/core/fields';

/** Everything the database keeps for one contact beside its record. */
export interface ContactRow {
  summary: ContactSummary;
  mergedInto: number | null;
  keys: number[];
}

/** Derives the columns, look-up keys and search text of a record; the one place where they are made. `person` spares preparing it again. */
export function contactRow(record: ContactRecord, person: MatchPerson = preparePerson(factsOf(record))): ContactRow {
  const texts = indexKeys(person);
  for (const value of valuesOf(record, 'externalId')) texts.push(externalKey(String(value.v)));
  for (const value of valuesOf(record, 'tags')) texts.push(tagKey(String(value.v)));
  return {
    summary: summarise(record),
    mergedInto: lifecycleOf(record)?.into ?? null,
    keys: [...new Set(texts.map(keyHash))],
  };
}

export function tagKey(tag: string): string {
  return `t:${tag.toLowerCase()}`;
}
