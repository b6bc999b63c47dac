import { describe, expect, test } from '@jest/globals';
import type { ColumnMapping } from '../mapping';
import {
  readOpportunity,
  readOpportunityCell,
  type OpportunityCell,
  type OpportunityContext,
  type OpportunityTarget,
} from './opportunity-cells';
import { showReading } from './show-reading';

const stage = (label: string) => ({ label, kind: 'open' as const });
const context = {
  currency: 'GBP',
  pipelines: [
    { id: 1, name: 'Commissions', stages: [stage('Enquiry'), stage('Quoted')] },
    { id: 2, name: 'Grants', stages: [stage('Idea'), stage('Applied')] },
  ],
} as unknown as OpportunityContext;

const cell = (target: OpportunityTarget, text: string, more: Partial<ColumnMapping> = {}): OpportunityCell => ({
  target,
  text,
  column: { decimal: '.', dateOrder: 'dayFirst', ...more } as ColumnMapping,
  path: { column: 3 },
});

/** What the cells of a row become: fields with their values, or the codes of what is wrong. */
function read(...cells: OpportunityCell[]) {
  const { candidate, issues } = readOpportunity(cells, context);
  if (issues.length) return issues.map(({ code }) => code);
  return candidate && Object.fromEntries(Object.entries(candidate).map(([field, values]) => [field, values[0]?.v]));
}

describe('the opportunity of a row', () => {
  test('with all that can be said of it', () =>
    expect(
      read(
        cell('opportunityId', ' O-1 '),
        cell('opportunityName', 'Hull  survey'),
        cell('opportunityStage', 'quoted'),
        cell('opportunityValue', '1.450,50', { decimal: ',' }),
        cell('opportunityCurrency', 'eur'),
        cell('opportunityCloseDate', '01/09/2026'),
        cell('opportunityOwner', 'Callum'),
        cell('opportunityNote', 'call first'),
      ),
    ).toEqual({
      externalId: 'O-1',
      opportunityName: 'Hull survey',
      opportunityPipeline: 'Commissions',
      opportunityStage: 'Quoted',
      opportunityValue: { amount: 1450.5, currency: 'EUR' },
      opportunityCloseDate: '2026-09-01',
      owner: 'Callum',
      note: 'call first',
    }));

  test('a stage is looked for in every pipeline, in one that is named there alone; without one it is the first', () => {
    const name = cell('opportunityName', 'Bursary');
    const of = (...more: OpportunityCell[]) => read(name, ...more);
    expect(of(cell('opportunityStage', 'Applied'))).toMatchObject({ opportunityPipeline: 'Grants' });
    expect(of(cell('opportunityPipeline', 'grants'))).toMatchObject({ opportunityStage: 'Idea' });
    expect(of()).toMatchObject({ opportunityPipeline: 'Commissions', opportunityStage: 'Enquiry' });
    expect(of(cell('opportunityPipeline', 'Grants'), cell('opportunityStage', 'Quoted'))).toEqual(['unknownStage']);
    expect(of(cell('opportunityPipeline', 'Raffles'))).toEqual(['unknownChoice']);
  });

  test.each<[string, OpportunityCell[], unknown]>([
    ['no cell filled', [cell('opportunityName', ' ')], null],
    ['an owner alone', [cell('opportunityOwner', 'Callum'), cell('opportunityCurrency', 'GBP')], null],
    ['no amount', [cell('opportunityValue', 'n/a')], ['invalidNumber']],
    ['no day', [cell('opportunityCloseDate', 'soon')], ['invalidDate']],
    ['a day of no year', [cell('opportunityCloseDate', '1 Sep')], ['dateWithoutYear']],
    ['a name too long', [cell('opportunityName', 'x'.repeat(3000))], ['valueTooLong']],
  ])('%s', (_name, cells, expected) => expect(read(...cells)).toEqual(expected));

  test('an amount has the currency of its sign, of its column, or of the workspace, in this order', () => {
    const value = (text: string, ...more: OpportunityCell[]) => read(cell('opportunityValue', text), ...more);
    expect(value('£1,200')).toMatchObject({ opportunityValue: { amount: 1200, currency: 'GBP' } });
    expect(value('€90', cell('opportunityCurrency', 'GBP'))).toMatchObject({ opportunityValue: { currency: 'EUR' } });
    expect(value('90', cell('opportunityCurrency', 'USD'))).toMatchObject({ opportunityValue: { currency: 'USD' } });
    expect(value('90', cell('opportunityCurrency', 'pounds'))).toMatchObject({ opportunityValue: { currency: 'GBP' } });
  });
});

test.each<[OpportunityTarget, string, Partial<ColumnMapping>, string]>([
  ['opportunityName', ' Hull  survey', {}, 'Hull survey'],
  ['opportunityId', ' O-1', {}, 'O-1'],
  ['opportunityStage', 'quoted', {}, 'Quoted'],
  ['opportunityValue', '1200,50', { decimal: ',' }, '1,200.5'],
  ['opportunityValue', '€90', {}, '90 EUR'],
  ['opportunityCurrency', 'eur', {}, 'eur'],
  ['opportunityCloseDate', '01/09/2026', {}, '1 Sep 2026'],
  ['opportunityCloseDate', 'soon', {}, 'soon'],
])('a cell of %s, %j, is shown as it is read', (target, text, more, shown) =>
  expect(showReading(target, readOpportunityCell(cell(target, text, more), context))).toBe(shown),
);
