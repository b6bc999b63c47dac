import { expect, test } from '@jest/globals';
import fc from 'fast-check';
import type pg from 'pg';
import { Catalogue } from '@gray-loom/core/fields';
import type { ColumnMapping, Mapping } from '@gray-loom/core/mapping';
import { recordFrom } from '@gray-loom/core/writing';
import type { Derivation } from '../../../book/derivation';
import { ImportPlanner } from './import-plan';
import type { PlainPlan, RowPlan } from './row-plan';
import { PickLists } from '../../../book/picks';
import { emptyRendering, renderContact, renderPlain, toBlocks } from '../../../book/render-contacts';

const RUN = 7;
const NOW = '2026-11-27T08:00:00.000Z';

type Column = [target: string, clean: string[], odd: string[], more?: Partial<ColumnMapping>];

const COLUMNS: Column[] = [
  ['externalId', ['A-17', 'A-18', ''], [' a-17', '«»']],
  [
    'givenName',
    ['Ana', 'Tom', 'Ellen', 'Änne', 'Jean Luc', 'Bob', '健'],
    ['', '?', 'Dr Ana', 'ana & tom', "O'", 'E1len', 'n/a'],
  ],
  [
    'familyName',
    ['Reis', 'Quay', 'van der Quay', 'Öhm', 'Smith-Jones', 'MOOR', '山田'],
    ['', 'Quay III', 'null', '=1+1', 'van', 'a\tb', 'Quay\\n'],
  ],
  [
    'email',
    ['ana@quay.example', 'tom.moor@quay.example', 'T+x@Quay.example', '', ''],
    ['none@x.example', 'a@b.example; c@d.example', 'not one', 'Ana Reis <ana@quay.example>', 'ä@öhm.example'],
  ],
  ['tel', ['+1 207-555-0142', '01632 960301', '07700 900123', '', ''], ['000', '1.6E+10', '12', '+49 30 1234 / 5678']],
  ['tel', ['', '', '+44 1632 960302', '+1 207-555-0142'], ['mobile: 07700 900124'], { label: 'work' }],
  [
    'street',
    ['4 Slip Lane', '', 'Am "Kai" 3'],
    ['a\nb', ' ', 'Kai 3, 24103 Kiel'],
    { label: 'home', wholeAddress: true },
  ],
  ['locality', ['Falmouth', 'Øster', ''], ['  Oban  ']],
  ['postalCode', ['TR11 3AB', '01067', ''], ["'01067"]],
  ['country', ['United Kingdom', 'US', ''], ['Nowhereland']],
  ['bday', ['1971-07-14', '14.07.1971', ''], ['1900-01-01', '31.02.1980', '--07-14']],
  ['organization', ['Quay Timber Ltd', 'Slip & Sons', ''], ['@SUM(1)']],
  ['tags', ['crew', 'crew; gig', '', 'CREW'], ['crew; crew', 'x'.repeat(90)]],
  ['stage', ['Student', ''], ['Nobody']],
  ['note', ['asked about planks', 'two\nlines "said"', ''], ['\u0000x', '\\']],
  ['nickname', ['', '', ''], ['Nan']],
  [
    'fullName',
    ['Ana Reis', 'Reis, Ana', 'Dr Tom van der Quay', 'Änne Öhm', '山田 健', ''],
    ['Tom Quay Jr', 'Ana', 'Ana & Tom Reis', 'Quay Timber Ltd', 'Ellen "Nan" Moor', 'Ana Maria Reis'],
  ],
  ['custom.4', ['3', '1.5', ''], ['three']],
];

const NAMES = ['givenName', 'familyName', 'fullName'];

const catalogue = new Catalogue([{ key: 'custom.4', name: 'Depth', group: 'custom', type: 'number', several: false }]);

const mappingOf = (columns: readonly Column[], more: Partial<Mapping>): Mapping => ({
  columns: columns.map(([target, , , own], column) => ({
    column,
    header: `H${column}`,
    target,
    label: null,
    dateOrder: 'dayFirst',
    decimal: '.',
    separator: ';',
    newField: null,
    onBad: 'hold',
    ...own,
    ...(target === 'street' || !['locality', 'postalCode', 'country'].includes(target) ? {} : { label: 'home' }),
  })),
  wholeFile: { tags: [], source: null, stage: null, owner: null },
  allowNew: true,
  allowChange: true,
  writeRule: 'fill',
  recognise: ['externalId', 'email', 'tel', 'name'],
  country: 'GB',
  ...more,
});

/** A book with nobody in it. */
const empty = {
  query: async (text: string) => ({ rows: text.includes('from run') ? [{ last: 0, busy: false }] : [] }),
} as unknown as pg.Pool;

function plannerOf(mapping: Mapping): ImportPlanner {
  const shape = {
    columnCount: mapping.columns.length,
    headers: mapping.columns.map(({ header }) => header),
  } as unknown as ConstructorParameters<typeof ImportPlanner>[0]['shape'];
  const picks = new PickLists([
    { kind: 'stage', label: 'Student', foldKey: 'student' },
    { kind: 'tag', label: 'Crew', foldKey: 'crew' },
  ]);
  return new ImportPlanner({ pool: empty, mapping, catalogue, picks, shape, runId: RUN });
}

const derivations: Derivation[] = [
  { areas: [], uniqueFields: [], remits: [], weights: null },
  {
    areas: [{ name: 'West', rules: [{ country: 'GB', region: null, postalPrefix: 'TR' }] }],
    uniqueFields: [],
    remits: [],
    weights: null,
  },
  { areas: [], uniqueFields: [], remits: [], weights: { email: 3, tags: 1, stage: 0, 'custom.1': 2, familyName: 1 } },
];

/** What the tables get for one new person. */
function rendered(derivation: Derivation, render: (into: ReturnType<typeof emptyRendering>) => void) {
  const into = emptyRendering(derivation);
  render(into);
  const { contacts, keys, search, operations, tally } = toBlocks(into);
  const text = (bytes: Uint8Array) => new TextDecoder().decode(bytes);
  return [text(contacts), [...keys].sort((a, b) => a - b), text(search), text(operations), tally];
}

const outcomeOf = (plan: RowPlan | PlainPlan) =>
  'plain' in plan
    ? { row: plan.row, decision: { kind: 'new' }, issues: [] }
    : { row: plan.row, decision: plan.decision, issues: plan.issues };

/** Rows of which so many cells in a hundred are odd; most mailboxes and numbers are of one person alone. */
const rows = (odd: number) =>
  fc.array(
    fc.tuple(
      ...COLUMNS.map(([target, clean, odds]) =>
        fc.tuple(fc.nat(99), fc.nat(99), fc.nat(99_999)).map(([chance, i, own]) => {
          const list = chance < odd ? odds : clean;
          const cell = list[i % list.length] ?? '';
          if (chance > 90) return cell;
          if (target === 'email') return cell.replace('@quay', `${own}@quay`);
          return target === 'tel' ? cell.replace(/\d{4}$/, String(own + 100_000).slice(2)) : cell;
        }),
      ),
    ),
    { minLength: 1, maxLength: 12 },
  );

const mappings = fc.record({
  names: fc.constantFrom<string[]>(['givenName', 'familyName'], ['fullName'], ['givenName', 'familyName', 'fullName']),
  left: fc.subarray(COLUMNS.map((_, i) => i).filter((i) => !NAMES.includes(COLUMNS[i]?.[0] ?? ''))),
  tags: fc.subarray(['Crew', 'Club list']),
  source: fc.constantFrom(null, 'Regatta'),
  stage: fc.constantFrom(null, 'Student'),
  recognise: fc.constantFrom<Mapping['recognise']>(
    ['externalId', 'email', 'tel', 'name'],
    ['email'],
    ['name', 'tel'],
    [],
  ),
});

test('a row that is read the short way is the same person as by the long way, to the letter', async () => {
  const seen = { whole: 0, plain: 0, rows: 0, folds: 0, held: 0 };
  await fc.assert(
    fc.asyncProperty(
      fc.constantFrom(0, 1, 8).chain(rows),
      mappings,
      fc.constantFrom(...derivations),
      async (cells, { left, names, tags, source, stage, recognise }, derivation) => {
        const mapping = mappingOf(COLUMNS, { recognise, wholeFile: { tags, source, stage, owner: null } });
        for (const [i, [target]] of COLUMNS.entries())
          if (NAMES.includes(target) && !names.includes(target))
            Object.assign(mapping.columns[i] ?? {}, { target: null });
        for (const i of left) Object.assign(mapping.columns[i] ?? {}, { target: null });
        const table = cells.map((row, i) => ({ row: i + 1, cells: [...row] }));
        const long = await plannerOf(mapping).plan(table);
        const short = await plannerOf(mapping).planShort(table);
        expect(short.map(outcomeOf)).toEqual(long.map(outcomeOf));
        for (const [i, plan] of short.entries()) {
          const same = long[i];
          if (!same) throw new Error('a row has no plan');
          seen.rows++;
          if (same.decision.kind === 'fold') seen.folds++;
          if (same.decision.kind === 'held') seen.held++;
          if (!('plain' in plan)) continue;
          seen.plain++;
          if (!names.includes('givenName')) seen.whole++;
          const { candidate, person, row } = same;
          const record = recordFrom(candidate, catalogue, { run: RUN, row });
          expect(rendered(derivation, (into) => renderPlain(into, RUN, 5, row, plan.plain, NOW))).toEqual(
            rendered(derivation, (into) => renderContact(into, RUN, 5, { record, person, sourceRow: row }, NOW)),
          );
        }
      },
    ),
    { numRuns: 400 },
  );
  // Of rows that leave nothing to decide most go the short way, and the others were there as well.
  expect(seen.plain / seen.rows).toBeGreaterThan(0.25);
  expect(seen.whole).toBeGreaterThan(50);
  expect(seen.folds).toBeGreaterThan(50);
  expect(seen.held).toBeGreaterThan(50);
});

test.each<[string, Partial<Mapping>]>([
  ['recognises by the matching as a whole', { recognise: ['engine'] }],
  ['lets nobody new in', { allowNew: false }],
  ['says when its rows were changed', { changedColumn: 0 }],
])('a file that %s goes the long way altogether', async (_, more) => {
  const plans = await plannerOf(mappingOf(COLUMNS.slice(1, 4), more)).planShort([
    { row: 1, cells: ['Ana', 'Reis', 'ana@quay.example'] },
  ]);
  expect(plans.some((plan) => 'plain' in plan)).toBe(false);
});
