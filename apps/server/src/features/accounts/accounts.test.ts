import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import { TOTP } from 'otpauth';
import type { Account, ContactDetail, Handed, InviteLink, OwnSession, People, SecondFactor } from '@gray-loom/wire';
import { startTestApp, type TestApp } from '../../testing/start-test-app';

let app: TestApp;
beforeAll(async () => {
  app = await startTestApp({ GRAY_LOOM_KEY: Buffer.alloc(32, 7).toString('base64') });
});
afterAll(() => app.end());

type Request = TestApp['request'];
const PASSWORD = 'a good password';
const sent = (body: unknown, method = 'POST'): RequestInit => ({
  method,
  headers: { 'Content-Type': 'application/json' },
  body: JSON.stringify(body),
});
/** Status and code of an answer, or its body where it went well. */
async function answerOf<T>(answer: Promise<Response>): Promise<T | [number, string]> {
  const got = await answer;
  const text = await got.text();
  return got.ok
    ? ((text ? JSON.parse(text) : undefined) as T)
    : [got.status, (JSON.parse(text) as { code: string }).code];
}
const people = () => app.json<People>('/people');
const accountOf = async (email: string): Promise<Account> => {
  const found = (await people()).accounts.find((one) => one.email === email);
  if (!found) throw new Error(`nobody is ${email}`);
  return found;
};
const invite = (name: string, role = 'editor') =>
  app.json<InviteLink>('/people/invitations', 'POST', { name, email: mailOf(name), role });
const mailOf = (name: string) => `${name.toLowerCase().replace(/\W+/g, '.')}@quillhaven.example`;
const accept = (path: string, body: object = { password: PASSWORD }) =>
  app.anonymous(`${path.replace('/invitation', '/invitations')}`, sent(body));
const signIn = (email: string, password = PASSWORD, code = '') =>
  app.anonymous('/session', sent({ email, password, code }));
/** A browser that is signed in by an answer. */
function browserOf(answer: Response): Request {
  const Cookie = answer.headers.get('set-cookie')?.split(';')[0] ?? '';
  return (path, init = {}) => app.anonymous(path, { ...init, headers: { ...(init.headers as object), Cookie } });
}
async function join(name: string, role = 'editor'): Promise<{ id: number; browser: Request }> {
  const answer = await accept((await invite(name, role)).path);
  return { id: (await accountOf(mailOf(name))).id, browser: browserOf(answer) };
}
const status = async (answer: Promise<Response>) => (await answer).status;

describe('an invitation', () => {
  test('is shown before it is used, makes the account, signs in, and is good once', async () => {
    const { path } = await invite('Tom Okoro');
    const shown = await answerOf(app.anonymous(path.replace('/invitation', '/invitations')));
    expect(shown).toEqual({
      name: 'Tom Okoro',
      email: 'tom.okoro@quillhaven.example',
      isReset: false,
      invitedBy: 'Ines Carvalho',
    });
    expect((await people()).invitations).toHaveLength(1);
    expect(await answerOf(accept(path, { password: 'short' }))).toEqual([422, 'invalid']);
    const browser = browserOf(await accept(path, { name: 'Tom A. Okoro', password: PASSWORD }));
    expect(await answerOf(browser('/session'))).toMatchObject({
      name: 'Tom A. Okoro',
      role: 'editor',
      secondFactor: false,
    });
    expect(await answerOf(accept(path))).toEqual([409, 'linkUsed']);
    expect((await people()).invitations).toEqual([]);
    expect(await status(signIn('tom.okoro@quillhaven.example'))).toBe(200);
  });

  test('of two who use it at once one is too late; one that is late, taken back or unknown is said to be', async () => {
    const { path } = await invite('Una Vale');
    const both = await Promise.all([accept(path), accept(path)]);
    expect(both.map((one) => one.status).sort()).toEqual([201, 409]);
    const late = await invite('Late Comer');
    await app.database.pool.query(
      `update invitation set expires_at = now() - interval '1 minute' where used_at is null`,
    );
    expect(await answerOf(accept(late.path))).toEqual([409, 'linkLate']);
    const gone = await invite('Gone Again');
    const [open] = (await people()).invitations;
    await app.json(`/people/invitations/${open?.id}`, 'DELETE');
    expect(await answerOf(accept(gone.path))).toEqual([404, 'noSuchLink']);
    expect(await answerOf(accept('/invitation/nonsense'))).toEqual([404, 'noSuchLink']);
  });

  test('to somebody who is here, or who would be called the same, is refused; a second one takes the place of the first', async () => {
    const again = (body: object) => answerOf(app.request('/people/invitations', sent(body)));
    const email = 'ines@quillhaven.example';
    expect(await again({ name: 'Ines', email, role: 'viewer' })).toEqual([409, 'emailTaken']);
    expect(await again({ name: 'ines carvalho', email: 'i@quillhaven.example', role: 'viewer' })).toEqual([
      409,
      'nameTaken',
    ]);
    const first = await invite('Wim Bakker');
    const second = await invite('Wim Bakker');
    expect(await answerOf(accept(first.path))).toEqual([404, 'noSuchLink']);
    expect(await status(accept(second.path))).toBe(201);
  });
});

describe('a second factor', () => {
  const codeOf = (secret: string, stepsOn = 0) =>
    new TOTP({ secret }).generate({ timestamp: Date.now() + stepsOn * 30_000 });

  test('is begun, confirmed, asked for, and no code is good twice; recovery codes are each good once', async () => {
    const { browser } = await join('Femke Visser');
    const email = mailOf('Femke Visser');
    const { secret, address } = (await answerOf<SecondFactor>(browser('/me/second-factor', sent({})))) as SecondFactor;
    expect(address).toMatch(/^otpauth:\/\/totp\/Gray%20Loom/);
    const confirm = (code: string) =>
      answerOf<{ codes: string[] }>(browser('/me/second-factor/confirm', sent({ secret, code })));
    expect(await confirm('000000')).toEqual([422, 'wrongCode']);
    // Begun alone it asks nobody for a code.
    expect(await status(signIn(email))).toBe(200);
    const { codes } = (await confirm(codeOf(secret))) as { codes: string[] };
    expect(new Set(codes).size).toBe(10);
    expect(await answerOf(signIn(email))).toEqual([401, 'codeWanted']);
    // The code that confirmed it is used; the next one counts already.
    const next = codeOf(secret, 1);
    expect(await answerOf(signIn(email, 'not this one', next))).toEqual([401, 'wrongSignIn']);
    expect(await status(signIn(email, PASSWORD, next))).toBe(200);
    expect(await answerOf(signIn(email, PASSWORD, next))).toEqual([401, 'wrongCode']);
    const [one = '', other = ''] = codes;
    expect(await status(signIn(email, PASSWORD, one.toUpperCase().replaceAll('-', ' ')))).toBe(200);
    expect(await answerOf(signIn(email, PASSWORD, one))).toEqual([401, 'wrongCode']);
    // Of two who send the same code at once one is in.
    const both = await Promise.all([signIn(email, PASSWORD, other), signIn(email, PASSWORD, other)]);
    expect(both.map((answer) => answer.status).sort()).toEqual([200, 401]);
    const { rows } = await app.database.pool.query<{ kept: string }>(
      `select a::text as kept from account a where email = $1`,
      [email],
    );
    expect(rows[0]?.kept).not.toContain(secret);
  });

  test('is taken off by the password, or by an administrator with a link for a new one', async () => {
    const { id, browser } = await join('Sanne Huisman');
    const email = mailOf('Sanne Huisman');
    const begin = async () => {
      const { secret } = (await answerOf<SecondFactor>(browser('/me/second-factor', sent({})))) as SecondFactor;
      await browser('/me/second-factor/confirm', sent({ secret, code: codeOf(secret) }));
    };
    await begin();
    expect(await answerOf(browser('/me/second-factor/drop', sent({ password: 'wrong' })))).toEqual([
      422,
      'wrongPassword',
    ]);
    expect(await status(browser('/me/second-factor/drop', sent({ password: PASSWORD })))).toBe(204);
    expect(await status(signIn(email))).toBe(200);
    await begin();
    const { path } = await app.json<InviteLink>(`/people/${id}/reset`, 'POST', { secondFactor: true });
    expect(await status(accept(path, { password: 'another good one' }))).toBe(201);
    expect(await status(browser('/session'))).toBe(401);
    expect([await status(signIn(email)), await status(signIn(email, 'another good one'))]).toEqual([401, 200]);
  });
});

describe('one’s own account', () => {
  test('gets another password by the one it has, and is signed out elsewhere', async () => {
    const { browser } = await join('Rhys Bowen');
    const other = browserOf(await signIn(mailOf('Rhys Bowen')));
    const change = (current: string, next: string) => answerOf(browser('/me/password', sent({ current, next })));
    expect(await change('not this one', 'another good one')).toEqual([422, 'wrongPassword']);
    expect(await change(PASSWORD, 'short')).toEqual([422, 'invalid']);
    expect(await change(PASSWORD, 'another good one')).toBeUndefined();
    expect([await status(browser('/session')), await status(other('/session'))]).toEqual([200, 401]);
  });

  test('lists its sessions and ends one; those of others are out of reach', async () => {
    const { browser } = await join('Kari Lund');
    const agent = { 'User-Agent': 'Browser of the test' };
    const answer = await app.anonymous('/session', {
      ...sent({ email: mailOf('Kari Lund'), password: PASSWORD }),
      headers: { 'Content-Type': 'application/json', ...agent },
    });
    const other = browserOf(answer);
    const list = (await answerOf<OwnSession[]>(browser('/me/sessions'))) as OwnSession[];
    expect(list.map(({ browser: name, isThis }) => [name, isThis]).sort()).toEqual([
      ['', true],
      ['Browser of the test', false],
    ]);
    const [theirs] = await app.json<OwnSession[]>('/me/sessions');
    expect(await answerOf(browser(`/me/sessions/${theirs?.id}`, { method: 'DELETE' }))).toEqual([404, 'noSuchSession']);
    const second = list.find(({ isThis }) => !isThis);
    expect(await status(browser(`/me/sessions/${second?.id}`, { method: 'DELETE' }))).toBe(204);
    expect([await status(browser('/session')), await status(other('/session'))]).toEqual([200, 401]);
  });
});

describe('an account that is retired', () => {
  test('is out at once, and what it owns is handed over in the same step, taken back by the undo of that run', async () => {
    const { id, browser } = await join('Joost Bakker');
    const { id: heir } = await join('Anneke de Wit');
    const { contactId } = await app.enter({ givenName: 'Pieter', familyName: 'Achterberg', owner: 'Joost Bakker' });
    const ownerOf = async () => {
      const { record } = await app.json<ContactDetail>(`/contacts/${contactId}`);
      return record.f.owner?.[0]?.v;
    };
    expect((await accountOf(mailOf('Joost Bakker'))).owns).toBe(1);
    const handed = await app.json<Handed>(`/people/${id}/retire`, 'POST', { handTo: heir });
    expect([await status(browser('/session')), await status(signIn(mailOf('Joost Bakker')))]).toEqual([401, 401]);
    expect(await ownerOf()).toBe('Anneke de Wit');
    await app.json(`/runs/${handed.runId}/undo`, 'POST');
    expect(await ownerOf()).toBe('Joost Bakker');
    expect(await answerOf(app.request(`/people/${id}/retire`, sent({})))).toEqual([409, 'retired']);
    await app.json(`/people/${id}/bring-back`, 'POST');
    expect(await status(signIn(mailOf('Joost Bakker')))).toBe(200);
  });

  test('that was called otherwise takes its contacts along', async () => {
    const { id } = await join('Maaike Visser');
    const { contactId } = await app.enter({ givenName: 'Femke', familyName: 'Huisman', owner: 'Maaike Visser' });
    await app.json(`/people/${id}`, 'PATCH', { name: 'Maaike de Jong' });
    const { record } = await app.json<ContactDetail>(`/contacts/${contactId}`);
    expect(record.f.owner?.[0]?.v).toBe('Maaike de Jong');
  });

  test('goes on with a run of its own', async () => {
    const { id } = await join('Hendrik Visser');
    const { rows } = await app.database.pool.query<{ id: number }>(
      `insert into run (kind, state, thread_id, title, actor_id) select 'scan', 'queued', id, 'Scan', $1 from thread limit 1 returning id`,
      [id],
    );
    await app.json(`/people/${id}/retire`, 'POST', {});
    expect((await app.work(rows[0]?.id ?? 0)).state).toBe('done');
  });
});

describe('the last administrator', () => {
  test('is neither retired nor demoted, also not by two at once', async () => {
    const ines = await accountOf('ines@quillhaven.example');
    expect(await answerOf(app.request(`/people/${ines.id}`, sent({ role: 'viewer' }, 'PATCH')))).toEqual([
      409,
      'lastAdministrator',
    ]);
    expect(await answerOf(app.request(`/people/${ines.id}/retire`, sent({})))).toEqual([409, 'lastAdministrator']);
    const { id, browser } = await join('Ada Second', 'administrator');
    const answers = await Promise.all([
      app.request(`/people/${id}`, sent({ role: 'editor' }, 'PATCH')),
      browser(`/people/${ines.id}`, sent({ role: 'editor' }, 'PATCH')),
    ]);
    expect(answers.filter(({ ok }) => ok)).toHaveLength(1);
    const { rows } = await app.database.pool.query(
      `select 1 from account where role = 'administrator' and retired_at is null`,
    );
    expect(rows).toHaveLength(1);
  });
});

test('a workspace without an account asks for the first one, once', async () => {
  const fresh = await startTestApp();
  try {
    await fresh.database.pool.query('delete from session');
    await fresh.database.pool.query('delete from account');
    expect(await answerOf(fresh.anonymous('/session'))).toEqual([401, 'noAccounts']);
    const first = (email: string) =>
      fresh.anonymous('/first-account', sent({ name: email.split('@')[0], email, password: PASSWORD }));
    const both = await Promise.all([first('ada@quillhaven.example'), first('bo@quillhaven.example')]);
    expect(both.map((answer) => answer.status).sort()).toEqual([201, 409]);
    expect(await answerOf(first('cy@quillhaven.example'))).toEqual([409, 'notNew']);
  } finally {
    await fresh.end();
  }
});
