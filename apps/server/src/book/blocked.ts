import { identityForms, type Identified } from '@gray-loom/core/erasing';
import { cardOf } from '@gray-loom/core/mapping';
import { candidateFacts, preparePerson, type MatchPerson } from '@gray-loom/core/matching';
import type { Candidate } from '@gray-loom/core/writing';
import { secretKeyOfProcess } from '../config';
import type { Queryable } from '../db/connect';
import { keyedHash } from '../secrets';
import { anyBlocked, blockedByHash } from './statements/blocked';

/** The hash that a form of an identity is kept by. */
export const hashOfForm = (text: string): Buffer => keyedHash(`blocked identity ${text}`, secretKeyOfProcess());

/** What somebody can be told by, of a person as they are compared. */
export const identifiedBy = (person: MatchPerson, ids: readonly { v: unknown }[] = []): Identified => ({
  ...cardOf(person, ids),
  mailboxes: person.emails.map(({ key }) => key),
});

/**
 * Of each of these people, the day on which they were erased and are kept out since; undefined for everybody else. Costs one
 * short question where nobody is kept out.
 */
export async function blockedAmong(
  client: Queryable,
  people: () => readonly Identified[],
): Promise<(string | undefined)[]> {
  const { rows: some } = await anyBlocked(client);
  if (!some[0]?.any) return [];
  const hashesOf = people().map((one) => identityForms(one).map(({ text }) => hashOfForm(text).toString('hex')));
  const asked = [...new Set(hashesOf.flat())];
  if (!asked.length) return [];
  const { rows } = await blockedByHash(
    client,
    asked.map((hash) => Buffer.from(hash, 'hex')),
  );
  const days = new Map(rows.map(({ hash, day }) => [hash.toString('hex'), day]));
  return hashesOf.map((hashes) => hashes.map((hash) => days.get(hash)).find((day) => day !== undefined));
}

/** The same of one person who is typed. */
export async function blockedSince(client: Queryable, candidate: Candidate): Promise<string | undefined> {
  const [day] = await blockedAmong(client, () => [
    identifiedBy(preparePerson(candidateFacts(candidate)), candidate.externalId),
  ]);
  return day;
}
