import { describe, expect, test } from '@jest/globals';
import { ToolTrouble, type OutsideFields, type Tool } from '@gray-loom/core/syncing';

export interface ContractCase {
  /** A fresh way to the same tool, as after a restart. */
  open(): Tool;
  /** Makes the tool lose the answers of the next writes, which are done all the same. */
  loseAnswers(isLost: boolean): void;
  /** What a record holds that the connector has no name for, changed and looked up behind its back. */
  changeBehind(id: string): Promise<void>;
  isKept(id: string): Promise<boolean>;
  /** Forgets all cursors. */
  forgetCursors(isForgotten: boolean): void;
}

const NAMED: OutsideFields = { given: [{ v: 'Ana' }], family: [{ v: 'Reis' }], email: [{ v: 'ana@example.org' }] };

/**
 * What every connector has to keep to, so that the engine's laws hold over it. A connector of its own is a file that opens
 * the tool and this suite over a stand-in of it.
 */
export function connectorContract(name: string, start: () => Promise<ContractCase>): void {
  describe(`the contract of connectors: ${name}`, () => {
    const make = async (tool: Tool, id: string) => {
      const [made] = await tool.write([{ kind: 'create', id, fields: NAMED, labels: ['regatta'], stopped: [] }]);
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
      const made = await make(tool, tool.newId(1, 'a'));
      const [read] = await it.open().read([made.id]);
      expect(read?.fields).toMatchObject(NAMED);
      expect(read?.labels).toEqual(['regatta']);
      expect(read?.version).toBe(made.version);
      const next = await tool.changes(cursor);
      expect(next.changed).toEqual([{ id: made.id, version: made.version }]);
      expect(next.full).toBe(false);
      expect((await tool.changes(next.cursor)).changed).toEqual([]);
    });

    test('an id that is taken is a clash, so that nothing is made twice', async () => {
      const it = await start();
      const tool = it.open();
      const made = await make(tool, tool.newId(1, 'b'));
      const [again] = await it.open().write([{ kind: 'create', id: made.id, fields: NAMED, labels: [], stopped: [] }]);
      expect(again).toMatchObject({ ok: false, why: 'clash' });
    });

    test('a version that is not the newest is a clash, and nothing is overwritten', async () => {
      const it = await start();
      const tool = it.open();
      const made = await make(tool, tool.newId(1, 'c'));
      const write = (family: string, version: string) =>
        it.open().write([
          {
            kind: 'update',
            id: made.id,
            version,
            fields: { family: [{ v: family }] },
            labels: null,
            stop: [],
            seen: made,
          },
        ]);
      const [first] = await write('Okoro', made.version);
      expect(first?.ok).toBe(true);
      const [second] = await write('Lund', made.version);
      expect(second).toMatchObject({ ok: false, why: 'clash' });
      expect((await tool.read([made.id]))[0]?.fields.family).toEqual([{ v: 'Okoro' }]);
    });

    test('what it has no name for stays when something else is written', async () => {
      const it = await start();
      const tool = it.open();
      const made = await make(tool, tool.newId(1, 'd'));
      await it.changeBehind(made.id);
      const [seen] = await tool.read([made.id]);
      if (!seen) throw new Error('it is gone');
      await it.open().write([
        {
          kind: 'update',
          id: seen.id,
          version: seen.version,
          fields: { note: [{ v: 'Oak' }] },
          labels: ['donor'],
          stop: [],
          seen,
        },
      ]);
      expect(await it.isKept(made.id)).toBe(true);
      const [now] = await tool.read([made.id]);
      expect(now).toMatchObject({ fields: { ...NAMED, note: [{ v: 'Oak' }] }, labels: ['donor'] });
    });

    test('what was removed is told as gone, and is not read', async () => {
      const it = await start();
      const tool = it.open();
      const made = await make(tool, tool.newId(1, 'e'));
      const { cursor } = await tool.changes(null);
      expect(await tool.write([{ kind: 'remove', id: made.id, version: made.version }])).toMatchObject([{ ok: true }]);
      expect((await tool.changes(cursor)).gone).toEqual([made.id]);
      expect(await tool.read([made.id])).toEqual([]);
    });

    test('where the answer is lost nobody knows, and reading finds out', async () => {
      const it = await start();
      const tool = it.open();
      it.loseAnswers(true);
      const id = tool.newId(1, 'f');
      const [lost] = await tool.write([{ kind: 'create', id, fields: NAMED, labels: [], stopped: [] }]);
      it.loseAnswers(false);
      expect(lost).toMatchObject({ ok: false, why: 'unknown' });
      expect((await tool.read([id]))[0]?.fields).toMatchObject(NAMED);
    });

    test('a cursor that is not known any more is said to be lost, and everything can be listed instead', async () => {
      const it = await start();
      const tool = it.open();
      const made = await make(tool, tool.newId(1, 'g'));
      const { cursor } = await tool.changes(null);
      it.forgetCursors(true);
      await expect(tool.changes(cursor)).rejects.toMatchObject({ kind: 'cursorLost' });
      await expect(tool.changes(cursor)).rejects.toBeInstanceOf(ToolTrouble);
      it.forgetCursors(false);
      const all = await tool.changes(null);
      expect(all.full).toBe(true);
      expect(all.changed).toContainEqual({ id: made.id, version: made.version });
    });
  });
}
