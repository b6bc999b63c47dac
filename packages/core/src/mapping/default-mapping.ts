import type { FieldDefinition } from '../fields';
import type { ColumnGuess } from './guess-columns';
import type { ColumnMapping, Mapping } from './mapping';
import { mappingTargets } from './targets';

/** Guesses below this are shown but not taken. */
const TAKE_FROM01 = 0.5;

/** The mapping that a file starts with: every guess that is sure enough, the rest left out. */
export function defaultMapping(
  guesses: readonly ColumnGuess[],
  country: string,
  custom: readonly FieldDefinition[] = [],
): Mapping {
  const known = new Set(mappingTargets(custom).map((target) => target.key));
  return {
    columns: guesses.map((guess): ColumnMapping => ({
      column: guess.index,
      header: guess.header,
      target: guess.field && known.has(guess.field) && guess.certainty01 >= TAKE_FROM01 ? guess.field : null,
      label: guess.label,
      ...(guess.nth ? { nth: guess.nth } : {}),
      dateOrder: guess.dateOrder,
      decimal: guess.decimal,
      separator: guess.separator,
      newField: null,
      onBad: 'hold',
    })),
    wholeFile: { tags: [], source: null, stage: null, owner: null },
    allowNew: true,
    allowChange: true,
    writeRule: 'fill',
    recognise: ['externalId', 'email', 'tel', 'name'],
    country,
  };
}
