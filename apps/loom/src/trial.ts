import { Catalogue } from '@gray-loom/core/fields';
import {
  cardOf,
  defaultMapping,
  FoldIndex,
  identityKeys,
  recognisePerson,
  Repeats,
  RowReader,
} from '@gray-loom/core/mapping';
import { candidateFacts, preparePerson } from '@gray-loom/core/matching';
import { wordIssue, type Issue } from '@gray-loom/core/model';
import { inspect } from './inspect';
import type { MadeOf } from './packed-file';
import { rowsOf, sniffFile } from './read-table';
import { Refusal } from './refusal';

/** What each row of a file would become in an empty book; nothing is written. */
export function trialOffline(path: string, country: string, madeOf: MadeOf = null): Record<string, unknown> {
  const table = sniffFile(path);
  if (!table.ok) throw new Refusal(`${path}: ${wordIssue(table.error)}`);
  const { shape, guesses } = table.value;
  const mapping = defaultMapping(guesses, country);
  const reader = new RowReader(mapping, new Catalogue(), { country, stages: [], settle: (_kind, text) => text }, shape);
  const folds = new FoldIndex();
  const repeats = new Repeats(mapping);
  const rows: unknown[] = [];
  for (const { row, cells } of rowsOf(path, shape)) {
    const { candidate, opportunity, issues, held } = reader.read(cells, row);
    const person = preparePerson(candidateFacts(candidate));
    const keys = held ? [] : identityKeys(candidate, person, mapping.recognise);
    const known = recognisePerson(cardOf(person), folds.find(keys), mapping.recognise);
    const all: Issue[] = [...issues];
    let outcome = 'new';
    const hold = (issue: Issue) => {
      outcome = 'held';
      all.push({ ...issue, path: { ...issue.path, row } });
    };
    const contactRow = known.kind === 'known' ? known.id : row;
    const id = opportunity?.externalId?.[0]?.v;
    const ofOpportunity = () => (id === undefined ? null : repeats.ofOpportunity(String(id), row, contactRow, cells));
    if (held) outcome = 'held';
    else if (known.kind === 'held') hold(known.issue);
    else {
      const wrong = known.kind === 'known' ? repeats.ofPerson(known.id, row, cells) : null;
      const opportunityFound = wrong ?? ofOpportunity();
      if (opportunityFound && typeof opportunityFound === 'object') hold(opportunityFound);
      else if (known.kind === 'known') {
        outcome = 'fold';
        all.push({ code: 'foldedInto', row: known.id, path: { row } });
      } else {
        folds.add(row, cardOf(person), keys);
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
  return { ...inspect(path, madeOf), rows };
}
