import { addressLines, letterLine } from '@gray-loom/core/fields';
import { keyHash } from '@gray-loom/core/matching';
import { firstText, firstValue, isAddress, isRelation, valuesOf, type ContactRecord } from '@gray-loom/core/model';
import type { ContactFilter, Labels } from '@gray-loom/wire';
import type { Database } from '../../db/connect';
import { contactConditions } from './contact-filter';
import { recordsForLabels } from './statements/filtered-contacts';
import { relationKey } from '../../book/contact-rows';
import { stopsOf } from './permissions';
import { householdsOf, lineOfHousehold, livingTogether } from '../duplicates';
import { relationsOf } from '../../book/related-contacts';
import { keysInUse } from './statements/labels';
import { readyFilter } from './ready-filter';

/** Labels made at once; more are to be made in parts. */
const LIMIT = 3000;

interface Row {
  id: number;
  email: string;
  tel: string;
  record: ContactRecord;
}

/** Those who keep a relationship, or with whom one is kept: only they can have a partner in the same home. */
async function relatedOnes({ pool }: Database, rows: readonly Row[]): Promise<Set<number>> {
  const byKey = new Map(rows.map(({ id }) => [String(keyHash(relationKey(id))), id]));
  const { rows: kept } = await keysInUse(pool, [...byKey.keys()]);
  const ones = new Set(kept.map(({ key }) => byKey.get(key) ?? 0));
  for (const { id, record } of rows) if (record.f.related?.length) ones.add(id);
  return ones;
}

/** Ids of the contacts that are partners of one, by the relationships of both. */
function relatedIds(record: ContactRecord, relatedBy: readonly { contactId: number }[]): number[] {
  return [
    ...valuesOf(record, 'related').flatMap(({ v }) => (isRelation(v) && v.to !== null ? [v.to] : [])),
    ...relatedBy.map(({ contactId }) => contactId),
  ];
}

/**
 * Mailing labels of a filter: line for letters and address as its country writes it. One label for a household or a couple in one home;
 * none for who has no address or wants no post, who are counted.
 */
export async function mailingLabels(database: Database, filter: ContactFilter, home: string): Promise<Labels> {
  const rows = await recordsForLabels(
    database.pool,
    contactConditions(await readyFilter(database.pool, filter)),
    LIMIT + 1,
  );
  const asked = rows.slice(0, LIMIT);
  const stops = await stopsOf(database, asked);
  const related = await relatedOnes(database, asked);
  const homes = await householdsOf(
    database,
    asked.map(({ id }) => id),
  );
  const inHomes = [...homes.values()].flatMap(({ members }) => members);
  const stopsAtHome = await stopsOf(database, inHomes);
  /** Households by where their label goes, which names all of them already. */
  const labelled = new Set<string>();
  const labels: Labels['labels'] = [];
  const lineOf = new Map<number, string>();
  const answer: Labels = { labels, withoutAddress: 0, noPost: 0, together: 0, more: rows.length > LIMIT };
  for (const { id, record } of asked) {
    const address = firstValue(record, 'adr')?.v;
    if (!isAddress(address)) {
      answer.withoutAddress++;
      continue;
    }
    if (stops.get(id)?.includes('post')) {
      answer.noPost++;
      continue;
    }
    const lines = addressLines(address, home);
    const kin = homes.get(id);
    const own = kin?.members.find((member) => member.id === id);
    if (kin && own && !firstText(record, 'letterLine')) {
      const members = livingTogether(own, kin.members).filter(
        (member) => !stopsAtHome.get(member.id)?.includes('post') && !firstText(member.record, 'letterLine'),
      );
      const at = `${kin.row.id}\n${lines.join('\n')}`;
      if (labelled.has(at)) {
        answer.together++;
        continue;
      }
      labelled.add(at);
      if (members.length > 1) {
        labels.push({ id, lines: [lineOfHousehold(kin.row, members), ...lines] });
        continue;
      }
    }
    const { relations, partner } = related.has(id)
      ? await relationsOf(database, id, record)
      : { relations: null, partner: null };
    const others = partner && relations ? relatedIds(record, relations.relatedBy) : [];
    // The partner's label names both already.
    if (others.some((other) => lineOf.get(other) === lines.join('\n'))) {
      answer.together++;
      continue;
    }
    if (partner) lineOf.set(id, lines.join('\n'));
    labels.push({ id, lines: [letterLine(record, partner), ...lines] });
  }
  return answer;
}
