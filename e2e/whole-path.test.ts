import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import { writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { By } from 'selenium-webdriver';
import { ALL, Key, openStage, PATIENCE_MS, Screen, signInOf, type Stage } from './browser';

let stage: Stage;
let screen: Screen;
beforeAll(async () => {
  stage = await openStage();
  screen = new Screen(stage.driver);
});
afterAll(() => stage.end());

const go = (path: string) => stage.driver.get(stage.base + path);

function alumniFile(): string {
  const lines = ['Name;E-mail adr.;Mob;Born;Berth'];
  for (let i = 0; i < 60; i++)
    lines.push(
      `Given${String.fromCharCode(97 + (i % 26))} ` +
        `Family${String.fromCharCode(97 + ((i * 7) % 26))}${String.fromCharCode(97 + (i % 11))};person${i}@example.org;+1 ` +
        `${300 + i} 555 01${String(10 + i)};${String((i % 27) + 1).padStart(2, '0')}/03/19${50 + (i % 40)};${i % 2 ? 'north' : 'south'}`,
    );
  lines.push('Katherine Pike;kate.pike@example.net;01632 960555;14/07/1971;north');
  lines.push('Mr & Mrs Okoro;okoro@example.net;;;south');
  lines.push('Kari Amundsen;kari(at)example.org;;;south');
  const path = join(stage.data, 'alumni-2026.csv');
  writeFileSync(path, lines.join('\r\n'), 'latin1');
  return path;
}

describe('from a file to clean contacts, as a data administrator does it', () => {
  test('a wrong password is said, the right one lets in', async () => {
    const { email, password } = signInOf(stage.data);
    await go('/');
    await (await screen.box('E-mail')).sendKeys(email);
    await (await screen.box('Password')).sendKeys('wrong');
    await screen.click(() => screen.button('Sign in'));
    await screen.text('E-mail and password do not fit together');
    const box = await screen.box('Password');
    await box.sendKeys(ALL, password, Key.ENTER);
    await screen.text('Nothing needs a decision');
  });

  test('a picture is refused with what it is', async () => {
    const path = join(stage.data, 'members.csv');
    writeFileSync(path, Buffer.from([0x89, 0x50, 0x4e, 0x47, 0x0d, 0x0a, 0x1a, 0x0a, 0, 0, 0, 13]));
    await go('/intake');
    await screen.button('Choose a file');
    await (await stage.driver.findElement(By.css('input[type=file]'))).sendKeys(path);
    await screen.text('This is a PNG picture, not a table of contacts');
  });

  test('a file is read and its columns have their meaning', async () => {
    await (await stage.driver.findElement(By.css('input[type=file]'))).sendKeys(alumniFile());
    await screen.text('63 rows · heading in row 1 · semicolon');
    await screen.button('Meaning of Name');
    expect(await (await screen.button('Meaning of Name')).getText()).toContain('Full name');
    expect(await (await screen.button('Meaning of Mob')).getText()).toContain('Phone');
    expect(await (await screen.button('Meaning of Born')).getText()).toContain('Birthday');
    await screen.text('1 of 63 fail');
  });

  test('a field for an unknown column is made on the spot', async () => {
    await screen.click(() => screen.button('Meaning of Berth'));
    await screen.press('Berth');
    await screen.text('Make the field "Berth" (choice)');
    await screen.press(Key.ARROW_DOWN, Key.ENTER);
    await stage.driver.wait(
      async () => (await (await screen.button('Meaning of Berth')).getText()).startsWith('Berth'),
      PATIENCE_MS,
    );
  });

  test('the trial shows what would become of each row, and writes nothing', async () => {
    await stage.driver.executeScript('document.activeElement.blur()');
    await screen.press('t');
    await screen.click(() => screen.button('2 held'));
    await screen.text('names more than one person');
    await go('/contacts');
    await screen.text('No contacts yet');
    await stage.driver.navigate().back();
    await screen.button('2 held');
  });

  test('the rows are brought in, and the held ones wait', async () => {
    await stage.driver.actions().keyDown(Key.CONTROL).sendKeys(Key.ENTER).keyUp(Key.CONTROL).perform();
    await screen.text('Open the run');
    await go('/worklist');
    await screen.text('of alumni-2026.csv, waiting to be mended or dropped.');
    await screen.click(() => screen.link('Held rows'));
    await screen.click(() => screen.button('', 'kari(at)'));
    const box = await screen.box('E-mail adr.');
    await box.sendKeys(ALL, 'kari@example.org');
    await screen.click(() => screen.button('Let the row in'));
    // It is in when the tape says so; the page may have gone on before.
    await screen.text('mended: 1 new');
    await screen.gone('kari(at)example.org');
  });

  test('the next file of the layout is read as this one was, and a step fills its empty cells', async () => {
    const path = join(stage.data, 'alumni-2027.csv');
    writeFileSync(path, 'Name;E-mail adr.;Mob;Born;Berth;Guest of\nRhys Bowen;rhys@example.org;;;;Kari\n');
    await go('/intake');
    await screen.button('Choose a file');
    await (await stage.driver.findElement(By.css('input[type=file]'))).sendKeys(path);
    await screen.text('Look at what differs: new: "Guest of"; 1 row, 63 then.');
    expect(await (await screen.button('Meaning of Berth')).getText()).toContain('Berth');
    await screen.click(() => screen.button('Steps before column Berth is read'));
    await (await screen.box('Add a step')).sendKeys('when empty');
    await (await screen.box('value')).sendKeys('south', Key.ENTER);
    await screen.button('Steps before column Berth is read', 'when empty, use');
    await screen.find("//td[contains(., 'south')]", 'the filled cell');
    await screen.click(() => screen.button('Guess anew instead'));
    await screen.gone('Look at what differs');
  });

  test('people are found as one types, and the address bar holds it', async () => {
    await go('/contacts');
    await screen.text('Amundsen, Kari');
    await screen.press('/');
    await screen.press('kate.pike');
    await screen.text('1 contact');
    expect(await stage.driver.getCurrentUrl()).toContain('find=kate.pike');
    await stage.driver.navigate().refresh();
    await screen.click(() => screen.text('Pike, Katherine'));
    await screen.text('Brought in, row 61');
  });

  test('a value is edited in place, shown in the history and taken back', async () => {
    await screen.click(() => screen.button('Given name: Katherine'));
    const box = await screen.box('Given name');
    await box.sendKeys(ALL, 'Katharine', Key.ENTER);
    await screen.button('Given name: Katharine');
    await screen.click(() => screen.button('undo'));
    await screen.button('Given name: Katherine');
  });

  test('a contact is made by hand, and whoever it may be is shown', async () => {
    await stage.driver.executeScript('document.activeElement.blur()');
    await screen.press('n');
    await (
      await screen.box('Given name')
    ).sendKeys('Benedita', Key.TAB, 'Aguiar', Key.TAB, 'benedita@example.net', Key.ENTER);
    await screen.text('Added by hand');
    await stage.driver.executeScript('document.activeElement.blur()');
    await screen.press('n');
    await (await screen.box('Given name')).sendKeys('KATE', Key.TAB, 'PIKE');
    // Whoever it may be is looked up while one types; the box is found anew, wherever that moved it.
    await (await screen.box('Phone')).sendKeys('01632 960555');
    // Who was shown somebody may enter another one all the same.
    await screen.text('Already here?');
    await (await screen.box('Phone')).sendKeys(Key.ENTER);
    await screen.text('KATE PIKE');
    await screen.click(() => screen.button('Delete contact'));
    await screen.click(() => screen.button('Bring back'));
    await screen.gone('This contact is deleted.');
  });

  test('duplicates are found, merged by one key, and the merge is taken back', async () => {
    await go('/duplicates');
    await screen.click(() => screen.button('Scan everybody'));
    await screen.text('Are these one person?');
    await screen.text('Same phone, ');
    await screen.button('Merge 2 records');
    await stage.driver.executeScript('document.activeElement.blur()');
    await screen.press(Key.ENTER);
    await screen.text('No likely duplicates are left');
    await go('/contacts?find=pike');
    await screen.text('1 contact');
    await go('/ledger');
    await screen.click(() => screen.button('', 'Merged 2 records of'));
    await screen.click(() => screen.button('Look first'));
    await screen.text('2 get their values back');
    await screen.click(() => screen.button('Undo merge'));
    await go('/contacts?find=pike');
    await screen.text('2 contacts');
  });

  test('shortcuts are listed on the question mark', async () => {
    await go('/duplicates');
    await screen.text('Are these one person?');
    await screen.press('?');
    await screen.text('Merge the records and go on');
    await screen.press(Key.ESCAPE);
    await screen.gone('Merge the records and go on');
  });

  test.each(['/worklist', '/contacts', '/intake', '/duplicates', '/ledger'])(
    '%s is free of faults that axe knows, in light and dark, and fits a narrow window',
    async (path) => {
      await go(path);
      await screen.link('Worklist');
      await screen.gone('Loading');
      expect(await screen.faultsOfPage()).toEqual([]);
    },
  );

  test('the import is undone from the ledger, and everybody it brought is gone', async () => {
    await go('/ledger?kind=import');
    await screen.click(() => screen.button('', 'alumni-2026.csv: '));
    await screen.click(() => screen.button('Undo import'));
    await screen.text('taken back');
    await go('/contacts');
    await screen.text('2 contacts');
  });
});
