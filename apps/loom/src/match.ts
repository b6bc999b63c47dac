import { writeFileSync } from 'node:fs';
import { findCountry } from '@gray-loom/core/fields';
import { writeDelimitedLine } from '@gray-loom/core/formats';
import { defaultMapping, RowReader, type ColumnGuess } from '@gray-loom/core/mapping';
import {
  bitsOfProbability,
  candidateFacts,
  DEFAULT_THRESHOLDS,
  explainPair,
  matchPeople,
  preparePerson,
  type MatchPerson,
  type MatchResult,
} from '@gray-loom/core/matching';
import { Catalogue, foldText } from '@gray-loom/core/fields';
import { wordIssue } from '@gray-loom/core/model';
import { rowsOf, sniffFile } from './read-table';
import { Refusal } from './refusal';

export interface MatchOptions {
  out: string;
  threshold01: number;
  certainOnly: boolean;
  /** File for the pairs that are at least possible, with their weight. */
  pairs?: string;
  /** Whether reasons in words stand beside each pair. */
  explain?: boolean;
}

/** The country most rows are in; national phone numbers of rows that tell none are read there. */
function commonCountry(samples: Iterable<string>): string {
  const counts = new Map<string, number>();
  for (const text of samples) {
    const code = findCountry(text);
    if (code) counts.set(code, (counts.get(code) ?? 0) + 1);
  }
  return [...counts].sort((a, b) => b[1] - a[1])[0]?.[0] ?? 'GB';
}

function idColumn(guesses: readonly ColumnGuess[]): number | null {
  return guesses.find((guess) => foldText((guess.header ?? '').replace(/_/g, ' ')) === 'record id')?.index ?? null;
}

/** Finds duplicates in a delimited file of people and writes record_id, group_id, probability for every record. */
export function matchFile(path: string, options: MatchOptions): Record<string, unknown> {
  const startedMs = performance.now();
  const table = sniffFile(path);
  if (!table.ok) throw new Refusal(`${path}: ${wordIssue(table.error)}`);
  const { shape, guesses } = table.value;
  const id = idColumn(guesses);
  const countryColumn = guesses.find((guess) => guess.field === 'country')?.index;
  const rows = [...rowsOf(path, shape)];
  const country =
    countryColumn === undefined
      ? 'GB'
      : commonCountry(rows.slice(0, 5000).map(({ cells }) => cells[countryColumn] ?? ''));
  const mapping = defaultMapping(
    guesses.map((guess) => (guess.index === id ? { ...guess, field: null } : guess)),
    country,
  );
  // Only what tells people apart is read, and a cell that cannot be read says nothing.
  const telling = new Set(['tags', 'source', 'stage', 'owner', 'note', 'externalId', 'url', 'tz', 'anniversary']);
  const columns = mapping.columns
    .filter((column) => column.target && !telling.has(column.target))
    .map((column) => ({ ...column, onBad: 'drop' as const }));
  const reader = new RowReader(
    { ...mapping, columns },
    new Catalogue(),
    { country, stages: [], settle: (_kind, text) => text },
    shape,
  );
  const ids: string[] = [];
  const people: MatchPerson[] = rows.map(({ row, cells }) => {
    ids.push((id === null ? '' : cells[id]?.trim()) || String(row));
    return preparePerson(candidateFacts(reader.read(cells, row).candidate));
  });
  const readMs = performance.now() - startedMs;
  const threshold01 = options.certainOnly ? DEFAULT_THRESHOLDS.certain : options.threshold01;
  const result = matchPeople(people, { threshold01, onlyAgreeing: options.certainOnly });
  writeGroups(
    options.out,
    ids,
    result,
    options.certainOnly ? bitsOfProbability(DEFAULT_THRESHOLDS.certain) : -Infinity,
  );
  if (options.pairs) writePairs(options.pairs, ids, people, result, options.explain === true);
  const seconds = (performance.now() - startedMs) / 1000;
  return {
    records: people.length,
    comparedPairs: result.comparedPairs,
    groups: result.groups.length,
    groupedRecords: result.groups.reduce((sum, group) => sum + group.members.length, 0),
    threshold01,
    seconds: Number(seconds.toFixed(2)),
    readSeconds: Number((readMs / 1000).toFixed(2)),
    peakMemoryMb: Math.round(process.resourceUsage().maxRSS / 1024),
    out: options.out,
    ...(options.pairs ? { pairs: options.pairs } : {}),
  };
}

function writePairs(
  out: string,
  ids: readonly string[],
  people: readonly MatchPerson[],
  { model, pairs }: MatchResult,
  explain: boolean,
): void {
  const least = bitsOfProbability(model.thresholds.possible);
  let text = writeDelimitedLine(['record_a', 'record_b', 'bits', 'probability', ...(explain ? ['reasons'] : [])]);
  for (const { a, b, bits } of [...pairs].sort((x, y) => y.bits - x.bits || x.a - y.a || x.b - y.b)) {
    const [x, y] = [people[a], people[b]];
    if (bits < least || !x || !y) continue;
    const line = [ids[a] ?? '', ids[b] ?? '', bits.toFixed(2), (1 / (1 + 2 ** -bits)).toFixed(5)];
    if (explain)
      line.push(
        explainPair(model, x, y)
          .map((reason) => `${reason.text} ${reason.bits < 0 ? '' : '+'}${reason.bits}`)
          .join('; '),
      );
    text += writeDelimitedLine(line);
  }
  writeFileSync(out, text);
}

function writeGroups(out: string, ids: readonly string[], result: MatchResult, weakestBits: number): void {
  const groupOf = new Map<number, { id: number; probability01: number }>();
  result.groups.forEach((group, i) => {
    if (group.weakestBits < weakestBits) return;
    for (const member of group.members)
      groupOf.set(member, { id: i + 1, probability01: 1 / (1 + 2 ** -group.weakestBits) });
  });
  let text = writeDelimitedLine(['record_id', 'group_id', 'probability']);
  let single = result.groups.length;
  ids.forEach((id, i) => {
    const group = groupOf.get(i);
    text += writeDelimitedLine([id, `g${group?.id ?? ++single}`, (group?.probability01 ?? 1).toFixed(5)]);
  });
  writeFileSync(out, text);
}
