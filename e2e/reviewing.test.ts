import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import { By, Key } from 'selenium-webdriver';
import type { Driver as ChromeDriver } from 'selenium-webdriver/chrome.js';
import { join } from 'node:path';
import { addAccount, openBrowser, openStage, Screen, signInOf, type Stage } from './browser';

let stage: Stage;
let screen: Screen;
beforeAll(async () => {
  stage = await openStage({ demo: true });
  screen = new Screen(stage.driver);
  const { email, password } = signInOf(stage.data);
  await stage.driver.get(stage.base);
  await (await screen.box('E-mail')).sendKeys(email);
  await (await screen.box('Password')).sendKeys(password, Key.ENTER);
  await screen.link('Worklist');
});
afterAll(() => stage.end());

const go = (path: string) => stage.driver.get(`${stage.base}${path}`);
const until = async (what: string, holds: () => Promise<boolean>) => {
  for (let i = 0; i < 400; i++) {
    if (await holds().catch(() => false)) return;
    await new Promise((done) => setTimeout(done, 25));
  }
  throw new Error(`${what} did not come`);
};
/** The group on the board, by its address. */
const current = async () => (await stage.driver.getCurrentUrl()).split('/').at(-1) ?? '';
const isReady = async () => {
  const button = await stage.driver.findElement(By.xpath('//button[starts-with(normalize-space(.), "Merge ")]'));
  return button.isEnabled();
};
const waiting = async () => {
  const text = await stage.driver.findElement(By.xpath('//nav[@aria-label="Groups"]//p[1]')).getText();
  return Number(/[\d,]+/.exec(text)?.[0].replaceAll(',', ''));
};

describe('working through duplicates', () => {
  test('thirty groups by keyboard in one go, with an undo in the middle', async () => {
    await go('/duplicates');
    await until('the first board', isReady);
    const atFirst = await waiting();
    await stage.driver.executeScript('document.activeElement.blur()');
    for (let i = 0; i < 30; i++) {
      const before = await current();
      // Every fifth is kept apart, every seventh waits, the others are merged.
      await screen.press(i % 5 === 4 ? 'a' : i % 7 === 6 ? 's' : Key.ENTER);
      await until(`group ${i + 2}`, async () => (await current()) !== before && (await isReady()));
      if (i === 11) {
        const left = atFirst - 12;
        await until('the count', async () => (await waiting()) === left);
        await screen.press('u');
        await until('the undone group', async () => (await waiting()) === left + 1);
      }
    }
    const later = [6, 13, 20, 27].filter((i) => i % 5 !== 4).length;
    await until('the count', async () => (await waiting()) === atFirst - 30 + 1);
    await screen.text(`${later} for later`);
  });

  test('two reviewers at once are never given the same group, and a group that one decided is told to the other', async () => {
    await addAccount(stage.data, 'tom@quillhaven.example', 'Tom Okoro');
    const driver = await openBrowser(join(stage.data, 'second-browser'));
    try {
      const other = new Screen(driver);
      await driver.get(stage.base);
      await (await other.box('E-mail')).sendKeys('tom@quillhaven.example');
      await (await other.box('Password')).sendKeys(signInOf(stage.data).password, Key.ENTER);
      await other.link('Worklist');
      const groupOf = async (one: typeof driver) => (await one.getCurrentUrl()).split('/').at(-1) ?? '';
      const ready = async (one: typeof driver) =>
        (await one.findElement(By.xpath('//button[starts-with(normalize-space(.), "Merge ")]'))).isEnabled();
      await go('/duplicates');
      await until('the first board', () => ready(stage.driver));
      await driver.get(`${stage.base}/duplicates`);
      await until('the second board', () => ready(driver));
      for (const one of [stage.driver, driver]) await one.executeScript('document.activeElement.blur()');
      const atFirst = await waiting();
      for (let i = 0; i < 6; i++) {
        for (const [one, keys] of [
          [stage.driver, screen],
          [driver, other],
        ] as const) {
          expect(await groupOf(stage.driver)).not.toBe(await groupOf(driver));
          const before = await groupOf(one);
          await keys.press(Key.ENTER);
          await until(`group ${i + 2}`, async () => (await groupOf(one)) !== before && (await ready(one)));
        }
      }
      await until('the count', async () => (await waiting()) === atFirst - 12);
      // By the address one may look at what the other has; it says so, and whoever decides second is told.
      const group = await groupOf(stage.driver);
      await driver.get(`${stage.base}/duplicates/${group}`);
      await until('the same board', () => ready(driver));
      await other.text('is looking at this group too');
      await driver.executeScript('document.activeElement.blur()');
      await screen.press(Key.ENTER);
      await until('the next group', async () => (await groupOf(stage.driver)) !== group);
      // What stands there now has nothing to merge any more.
      await other.text('Ines Carvalho merged this group.');
      await other.press(Key.ENTER);
      expect(await groupOf(driver)).toBe(group);
    } finally {
      await driver.quit();
    }
  });

  test('the certain ones are merged in one go and taken back whole', async () => {
    await go('/duplicates/certain');
    await screen.text('picked at random');
    const before = await waiting();
    await screen.click(() => screen.find('(//label[contains(., "leave to a person")])[1]', 'a group of the sample'));
    await screen.text('1 stay for a person');
    await stage.driver.executeScript('document.activeElement.blur()');
    await screen.press(Key.ENTER);
    await screen.text('groups are merged');
    await until('fewer groups', async () => (await waiting()) < before - 50);
    await screen.click(() => screen.button('Undo the whole batch'));
    await screen.text('It was taken back');
    await until('the groups again', async () => (await waiting()) === before);
  });

  test('a line that is cut is said; what is on screen stays, and nothing is done later by itself', async () => {
    await go('/duplicates');
    await until('a board', isReady);
    await stage.driver.executeScript('document.activeElement.blur()');
    const [group, before] = [await current(), await waiting()];
    const browser = stage.driver as ChromeDriver;
    const line = { latency: 0, download_throughput: 1e9, upload_throughput: 1e9 };
    await browser.setNetworkConditions({ ...line, offline: true });
    await screen.press(Key.ENTER);
    await screen.text('Check that it is running');
    await screen.text('trying again');
    expect(await current()).toBe(group);
    await browser.setNetworkConditions({ ...line, offline: false });
    const said = () => stage.driver.findElements(By.xpath('//footer[contains(., "trying again")]'));
    await until('the line', async () => (await said()).length === 0);
    expect(await waiting()).toBe(before);
    await screen.press(Key.ENTER);
    await until('the next group', async () => (await current()) !== group && (await waiting()) === before - 1);
  });

  test('households are kept and refused by keyboard, and taken back from the tape', async () => {
    await go('/duplicates/households');
    const proposed = async () =>
      (await stage.driver.findElements(By.css('[aria-label="Proposed households"] > li'))).length;
    await until('proposals', async () => (await proposed()) > 5);
    const before = await proposed();
    await stage.driver.executeScript('document.activeElement.blur()');
    await screen.press(Key.ENTER);
    await screen.text('1 kept');
    await screen.press('x');
    await until('two fewer', async () => (await proposed()) === before - 2);
    await screen.click(() => screen.button('Undo'));
    await until('the refused one again', async () => (await proposed()) === before - 1);
  });

  test('thresholds show what they would catch while they are moved', async () => {
    await go('/settings/matching');
    await screen.text('may be merged as a batch');
    const caught = () =>
      stage.driver.findElement(By.xpath('//tr[th[normalize-space(.)="certain"]]/td[2]')).then((cell) => cell.getText());
    const before = await caught();
    const slider = await screen.box('certain from');
    await slider.sendKeys(Key.ARROW_RIGHT, Key.ARROW_RIGHT, Key.PAGE_UP);
    await until('another count', async () => (await caught()) !== before);
    await screen.click(() => screen.button('As it was'));
    await until('the count as it was', async () => (await caught()) === before);
  });

  test.each([
    '/duplicates/certain',
    '/duplicates/origin',
    '/duplicates/households',
    '/settings/matching',
    '/settings/merging',
  ])('%s is free of faults that axe knows, in light and dark, and fits a narrow window', async (path) => {
    await go(path);
    await screen.link('Worklist');
    await screen.gone('Loading');
    expect(await screen.faultsOfPage()).toEqual([]);
  });
});
