import { describe, expect, test } from '@jest/globals';
import { NO_COLUMN, wholeFileSettings, withoutSetting, type ColumnMapping, type Mapping } from './mapping';
import { renamedMapping, renamedPlaces } from './renamed-mapping';
import type { Transform } from './rows/transform';

const column = (target: string, ...transforms: Transform[]): ColumnMapping => ({
  column: NO_COLUMN,
  header: null,
  target,
  label: null,
  dateOrder: 'iso',
  decimal: '.',
  separator: null,
  newField: null,
  transforms,
  onBad: 'hold',
});
const mappingOf = (...columns: ColumnMapping[]): Mapping => ({
  columns,
  wholeFile: { tags: ['crew', 'regatta'], source: 'Fair', stage: null, owner: 'Callum' },
  allowNew: true,
  allowChange: true,
  writeRule: 'fill',
  recognise: ['email'],
  country: 'GB',
});
const fixed = (value: string): Transform => ({ kind: 'fixed', value });
const move = (pipeline: string, stage: string, to: string, toPipeline = pipeline) => ({
  pipeline,
  stage,
  to: { pipeline: toPipeline, stage: to },
});
const stages = (mapping: Mapping) => mapping.columns.map(({ transforms }) => transforms?.[0]);

describe('a stage of a pipeline that is renamed', () => {
  const MAPPING = mappingOf(
    column('opportunityStage', {
      kind: 'values',
      pairs: [
        ['ask', 'Enquiry'],
        ['sold', 'Won'],
      ],
      otherwise: 'keep',
    } as Transform),
    column('title', fixed('Enquiry')),
  );

  test('is called so in what a mapping gives to rows, and nowhere else', () => {
    const now = renamedPlaces(MAPPING, [move('Courses', 'Enquiry', 'Asked'), move('Courses', 'Won', 'Won')]);
    expect(stages(now)).toMatchObject([
      {
        pairs: [
          ['ask', 'Asked'],
          ['sold', 'Won'],
        ],
      },
      { value: 'Enquiry' },
    ]);
  });

  test('keeps its name where another pipeline still has it, unless the mapping names the one', () => {
    const moves = [move('Courses', 'Enquiry', 'Asked'), move('Berths', 'Enquiry', 'Enquiry')];
    expect(renamedPlaces(MAPPING, moves)).toEqual(MAPPING);
    const ofCourses = { ...MAPPING, columns: [...MAPPING.columns, column('opportunityPipeline', fixed('Courses'))] };
    expect(stages(renamedPlaces(ofCourses, moves))[0]).toMatchObject({
      pairs: [
        ['ask', 'Asked'],
        ['sold', 'Won'],
      ],
    });
  });

  test('two that change names do so at once, and a pipeline goes along', () => {
    const mapping = mappingOf(
      column('opportunityStage', fixed('A')),
      column('opportunityStage', { kind: 'ifEmpty', use: 'B' }),
      column('opportunityPipeline', fixed('Old')),
    );
    const now = renamedPlaces(mapping, [move('Old', 'A', 'B', 'New'), move('Old', 'B', 'A', 'New')]);
    expect(stages(now)).toMatchObject([{ value: 'B' }, { use: 'A' }, { value: 'New' }]);
  });
});

test('an owner who is renamed is so for opportunities too', () => {
  const mapping = mappingOf(column('opportunityOwner', fixed('Callum')));
  const now = renamedMapping(mapping, { field: 'owner', from: 'Callum', into: 'Callum Bryne' });
  expect([now.wholeFile.owner, stages(now)]).toMatchObject(['Callum Bryne', [{ value: 'Callum Bryne' }]]);
});

test('what every row gets is listed, and taken out one by one', () => {
  const { wholeFile } = mappingOf();
  const settings = wholeFileSettings(wholeFile);
  expect(settings).toEqual([
    { what: 'tags', value: 'crew' },
    { what: 'tags', value: 'regatta' },
    { what: 'source', value: 'Fair' },
    { what: 'owner', value: 'Callum' },
  ]);
  for (const [i, setting] of settings.entries())
    expect(wholeFileSettings(withoutSetting(wholeFile, setting))).toEqual(settings.filter((_, j) => j !== i));
});
