import type { RunSummary } from '@gray-loom/wire';
import { count } from '../../ui/when';

const OUTCOMES: [key: string, one: string][] = [
  ['new', 'new'],
  ['fill', 'filled'],
  ['replace', 'replaced'],
  ['same', 'same'],
  ['fold', 'folded'],
  ['held', 'held'],
];

/** Outcomes of an import in words: "312 new, 52 filled, 11 held". */
export function outcomesInWords(counts: Record<string, number | undefined>): string {
  const said = OUTCOMES.flatMap(([key, word]) => (counts[key] ? [`${count(counts[key])} ${word}`] : []));
  return said.length ? said.join(', ') : 'no rows';
}

const SYNCED: [key: string, words: string][] = [
  ['linked', 'found to be the same'],
  ['madeHere', 'new here'],
  ['madeThere', 'new over there'],
  ['changedHere', 'changed here'],
  ['changedThere', 'changed over there'],
  ['removedThere', 'removed over there'],
  ['goneThere', 'gone over there'],
  ['asked', 'to be asked about'],
  ['conflicts', 'in conflict'],
  ['failed', 'not taken'],
];

/** What a sync did or would do, in one line. Older runs counted as imports do. */
export function syncInWords(counts: Record<string, number | undefined>): string {
  if (counts.new !== undefined) return outcomesInWords(counts);
  const said = SYNCED.flatMap(([key, words]) => (counts[key] ? [`${count(counts[key])} ${words}`] : []));
  return said.length ? said.join(', ') : 'nothing to do';
}

/** What a run did, in one sentence. */
export function runInWords(run: RunSummary): string {
  if (run.state === 'queued') return `${run.title} waits its turn`;
  if (run.state === 'failed') return `${run.title} failed: ${run.error ?? 'no reason kept'}`;
  if (run.state === 'paused')
    return run.kind === 'sync'
      ? `${run.title} waits for a decision`
      : `${run.title} waits at row ${count(run.progress.done)}`;
  const stopped = run.state === 'stopped' ? ', stopped' : '';
  switch (run.kind) {
    case 'import':
      return `${run.title}: ${outcomesInWords(run.counts)}${stopped}`;
    case 'trial':
      return `${run.title}: ${outcomesInWords(run.counts)}`;
    case 'undo': {
      const { restored = 0, removed = 0, left = 0 } = run.counts;
      const said = [
        removed ? `${count(removed)} removed` : '',
        restored ? `${count(restored)} restored` : '',
        left ? `${count(left)} left as they are` : '',
      ].filter(Boolean);
      return `${run.title}${said.length ? `: ${said.join(', ')}` : ''}`;
    }
    case 'scan': {
      const { people = 0, certain = 0, likely = 0, possible = 0 } = run.counts;
      return `${run.title}: ${count(people)} people, ${count(certain)} certain, ${count(likely)} likely, ${count(possible)} possible groups${stopped}`;
    }
    case 'sync':
      return `${run.title}: ${syncInWords(run.counts)}${stopped}`;
    case 'form':
      return `${run.title}: ${outcomesInWords(run.counts)}`;
    case 'pickMerge':
    case 'convert':
    case 'recompute':
      return `${run.title}: ${count(run.counts.changed ?? 0)} contacts${stopped}`;
    case 'edit':
      return `Changed ${run.title}`;
    default:
      return run.title;
  }
}
