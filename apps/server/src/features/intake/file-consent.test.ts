import { afterAll, beforeAll, expect, test } from '@jest/globals';
import type { FileConsent } from '@gray-loom/core/mapping';
import type { ContactDetail, ContactPage, IntakeDetail, PermissionState } from '@gray-loom/wire';
import { refusal } from '../../testing/refusal';
import { bringFile, runImport } from '../../testing/run-import';
import { startTestApp, type TestApp } from '../../testing/start-test-app';

let app: TestApp;
beforeAll(async () => {
  app = await startTestApp();
});
afterAll(() => app.end());

const CONSENT: FileConsent = {
  channels: ['email', 'post'],
  how: 'ticked on the sign-up sheet',
  statedAt: '2026-05-03',
  by: 'the harbour office',
  textShown: 'Send me the course list.',
  lastTouch: 'this spring',
  hadFrom: '',
};

async function find(text: string): Promise<ContactDetail> {
  const { rows } = await app.json<ContactPage>(`/contacts?find=${encodeURIComponent(text)}`);
  return app.json<ContactDetail>(`/contacts/${rows[0]?.id}`);
}
const stateOf = async (text: string, channel: string): Promise<PermissionState | undefined> =>
  (await find(text)).permissions.channels.find((one) => one.channel === channel)?.state;

test('the consent behind a list is kept with each, lifts no stop, holds for rows let in later, and goes with its import', async () => {
  const { contactId } = await app.enter({ givenName: 'Tom', familyName: 'Okoro', email: 'tom@example.org' });
  await app.json(`/contacts/${contactId}/permissions`, 'POST', {
    channel: 'email',
    state: 'optedOut',
    how: 'on the phone',
    statedAt: '2020-01-01',
  });
  const file = 'Name;Email\nAna Reis;ana@example.org\nTom Okoro;tom@example.org\nKari Pike;kari(at)example.org\n';
  const intakeId = await bringFile(app, 'sheet.csv', file, (mapping) => ({
    ...mapping,
    wholeFile: { ...mapping.wholeFile, consent: CONSENT },
  }));
  const run = await runImport(app, intakeId);
  expect(await stateOf('ana@', 'email')).toBe('allowed');
  expect(await stateOf('ana@', 'call')).toBe('unknown');
  const [evidence] = (await find('ana@')).permissions.evidence;
  expect(evidence?.how).toBe(
    'ticked on the sign-up sheet; obtained by the harbour office; text shown: "Send me the course list."; last in touch this spring; our own list',
  );
  expect(evidence?.statedAt.slice(0, 10)).toBe('2026-05-03');
  expect([await stateOf('tom@', 'email'), await stateOf('tom@', 'post')]).toEqual(['optedOut', 'allowed']);

  await app.json(`/held/${run.id}/3/let-in`, 'POST', { cells: ['Kari Pike', 'kari@example.org'], as: 'check' });
  expect(await stateOf('kari@', 'email')).toBe('allowed');

  // The next list of the layout is asked anew.
  const next = await app.json<IntakeDetail>(`/intakes/${await bringFile(app, 'sheet-2.csv', file)}`);
  expect(next.readAs?.name).toBe('sheet.csv');
  expect(next.mapping.wholeFile.consent).toBeNull();

  await app.json(`/runs/${run.id}/undo`, 'POST');
  expect([await stateOf('tom@', 'email'), await stateOf('tom@', 'post')]).toEqual(['optedOut', 'unknown']);
});

test.each<[string, Partial<FileConsent>]>([
  ['no channel', { channels: [] }],
  ['not how', { how: ' ' }],
  ['no day', { statedAt: '' }],
  ['a day to come', { statedAt: '2100-01-01' }],
  ['not by whom', { by: '' }],
  ['not how recently', { lastTouch: '' }],
])('a permission that says %s is refused', async (_name, change) => {
  const id = await bringFile(app, 'list.csv', 'Name;Email\nA B;a.b@example.org\n');
  const { mapping } = await app.json<IntakeDetail>(`/intakes/${id}`);
  const put = app.json(`/intakes/${id}/mapping`, 'PUT', {
    ...mapping,
    wholeFile: { ...mapping.wholeFile, consent: { ...CONSENT, ...change } },
  });
  expect((await refusal(put)).status).toBe(422);
});
