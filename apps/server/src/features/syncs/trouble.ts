import { ToolTrouble } from '@gray-loom/core/syncing';
import { refuse } from './refusals';

/** Trouble of the other side as a refusal that says what it is. */
export async function troubled<T>(work: Promise<T>): Promise<T> {
  try {
    return await work;
  } catch (error) {
    if (error instanceof ToolTrouble) throw refuse.toolTrouble({ kind: error.kind, text: error.message });
    throw error;
  }
}
