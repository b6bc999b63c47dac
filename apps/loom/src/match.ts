import { writeFileSync } from 'node:fs';
import { findCountry } from '@gray-loom/core/fields';
import { writeDelimitedLine } from '@gray-loom/core/formats';
import { defaultMapping, RowReader, type ColumnGuess } from '@gray-loom/core/mapping';
import {
  bitsOfProbability,
  candidateFacts,
  DEFAULT_THRESHOLDS,
  explainOrganizations,
  explainPair,
  matchOrganizations,
  matchPeople,
  OrganizationBook,
  organizationOf,
  PeopleStore,
  preparePerson,
  type MatchGroup,
  type MatchOrganization,
} from '@gray-loom/core/matching';
import { Catalogue, foldText } from '@gray-loom/core/fields';
import { wordIssue } from '@gray-loom/core/model';
import { recordFrom, type Candidate } from '@gray-loom/core/writing';
import { rowsOf, sniffFile } from './read-table';
import { Refusal } from './refusal';

export interface MatchOptions {
  out: string;
  threshold01: number;
  certainOnly: boolean;
  /** The file is one of organizations, which are matched by fields of their own. */
  organizations?: boolean;
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

interface Records {
  ids: string[];
  candidates: Candidate[];
  catalogue: Catalogue;
}

/** The records of a delimited file, by a mapping that is guessed. */
export function readRecords(path: string): Records {
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
  // Only what tells records apart is read, and a cell that cannot be read says nothing.
  const columns = mapping.columns
    .filter((column) => column.target && !SAYS_NOTHING.has(column.target))
    .map((column) => ({ ...column, onBad: column.target === 'email' ? ('hold' as const) : ('drop' as const) }));
  const catalogue = new Catalogue();
  const reader = new RowReader(
    { ...mapping, columns },
    catalogue,
    { country, stages: [], settle: (_kind, text) => text },
    shape,
  );
  const ids: string[] = [];
  const candidates = rows.map(({ row, cells }) => {
    ids.push((id === null ? '' : cells[id]?.trim()) || String(row));
    const { candidate, issues } = reader.read(cells, row);
    // What is compared is written nowhere, so an address may be taken for what it most likely means.
    for (const issue of issues)
      if (issue.code === 'invalidEmail' && issue.meant) (candidate.email ??= []).push({ v: issue.meant });
    return candidate;
  });
  return { ids, candidates, catalogue };
}

const SAYS_NOTHING = new Set(['tags', 'source', 'stage', 'owner', 'note', 'externalId', 'tz', 'anniversary']);

/** What was found in a file, of people or of organizations. */
interface Found {
  groups: readonly MatchGroup[];
  comparedPairs: number;
  /** Pairs that are at least possible; reasons are only worded where they are asked for. */
  pairs: readonly { a: number; b: number; bits: number; reasons: () => { text: string; bits: number }[] }[];
}

function findPeople({ candidates }: Records, threshold01: number, onlyAgreeing: boolean): Found {
  const people = new PeopleStore();
  for (const candidate of candidates) people.add(preparePerson(candidateFacts(candidate)));
  const { model, pairs, groups, comparedPairs } = matchPeople(people, { threshold01, onlyAgreeing });
  const least = bitsOfProbability(model.thresholds.possible);
  return {
    groups,
    comparedPairs,
    pairs: pairs.flatMap(({ a, b, bits }) => {
      const [x, y] = [people.at(a), people.at(b)];
      return bits < least || !x || !y ? [] : [{ a, b, bits, reasons: () => explainPair(model, x, y) }];
    }),
  };
}

function findOrganizations({ candidates, catalogue }: Records, threshold01: number): Found {
  // In a list of organizations a name is the name of one.
  const all = candidates.map((candidate) =>
    organizationOf(
      recordFrom({ ...candidate, organization: candidate.organization ?? candidate.fullName ?? [] }, catalogue, {
        run: 1,
      }),
    ),
  );
  const { model, groups, comparedPairs } = matchOrganizations(all, bitsOfProbability(threshold01));
  const book = new OrganizationBook(all, model);
  const pairs = all.flatMap((one, a) =>
    book
      .likely(one, bitsOfProbability(DEFAULT_THRESHOLDS.possible))
      .filter(({ at }) => at > a)
      .map(({ at, bits }) => ({
        a,
        b: at,
        bits,
        reasons: () => explainOrganizations(model, one, all[at] as MatchOrganization),
      })),
  );
  return { groups, comparedPairs, pairs };
}

/** Finds duplicates in a delimited file and writes record_id, group_id, probability for every record. */
export function matchFile(path: string, options: MatchOptions): Record<string, unknown> {
  const startedMs = performance.now();
  const records = readRecords(path);
  const { ids } = records;
  const readMs = performance.now() - startedMs;
  const threshold01 = options.certainOnly ? DEFAULT_THRESHOLDS.certain : options.threshold01;
  const found = options.organizations
    ? findOrganizations(records, threshold01)
    : findPeople(records, threshold01, options.certainOnly);
  writeGroups(
    options.out,
    ids,
    found.groups,
    options.certainOnly ? bitsOfProbability(DEFAULT_THRESHOLDS.certain) : -Infinity,
  );
  if (options.pairs) writePairs(options.pairs, ids, found.pairs, options.explain === true);
  const seconds = (performance.now() - startedMs) / 1000;
  return {
    records: ids.length,
    comparedPairs: found.comparedPairs,
    groups: found.groups.length,
    groupedRecords: found.groups.reduce((sum, group) => sum + group.members.length, 0),
    threshold01,
    seconds: Number(seconds.toFixed(2)),
    readSeconds: Number((readMs / 1000).toFixed(2)),
    peakMemoryMb: Math.round(process.resourceUsage().maxRSS / 1024),
    out: options.out,
    ...(options.pairs ? { pairs: options.pairs } : {}),
  };
}

function writePairs(out: string, ids: readonly string[], pairs: Found['pairs'], explain: boolean): void {
  let text = writeDelimitedLine(['record_a', 'record_b', 'bits', 'probability', ...(explain ? ['reasons'] : [])]);
  for (const { a, b, bits, reasons } of [...pairs].sort((x, y) => y.bits - x.bits || x.a - y.a || x.b - y.b)) {
    const line = [ids[a] ?? '', ids[b] ?? '', bits.toFixed(2), (1 / (1 + 2 ** -bits)).toFixed(5)];
    if (explain)
      line.push(
        reasons()
          .map((reason) => `${reason.text} ${reason.bits < 0 ? '' : '+'}${Math.round(reason.bits * 10) / 10}`)
          .join('; '),
      );
    text += writeDelimitedLine(line);
  }
  writeFileSync(out, text);
}

function writeGroups(out: string, ids: readonly string[], groups: readonly MatchGroup[], weakestBits: number): void {
  const groupOf = new Map<number, { id: number; probability01: number }>();
  groups.forEach((group, i) => {
    if (group.weakestBits < weakestBits) return;
    for (const member of group.members)
      groupOf.set(member, { id: i + 1, probability01: 1 / (1 + 2 ** -group.weakestBits) });
  });
  let text = writeDelimitedLine(['record_id', 'group_id', 'probability']);
  let single = groups.length;
  ids.forEach((id, i) => {
    const group = groupOf.get(i);
    text += writeDelimitedLine([id, `g${group?.id ?? ++single}`, (group?.probability01 ?? 1).toFixed(5)]);
  });
  writeFileSync(out, text);
}
