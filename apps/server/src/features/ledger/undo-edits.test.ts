import { afterAll, beforeEach, expect, test } from '@jest/globals';
import type { ContactDetail, UndoPreview } from '@gray-loom/wire';
import { startTestApp, type TestApp } from '../../testing/start-test-app';

let app: TestApp;
let kept: number;
let away: number;
let runId: number;

const values = async (id: number, field: string) =>
  ((await app.json<ContactDetail>(`/contacts/${id}`)).record.f[field] ?? []).map(({ v }) => v);
const edit = async (field: string, text: string, slot?: number) => {
  const held = (await app.json<ContactDetail>(`/contacts/${kept}`)).record.f[field] ?? [];
  const before = slot === undefined ? null : (held.find((value) => value.slot === slot) ?? null);
  return app.edit(kept, { field, ...(slot === undefined ? {} : { slot, before }), text });
};
const look = async () => (await app.json<UndoPreview>(`/runs/${runId}/undo`)).edits;
const take = (edits: object[]) => app.json(`/runs/${runId}/undo`, 'POST', { edits });

/** Two records of Kate, merged, and then edited: a second phone, another title, and a note that only the other had. */
beforeEach(async () => {
  app ??= await startTestApp();
  const enter = (more: Record<string, string>) =>
    app.enter({ givenName: 'Kate', familyName: 'Pike', ...more }, { despite: true }).then(({ contactId }) => contactId);
  kept = await enter({ tel: '+44 7700 900100', title: 'Rigger' });
  away = await enter({ email: 'kate@example.org', note: 'Sails on Sundays' });
  const group = await app.database.pool.query<{ id: number }>(
    `insert into match_group (kind, member_key, member_ids, state, band, probability01, bits, name, model_version)
     values ('person', $1, $2, 'open', 'likely', 0.95, 5, 'Pike', 0) returning id`,
    [`${kept},${away}`, [kept, away]],
  );
  ({ runId } = await app.json<{ runId: number }>(`/duplicates/${group.rows[0]?.id}/merge`, 'POST', {
    memberIds: [kept, away],
    keepId: kept,
    choices: {},
    versions: {},
  }));
  await edit('tel', '+44 7700 900200');
  await edit('title', 'Sailmaker', 0);
  await edit('note', 'Sails on Mondays', (await app.json<ContactDetail>(`/contacts/${kept}`)).record.f.note?.[0]?.slot);
});
afterAll(() => app.end());

test('what was edited since a merge is offered with what stood there', async () => {
  expect(await look()).toEqual([
    expect.objectContaining({ name: 'Phone', now: '+44 7700 900200', before: '' }),
    expect.objectContaining({ name: 'Job title', now: 'Sailmaker', before: 'Rigger' }),
    expect.objectContaining({ name: 'Note', now: 'Sails on Mondays', before: 'Sails on Sundays' }),
  ]);
  expect((await look())[0]?.members.map(({ id }) => id).sort()).toEqual([kept, away].sort());
});

test('without a word it stays with the record it was edited on', async () => {
  await app.json(`/runs/${runId}/undo`, 'POST');
  expect(await values(kept, 'tel')).toEqual(['+44 7700 900100', '+44 7700 900200']);
  expect(await values(kept, 'note')).toEqual(['Sails on Mondays']);
  expect(await values(away, 'note')).toEqual(['Sails on Sundays']);
});

test('each edit goes to whom it is given, to both, or back; and undoing the undo brings the merged record back as it was', async () => {
  const [tel, title, note] = await look();
  const merged = await app.json<ContactDetail>(`/contacts/${kept}`);
  const { undoRunId } = (await take([
    { ...tel, owners: [away] },
    { ...title, owners: [kept, away] },
    { ...note, owners: [] },
  ])) as { undoRunId: number };
  expect(await values(kept, 'tel')).toEqual(['+44 7700 900100']);
  expect(await values(away, 'tel')).toEqual(['+44 7700 900200']);
  expect([await values(kept, 'title'), await values(away, 'title')]).toEqual([['Sailmaker'], ['Sailmaker']]);
  expect([await values(kept, 'note'), await values(away, 'note')]).toEqual([[], ['Sails on Sundays']]);
  await app.json(`/runs/${undoRunId}/undo`, 'POST');
  const again = await app.json<ContactDetail>(`/contacts/${kept}`);
  const plain = ({ record }: ContactDetail) =>
    Object.fromEntries(Object.entries(record.f).map(([field, list]) => [field, list.map(({ v }) => v)]));
  expect(plain(again)).toEqual(plain(merged));
  expect((await app.json<ContactDetail>(`/contacts/${away}`)).mergedInto?.id).toBe(kept);
});

test('an edit that moved while somebody decided is refused, and nothing is taken back', async () => {
  const [tel] = await look();
  await expect(take([{ ...tel, slot: 77, owners: [away] }])).rejects.toMatchObject({
    status: 409,
    problem: { code: 'editMoved' },
  });
  expect((await app.json<ContactDetail>(`/contacts/${away}`)).mergedInto?.id).toBe(kept);
});

test('a value that was brought back by taking an undo back goes with the run that wrote it', async () => {
  const back = async (id: number) => (await app.json<{ undoRunId: number }>(`/runs/${id}/undo`, 'POST')).undoRunId;
  const first = await edit('organization', 'Slip Works');
  await back(await back(first.runId));
  expect(await values(kept, 'organization')).toEqual(['Slip Works']);
  const second = await edit('organization', 'Tern Joinery', 0);
  // What the later edit wrote stays; what lies under it is taken back all the same.
  await back(first.runId);
  expect(await values(kept, 'organization')).toEqual(['Tern Joinery']);
  await back(second.runId);
  expect(await values(kept, 'organization')).toEqual([]);
});
