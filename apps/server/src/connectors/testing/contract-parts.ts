import { describe, expect, test } from '@jest/globals';
import type { OutsideFields, OutsidePage, Tool } from '@gray-loom/core/syncing';

/** What a tool may have beside records. */
export const PARTS = ['results', 'stops', 'forms', 'lists', 'bulk', 'makeField', 'callNext', 'newUid'] as const;
export type Part = (typeof PARTS)[number];

export interface PartsCase {
  open(): Tool;
  person: OutsideFields;
  /** Another person, for tools that take an address once. */
  another: OutsideFields;
  /** Something that happens there with a record, or with nobody that is known there. */
  happens?(recordId: string | null): void;
  /** Somebody says over there that they want no more: of an address or number. */
  says?(address: string): void;
  /** Somebody answers a form over there. */
  answers?(): void;
  /** Moves a record to another place; gives its id there. */
  moves?(id: string): string;
}

/** All of a list that only grows, from a place on, and the place behind it. */
async function allOf<T>(
  ask: (cursor: string | null) => Promise<OutsidePage<T>>,
  from: string | null = null,
): Promise<OutsidePage<T>> {
  const entries: T[] = [];
  let cursor = from;
  for (;;) {
    const page = await ask(cursor);
    entries.push(...page.entries);
    cursor = page.cursor;
    if (!page.more) return { ...page, entries };
  }
}

/** What a connector has to keep to in the parts that its tool has; the others are skipped, and have to be missing. */
export function contractOfParts(name: string, has: readonly Part[], start: () => Promise<PartsCase>): void {
  const only = (part: Part) => (has.includes(part) ? test : test.skip);
  const make = async (tool: Tool, fields: OutsideFields, nonce: string) => {
    const [made] = await tool.write([{ kind: 'create', id: tool.newId(1, nonce), fields, labels: [], stopped: [] }]);
    if (!made?.ok || !made.record) throw new Error('it was not made');
    return made.record;
  };

  describe(`the contract of connectors, in parts: ${name}`, () => {
    test('has the parts that it is said to have', async () => {
      const tool = (await start()).open();
      const seen = PARTS.filter((part) => (part === 'newUid' ? has.includes(part) && tool.newUid : tool[part]));
      expect(seen).toEqual(PARTS.filter((part) => has.includes(part)));
    });

    test('odd texts are kept as the tool says that it keeps them, and do not change by being written back', async () => {
      const it = await start();
      const tool = it.open();
      const { fields } = await tool.capabilities();
      const field = fields.find(({ type, options }) => (type === 'text' || type === 'longText') && !options);
      if (!field) throw new Error('there is no field for texts');
      const odd = [
        'O\'Hara; "Q", \\ back/slash',
        'Ülgür Æsirsdóttir',
        'שלום, right to left',
        '🚣🏽‍♀️ in a boat',
        'a\u0301 b',
        '<b>&amp;',
      ];
      for (const [i, v] of odd.entries()) {
        const person = { ...it.person, [field.key]: [{ v }] };
        const made = await make(tool, person, `odd${i}`);
        const kept = field.longest === undefined ? v : v.slice(0, field.longest);
        expect(made.fields[field.key]).toMatchObject([{ v: field.capitals ? kept.toUpperCase() : kept }]);
        const [back] = await tool.write([
          {
            kind: 'update',
            id: made.id,
            version: made.version,
            fields: made.fields,
            labels: null,
            stop: [],
            seen: made,
          },
        ]);
        expect(back).toMatchObject({ ok: true, record: { fields: made.fields } });
        const version = back?.ok ? (back.record?.version ?? '') : '';
        expect(await tool.write([{ kind: 'remove', id: made.id, version }])).toMatchObject([{ ok: true }]);
      }
    });

    only('results')('what happened is told once from a place on, with the record that it is of', async () => {
      const it = await start();
      const tool = it.open();
      const ask = (cursor: string | null) => tool.results?.(cursor) as ReturnType<NonNullable<Tool['results']>>;
      const before = await allOf(ask);
      const { id } = await make(tool, it.person, 'r');
      it.happens?.(id);
      it.happens?.(null);
      const next = await allOf(ask, before.cursor);
      expect(next.entries.map(({ recordId }) => recordId).sort()).toEqual([id, null].sort());
      for (const { at } of next.entries) expect(Number.isFinite(Date.parse(at))).toBe(true);
      expect((await allOf(ask, next.cursor)).entries).toEqual([]);
      const all = (await allOf(ask)).entries.map((one) => one.id);
      expect(new Set(all).size).toBe(before.entries.length + 2);
    });

    only('stops')('a stop of an address is told once from a place on', async () => {
      const it = await start();
      const tool = it.open();
      const ask = (cursor: string | null) => tool.stops?.(cursor) as ReturnType<NonNullable<Tool['stops']>>;
      const before = await allOf(ask);
      const { keepsStops } = await tool.capabilities();
      const address = keepsStops.includes('email') ? 'no.more@example.org' : '+44 7700 900455';
      it.says?.(address);
      const next = await allOf(ask, before.cursor);
      expect(next.entries).toMatchObject([{ channel: keepsStops[0], address }]);
      expect((await allOf(ask, next.cursor)).entries).toEqual([]);
    });

    only('forms')('forms say what they ask, and past answers come with new ones', async () => {
      const it = await start();
      const { forms } = it.open();
      it.answers?.();
      const [form] = (await forms?.all()) ?? [];
      if (!forms || !form) throw new Error('there is no form');
      const ask = (cursor: string | null) => forms.submissions(form.id, cursor);
      const before = await allOf(ask);
      expect(before.entries.length).toBeGreaterThan(0);
      it.answers?.();
      const next = await allOf(ask, before.cursor);
      expect(next.entries).toHaveLength(1);
      const keys = new Set(form.questions.map(({ key }) => key));
      expect(Object.keys(next.entries[0]?.answers ?? {}).every((key) => keys.has(key))).toBe(true);
      expect(new Set((await allOf(ask)).entries.map(({ id }) => id)).size).toBe(before.entries.length + 1);
    });

    only('lists')(
      'lists are made once by a name, and people go in and out without a change to what they are',
      async () => {
        const it = await start();
        const tool = it.open();
        const { lists } = tool;
        if (!lists) throw new Error('there are no lists');
        const list = await lists.make('Spring regatta');
        expect((await lists.make('Spring regatta')).id).toBe(list.id);
        expect((await lists.all()).filter(({ name: one }) => one === 'Spring regatta')).toHaveLength(1);
        const [a, b] = [await make(tool, it.person, 'l1'), await make(tool, it.another, 'l2')];
        const members = async () => (await allOf((cursor) => lists.members(list.id, cursor))).entries.sort();
        expect(await members()).toEqual([]);
        expect(await lists.move(list.id, { in: [a.id, b.id], out: [] })).toEqual([]);
        expect(await lists.move(list.id, { in: [a.id], out: [] })).toEqual([]);
        expect(await members()).toEqual([a.id, b.id].sort());
        const [read] = await it.open().read([a.id]);
        expect([read?.fields, read?.labels]).toEqual([a.fields, ['Spring regatta']]);
        expect(await lists.move(list.id, { in: [], out: [a.id, 'nobody-1'] })).toEqual([]);
        expect(await members()).toEqual([b.id]);
        await expect(lists.members('no such list', null)).rejects.toMatchObject({ kind: 'notFound' });
      },
    );

    only('bulk')('a job answers for each record, one that is not taken among them', async () => {
      const it = await start();
      const tool = it.open();
      const { bulk } = tool;
      if (!bulk) throw new Error('there are no jobs');
      const there = await make(tool, it.person, 'b1');
      const create = (id: string, fields: OutsideFields) => ({
        kind: 'create' as const,
        id,
        fields,
        labels: [],
        stopped: [],
      });
      const ids = [tool.newId(2, 'b2'), tool.newId(3, 'b3')] as const;
      const job = await bulk.start([create(ids[0], it.another), create(there.id, it.person)]);
      let answers = await bulk.look(job ?? '');
      for (let i = 0; i < 100 && !answers.done; i++) answers = await bulk.look(job ?? '');
      expect(new Map(answers.answers.map(({ id, written }) => [id, written.ok]))).toEqual(
        new Map([
          [ids[0], true],
          [there.id, false],
        ]),
      );
    });

    only('makeField')('a field that is made is there with its type and options, and a name is taken once', async () => {
      const it = await start();
      const tool = it.open();
      const asked = {
        name: `Sails ${Math.random().toString(36).slice(2, 8)}`,
        type: 'choice' as const,
        options: ['cotton', 'flax'],
      };
      const made = await tool.makeField?.(asked);
      const { fields, newFieldTypes } = await it.open().capabilities();
      expect(newFieldTypes).toContain('choice');
      expect(fields.find(({ key }) => key === made?.key)).toMatchObject({ name: asked.name, options: asked.options });
      await expect(tool.makeField?.(asked)).rejects.toMatchObject({ kind: 'refusedThere' });
    });

    only('callNext')('somebody is called next, and nobody who is gone is', async () => {
      const it = await start();
      const tool = it.open();
      const made = await make(tool, it.person, 'n');
      await tool.callNext?.(made.id);
      await tool.write([{ kind: 'remove', id: made.id, version: (await tool.read([made.id]))[0]?.version ?? '' }]);
      await expect(tool.callNext?.(made.id)).rejects.toMatchObject({ kind: 'refusedThere' });
    });

    only('newUid')('a record keeps its name wherever it is', async () => {
      const it = await start();
      const tool = it.open();
      const made = await make(tool, it.person, 'u');
      expect(made.uid).toBeTruthy();
      const { cursor } = await tool.changes(null);
      const to = it.moves?.(made.id) ?? '';
      expect(to).not.toBe(made.id);
      const { changed } = await tool.changes(cursor);
      expect(changed.map(({ id }) => id)).toContain(to);
      expect((await tool.read([made.id, to])).map(({ id, uid }) => [id, uid])).toEqual([[to, made.uid]]);
    });
  });
}
