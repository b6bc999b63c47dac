import type pg from 'pg';
import { awaitedLater } from '@gray-loom/core/model';
import { FACT_FIELDS, factsOf, PeopleStore, preparePerson } from '@gray-loom/core/matching';
import { decodeFields } from '../../db/record-codec';
import { pageOfPeople, PAGE } from './statements/read-people';

/** People by their ids: after one and up to another. */
export interface IdRange {
  after: number;
  upTo: number;
}

/** Everybody of a range, prepared for comparison, in order of id. `onRead` is told how many, and ends it by saying no. */
export async function readPeople(
  client: pg.Client,
  { after, upTo }: IdRange,
  onRead: (done: number) => boolean,
): Promise<{ ids: number[]; people: PeopleStore }> {
  const ids: number[] = [];
  const people = new PeopleStore();
  const page = (last: number) => pageOfPeople(client, last, upTo);
  for (let next = page(after); ;) {
    const { rows } = await next;
    const last = rows[rows.length - 1];
    // The next page is read while this one is prepared.
    if (rows.length === PAGE && last) {
      next = awaitedLater(page(Number(last.id)));
    }
    for (const { id, record } of rows) {
      ids.push(Number(id));
      people.add(preparePerson(factsOf(decodeFields(record, FACT_FIELDS))));
    }
    const goesOn = onRead(ids.length);
    if (rows.length < PAGE) break;
    if (!goesOn) {
      await next;
      break;
    }
  }
  return { ids, people };
}
