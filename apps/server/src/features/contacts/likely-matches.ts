import { displayNameOf, foldText } from '@gray-loom/core/fields';
import {
  believedModel,
  candidateFacts,
  DEFAULT_THRESHOLDS,
  explainPair,
  factsOf,
  keysOfWritings,
  mayBeOneName,
  namesAgree,
  preparePerson,
  scorePair,
  type MatchPerson,
} from '@gray-loom/core/matching';
import { firstText, type ContactRecord } from '@gray-loom/core/model';
import type { Candidate } from '@gray-loom/core/writing';
import type { LikelyMatch } from '@gray-loom/wire';
import type { Db, Queryable } from '../../db/connect';
import { findCandidates, modelOfVersion } from '../duplicates';
import { peopleBeginning } from './statements/already-here';

/** People that a check looks at closely; whoever shares more keys comes first. */
const LOOKED_AT = 12;

/** Letters that two names begin with alike, where only that is left to look by; and people looked at then. */
const BEGINNING = 3;
const BEGINNING_LIKE = 100;

interface Found {
  id: number;
  record: ContactRecord;
  other: MatchPerson;
  bits: number;
  band: LikelyMatch['band'];
}

/** Who somebody being typed may be, under a model, with reasons; those most alike first. */
export async function likelyMatches(
  database: { pool: Queryable; db: Db },
  modelVersion: number | null,
  candidate: Candidate,
): Promise<LikelyMatch[]> {
  const frozen = modelVersion === null ? null : await modelOfVersion(database.db, modelVersion);
  const model = frozen?.model ?? believedModel(DEFAULT_THRESHOLDS);
  const facts = candidateFacts(candidate);
  const person = preparePerson(facts);
  const look = ({ id, record }: { id: number; record: ContactRecord }): Found[] => {
    const otherFacts = factsOf(record);
    const other = preparePerson(otherFacts);
    const score = scorePair(model, person, other);
    // Whoever has the same whole name is worth a look while one types, however common the name is.
    const sameName =
      person.given.length > 0 &&
      person.familyText !== '' &&
      person.familyText === other.familyText &&
      namesAgree(person, other) === 'agree';
    // So is whoever has the same phone, and whoever's name may be the same one typed in another way.
    const isWorthALook =
      sameName || other.phones.some((phone) => person.phones.includes(phone)) || mayBeOneName(facts, otherFacts);
    const band = score.band === 'apart' && isWorthALook ? 'possible' : score.band;
    return band === 'apart' ? [] : [{ id, record, other, bits: score.bits, band }];
  };
  const keyed = await findCandidates(database, person, null, LOOKED_AT, keysOfWritings(facts));
  let found = keyed.flatMap(look);
  // Two slips leave no key in common; how the names begin is then what is left to look by.
  const [given = '', family = ''] = [facts.givenName, facts.familyName].map((name) => foldText(name ?? ''));
  if (!found.length && given.length > BEGINNING && family.length > BEGINNING)
    found = (
      await peopleBeginning(database.pool, family.slice(0, BEGINNING), given.slice(0, BEGINNING), BEGINNING_LIKE)
    ).flatMap(look);
  return found
    .sort((a, b) => b.bits - a.bits)
    .slice(0, 5)
    .map(({ id, record, other, band }) => ({
      contactId: id,
      name: displayNameOf(record),
      email: firstText(record, 'email'),
      tel: firstText(record, 'tel'),
      stage: firstText(record, 'stage'),
      owner: firstText(record, 'owner'),
      band,
      reasons: explainPair(model, person, other).filter((reason) => reason.field !== 'prior'),
    }));
}
