import { afterEach, describe, expect, jest, test } from '@jest/globals';
import { cleanup, fireEvent, render, screen } from '@testing-library/react';

afterEach(cleanup);

type Options = { enabled?: boolean; always?: boolean };

async function page(keys: string, options: Options = {}, singleKeys = true) {
  const { useKeyboard, useShortcut, activeShortcuts } = await import('./keyboard');
  const { setPreference } = await import('./preferences');
  setPreference('singleKeys', singleKeys);
  const run = jest.fn();
  function Page() {
    useKeyboard();
    useShortcut(keys, 'Do it', 'Here', run, options);
    return (
      <>
        <input aria-label="box" />
        <button type="button">button</button>
        <p>text</p>
        <div role="dialog">
          <span>inside</span>
        </div>
      </>
    );
  }
  const { unmount } = render(<Page />);
  return { run, unmount, activeShortcuts };
}

const press = (on: string, key: string, more: object = {}) => fireEvent.keyDown(screen.getByText(on), { key, ...more });

describe('shortcuts', () => {
  test('work wherever nobody types', async () => {
    const { run } = await page('n');
    press('text', 'n');
    expect(run).toHaveBeenCalledTimes(1);
    fireEvent.keyDown(screen.getByLabelText('box'), { key: 'n' });
    press('inside', 'n');
    expect(run).toHaveBeenCalledTimes(1);
  });

  test('those that always work do so in a box and in a dialog', async () => {
    const { run } = await page('Ctrl Enter', { always: true });
    fireEvent.keyDown(screen.getByLabelText('box'), { key: 'Enter', ctrlKey: true });
    press('inside', 'Enter', { metaKey: true });
    expect(run).toHaveBeenCalledTimes(2);
  });

  test('single keys can be switched off, others stay', async () => {
    const { run, unmount } = await page('n', {}, false);
    press('text', 'n');
    expect(run).not.toHaveBeenCalled();
    unmount();
    const other = await page('Escape', {}, false);
    press('text', 'Escape');
    expect(other.run).toHaveBeenCalledTimes(1);
  });

  test('Enter on a button belongs to the button', async () => {
    const { run } = await page('Enter');
    press('button', 'Enter');
    expect(run).not.toHaveBeenCalled();
    press('text', 'Enter');
    expect(run).toHaveBeenCalledTimes(1);
  });

  test('several keys may do one thing; with Alt they do none', async () => {
    const { run } = await page('j / ArrowDown');
    press('text', 'j');
    press('text', 'ArrowDown');
    press('text', 'j', { altKey: true });
    expect(run).toHaveBeenCalledTimes(2);
  });

  test('are listed while they work, and no longer', async () => {
    const { activeShortcuts, unmount } = await page('q');
    expect(activeShortcuts()).toEqual([expect.objectContaining({ keys: 'q', text: 'Do it', place: 'Here' })]);
    unmount();
    expect(activeShortcuts()).toEqual([]);
  });

  test('what is switched off does nothing', async () => {
    const { run, activeShortcuts } = await page('q', { enabled: false });
    press('text', 'q');
    expect(run).not.toHaveBeenCalled();
    expect(activeShortcuts()).toEqual([]);
  });
});
