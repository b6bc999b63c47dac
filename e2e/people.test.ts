import { afterAll, beforeAll, expect, test } from '@jest/globals';
import { join } from 'node:path';
import { TOTP } from 'otpauth';
import type { WebDriver } from 'selenium-webdriver';
import { ALL, Key, openBrowser, openStage, Screen, type Stage } from './browser';

let stage: Stage;
let screen: Screen;
let other: WebDriver;
let theirs: Screen;
beforeAll(async () => {
  stage = await openStage({ untouched: true });
  screen = new Screen(stage.driver);
  other = await openBrowser(join(stage.data, 'second-browser'));
  theirs = new Screen(other);
});
afterAll(async () => {
  await other.quit();
  await stage.end();
});

const go = (path: string) => stage.driver.get(stage.base + path);
const PASSWORD = 'a good password';

test('a new workspace asks for its first account in the browser', async () => {
  await go('/');
  await screen.text('Nobody has an account here yet');
  await (await screen.box('Your name')).sendKeys('Ines Carvalho');
  await (await screen.box('E-mail')).sendKeys('ines@quillhaven.example');
  await (await screen.box('Password')).sendKeys('short', Key.ENTER);
  await screen.text('A password has at least 10 characters.');
  expect(await screen.faultsOfPage()).toEqual([]);
  await (await screen.box('Password')).sendKeys(' and longer', Key.ENTER);
  await screen.link('Ines Carvalho');
});

/** The link that an administrator makes for somebody. */
async function inviteTo(name: string, email: string): Promise<string> {
  await go('/settings/people');
  await (await screen.box('Name of whom to invite')).sendKeys(name);
  await (await screen.box('E-mail of whom to invite')).sendKeys(email);
  await screen.click(() => screen.button('Make a link to invite'));
  return (await (await screen.box('Link to send')).getAttribute('value')) ?? '';
}

test('somebody is invited by a link, makes the account, and the link is good once', async () => {
  const link = await inviteTo('Tom Okoro', 'tom@quillhaven.example');
  expect(await screen.faultsOfPage()).toEqual([]);
  await other.get(link);
  await theirs.text('Ines Carvalho invites you to the contact database');
  expect(await theirs.faultsOfPage()).toEqual([]);
  await (await theirs.box('Password')).sendKeys(PASSWORD, Key.ENTER);
  await theirs.link('Tom Okoro');
  await go(new URL(link).pathname);
  await screen.text('This link was used already');
  await go('/settings/people');
  await screen.text('tom@quillhaven.example');
});

let secret = '';
const codeOf = (stepsOn: number) => new TOTP({ secret }).generate({ timestamp: Date.now() + stepsOn * 30_000 });

test('a second factor is set up with its picture, and asked for at the next sign-in', async () => {
  await other.get(`${stage.base}/settings/you`);
  await theirs.click(() => theirs.button('Set it up'));
  const shown = await (await theirs.find("//span[contains(@class, 'break-all')]", 'the secret')).getText();
  secret = shown.replace(/\s/g, '');
  expect(await theirs.faultsOfPage()).toEqual([]);
  const first = codeOf(0);
  await (await theirs.box('The code that it shows then')).sendKeys(first, Key.ENTER);
  await theirs.text('Keep these codes where only you find them');
  const recovery = await theirs.find("//ul[@aria-label='Recovery codes']/li", 'a recovery code');
  const code = await recovery.getText();
  await theirs.click(() => theirs.button('I have kept them'));
  await theirs.text('It is on.');
  await theirs.click(() => theirs.button('Sign out'));
  // A code is good once; clocks may be a step off, so that of the next step counts already.
  const signIn = async (one: string) => {
    await (await theirs.box('E-mail')).sendKeys('tom@quillhaven.example');
    await (await theirs.box('Password')).sendKeys(PASSWORD, Key.ENTER);
    await (await theirs.box('Code of the second factor')).sendKeys(one, Key.ENTER);
  };
  await signIn(first);
  await theirs.text('This code does not fit, or was used already');
  await (await theirs.box('Code of the second factor')).sendKeys(ALL, codeOf(1), Key.ENTER);
  await theirs.link('Tom Okoro');
  await theirs.click(() => theirs.link('Tom Okoro'));
  await theirs.click(() => theirs.button('Sign out'));
  await signIn(code);
  await theirs.link('Tom Okoro');
});

/** A contact that is made without the page. */
const enter = (values: Record<string, string>) =>
  stage.driver.executeAsyncScript<number>(
    `const [values, done] = arguments;
     fetch('/api/contacts', { method: 'POST', headers: { 'Content-Type': 'application/json' }, body: JSON.stringify({
       values: Object.entries(values).map(([field, text]) => ({ field, text })) }) })
       .then((answer) => answer.json()).then(({ contactId }) => done(contactId));`,
    values,
  );

test('two on one contact see each other, what one saves shows with the other, and of one field both values are offered', async () => {
  const id = await enter({ givenName: 'Rhys', familyName: 'Bowen', title: 'Rigger', nickname: 'Rees' });
  await go(`/contacts/${id}`);
  await other.get(`${stage.base}/contacts/${id}`);
  await screen.text('Tom Okoro has this open too');
  await theirs.text('Ines Carvalho has this open too');
  /** Opens a value and types another; it is saved by Enter. */
  const retype = async (one: Screen, from: string, to: string, ...more: string[]) => {
    await one.click(() => one.button('', from));
    await one.mark(from);
    await one.press(to, ...more);
  };
  await retype(theirs, 'Rees', 'Reesey', Key.ENTER);
  await screen.text('Reesey');
  // Its form closes and moves what is below it: a click would miss.
  await theirs.button('', 'Reesey');
  await retype(theirs, 'Rigger', 'Foreman');
  await retype(screen, 'Rigger', 'Sailmaker', Key.ENTER);
  await screen.text('Sailmaker');
  await theirs.press(Key.ENTER);
  await theirs.text('Sailmaker');
  await theirs.click(() => theirs.button('Replace with mine'));
  await screen.text('Foreman');
  await other.get(`${stage.base}/worklist`);
  await screen.gone('Tom Okoro has this open too');
});

test('an editor with a remit sees, counts and exports only theirs, also by a guessed address', async () => {
  const own = await enter({ givenName: 'Mila', familyName: 'Quay', owner: 'Tom Okoro' });
  const others = await enter({ givenName: 'Nell', familyName: 'Sluice', owner: 'Ines Carvalho' });
  await go('/settings/people');
  await screen.click(() => screen.button('', 'tom@quillhaven.example'));
  await screen.click(() => screen.find("//article//label[contains(., 'only contacts with one of these')]", 'a remit'));
  await (await screen.find("//article//select[@aria-label='Add an owner']", 'the owners')).sendKeys('Tom Okoro');
  await screen.text('1 of');
  expect(await screen.faultsOfPage()).toEqual([]);
  await screen.click(() => screen.button('Save what Tom Okoro sees'));
  await screen.text('sees 1: owner Tom Okoro');
  await other.get(`${stage.base}/contacts`);
  await theirs.text('Quay, Mila');
  await theirs.gone('Sluice, Nell');
  await theirs.text('1 contact');
  await theirs.text('part of the book');
  expect(await theirs.faultsOfPage()).toEqual([]);
  await other.get(`${stage.base}/contacts/${others}`);
  await theirs.text('There is no such contact');
  const exported = await other.executeAsyncScript<string>(
    `fetch('/api/contacts.csv?fields=givenName,familyName').then((answer) => answer.text()).then(arguments[0])`,
  );
  expect([exported.includes('Mila'), exported.includes('Nell')]).toEqual([true, false]);
  // Handed to somebody else, it is out of sight.
  await other.get(`${stage.base}/contacts/${own}`);
  await theirs.click(() => theirs.button('Hand over'));
  await theirs.click(() => theirs.find("//label[contains(., 'Ines Carvalho')]", 'whom to hand it to'));
  await theirs.click(() => theirs.find("//form//button[normalize-space(.) = 'Hand over']", 'the button'));
  await theirs.text('There is no such contact');
});

test('an account that is retired is out at once, and what it owned is somebody else’s', async () => {
  const made = await enter({ givenName: 'Kari', familyName: 'Pike', owner: 'Tom Okoro' });
  await go('/settings/people');
  await screen.click(() => screen.button('', 'tom@quillhaven.example'));
  await screen.click(() => screen.button('Retire the account'));
  await (await screen.box('One contact goes')).sendKeys('Ines Carvalho');
  await screen.click(() => screen.button('Retire Tom Okoro'));
  await screen.text('Retired');
  expect(await screen.faultsOfPage()).toEqual([]);
  // Nobody reloads: the other browser is told, and shows the way in.
  await theirs.text('Sign in to the contact database');
  await go(`/contacts/${made}`);
  await screen.text('Ines Carvalho');
  await go('/ledger');
  await screen.text('What Tom Okoro owned, handed to Ines Carvalho');
});
