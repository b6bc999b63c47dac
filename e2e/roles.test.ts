import { afterAll, beforeAll, expect, test } from '@jest/globals';
import { By, until, type WebElement } from 'selenium-webdriver';
import { addAccount, Key, openStage, PATIENCE_MS, Screen, signInOf, type Stage } from './browser';

let stage: Stage;
let screen: Screen;
beforeAll(async () => {
  stage = await openStage({ demo: true });
  screen = new Screen(stage.driver);
  await addAccount(stage.data, 'vera@quillhaven.example', 'Vera Lund', 'viewer');
  await go('/');
  await (await screen.box('E-mail')).sendKeys('vera@quillhaven.example');
  await (await screen.box('Password')).sendKeys(signInOf(stage.data).password, Key.ENTER);
  await screen.text('Vera Lund');
});
afterAll(() => stage.end());

const go = (path: string) => stage.driver.get(stage.base + path);
/** A request for what a click asks for is under way by then. */
const A_MOMENT_MS = 120;
/** Buttons that are tried on a page. */
const MOST = 8;

/** Addresses that were refused to this person since the page was loaded. */
const refused = () =>
  stage.driver.executeScript<string[]>(
    `return performance.getEntriesByType('resource').filter((one) => one.responseStatus === 403).map((one) => one.name)`,
  );

/** What can be pressed; of the rows of a list, what is in the first, since the next do the same. */
const PRESSABLE = `
  return [...document.querySelectorAll('button:not([disabled]), select:not([disabled])')].filter((one) => {
    const row = one.closest('li, tr');
    const first = row?.parentElement?.querySelector(':scope > li, :scope > tr');
    return one.checkVisibility() && (!row || row === first);
  });`;
const buttons = () => stage.driver.executeScript<WebElement[]>(PRESSABLE);

async function ready(path: string): Promise<void> {
  await go(path);
  await stage.driver.executeScript('window.confirm = () => true; window.print = () => undefined;');
  await stage.driver.wait(until.elementLocated(By.css('main > *')), PATIENCE_MS);
  await stage.driver.sleep(A_MOMENT_MS * 3);
}

const PAGES = [
  '/worklist',
  '/contacts',
  '/contacts/5',
  '/opportunities',
  '/intake',
  '/intake/1',
  '/intake/2',
  '/intake/held',
  '/duplicates',
  '/duplicates/certain',
  '/duplicates/households',
  '/syncs',
  '/syncs/1',
  '/syncs/1/trial',
  '/syncs/conflicts',
  '/ledger',
  '/ledger/10',
  '/settings/upkeep',
  '/settings/browser',
  '/settings/you',
];

test.each(PAGES)('a viewer finds nothing on %s that is refused', async (path) => {
  await ready(path);
  const wrong = new Set(await refused());
  const names = new Set<string>();
  const count = (await buttons()).length;
  for (let i = 0; i < Math.min(count, MOST); i++) {
    const button = (await buttons())[i];
    if (!button) break;
    const name =
      (await button.getAttribute('aria-label').catch(() => null)) ?? (await button.getText().catch(() => ''));
    // The same button of the next row does the same.
    if (!name || names.has(name.replace(/[\d,]+/g, '#')) || /^Sign out/.test(name)) continue;
    names.add(name.replace(/[\d,]+/g, '#'));
    await button.click().catch(() => undefined);
    await stage.driver.sleep(A_MOMENT_MS);
    for (const one of await refused()) wrong.add(`${name}: ${one}`);
    // What opened over the page is in the way of the next button.
    if (new URL(await stage.driver.getCurrentUrl()).pathname !== path) await ready(path);
    else await stage.driver.actions().sendKeys(Key.ESCAPE).perform();
  }
  await ready(path);
  for (const key of ['n', 't', 'f', 'a', 's', 'u', 'x', '1', '2', 'm', Key.ENTER]) {
    await stage.driver.executeScript('document.activeElement.blur()');
    await stage.driver.actions().sendKeys(key).perform();
    await stage.driver.sleep(A_MOMENT_MS / 2);
  }
  await stage.driver.sleep(A_MOMENT_MS);
  for (const one of await refused()) wrong.add(`a key: ${one}`);
  expect([...wrong]).toEqual([]);
});

test('a viewer is offered neither entry nor the set-up', async () => {
  await ready('/contacts/5');
  const names = await Promise.all((await buttons()).map((one) => one.getText()));
  expect(names.filter((name) => /New contact|Delete contact|\+ value/.test(name))).toEqual([]);
  await ready('/settings/fields');
  expect(new URL(await stage.driver.getCurrentUrl()).pathname).toBe('/settings/upkeep');
});
