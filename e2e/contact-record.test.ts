import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import { deflateSync } from 'node:zlib';
import { writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { By } from 'selenium-webdriver';
import { ALL, Key, openStage, PATIENCE_MS, Screen, signInOf, type Stage } from './browser';

let stage: Stage;
let screen: Screen;
beforeAll(async () => {
  stage = await openStage();
  screen = new Screen(stage.driver);
  const { email, password } = signInOf(stage.data);
  await go('/');
  await (await screen.box('E-mail')).sendKeys(email);
  await (await screen.box('Password')).sendKeys(password, Key.ENTER);
  await screen.text('Nothing needs a decision');
});
afterAll(() => stage.end());

const go = (path: string) => stage.driver.get(stage.base + path);
const still = () => stage.driver.executeScript('document.activeElement.blur()');

/** Opens entry by its key and types one field after the other. */
async function enter(...fields: string[]): Promise<void> {
  // A key pressed before the page stands goes nowhere.
  await screen.button('New contact');
  await still();
  await screen.press('n');
  const first = await screen.box('Given name');
  await first.sendKeys(...fields.flatMap((text, i) => (i ? [Key.TAB, text] : [text])));
}

async function choose(trigger: string, text: string): Promise<void> {
  await screen.click(() => screen.button(trigger));
  await screen.press(text);
  await stage.driver.sleep(150);
  await screen.press(Key.ENTER);
}

async function tagWith(label: string): Promise<void> {
  await screen.click(() => screen.button('Add a tag'));
  await screen.press(label);
  const make = `Make the tag "${label}"`;
  await screen.click(() => screen.find(`//*[@cmdk-item][contains(., '${make}')]`, make));
  await screen.button(`Remove tag ${label}`);
}

/** A red square of 8 by 8 pixels as PNG, written by hand. */
function redSquare(): Buffer {
  const crcTable = Array.from({ length: 256 }, (_, n) => {
    let c = n;
    for (let k = 0; k < 8; k++) c = c & 1 ? 0xedb88320 ^ (c >>> 1) : c >>> 1;
    return c >>> 0;
  });
  const chunk = (type: string, data: Buffer) => {
    const body = Buffer.concat([Buffer.from(type), data]);
    let crc = 0xffffffff;
    for (const byte of body) crc = (crcTable[(crc ^ byte) & 255] ?? 0) ^ (crc >>> 8);
    const ends = Buffer.alloc(8);
    ends.writeUInt32BE(data.length, 0);
    ends.writeUInt32BE((crc ^ 0xffffffff) >>> 0, 4);
    return Buffer.concat([ends.subarray(0, 4), body, ends.subarray(4)]);
  };
  const head = Buffer.from([0, 0, 0, 8, 0, 0, 0, 8, 8, 2, 0, 0, 0]);
  const row = Buffer.concat([Buffer.from([0]), Buffer.alloc(24).map((_, i) => (i % 3 ? 40 : 200))]);
  return Buffer.concat([
    Buffer.from([0x89, 0x50, 0x4e, 0x47, 0x0d, 0x0a, 0x1a, 0x0a]),
    chunk('IHDR', head),
    chunk('IDAT', deflateSync(Buffer.concat(Array.from({ length: 8 }, () => row)))),
    chunk('IEND', Buffer.alloc(0)),
  ]);
}

describe('the record, kept by hand', () => {
  test('a person is entered by keyboard alone', async () => {
    await enter('Ana', 'Reis', 'ana.reis@example.org', '', '', 'open yard');
    await screen.press(Key.ENTER);
    await screen.text('Added by hand');
    await screen.button('Source: open yard');
  });

  test('whoever is typed again is shown with reasons, and the facts are added to that person', async () => {
    await go('/contacts');
    await enter('Ana', 'Reis', 'ana.reis@example.org', '', '01632 960123');
    await screen.text('Already here?');
    await screen.text('Same e-mail, ');
    await screen.click(() => screen.button('Add these facts to Ana Reis'));
    await screen.button('Phone: ');
    await go('/contacts');
    await screen.text('1 contact');
  });

  test('what was typed stays over a reload, and over a mistake', async () => {
    await enter('Tom', 'Okoro', 'tom(at)example.org');
    await screen.press(Key.ENTER);
    await screen.text('has no @; perhaps tom@example.org is meant. Nothing was changed.');
    await stage.driver.navigate().refresh();
    await screen.text('1 contact');
    await still();
    await screen.press('n');
    const mail = await screen.box('E-mail');
    expect(await mail.getAttribute('value')).toBe('tom(at)example.org');
    for (const theme of ['dark', 'light']) {
      await stage.driver.executeScript('document.documentElement.dataset.theme = arguments[0]', theme);
      expect(await screen.axe()).toEqual([]);
    }
    await mail.sendKeys(ALL, 'tom@example.org', Key.ENTER);
    await screen.text('Added by hand');
  });

  test('a relationship is seen from both sides, and makes a line for letters', async () => {
    await choose('Add a value', 'Relationship');
    await (await screen.box('What the other is')).sendKeys('spouse');
    await stage.driver.findElement(By.css('input[placeholder="Name of the other"]')).sendKeys('ana');
    await screen.click(() => screen.find("//*[@cmdk-item][contains(., 'Ana Reis')]", 'Ana Reis to choose'));
    await screen.click(() => screen.button('Save'));
    await screen.button('Line for letters: Tom Okoro and Ana Reis');
    await screen.click(() => screen.link('Ana Reis'));
    await screen.text('Added by hand');
    await screen.link('Tom Okoro');
    await screen.button('Salutation: Dear Ana and Tom');
  });

  test('a photo is taken in, and what is no picture is refused', async () => {
    const wrong = join(stage.data, 'photo.png');
    writeFileSync(wrong, 'no picture at all');
    const right = join(stage.data, 'portrait.png');
    writeFileSync(right, redSquare());
    await choose('Add a value', 'Photo');
    await screen.text('up to 10 MB');
    await stage.driver.findElement(By.css('input[type=file]')).sendKeys(wrong);
    await screen.text('This is no picture that can be read');
    await stage.driver.findElement(By.css('input[type=file]')).sendKeys(right);
    await stage.driver.wait(
      async () => (await stage.driver.findElements(By.css('img[alt="The picture as it is kept"]'))).length > 0,
      PATIENCE_MS,
    );
    await screen.click(() => screen.button('Save'));
    await stage.driver.wait(
      async () => (await stage.driver.findElements(By.css('img[alt="Photo of Ana Reis"]'))).length > 0,
      PATIENCE_MS,
    );
  });

  test('an opt-out is noted with its evidence, and shows in the grid', async () => {
    await screen.click(() => screen.button('Calls: unknown'));
    await (await screen.box('How it was said')).sendKeys('on the phone', Key.ENTER);
    await screen.button('Calls: opted out');
    await screen.text('One word behind it');
    await screen.find("//*[@role='gridcell'][contains(., 'calls')]", 'the opt-out in the grid');
  });
});

test('a value has a history of its own', async () => {
  await screen.click(() => screen.button('Source: open yard'));
  const box = await screen.box('Source');
  await box.sendKeys(ALL, 'Open yrd');
  await screen.text('Here already:');
  await screen.click(() => screen.button('open yard'));
  await box.sendKeys(ALL, 'Harbour office', Key.ENTER);
  await screen.click(() => screen.button('Source: Harbour office'));
  await screen.find("//ol[@aria-label='What stood here before'][contains(., 'open yard')]", 'what stood there before');
  await screen.press(Key.ESCAPE);
});

describe('a field of our own', () => {
  test('is made on the spot, filled, and shown in the grid', async () => {
    await go('/settings/fields');
    await (await screen.box('Name of the new field')).sendKeys('Boat length', Key.ENTER);
    await screen.text('Retire the field');
    await go('/contacts');
    await screen.click(() => screen.text('Okoro, Tom'));
    await choose('Add a value', 'Boat length');
    await (await screen.box('Boat length')).sendKeys('14 feet', Key.ENTER);
    await screen.button('Boat length: 14 feet');
    await screen.click(() => screen.button('Columns'));
    await screen.click(() => screen.button('+ Boat length'));
    await screen.press(Key.ESCAPE);
    await screen.find("//*[@role='columnheader'][contains(., 'Boat length')]", 'the column');
    await screen.find("//*[@role='gridcell'][contains(., '14 feet')]", 'the value in the grid');
  });

  test('changes its type with a trial that shows what will not convert', async () => {
    await go('/settings/fields');
    await screen.click(() => screen.button('', 'Boat length'));
    await (await screen.box('Type of the field')).sendKeys('number');
    await screen.click(() => screen.button('Try it'));
    await screen.text('0 of 1 values convert');
    await screen.text('14 feet');
  });

  test('is retired, is gone from the grid, and comes back with its values', async () => {
    await screen.click(() => screen.button('Retire the field'));
    await screen.button('Bring the field back');
    await go('/contacts');
    await screen.text('Okoro, Tom');
    await screen.find("//*[@role='columnheader'][contains(., 'E-mail')]", 'the other columns');
    expect(await stage.driver.findElements(By.xpath("//*[@role='columnheader'][contains(., 'Boat')]"))).toEqual([]);
    await go('/settings/fields');
    await screen.click(() => screen.button('', 'Boat length'));
    await screen.click(() => screen.button('Bring the field back'));
    await screen.button('Retire the field');
    await go('/contacts');
    await screen.find("//*[@role='gridcell'][contains(., '14 feet')]", 'the value in the grid');
  });
});

describe('pick-lists', () => {
  test('two tags that are much alike are merged, and two again when it is undone', async () => {
    await screen.click(() => screen.text('Reis, Ana'));
    await tagWith('Boat fair');
    await screen.click(() => screen.text('Okoro, Tom'));
    await tagWith('boat fairs');
    await go('/settings/tags');
    await screen.text('Much alike');
    await screen.click(() => screen.button('Merge into'));
    await screen.gone('Much alike');
    await screen.click(() => screen.button('Undo'));
    await screen.text('Much alike');
    await go(`/contacts?where=${encodeURIComponent('{"field":"tags","op":"is","value":["boat fairs"]}')}`);
    await screen.text('1 contact');
  });

  test('one that exists is offered before a new one is made', async () => {
    await go('/contacts');
    await screen.click(() => screen.text('Okoro, Tom'));
    await screen.click(() => screen.button('Add a tag'));
    await screen.press('Boatfair');
    await screen.text('exists, like what you typed');
    await screen.press(Key.ESCAPE);
  });
});

test('somebody who asks to be forgotten is erased, and not entered again', async () => {
  await go('/contacts');
  await screen.click(() => screen.button('New contact'));
  await (await screen.box('Given name')).sendKeys('Petroc');
  await (await screen.box('E-mail')).sendKeys('petroc@example.org', Key.ENTER);
  await screen.click(() => screen.button('Erase'));
  await screen.text('It cannot be taken back.');
  await (await screen.box('How they asked for it')).sendKeys('By letter of 12 May', Key.ENTER);
  await screen.text('Erased on request, and kept out since.');
  await screen.click(() => screen.button('New contact'));
  await (await screen.box('E-mail')).sendKeys('petroc@example.org');
  await screen.text('Whoever this is was erased on request');
  await screen.press(Key.ESCAPE);
  await go('/settings/erased');
  await screen.text('By letter of 12 May');
});

test.each([
  '/contacts',
  '/settings/fields?field=email',
  '/settings/tags',
  '/settings/stages',
  '/settings/areas',
  '/settings/erased',
  '/settings/browser',
])('%s is free of faults that axe knows, in light and dark, and fits a narrow window', async (path) => {
  await go(path);
  await screen.link('Worklist');
  await screen.gone('Loading');
  expect(await screen.faultsOfPage()).toEqual([]);
});
