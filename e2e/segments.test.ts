import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import { ALL, Key, openStage, PATIENCE_MS, Screen, signInOf, type Stage } from './browser';

let stage: Stage;
let screen: Screen;
let cookie = '';
beforeAll(async () => {
  stage = await openStage();
  screen = new Screen(stage.driver);
  const { email, password } = signInOf(stage.data);
  await stage.driver.get(stage.base);
  await (await screen.box('E-mail')).sendKeys(email);
  await (await screen.box('Password')).sendKeys(password, Key.ENTER);
  await screen.link('Ines Carvalho');
  cookie = `${(await stage.driver.manage().getCookies()).map(({ name, value }) => `${name}=${value}`).join('; ')}`;
  const key = ((await api('/fields', 'POST', { name: 'Boat length', type: 'range' })) as { key: string }).key;
  for (const [givenName, familyName, tags, length, email] of [
    ['Ana', 'Reis', 'regatta', '10 to 12', 'ana@example.org'],
    ['Bo', 'Lund', 'regatta', '13 to 15', ''],
    ['Cy', 'Moor', 'press', '14 to 20', 'cy@example.org'],
    ['Di', 'Quay', 'press', '20 to 22', 'di@example.org'],
  ] as const) {
    const texts = { givenName, familyName, tags, [key]: length, email };
    const values = Object.entries(texts).flatMap(([field, text]) => (text ? [{ field, text }] : []));
    await api('/contacts', 'POST', { values, despite: true });
  }
});
afterAll(() => stage.end());

async function api(path: string, method = 'GET', body?: object): Promise<unknown> {
  const answer = await fetch(`${stage.base}/api${path}`, {
    method,
    headers: { Cookie: cookie, 'Content-Type': 'application/json' },
    ...(body ? { body: JSON.stringify(body) } : {}),
  });
  if (!answer.ok) throw new Error(await answer.text());
  const text = await answer.text();
  return text.startsWith('{') || text.startsWith('[') ? (JSON.parse(text) as unknown) : text;
}
const go = (path: string) => stage.driver.get(stage.base + path);

/** Chooses from a list of choices by typing. */
async function choose(button: string, typed: string): Promise<void> {
  await (await screen.button(button)).sendKeys(Key.ENTER);
  await screen.find("//input[@placeholder='Type to find']", 'the list of choices');
  await screen.press(typed);
  await screen.press(Key.ENTER);
}

describe('a segment', () => {
  test('is built by keyboard, with counts while one does, and kept', async () => {
    await go('/segments');
    await screen.text('No segment yet');
    expect(await screen.faultsOfPage()).toEqual([]);
    await screen.press('b');
    await (await screen.box('Name')).sendKeys('Regatta by mail');
    await choose('Add a condition', 'tag');
    await choose('Choose a value', 'regatta');
    await screen.find("//aside[contains(., '2')]", 'two people');
    await choose('Add a condition', 'e-mail');
    // The comparison of what was just added has the focus.
    await stage.driver.wait(
      async () =>
        (await (await stage.driver.switchTo().activeElement()).getAttribute('aria-label')) === 'How it compares',
      PATIENCE_MS,
    );
    await screen.press('is there');
    await screen.find("//aside//li[contains(., 'Reis, Ana')]", 'Ana');
    await screen.text('tag is regatta and e-mail is there');
    expect(await screen.faultsOfPage()).toEqual([]);
    await (await screen.box('Name')).sendKeys(Key.ENTER);
    await screen.find(
      "//td[contains(., '1')]/preceding-sibling::td[contains(., 'Regatta by mail')]",
      'the segment with one in it',
    );
    expect(await screen.faultsOfPage()).toEqual([]);
  });

  test('is taken out as a table, and opened in Contacts', async () => {
    const link = await screen.link('Table (CSV)');
    const path =
      new URL((await link.getAttribute('href')) ?? '').pathname +
      new URL((await link.getAttribute('href')) ?? '').search;
    const table = String(await api(path.replace('/api', '')));
    expect(table.trim().split('\n')).toHaveLength(2);
    expect(table).toContain('ana@example.org');
    await screen.click(() => screen.link('Open in Contacts'));
    await screen.text('in Regatta by mail');
    await screen.text('1 contact');
  });

  test('asks its blank when it is opened, and lists who is just beside', async () => {
    await go('/segments/new');
    await (await screen.box('Name')).sendKeys('Fits an offer');
    await choose('Add a condition', 'boat length');
    await screen.click(() => screen.button('ask on opening'));
    const question = await screen.box('The question that is asked');
    await question.sendKeys(ALL, 'How long is the boat?');
    await (await screen.box('Name')).sendKeys(Key.ENTER);
    await (await screen.box('How long is the boat?')).sendKeys('14');
    await screen.find("//aside//p[contains(., '2')]", 'two who fit');
    await screen.find("//ul[@aria-label='Just beside it']//li[contains(., 'Ana Reis')]", 'who is just beside');
    expect(await screen.faultsOfPage()).toEqual([]);
  });

  test('is what the conditions of a list become', async () => {
    await go('/contacts');
    await choose('Add a condition', 'press');
    await screen.text('tag is press');
    await screen.click(() => screen.button('Save as segment'));
    await (await screen.box('Name')).sendKeys('Of the press', Key.ENTER);
    await screen.find("//aside//h2[contains(., 'Of the press')]", 'the sheet of the segment');
  });
});

describe('a change of many', () => {
  test('is tried, done and taken back', async () => {
    await go('/contacts');
    await screen.click(() => screen.find("//input[@aria-label='Pick those in sight']", 'the head of the column'));
    await screen.text('4 picked');
    await screen.click(() => screen.find("//input[@aria-label='Pick Reis, Ana']", 'the box of Ana'));
    await screen.text('3 picked');
    await screen.press('c');
    await screen.text('Change these 3 people');
    await choose('Add: choose a tag', 'press');
    await screen.click(() => screen.button('Try it'));
    await screen.text('1 changes, 2 already so');
    expect(await screen.faultsOfPage()).toEqual([]);
    await screen.click(() => screen.button('Change 1'));
    await screen.text('Tag added: press: 1 changed, 2 already so');
    await screen.click(() => screen.button('Undo'));
    await screen.text('Undid: Tag added: press');
  });
});

describe('the list', () => {
  test('is found in with a slip, and ordered by any column', async () => {
    await go('/contacts?find=mooor');
    await screen.text('Moor, Cy');
    await go('/contacts');
    await screen.click(() => screen.button('E-mail'));
    await screen.find(
      "//*[@role='columnheader'][@aria-sort='ascending'][contains(., 'E-mail')]",
      'the order by e-mail',
    );
    await screen.click(() => screen.button('Columns'));
    await (await screen.box('Name of the layout')).sendKeys('By mail', Key.ENTER);
    await screen.button('By mail');
    expect(await screen.faultsOfPage()).toEqual([]);
  });
});
