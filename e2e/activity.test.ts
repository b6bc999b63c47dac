import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import ICAL from 'ical.js';
import { writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { By } from 'selenium-webdriver';
import { ALL, Key, openStage, PATIENCE_MS, Screen, signInOf, type Stage } from './browser';

let stage: Stage;
let screen: Screen;
let cookie = '';
let ana = 0;
beforeAll(async () => {
  stage = await openStage();
  screen = new Screen(stage.driver);
  const { email, password } = signInOf(stage.data);
  await stage.driver.get(stage.base);
  await (await screen.box('E-mail')).sendKeys(email);
  await (await screen.box('Password')).sendKeys(password, Key.ENTER);
  await screen.link('Ines Carvalho');
  cookie = `${(await stage.driver.manage().getCookies()).map(({ name, value }) => `${name}=${value}`).join('; ')}`;
  const values = [
    { field: 'givenName', text: 'Ana' },
    { field: 'familyName', text: 'Reis' },
    { field: 'stage', text: 'Enquiry' },
  ];
  const made = await api('/contacts', 'POST', { values });
  ana = (JSON.parse(made) as { contactId: number }).contactId;
});
afterAll(() => stage.end());

async function api(path: string, method = 'GET', body?: object | string, headers: object = {}): Promise<string> {
  const isFile = typeof body === 'string';
  const answer = await fetch(`${stage.base}/api${path}`, {
    method,
    headers: { Cookie: cookie, ...(isFile ? {} : { 'Content-Type': 'application/json' }), ...headers },
    ...(body === undefined ? {} : { body: isFile ? body : JSON.stringify(body) }),
  });
  if (!answer.ok) throw new Error(await answer.text());
  return answer.text();
}
const go = (path: string) => stage.driver.get(stage.base + path);

describe('what happens with a contact', () => {
  test('a talk is logged with a change of stage, and one undo takes both back', async () => {
    await go(`/contacts/${ana}`);
    await screen.text('Nothing is written down yet.');
    await (await screen.button('+ talk')).sendKeys(Key.ENTER);
    await (await screen.box('What it is about')).sendKeys('Clinker course');
    await (await screen.box('Minutes')).sendKeys('12');
    await (await screen.box('What came of it')).sendKeys('wants a place');
    await (await screen.box('Stage from now on')).sendKeys('Student');
    expect(await screen.faultsOfPage()).toEqual([]);
    await (await screen.box('What it is about')).sendKeys(Key.ENTER);
    await screen.find(
      "//section[@aria-label='Activity']//li[contains(., 'by phone · 12 min · wants a place')]",
      'the talk',
    );
    await screen.find("//header//p[contains(., 'Student')]", 'the new stage');
    expect(await screen.faultsOfPage()).toEqual([]);
    await (await screen.button('Undo')).click();
    await screen.find("//header//p[contains(., 'Enquiry')]", 'the stage from before');
    await screen.text('Nothing is written down yet.');
  });

  test('a note that is empty is refused, and what was typed is still there', async () => {
    await (await screen.button('+ note')).sendKeys(Key.ENTER);
    await (await screen.button('Add the note')).click();
    await screen.text('Nothing is written. Write the note first.');
    await (await screen.box('Note')).sendKeys('Likes larch', Key.chord(Key.CONTROL, Key.ENTER));
    await screen.find("//section[@aria-label='Activity']//li[contains(., 'Likes larch')]", 'the note');
  });

  test('a task is written down, and done by a key from Due', async () => {
    await (await screen.button('+ task')).sendKeys(Key.ENTER);
    await (await screen.box('What is to be done')).sendKeys('Ring back', Key.ENTER);
    await screen.find("//section[@aria-label='Activity']//li[contains(., 'Ring back')]", 'the task');
    await go('/');
    await screen.find("//*[@aria-label='Due']//li[@aria-current='true'][contains(., 'Ring back')]", 'the task, chosen');
    expect(await screen.faultsOfPage()).toEqual([]);
    await screen.press('t');
    await screen.find("//*[@aria-label='Due']//li[contains(., 'tomorrow')]", 'the task, moved');
    await screen.press('d');
    await screen.text('Nothing waits for you in the next two weeks.');
    await go(`/contacts/${ana}`);
    await screen.find(
      "//section[@aria-label='Activity']//input[@type='checkbox'][@checked or not(@disabled)]",
      'the box',
    );
  });
});

test('a file of gifts comes in with each of them, and the trial says how many', async () => {
  const rows = ['Donor,Email,Date,Amount,Fund'];
  for (let i = 0; i < 6; i++)
    for (let n = 0; n < 3; n++)
      rows.push(`Giver${'abcdef'[i]} Marsh,giver${i}@example.net,2025-0${n + 1}-1${i},${10 * (n + 1)},Tiller fund`);
  const taken = await api('/intakes', 'POST', rows.join('\n'), { 'X-File-Name': 'gifts.csv' });
  const { id } = JSON.parse(taken) as { id: number };
  await go(`/intake/${id}`);
  await (await screen.button('Try it')).click();
  await screen.find("//*[contains(., '6 new contacts') and contains(., '18 gifts')]", 'what would happen');
  await (await screen.button('Bring in 18 rows')).click();
  await screen.find("//*[contains(., '6 new, 12 folded, 18 gifts')]", 'the run');
  const { rows: found } = JSON.parse(await api('/contacts?find=givera')) as { rows: { id: number }[] };
  await go(`/contacts/${found[0]?.id}`);
  await screen.find("//section[@aria-label='Activity']//li[contains(., 'Tiller fund')]", 'a gift');
});

test('the calendar of an account is read by a calendar library', async () => {
  await api(`/contacts/${ana}/activities`, 'POST', {
    kind: 'appointment',
    what: 'Yard visit',
    at: new Date(Date.now() + 86_400_000).toISOString().slice(0, 10),
  });
  await go('/settings/you');
  await (await screen.button('Make an address')).click();
  const address = await (await screen.box('Address of your calendar')).getAttribute('value');
  const text = await (await fetch(address ?? '')).text();
  const events = new ICAL.Component(ICAL.parse(text) as never).getAllSubcomponents('vevent');
  expect(events.map((one) => new ICAL.Event(one).summary)).toEqual(['Yard visit, Ana Reis']);
});

/** A picture of one red point. */
const PNG = 'iVBORw0KGgoAAAANSUhEUgAAAAEAAAABCAYAAAAfFcSJAAAADUlEQVR42mP8z8DwHwAFBQIAX8jx0gAAAABJRU5ErkJggg==';

describe('files on a contact', () => {
  const put = async (name: string, bytes: Buffer) => {
    const path = join(stage.data, name);
    writeFileSync(path, bytes);
    await stage.driver.findElement(By.css("input[type=file][aria-label='Choose files']")).sendKeys(path);
  };
  /** What shows when it has the focus is pressed as somebody without a mouse would. */
  const byKeyboard = async (label: string) => {
    await stage.driver.executeScript(`document.querySelector('button[aria-label="${label}"]').focus()`);
    await screen.press(Key.ENTER);
  };
  const inFiles = (what: string) => `//section[@aria-label='Files']//li[contains(., '${what}')]`;

  test('a picture is attached and seen; a program that calls itself one is refused in words', async () => {
    await go(`/contacts/${ana}`);
    await screen.text('No files yet.');
    await put('hull.png', Buffer.from(PNG, 'base64'));
    await screen.find(inFiles('PNG picture'), 'the file');
    await put('photo.png', Buffer.concat([Buffer.from('MZ'), Buffer.alloc(300, 1)]));
    await screen.text('‘photo.png’ is a program for Windows.');
    await (await screen.find("//section[@aria-label='Files']//button[.='hull.png']", 'the name of the file')).click();
    const picture = await screen.find("//*[@role='dialog']//img[@alt='hull.png']", 'the picture');
    await stage.driver.wait(
      () => stage.driver.executeScript<boolean>('return arguments[0].naturalWidth === 1', picture),
      PATIENCE_MS,
    );
    expect(await screen.faultsOfPage()).toEqual([]);
    await screen.press(Key.ESCAPE);
  });

  test('it is renamed, removed, and back with Undo', async () => {
    await byKeyboard('Rename hull.png');
    await (await screen.box('Name of the file')).sendKeys(ALL, 'keel.png', Key.ENTER);
    await screen.find(inFiles('keel.png'), 'the new name');
    await byKeyboard('Remove keel.png');
    await screen.text('No files yet.');
    await screen.click(() => screen.button('Undo'));
    await screen.find(inFiles('keel.png'), 'the file, back');
  });
});

test('whoever is to be heard from waits on Due, and a talk logged there by a key ends that', async () => {
  const made = await api('/contacts', 'POST', {
    values: [
      { field: 'givenName', text: 'Oona' },
      { field: 'familyName', text: 'Brack' },
      { field: 'stage', text: 'Donor' },
      { field: 'owner', text: 'Ines Carvalho' },
    ],
  });
  const oona = (JSON.parse(made) as { contactId: number }).contactId;
  const long = new Date(Date.now() - 100 * 86_400_000).toISOString().slice(0, 10);
  await api(`/contacts/${oona}/activities`, 'POST', { kind: 'talk', way: 'call', what: 'Bursary', at: long });
  await go('/settings/touch');
  await (await screen.button('Add a rhythm')).click();
  await (await screen.box('Whom, rhythm 1')).sendKeys('Donor');
  await (await screen.box('Days, rhythm 1')).sendKeys(ALL, '90');
  await (await screen.button('Save')).click();
  await screen.text('1 contact, 1 overdue');
  expect(await screen.faultsOfPage()).toEqual([]);
  await go('/worklist');
  const waiting = "//*[@aria-label='Due']//section[@aria-label='Keeping in touch']//li[contains(., 'Oona Brack')]";
  await screen.find(`${waiting}[contains(., '10 d overdue')]`, 'who is to be heard from');
  const isChosen = async () =>
    (await stage.driver.findElements(By.xpath(`${waiting}[@aria-current='true']`))).length > 0;
  for (let i = 0; i < 8 && !(await isChosen()); i++) await screen.press('j');
  await screen.press('d');
  await (await screen.box('What was said')).sendKeys('gives again', Key.ENTER);
  await stage.driver.wait(async () => (await stage.driver.findElements(By.xpath(waiting))).length === 0, PATIENCE_MS);
  await go(`/contacts/${oona}`);
  await screen.text('Due again in 90 days.');
});

test('the sheet asks for what is missing by a key, and the bars of the worklist open their people', async () => {
  await go(`/contacts/${ana}`);
  await screen.button('add next: E-mail');
  await screen.press('a');
  await stage.driver.switchTo().activeElement().sendKeys('ana@example.org', Key.ENTER);
  await screen.button('add next: Phone');
  await screen.find("//header//span[contains(., '40% complete')]", 'how complete she is');
  await go('/worklist');
  const link = await screen.find("//a[contains(@aria-label, 'people, 40 to 59%')]", 'the bar of two fifths');
  const people = ((await link.getAttribute('aria-label')) ?? '').split(' ')[0];
  expect(await screen.faultsOfPage()).toEqual([]);
  await link.click();
  await screen.text(`${people} contact`);
});
