import { afterAll, beforeAll, expect, test } from '@jest/globals';
import { readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { By } from 'selenium-webdriver';
import { Key, openStage, PATIENCE_MS, Screen, signInOf, type Stage } from './browser';

let stage: Stage;
let screen: Screen;
let mailer: { port: number; client: string; secret: string };
let dialer: { port: number; key: string };
const go = (path: string) => stage.driver.get(stage.base + path);
const until = async (what: string, holds: () => Promise<boolean>) => {
  for (let i = 0; i < 400; i++) {
    if (await holds().catch(() => false)) return;
    await new Promise((done) => setTimeout(done, 200));
  }
  throw new Error(`${what} did not come`);
};
/** What the app says to whoever is signed in in the browser. */
const asked = <T>(method: string, path: string, body?: unknown) =>
  stage.driver.executeAsyncScript<T>(
    `const done = arguments[arguments.length - 1];
     fetch('/api' + arguments[1], { method: arguments[0], ...(arguments[2] ? { headers: { 'Content-Type': 'application/json' },
       body: arguments[2] } : {}) }).then((answer) => answer.json()).then(done)`,
    method,
    path,
    body === undefined ? null : JSON.stringify(body),
  );

const at = (path: string) => `http://127.0.0.1:${mailer.port}${path}`;
/** What the mailer says to a program. */
async function overThere<T>(path: string): Promise<T> {
  const basic = Buffer.from(`${mailer.client}:${mailer.secret}`).toString('base64');
  const token = await fetch(at('/oauth/token'), {
    method: 'POST',
    headers: { Authorization: `Basic ${basic}` },
    body: new URLSearchParams({ grant_type: 'client_credentials' }),
  });
  const { access_token: bearer } = (await token.json()) as { access_token: string };
  const answer = await fetch(at(`/v1${path}`), { headers: { Authorization: `Bearer ${bearer}` } });
  return (await answer.json()) as T;
}
interface Entry {
  address: string;
  columns: Record<string, string>;
  lists: { list: number; strands: number[]; state: string }[];
}
interface List {
  id: number;
  name: string;
  strands: { id: number; name: string }[];
}
const entries = async () => (await overThere<{ entries: Entry[] }>('/entries?limit=500&since=&from=0')).entries;
const letters = async () => (await overThere<{ lists: List[] }>('/lists')).lists.find(({ name }) => name === 'Letters');
/** What a colleague does on the plain page of the mailer. */
async function onItsPage(path: string, form: Record<string, string>): Promise<void> {
  const answer = await fetch(at(path), { method: 'POST', body: new URLSearchParams(form), redirect: 'manual' });
  expect(answer.status).toBe(303);
}
/** Runs a connection by the app and waits for its end. */
async function run(id: number, trial = false): Promise<void> {
  const { runId } = await asked<{ runId: number }>('POST', `/connections/${id}/run`, { trial });
  await until('the end of a run', async () =>
    ['done', 'failed'].includes((await asked<{ state: string }>('GET', `/runs/${runId}`)).state),
  );
}

beforeAll(async () => {
  stage = await openStage();
  screen = new Screen(stage.driver);
  ({ mailer, dialer } = JSON.parse(readFileSync(join(stage.data, 'stand-ins.json'), 'utf8')) as {
    mailer: typeof mailer;
    dialer: typeof dialer;
  });
  const { email, password } = signInOf(stage.data);
  await go('/');
  await (await screen.box('E-mail')).sendKeys(email);
  await (await screen.box('Password')).sendKeys(password, Key.ENTER);
  await screen.link('Worklist');
});
afterAll(() => stage.end());

test('the answers in a file become a field of our own', async () => {
  const path = join(stage.data, 'wishes.csv');
  const row = (name: string, i: number) => `${name},wish${i}@example.org,+44 1632 96070${i},${i % 2 ? 'gig' : 'skiff'}`;
  const names = ['Ana Reis', 'Tom Okoro', 'Jory Lund', 'Kerra Nance', 'Piran Bosvean', 'Wenna Angove'];
  writeFileSync(path, ['Name,E-mail,Phone,Boat wish', ...names.map(row)].join('\n'));
  await go('/intake');
  await (
    await screen.find('//input[@type="file"]/..', 'a place for files')
  )
    .findElement(By.css('input[type=file]'))
    .sendKeys(path);
  await screen.click(() => screen.button('Meaning of Boat wish'));
  await screen.press('Boat wish');
  await screen.text('Make the field "Boat wish"');
  await screen.press(Key.ARROW_DOWN, Key.ENTER);
  await stage.driver.wait(
    async () => (await (await screen.button('Meaning of Boat wish')).getText()).startsWith('Boat wish'),
    PATIENCE_MS,
  );
  await screen.click(() => screen.button('Try it'));
  await screen.click(() => screen.button('Bring in 6 rows'));
  await screen.text('Open the run');
});

test('in one sitting a mailer is connected, gets a column for it, and three segments as strands', async () => {
  const { fields } = await asked<{ fields: { key: string; name: string }[] }>('GET', '/lists');
  const wish = fields.find(({ name }) => name === 'Boat wish')?.key ?? '';
  const segment = (name: string, condition: unknown) => asked('POST', '/segments', { name, condition });
  await segment('Letters / Gigs', { field: wish, op: 'is', value: ['gig'] });
  await segment('Letters / Skiffs', { field: wish, op: 'is', value: ['skiff'] });
  await segment('Letters / Everybody', { field: 'email', op: 'present' });
  await go('/syncs/new');
  const kind = await screen.find('//select[option[normalize-space(.)="Mailer"]]', 'the kinds of tools');
  await kind.findElement(By.xpath('./option[normalize-space(.)="Mailer"]')).click();
  await (await screen.box('What you call it')).sendKeys('Mail room');
  await (await screen.box('Address of its interface')).sendKeys(at('/'));
  await (await screen.box('Name of the client')).sendKeys(mailer.client);
  await (await screen.box('Secret of the client')).sendKeys(mailer.secret);
  await screen.click(() => screen.button('Connect'));
  await screen.text('What goes where');
  await screen.click(() => screen.box('Make people over there who take part'));
  await screen.click(() => screen.button('+ field over there'));
  await (await screen.box('Name of the new field over there')).sendKeys('Boat wish', Key.ENTER);
  await screen.find('//button[contains(@aria-label, "Take out Boat wish")]', 'the line of the new column');
  await screen.click(() => screen.button('+ all 3 other segments'));
  await screen.button('Take out Letters / Skiffs');
  await screen.click(() => screen.button('Save and try'));
  await screen.text('6 new over there');
  await screen.click(() => screen.button('Run all of it'));
  await until('the entries', async () => (await entries()).length === 6);
  await go('/syncs/1');
  await screen.text('3, all as they should be');
  const list = await letters();
  const strand = (name: string) => list?.strands.find((one) => one.name === name)?.id ?? 0;
  for (const { columns, lists } of await entries()) {
    const wished = Object.values(columns)[0];
    expect(['gig', 'skiff']).toContain(wished);
    const wanted = [strand(wished === 'gig' ? 'Gigs' : 'Skiffs'), strand('Everybody')].sort((a, b) => a - b);
    expect(lists).toMatchObject([{ list: list?.id, strands: wanted }]);
  }
  expect(await screen.axe()).toEqual([]);
});

test('who goes off a list over there wants no more mail here, and the dialer sees it in a list of its own', async () => {
  await asked('POST', '/segments', {
    name: 'Wants no mail',
    condition: { field: '@permission', label: 'email', op: 'is', value: ['optedOut'] },
  });
  const { segments } = await asked<{ segments: { id: number; name: string }[] }>('GET', '/segments');
  const { id } = await asked<{ id: number }>('POST', '/connections', {
    kind: 'dialer',
    name: 'Phone bank',
    settings: { address: `http://127.0.0.1:${dialer.port}/v1`, key: dialer.key },
  });
  const { setup } = await asked<{ setup: Record<string, unknown> }>('GET', `/connections/${id}`);
  const no = segments.find(({ name }) => name === 'Wants no mail')?.id ?? 0;
  const kept = { id: 'no', direction: 'out', segment: no, tag: '', label: 'Wants no mail', byHand: 'putRight' };
  await asked('PATCH', `/connections/${id}`, { setup: { ...setup, newThere: true, lists: [kept] } });
  await run(id, true);
  await run(id);
  const list = await letters();
  await onItsPage('/mailing', { subject: 'Spring regatta', list: String(list?.id) });
  const { mailings } = await overThere<{ mailings: { id: number }[] }>('/mailings');
  const off = { mailing: String(mailings[0]?.id), address: 'wish0@example.org', event: 'off', link: '' };
  await onItsPage('/event', off);
  await run(1);
  await go('/contacts/stops?ask=wish0@example.org');
  await screen.text('no e-mail');
  const [person] = (await asked<{ rows: { id: number }[] }>('GET', '/contacts?find=wish0')).rows;
  await until('the segment', async () =>
    (await asked<{ segments: { name: string; members: number }[] }>('GET', '/segments')).segments.some(
      ({ name, members }) => name === 'Wants no mail' && members === 1,
    ),
  );
  await run(id);
  const page = await (await fetch(`http://127.0.0.1:${dialer.port}/`)).text();
  expect(page).toContain('Wants no mail');
  await go(`/contacts/${person?.id}`);
  await screen.text('Ana Reis');
  const standing = await asked<{ label: string; there: number }[]>('GET', `/connections/${id}/lists`);
  expect(standing).toMatchObject([{ label: 'Wants no mail', there: 1 }]);
});
