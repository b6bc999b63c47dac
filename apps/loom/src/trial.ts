import { Catalogue, CUSTOM_PREFIX, type FieldDefinition, type FieldType } from '@gray-loom/core/fields';
import {
  cardOf,
  defaultMapping,
  FoldIndex,
  identityKeys,
  recognisePerson,
  Repeats,
  RowReader,
  type Mapping,
  type ReadingContext,
} from '@gray-loom/core/mapping';
import { candidateFacts, preparePerson } from '@gray-loom/core/matching';
import { holdsRow, wordIssue, type Issue } from '@gray-loom/core/model';
import { inspect } from './inspect';
import type { MadeOf } from './packed-file';
import { rowsOf, sniffFile, type Table } from './read-table';
import { Refusal } from './refusal';

/** Types of which a cell can be wrong. */
const STRICT_TYPES: ReadonlySet<FieldType> = new Set(['number', 'date', 'yesNo']);
/** Of a column's cells, how many may be wrong for it to be a column of its type. */
const WRONG01 = 0.25;

/**
 * The fields that columns without a meaning would become when they are made on the spot, by what their cells look like; those
 * in which a cell can be wrong, so that the trial tells.
 */
function fieldsToMake(
  path: string,
  { shape, guesses }: Table,
  mapping: Mapping,
  context: ReadingContext,
): (FieldDefinition & { index: number })[] {
  const labels = new Set(mapping.columns.map(({ labelFrom }) => labelFrom));
  const columns = mapping.columns.filter(
    ({ column, target, header }) => target === null && header && !labels.has(column),
  );
  const fields = columns.flatMap(({ column, header }) => {
    const type = guesses[column]?.type;
    return type && STRICT_TYPES.has(type)
      ? [
          {
            index: column,
            key: `${CUSTOM_PREFIX}${column + 1}`,
            name: header ?? '',
            type,
            group: 'custom' as const,
            several: false,
          },
        ]
      : [];
  });
  const keys = new Map(fields.map(({ index, key }) => [index, key]));
  const as = mapping.columns.map((column) => ({ ...column, target: keys.get(column.column) ?? column.target }));
  const reader = new RowReader({ ...mapping, columns: as }, new Catalogue(fields), context, shape);
  const seen = fields.map(() => ({ filled: 0, wrong: 0 }));
  for (const { row, cells } of rowsOf(path, shape))
    fields.forEach(({ index }, i) => {
      const count = seen[i];
      if (!count || !cells[index]?.trim()) return;
      count.filled++;
      if (
        reader
          .cell(
            as.findIndex(({ column }) => column === index),
            cells,
            row,
          )
          .issues.some(holdsRow)
      )
        count.wrong++;
    });
  return fields.filter((_, i) => {
    const { filled = 0, wrong = 0 } = seen[i] ?? {};
    return filled > 0 && (wrong <= filled * WRONG01 || (wrong === 1 && filled > 2));
  });
}

/**
 * What each row of a file would become in an empty book; nothing is written. Columns without a meaning are tried as the fields
 * that they would become.
 */
export function trialOffline(path: string, country: string, madeOf: MadeOf = null): Record<string, unknown> {
  const table = sniffFile(path);
  if (!table.ok) throw new Refusal(`${path}: ${wordIssue(table.error)}`);
  const { shape, guesses } = table.value;
  const mapping = defaultMapping(guesses, country);
  const thisYear = new Date().getFullYear();
  const context = { country: mapping.country, stages: [], thisYear, settle: (_kind: string, text: string) => text };
  const newFields = fieldsToMake(path, table.value, mapping, context);
  for (const { index, key } of newFields)
    for (const column of mapping.columns) if (column.column === index) column.target = key;
  const reader = new RowReader(mapping, new Catalogue(newFields), context, shape);
  const folds = new FoldIndex();
  const waiting = new FoldIndex();
  const repeats = new Repeats(mapping);
  const rows: unknown[] = [];
  for (const { row, cells } of rowsOf(path, shape)) {
    const { candidate, opportunity, issues, held } = reader.read(cells, row);
    const person = preparePerson(candidateFacts(candidate));
    const keys = identityKeys(candidate, person, mapping.recognise);
    const card = cardOf(person);
    const known = recognisePerson(card, folds.find(keys, card), mapping.recognise);
    const ofHeld = recognisePerson(card, waiting.find(keys, card), mapping.recognise);
    const all: Issue[] = [...issues];
    let outcome = 'new';
    const hold = (issue: Issue) => {
      outcome = 'held';
      all.push({ ...issue, path: { ...issue.path, row } });
    };
    const contactRow = known.kind === 'known' ? known.id : row;
    const id = opportunity?.externalId?.[0]?.v;
    const ofOpportunity = () => (id === undefined ? null : repeats.ofOpportunity(String(id), row, contactRow, cells));
    if (held) {
      outcome = 'held';
      if (card.givenText || card.familyText) waiting.add(row, card, keys);
    } else if (known.kind === 'held') hold(known.issue);
    else {
      const wrong = known.kind === 'known' ? repeats.ofPerson(known.id, row, cells) : null;
      const opportunityFound = wrong ?? ofOpportunity();
      if (opportunityFound && typeof opportunityFound === 'object') hold(opportunityFound);
      else if (known.kind === 'known') {
        outcome = 'fold';
        all.push({ code: 'foldedInto', row: known.id, path: { row } });
      } else if (ofHeld.kind === 'known') hold({ code: 'repeatsHeldRow', row: ofHeld.id, path: {} });
      else {
        folds.add(row, card, keys);
        repeats.first(row, cells);
      }
    }
    rows.push({
      row,
      outcome,
      issues: all.map((issue) => ({ code: issue.code, column: issue.path.column ?? null, message: wordIssue(issue) })),
      contact: candidate,
      ...(opportunity ? { opportunity } : {}),
    });
  }
  return {
    ...inspect(path, madeOf),
    newFields: newFields.map(({ index, key, name, type }) => ({ index, key, name, type })),
    rows,
  };
}
