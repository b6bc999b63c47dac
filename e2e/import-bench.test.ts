import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import { writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { By } from 'selenium-webdriver';
import { Key, openStage, PATIENCE_MS, Screen, signInOf, type Stage } from './browser';

let stage: Stage;
let screen: Screen;
beforeAll(async () => {
  stage = await openStage();
  screen = new Screen(stage.driver);
});
afterAll(() => stage.end());

const go = (path: string) => stage.driver.get(stage.base + path);

/** Tabs on until what has the focus has a name that begins so, as somebody does who has no mouse. */
async function tabTo(name: string, { back = false } = {}): Promise<void> {
  for (let i = 0; i < 220; i++) {
    const focused = await stage.driver.executeScript<string>(
      `const e = document.activeElement; return e === document.body ? '' : (e.getAttribute('aria-label') || ` +
        `e.closest('label')?.textContent || e.textContent || e.placeholder || '').trim();`,
    );
    if (focused.startsWith(name)) return;
    await (back ? hold(Key.SHIFT, Key.TAB) : screen.press(Key.TAB));
  }
  throw new Error(`the Tab key leads nowhere that is called "${name}"`);
}

const focus = async (what: string, ...keys: string[]) => {
  await tabTo(what);
  await screen.press(...keys);
};

/** A key held down while another is pressed. */
async function hold(modifier: string, key: string): Promise<void> {
  await stage.driver.actions().keyDown(modifier).sendKeys(key).keyUp(modifier).perform();
}

function messyFile(name: string, rows: string[]): string {
  const path = join(stage.data, name);
  writeFileSync(
    path,
    ['Members of the club', '', 'First name;LAST NAME;E-mail adr.;Boat;Came', ...rows].join('\r\n'),
    'latin1',
  );
  return path;
}

const sendFile = async (path: string) => {
  await go('/intake');
  await screen.button('Choose a file');
  await (await stage.driver.findElement(By.css('input[type=file]'))).sendKeys(path);
};

describe('a messy file, by keyboard alone', () => {
  test('is given its meaning: a column for two fields, a value for every row', async () => {
    const { email, password } = signInOf(stage.data);
    await go('/');
    await screen.box('E-mail');
    await focus('E-mail', email);
    await focus('Password', password, Key.ENTER);
    await screen.text('Nothing needs a decision');
    await sendFile(
      messyFile('club.csv', [
        'Jürgen;GROSS;juergen@example.org;Gull;01.03.2019',
        'Änne;ÖHM;aenne(at)example.org;Tern;14.03.2019',
        'Rui;Marsh;juergen@example.org;Gull;02.04.2019',
        'Ida;Moor;ida@example.org;Heron;31.12.2019',
      ]),
    );
    await screen.text('4 rows · heading in row 2 · semicolon');
    await focus('Meaning of First name', Key.ARROW_RIGHT);
    await screen.press(Key.ARROW_RIGHT, Key.ARROW_RIGHT, Key.ENTER);
    await screen.press('Note', Key.ENTER);
    await focus('Send Boat to one more field', Key.ENTER);
    await focus('Further meaning of Boat', Key.ENTER);
    await screen.press('Tag', Key.ENTER);
    await focus('+ a value for every row', Key.ENTER);
    await focus('Meaning of the value for every row', Key.ENTER);
    await screen.press('Source', Key.ENTER);
    await focus('Value for every row', 'Club list', Key.ENTER);
    await screen.text('Boat, also');
    await stage.driver.wait(
      async () => (await (await stage.driver.findElement(By.css('tbody'))).getText()).includes('Club list'),
      PATIENCE_MS,
    );
  });

  test('a control of another column keeps the focus that came to it from behind', async () => {
    await tabTo('Meaning of Boat');
    await tabTo('Label', { back: true });
    // Letters would be one word only for somebody who types them within a second of each other.
    const chosen = () =>
      stage.driver.executeScript<string>('return document.activeElement.selectedOptions?.[0]?.text ?? ""');
    for (let i = 0; i < 12 && (await chosen()) !== 'label: work'; i++) await screen.press(Key.ARROW_DOWN);
    expect(await chosen()).toBe('label: work');
  });

  test('is tried; a row that was held is said to be somebody new; the rows come in', async () => {
    await focus('Try it', Key.ENTER);
    await screen.button('2 held');
    await focus('2 held', Key.ENTER);
    await screen.text('Rows that would be held');
    await focus('Somebody new', Key.ENTER);
    await screen.text('will be somebody new');
    await screen.text('One row was decided by hand since the trial');
    await hold(Key.CONTROL, Key.ENTER);
    await screen.text('3 new, 1 held');
  });

  test('the row that is left is mended in place and let in', async () => {
    await go('/intake/held');
    await screen.text('has no @');
    await focus('club.csv', Key.ENTER);
    await screen.text('Let the row in');
    await tabTo('E-mail adr.');
    await hold(Key.CONTROL, 'a');
    await screen.press('aenne@example.org', Key.ENTER);
    await screen.text('No row is held');
    await go('/contacts?find=aenne');
    await screen.text('ÖHM, Änne');
  });

  test('the next file of the layout is read in the same way, and taken back with a look first', async () => {
    await sendFile(messyFile('club-2.csv', ['Tom;OKORO;tom@example.org;Tern;01.05.2019']));
    await screen.text('Read as');
    await screen.text('Boat, also');
    await focus('Try it', Key.ENTER);
    await screen.button('1 new');
    await hold(Key.CONTROL, Key.ENTER);
    await focus('Open the run', Key.ENTER);
    await screen.text('Undo import');
    await focus('Look first', Key.ENTER);
    await screen.text('1 new people go');
    await focus('Undo import', Key.ENTER);
    await screen.text('See what took it back');
    await go('/contacts?find=tom%40example.org');
    await screen.text('Nobody');
  });
});

describe('opportunities, by keyboard alone', () => {
  test('one is added on the sheet of a contact, moved on the board, and moved back by undo', async () => {
    await go('/contacts?find=ida');
    await screen.text('Moor, Ida');
    const [id] = await stage.driver.executeAsyncScript<number[]>(
      `const done = arguments[0]; fetch('/api/contacts?find=ida%40example.org').then((r) => r.json()).then((p) => done(p.rows.map((row) => row.id)));`,
    );
    await go(`/contacts/${id}`);
    await screen.text('+ opportunity');
    await focus('+ opportunity', Key.ENTER);
    await focus('What it is about', 'Hull survey');
    await focus('Value', '450');
    await focus('Add the opportunity', Key.ENTER);
    await screen.text('450');
    await go('/opportunities');
    await screen.text('Hull survey');
    await tabTo('Hull survey');
    await hold(Key.SHIFT, Key.ARROW_RIGHT);
    const stageOf = async () => {
      const section = await stage.driver.findElement(By.xpath("//section[.//button[contains(., 'Hull survey')]]"));
      return section.getAttribute('aria-label');
    };
    await stage.driver.wait(async () => (await stageOf()) === 'Quoted', PATIENCE_MS);
    await focus('Undo', Key.ENTER);
    await stage.driver.wait(async () => (await stageOf()) === 'Enquiry', PATIENCE_MS);
    expect(await stageOf()).toBe('Enquiry');
  });
});

test.each(['/opportunities', '/opportunities?as=list', '/settings/pipelines', '/settings/mappings', '/intake/1'])(
  '%s is free of faults that axe knows, in light and dark, and fits a narrow window',
  async (path) => {
    await go(path);
    await screen.link('Worklist');
    await screen.gone('Loading');
    expect(await screen.faultsOfPage()).toEqual([]);
  },
);
