import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { By } from 'selenium-webdriver';
import { ALL, Key, openStage, Screen, signInOf, type Stage } from './browser';

let stage: Stage;
let screen: Screen;
let tool: { port: number; user: string; password: string };

/** What a person does on the plain page of the outside tool. */
async function overThere(form: Record<string, string>): Promise<void> {
  const answer = await fetch(`http://127.0.0.1:${tool.port}/card`, {
    method: 'POST',
    body: new URLSearchParams(form),
    redirect: 'manual',
  });
  expect(answer.status).toBe(303);
}
const pageThere = async (name: string) => (await fetch(`http://127.0.0.1:${tool.port}/card?name=${name}`)).text();

const go = (path: string) => stage.driver.get(stage.base + path);
const until = async (what: string, holds: () => Promise<boolean>) => {
  for (let i = 0; i < 300; i++) {
    if (await holds().catch(() => false)) return;
    await new Promise((done) => setTimeout(done, 50));
  }
  throw new Error(`${what} did not come`);
};
const ANA = {
  name: 'ana.vcf',
  given: 'Ana',
  family: 'Reis',
  email: 'ana@example.org',
  tel: '+44 7700 900111',
  org: 'Tern Joinery',
  labels: 'Enquiry, regatta',
  note: '',
};

beforeAll(async () => {
  stage = await openStage();
  screen = new Screen(stage.driver);
  tool = JSON.parse(readFileSync(join(stage.data, 'stand-ins.json'), 'utf8')) as typeof tool;
  await overThere(ANA);
  await overThere({
    ...ANA,
    name: 'tom.vcf',
    given: 'Tom',
    family: 'Okoro',
    email: 'tom@example.org',
    tel: '+44 7700 900222',
    labels: '',
  });
  const { email, password } = signInOf(stage.data);
  await go('/');
  await (await screen.box('E-mail')).sendKeys(email);
  await (await screen.box('Password')).sendKeys(password, Key.ENTER);
  await screen.link('Worklist');
});
afterAll(() => stage.end());

/** Runs the connection by its button and waits until it did. */
async function runNow(): Promise<void> {
  await go('/syncs/1');
  const runs = async () => (await stage.driver.findElements(By.xpath('//a[normalize-space(.)="Report"]'))).length;
  await screen.text('Run now');
  const before = await runs();
  await screen.click(() => screen.button('Run now'));
  await until('the run', async () => (await runs()) > before);
  await until('its end', async () => await (await screen.button('Run now')).isEnabled());
}

describe('keeping an address book in step', () => {
  test('a wrong password is said, by the step that failed', async () => {
    await go('/syncs');
    await screen.text('No tool is connected yet');
    await screen.click(() => screen.link('Connect a tool'));
    await (await screen.box('What you call it')).sendKeys('Office address book');
    await (await screen.box('Address of its server')).sendKeys(`http://127.0.0.1:${tool.port}/`);
    await (await screen.box('Name you sign in with there')).sendKeys(tool.user);
    await (await screen.box('Password or key')).sendKeys('wrong');
    await screen.click(() => screen.button('Test'));
    await screen.text('does not take the name and password');
  });

  test('with the right one it connects; the mapping shows a real pair; the trial shows what would change', async () => {
    const box = await screen.box('Password or key');
    await box.sendKeys(ALL, tool.password);
    await screen.click(() => screen.button('Test'));
    await screen.text('2 records');
    await screen.click(() => screen.button('Connect'));
    await screen.text('What goes where');
    await screen.text('shown with');
    await screen.text('Tern Joinery');
    await screen.click(() => screen.find('//button[starts-with(@aria-label, "Direction")][1]', 'a direction'));
    await screen.text('not saved; tried again before it runs');
    await screen.click(() => screen.button('Save and try'));
    await screen.text('2 new here');
    await screen.text('Nothing of it is written');
    await go('/contacts');
    await screen.text('People');
    expect(await stage.driver.findElements(By.xpath('//*[contains(., "Reis, Ana")]'))).toHaveLength(0);
  });

  test('the first run brings them in', async () => {
    await go('/syncs/1/trial');
    await screen.click(() => screen.button('Run all of it'));
    await screen.text('in step');
    await until('two in step', async () =>
      /2 records in step/.test(await stage.driver.findElement(By.css('main')).getText()),
    );
  });

  test('a phone changed on both sides is a conflict, settled by a key, and both sides have it', async () => {
    await overThere({ ...ANA, tel: '+44 7700 900333' });
    await go('/contacts?find=Ana');
    await screen.click(() => screen.text('Reis, Ana'));
    await screen.click(() => screen.find('//dd//button[contains(., "900111")]', 'the phone'));
    const box = await stage.driver.switchTo().activeElement();
    await box.sendKeys(ALL, '+44 7700 900444', Key.ENTER);
    await screen.text('+44 7700 900444');
    await runNow();
    await go('/syncs/conflicts');
    await screen.text('was changed on both sides');
    await screen.text('+44 7700 900333');
    await stage.driver.executeScript('document.activeElement.blur()');
    await screen.press('1');
    await screen.text('All of them are settled');
    await until('the phone over there', async () => (await pageThere('ana.vcf')).includes('900444'));
  });

  test('the contact tells its story', async () => {
    await go('/contacts?find=Ana');
    await screen.click(() => screen.text('Reis, Ana'));
    await screen.text('In step with Ana Reis over there');
    await screen.text('Phone over there');
  });

  test('moving on to the next stage takes the old label off over there', async () => {
    await go('/contacts?find=Ana');
    await screen.click(() => screen.text('Reis, Ana'));
    await screen.click(() => screen.find('//dd//button[contains(., "Enquiry")]', 'the stage'));
    await screen.click(() => screen.find('//aside//option[normalize-space(.)="Student"]', 'the next stage'));
    await screen.click(() => screen.find('//aside//button[normalize-space(.)="Save"]', 'Save'));
    await until(
      'the stage here',
      async () => (await stage.driver.findElements(By.xpath('//dd//button[contains(., "Student")]'))).length > 0,
    );
    await runNow();
    await until('the label', async () => /CATEGORIES:[^\r\n]*Student/.test(await pageThere('ana.vcf')));
    const page = await pageThere('ana.vcf');
    expect(page).not.toMatch(/CATEGORIES:[^\r\n]*Enquiry/);
    expect(page).toMatch(/CATEGORIES:[^\r\n]*regatta/);
  });

  test.each(['/syncs', '/syncs/1', '/syncs/1/setup', '/syncs/1/trial', '/syncs/conflicts', '/syncs/new'])(
    '%s is free of faults that axe knows, in light and dark, and fits a narrow window',
    async (path) => {
      await go(path);
      await screen.link('Worklist');
      await screen.gone('Loading');
      expect(await screen.faultsOfPage()).toEqual([]);
    },
  );
});
