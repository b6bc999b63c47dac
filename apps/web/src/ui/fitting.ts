import { foldText } from '@gray-loom/core/fields';

/** How well a text fits what was typed: 3 it is that, 2 it begins so, 1 a word in it does, 0.5 it stands within; 0 not at all. */
export function fit(text: string, typed: string): number {
  const [plain, wanted] = [foldText(text), foldText(typed)];
  if (wanted === '') return 1;
  if (plain === wanted) return 3;
  if (plain.startsWith(wanted)) return 2;
  if (` ${plain}`.includes(` ${wanted}`)) return 1;
  return plain.includes(wanted) ? 0.5 : 0;
}

/** What fits, best first; what fits alike keeps its order. */
export function fitting<T extends { text: string }>(choices: readonly T[], typed: string): T[] {
  if (!typed.trim()) return [...choices];
  return choices
    .map((choice) => ({ choice, score: fit(choice.text, typed) }))
    .filter(({ score }) => score > 0)
    .sort((a, b) => b.score - a.score)
    .map(({ choice }) => choice);
}
