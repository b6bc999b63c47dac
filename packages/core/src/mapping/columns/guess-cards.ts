import { foldText, type FieldDefinition } from '../../fields';
import type { CardColumn } from '../../formats';
import type { ColumnGuess } from './guess-columns';
import { isWholeColumn } from './address-columns';
import { mappingTargets } from '../targets';

/** Tags of one cell of a table of cards are parted by this (see formats/vcard). */
const SEPARATOR = '|';
const SAMPLES = 3;

/**
 * What the columns of a table of cards mean. Cards say so themselves, so it is certain; a column that is called as a
 * field of ours means that field. `rows` are some rows of the table, for samples.
 */
export function guessCards(
  columns: readonly CardColumn[],
  rows: readonly (readonly string[])[],
  custom: readonly FieldDefinition[],
): ColumnGuess[] {
  const targets = mappingTargets(custom);
  const typeOf = new Map(targets.map((target) => [target.key, target.type]));
  const named = new Map(targets.map((target) => [foldText(target.name), target.key]));
  return columns.map(({ header, name, target, label, nth }, index): ColumnGuess => {
    const field = target ?? named.get(foldText(name)) ?? null;
    const isAlone = !columns.some((other) => other.target === 'locality' && other.label === label && other.nth === nth);
    const whole = field === 'street' && isAlone && isWholeColumn(rows.map((cells) => cells[index] ?? ''));
    const samples = new Set(rows.map((cells) => cells[index] ?? '').filter(Boolean));
    return {
      index,
      header,
      field,
      label,
      ...(nth ? { nth } : {}),
      ...(whole ? { wholeAddress: true } : {}),
      type: (field && typeOf.get(field)) || 'text',
      certainty01: field ? 1 : 0,
      samples: [...samples].slice(0, SAMPLES),
      dateOrder: 'iso',
      decimal: '.',
      separator: field === 'tags' ? SEPARATOR : null,
      choices: [],
    };
  });
}
