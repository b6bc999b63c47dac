import { afterAll, beforeAll, expect, test } from '@jest/globals';
import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { By } from 'selenium-webdriver';
import { Key, openStage, Screen, signInOf, type Stage } from './browser';

let stage: Stage;
let screen: Screen;
let dialer: { port: number; key: string };
const go = (path: string) => stage.driver.get(stage.base + path);
const until = async (what: string, holds: () => Promise<boolean>) => {
  for (let i = 0; i < 300; i++) {
    if (await holds().catch(() => false)) return;
    await new Promise((done) => setTimeout(done, 100));
  }
  throw new Error(`${what} did not come`);
};
const pageSays = async (text: string) => (await stage.driver.findElement(By.css('body')).getText()).includes(text);
/** What the app says to whoever is signed in in the browser. */
const asked = <T>(path: string) =>
  stage.driver.executeAsyncScript<T>(
    `const done = arguments[arguments.length - 1];
     fetch('/api' + arguments[0]).then((answer) => answer.json()).then(done)`,
    path,
  );
/** Opens a page until it says something: what comes from over there comes by itself. */
const comesTo = (path: string, text: string) =>
  until(text, async () => {
    await go(path);
    await new Promise((done) => setTimeout(done, 700));
    return pageSays(text);
  });

/** What a colleague does on the plain page of the dialer. */
async function overThere(path: '/person' | '/call', form: Record<string, string>): Promise<void> {
  const answer = await fetch(`http://127.0.0.1:${dialer.port}${path}`, {
    method: 'POST',
    body: new URLSearchParams(form),
    redirect: 'manual',
  });
  expect(answer.status).toBe(303);
}
const MORWENNA = { name: 'Morwenna Tidewell', phone0: '+44 7700 900301' };

beforeAll(async () => {
  stage = await openStage();
  screen = new Screen(stage.driver);
  ({ dialer } = JSON.parse(readFileSync(join(stage.data, 'stand-ins.json'), 'utf8')) as { dialer: typeof dialer });
  await overThere('/person', MORWENNA);
  const { email, password } = signInOf(stage.data);
  await go('/');
  await (await screen.box('E-mail')).sendKeys(email);
  await (await screen.box('Password')).sendKeys(password, Key.ENTER);
  await screen.link('Worklist');
});
afterAll(() => stage.end());

test('a dialer is chosen, tested and connected; the trial shows who would come, the run brings them', async () => {
  await go('/syncs/new');
  const kind = await screen.find('//select[option[normalize-space(.)="Dialer"]]', 'the kinds of tools');
  await kind.findElement(By.xpath('./option[normalize-space(.)="Dialer"]')).click();
  await (await screen.box('What you call it')).sendKeys('Phone bank');
  await (await screen.box('Address of its interface')).sendKeys(`http://127.0.0.1:${dialer.port}/v1`);
  await (await screen.box('Key')).sendKeys(dialer.key);
  await screen.click(() => screen.button('Test'));
  await screen.text('It answers, and takes the key');
  await screen.click(() => screen.button('Connect'));
  await screen.text('What goes where');
  await screen.click(() => screen.button('Save and try'));
  await screen.text('1 new here');
  await screen.click(() => screen.button('Run all of it'));
  await comesTo('/contacts', 'Tidewell, Morwenna');
});

test('it is told to call; who is sent over there by hand arrives by itself', async () => {
  await go('/syncs/1');
  await screen.click(() => screen.button('Have it call'));
  await screen.text('and signs what it says');
  const timetable = await screen.find('//label[span[normalize-space(.)="Timetable"]]/select', 'the timetable');
  await timetable.findElement(By.xpath('./option[normalize-space(.)="when it is called"]')).click();
  await screen.text('runs when it is called');
  await overThere('/person', { name: 'Jago Quickcall', phone0: '+44 7700 900302' });
  await comesTo('/contacts?find=Quickcall', 'Quickcall, Jago');
});

test('a call there stands with its contact here, and moves them into a segment', async () => {
  const condition = { field: '@activity', op: 'did', value: { kinds: ['call'] } };
  const made = await stage.driver.executeAsyncScript<number>(
    `const done = arguments[arguments.length - 1];
     fetch('/api/segments', { method: 'POST', headers: { 'Content-Type': 'application/json' }, body: arguments[0] })
       .then((answer) => done(answer.status))`,
    JSON.stringify({ name: 'Called', condition }),
  );
  expect(made).toBe(201);
  await overThere('/call', {
    number: '+44 7700 900302',
    direction: 'out',
    outcome: 'reached',
    minutes: '6',
    caller: 'Ona',
  });
  await comesTo('/contacts?find=Quickcall', 'Quickcall, Jago');
  const [{ id = 0 } = {}] = await asked<{ rows: { id?: number }[] }>('/contacts?find=Quickcall').then(
    ({ rows }) => rows,
  );
  await comesTo(`/contacts/${id}`, 'Was called');
  await until('the segment', async () =>
    (await asked<{ segments: { name: string; members: number }[] }>('/segments')).segments.some(
      ({ name, members }) => name === 'Called' && members === 1,
    ),
  );
  await comesTo('/segments', 'has a call');
});

test('a stop over there is in force here, and one page says who said it', async () => {
  await overThere('/person', { id: '1', ...MORWENNA, doNotCall: 'on' });
  await comesTo('/contacts/stops?ask=Morwenna', 'Said in Phone bank');
  await screen.text('no calls');
  expect(await screen.axe()).toEqual([]);
});

test('an address is stopped though nobody has it', async () => {
  await go('/contacts/stops');
  await (await screen.box('Mailboxes and numbers, one a line')).sendKeys('lost@example.org');
  await (await screen.box('How it was said')).sendKeys('by letter', Key.ENTER);
  await screen.text('lost@example.org by letter');
  await (await screen.box('May we write to or call')).sendKeys('lost@example.org', Key.ENTER);
  await screen.text('Whoever gets it later has what is said here as well');
});
