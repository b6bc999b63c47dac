import { afterEach, expect, test } from '@jest/globals';
import { cleanup, render, screen, within } from '@testing-library/react';
import { BarChart } from './bar-chart';

afterEach(cleanup);

test('a chart says its figures to whoever cannot see it, without taking room', () => {
  render(
    <BarChart
      labels={['7 Sept', '']}
      caption="New contacts by week"
      names={['7 Sept', '14 Sept']}
      series={[
        { name: 'File', colour: '#000', data: [3, 0] },
        { name: 'By hand', colour: '#111', data: [1, 2] },
      ]}
    />,
  );
  const table = screen.getByRole('table', { name: 'New contacts by week' });
  expect(within(table).getByRole('row', { name: '7 Sept File 3, By hand 1' })).toBeTruthy();
  expect(within(table).getByRole('row', { name: '14 Sept File 0, By hand 2' })).toBeTruthy();
  expect(table.parentElement?.className).toBe('sr-only');
});
