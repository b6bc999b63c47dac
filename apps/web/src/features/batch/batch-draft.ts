import type { BatchRequestChange } from '@gray-loom/wire';

/** What a change of many is while it is being said. */
export interface BatchDraft {
  kind: 'tags' | 'set' | 'fill' | 'clear' | 'permission' | 'delete' | 'restore' | 'sync';
  add: string[];
  remove: string[];
  only: boolean;
  field: string;
  text: string;
  channel: 'email' | 'text' | 'call' | 'voicemail' | 'post';
  state: 'optedOut' | 'allowed';
  how: string;
  connectionId: number;
  choice: 'send' | 'never' | '';
}

export const FIRST_DRAFT: BatchDraft = {
  kind: 'tags',
  add: [],
  remove: [],
  only: false,
  field: '',
  text: '',
  channel: 'email',
  state: 'optedOut',
  how: '',
  connectionId: 0,
  choice: 'send',
};

export const BATCH_KINDS: [BatchDraft['kind'], string][] = [
  ['tags', 'add or take off tags'],
  ['set', 'set a field'],
  ['fill', 'fill a field where nothing is'],
  ['clear', 'clear a field'],
  ['permission', 'note a permission'],
  ['sync', 'say how a connection has them'],
  ['delete', 'delete'],
];

/** The change as the server takes it; null while something is still to be said. */
export function changeOf(draft: BatchDraft): BatchRequestChange | null {
  const { kind, add, remove, only, field, text, channel, state, how, connectionId, choice } = draft;
  switch (kind) {
    case 'tags':
      return add.length || remove.length || only ? { kind, add, remove: only ? [] : remove, only } : null;
    case 'set':
    case 'fill':
      return field && text.trim()
        ? { kind: 'set', field, text, value: null, label: null, how: kind === 'fill' ? 'fill' : 'replace' }
        : null;
    case 'clear':
      return field ? { kind, field } : null;
    case 'permission':
      return state === 'optedOut' || how.trim() ? { kind, channel, state, how } : null;
    case 'sync':
      return connectionId ? { kind, connectionId, choice: choice || null } : null;
    case 'delete':
    case 'restore':
      return { kind };
  }
}
