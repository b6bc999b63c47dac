import {
  isGroup,
  type Condition,
  type Group,
  type NumberSpan,
  type Test,
  type TestValue,
} from '@gray-loom/core/segments';

/** A condition as a group, as the builder takes it. */
export const groupOf = (condition: Condition): Group =>
  isGroup(condition) ? condition : { join: 'all', of: [condition] };

/** What was typed as the value of a test; null where it is none yet. */
export function answerOf({ op }: Test, typed: string): TestValue | null {
  const text = typed.trim();
  if (!text) return null;
  if (op === 'is') return [text];
  if (op === 'contains' || op === 'begins') return text;
  const n = Number(text.replace(',', '.'));
  if (Number.isNaN(n)) return null;
  return op === 'holds' ? n : ({ from: n, to: n } satisfies NumberSpan);
}
