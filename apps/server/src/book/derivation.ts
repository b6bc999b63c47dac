import type { Area, FieldType, Weights } from '@gray-loom/core/fields';
import type pg from 'pg';
import { selectDerivation, type CountedRemit } from './statements/derivation';

/** What of the set-up decides how a record's columns and keys are derived. */
export interface Derivation {
  areas: Area[];
  /** Fields whose values no two contacts should share, beside those that are looked up anyway. */
  uniqueFields: { key: string; type: FieldType }[];
  /** Remits whose people are counted; none where everybody sees all. */
  remits: CountedRemit[];
  /** What completeness is made of; null where that is as shipped. */
  weights: Weights | null;
}

/** Types of the standard fields that may be asked to be unique and have no look-up key otherwise. */
const STANDARD_TYPES: Record<string, FieldType> = {
  nickname: 'text',
  legalName: 'text',
  url: 'url',
  webDomain: 'text',
};

/** Reads the definitions in force; small, and read anew by every writer so that none works by old ones. */
export async function loadDerivation(client: Pick<pg.Pool | pg.PoolClient, 'query'>): Promise<Derivation> {
  const { rows } = await selectDerivation(client);
  return {
    areas: rows[0]?.areas ?? [],
    remits: rows[0]?.remits ?? [],
    weights: rows[0]?.weights ?? null,
    uniqueFields: (rows[0]?.fields ?? []).flatMap(({ key, type }) => {
      const known = type ?? STANDARD_TYPES[key];
      return known ? [{ key, type: known }] : [];
    }),
  };
}
