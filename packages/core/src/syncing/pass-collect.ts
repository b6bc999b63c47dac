import { ToolTrouble, type Changes, type SyncStore, type Tool } from './ports';

export interface ChangedThere {
  changed: { id: string; version: string }[];
  gone: string[];
  cursor: string | null;
  clock: Changes['clock'];
}

/** What a pass begins with. */
export interface Collected {
  ours: { ids: number[]; cursor: string };
  theirs: ChangedThere;
  /** Records over there with something that was begun and not confirmed. */
  unfinished: string[];
  /** Records over there of which a person is asked, and that may be somebody who changed here. */
  reasked: ReadonlySet<string>;
}

/** Step one of a pass: what changed on both sides, and what an earlier pass left open. Writes nothing. */
export async function collect(store: SyncStore, tool: Tool): Promise<Collected> {
  const cursors = await store.cursors();
  // Ours is looked up first: what changes here while the other side is asked belongs to the next pass.
  const ours = await store.changedHere(cursors.ours);
  const theirs = await changesThere(store, tool, cursors.theirs);
  const unfinished = await store.unfinished();
  // Whoever somebody over there may be has changed, or was merged: the question may answer itself now.
  const asked = await store.askedAbout();
  return { ours, theirs, unfinished, reasked: new Set(ours.ids.flatMap((id) => asked.get(id) ?? [])) };
}

async function changesThere(store: SyncStore, tool: Tool, cursor: string | null): Promise<ChangedThere> {
  const changes = await tool.changes(cursor).catch((error: unknown) => {
    if (!(error instanceof ToolTrouble) || error.kind !== 'cursorLost') throw error;
    return tool.changes(null);
  });
  // One that is named twice counts as it was named last.
  const last = new Map(changes.changed.map((one) => [one.id, one.version]));
  const { clock } = changes;
  if (!changes.full) {
    const gone = changes.gone.filter((id) => !last.has(id));
    return { changed: [...last].map(([id, version]) => ({ id, version })), gone, cursor: changes.cursor, clock };
  }
  const known = await store.versions();
  return {
    changed: [...last].filter(([id, version]) => known.get(id) !== version).map(([id, version]) => ({ id, version })),
    gone: [...known.keys()].filter((id) => !last.has(id)),
    cursor: changes.cursor,
    clock,
  };
}
