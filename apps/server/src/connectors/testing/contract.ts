import { describe, expect, test } from '@jest/globals';
import { ToolTrouble, type OutsideFields, type Tool } from '@gray-loom/core/syncing';

export interface ContractCase {
  /** A person as the tool keeps them, and the fields of another name and of one more thing. */
  person: OutsideFields;
  otherName: OutsideFields;
  more: OutsideFields;
  /** More people, for tools that take an address once; left out, the same person may be there again. */
  another?(n: number): OutsideFields;
  /** Whether what was removed is told; where it is not, only a whole list shows it. */
  tellsRemoved: boolean;
  /** A fresh way to the same tool, as after a restart. */
  open(): Tool;
  /** Makes the tool lose the answers of the next writes, which are done all the same. */
  loseAnswers(isLost: boolean): void;
  /** What a record holds that the connector has no name for, changed and looked up behind its back. */
  changeBehind(id: string): Promise<void>;
  isKept(id: string): Promise<boolean>;
  /** Puts off some of the requests, for a moment. */
  putOff(isOn: boolean): void;
  /** Forgets all cursors. */
  forgetCursors(isForgotten: boolean): void;
}

/**
 * What every connector has to keep to, so that the engine's laws hold over it. A connector of its own is a file that opens
 * the tool and this suite over a stand-in of it.
 */
export function connectorContract(name: string, start: () => Promise<ContractCase>): void {
  describe(`the contract of connectors: ${name}`, () => {
    const make = async ({ person: fields }: ContractCase, tool: Tool, id: string) => {
      const [made] = await tool.write([{ kind: 'create', id, fields, labels: ['regatta'], stopped: [] }]);
      if (!made?.ok || !made.record) throw new Error('it was not made');
      return made.record;
    };

    test('says what it can hold', async () => {
      const { fields } = await (await start()).open().capabilities();
      expect(fields.length).toBeGreaterThan(0);
      expect(new Set(fields.map(({ key }) => key)).size).toBe(fields.length);
    });

    test('what is written is read back, and is told as a change once', async () => {
      const it = await start();
      const tool = it.open();
      const { cursor } = await tool.changes(null);
      const made = await make(it, tool, tool.newId(1, 'a'));
      const [read] = await it.open().read([made.id]);
      expect(read?.fields).toMatchObject(it.person);
      expect(read?.labels).toEqual(['regatta']);
      expect(read?.version).toBe(made.version);
      const next = await tool.changes(cursor);
      expect(next.changed).toEqual([{ id: made.id, version: made.version }]);
      expect(next.full).toBe(false);
      // Told once more it is no news: it has the version that is known.
      for (const again of (await tool.changes(next.cursor)).changed) expect(again).toEqual(next.changed[0]);
    });

    test('an id that is taken is a clash, so that nothing is made twice', async () => {
      const it = await start();
      const tool = it.open();
      const made = await make(it, tool, tool.newId(1, 'b'));
      const [again] = await it
        .open()
        .write([{ kind: 'create', id: made.id, fields: it.person, labels: [], stopped: [] }]);
      expect(again).toMatchObject({ ok: false, why: 'clash' });
    });

    test('a version that is not the newest is a clash, and nothing is overwritten', async () => {
      const it = await start();
      const tool = it.open();
      const made = await make(it, tool, tool.newId(1, 'c'));
      const write = (fields: OutsideFields, version: string) =>
        it.open().write([
          {
            kind: 'update',
            id: made.id,
            version,
            fields,
            labels: null,
            stop: [],
            seen: made,
          },
        ]);
      const [first] = await write(it.otherName, made.version);
      expect(first?.ok).toBe(true);
      const [second] = await write(it.person, made.version);
      expect(second).toMatchObject({ ok: false, why: 'clash' });
      expect((await it.open().read([made.id]))[0]?.fields).toMatchObject(it.otherName);
    });

    test('what it has no name for stays when something else is written', async () => {
      const it = await start();
      const tool = it.open();
      const made = await make(it, tool, tool.newId(1, 'd'));
      await it.changeBehind(made.id);
      const [seen] = await tool.read([made.id]);
      if (!seen) throw new Error('it is gone');
      await it.open().write([
        {
          kind: 'update',
          id: seen.id,
          version: seen.version,
          fields: it.more,
          labels: ['donor'],
          stop: [],
          seen,
        },
      ]);
      expect(await it.isKept(made.id)).toBe(true);
      const [now] = await tool.read([made.id]);
      expect(now).toMatchObject({ fields: { ...it.person, ...it.more }, labels: ['donor'] });
    });

    test('what was removed is told as gone, or missing in a whole list, and is not read', async () => {
      const it = await start();
      const tool = it.open();
      const made = await make(it, tool, tool.newId(1, 'e'));
      const { cursor } = await tool.changes(null);
      expect(await tool.write([{ kind: 'remove', id: made.id, version: made.version }])).toMatchObject([{ ok: true }]);
      expect((await tool.changes(cursor)).gone).toEqual(it.tellsRemoved ? [made.id] : []);
      const all = await it.open().changes(null);
      expect([all.full, all.changed.some(({ id }) => id === made.id)]).toEqual([true, false]);
      expect(await tool.read([made.id])).toEqual([]);
    });

    test('where the answer is lost nobody knows, and reading finds out', async () => {
      const it = await start();
      const tool = it.open();
      it.loseAnswers(true);
      const id = tool.newId(1, 'f');
      const [lost] = await tool.write([{ kind: 'create', id, fields: it.person, labels: [], stopped: [] }]);
      it.loseAnswers(false);
      expect(lost).toMatchObject({ ok: false, why: 'unknown' });
      // Where an id follows what was written, the name that a record keeps tells which it is.
      const uid = tool.newUid?.(id);
      const all = await tool.read([id, ...(await tool.changes(null)).changed.map((one) => one.id)]);
      expect(all.find((one) => one.id === id || (uid && one.uid === uid))?.fields).toMatchObject(it.person);
    });

    test('of many that are written one that is not taken leaves the others alone', async () => {
      const it = await start();
      const tool = it.open();
      const made = await make(it, tool, tool.newId(1, 'h'));
      const create = (id: string, n: number) => {
        const fields = it.another?.(n) ?? it.person;
        return { kind: 'create' as const, id, fields, labels: [], stopped: [] };
      };
      const [a, b] = [tool.newId(2, 'h'), tool.newId(3, 'h')];
      const written = await tool.write([create(a, 2), create(made.id, 1), create(b, 3)]);
      expect(written.map(({ ok }) => ok)).toEqual([true, false, true]);
    });

    test('what puts off is waited for, or said with how long to wait, and nothing is lost by it', async () => {
      const it = await start();
      it.putOff(true);
      const tool = it.open();
      const made = await make(it, tool, tool.newId(1, 'i')).catch((error: unknown) => {
        expect(error).toMatchObject({ kind: 'busy', waitMs: expect.any(Number) as unknown });
        it.putOff(false);
        return make(it, tool, tool.newId(1, 'j'));
      });
      it.putOff(false);
      expect((await tool.read([made.id]))[0]?.fields).toMatchObject(it.person);
    });

    test('a cursor that is not known any more is said to be lost, and everything can be listed instead', async () => {
      const it = await start();
      const tool = it.open();
      const made = await make(it, tool, tool.newId(1, 'g'));
      const { cursor } = await tool.changes(null);
      it.forgetCursors(true);
      const lost = await Promise.resolve(cursor)
        .then((at) => tool.changes(at))
        .catch((error: unknown) => error);
      expect(lost).toBeInstanceOf(ToolTrouble);
      expect(lost).toMatchObject({ kind: 'cursorLost' });
      it.forgetCursors(false);
      const all = await tool.changes(null);
      expect(all.full).toBe(true);
      expect(all.changed).toContainEqual({ id: made.id, version: made.version });
    });
  });
}
