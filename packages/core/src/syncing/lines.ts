import type { Catalogue } from '../fields';
import type { WriteRule } from '../writing';
import type { Capabilities } from './outside';

export type SyncDirection = 'in' | 'out' | 'both';

/** One line of the mapping: a field here, a field there, the direction and what happens to a value that is there. */
export interface SyncLine {
  /** Names the line within its connection for good: what both sides agreed on is kept under it. */
  id: string;
  /** Key of a field here; `name` stands for all parts of the name at once; '' where a fixed value is written. */
  field: string;
  /** Key of a field over there; `labels` for its labels. */
  outside: string;
  direction: SyncDirection;
  rule: WriteRule;
  /** Whose value stands where both changed and the rule is to replace, both ways. */
  wins?: 'here' | 'there';
  /** Written over there whatever is here. */
  fixed?: string;
  /** For stages that are labels over there: the label of each stage. A contact has one stage, so one of these labels. */
  stageLabels?: Record<string, string>;
  /** Labels that stood for a stage before, with that stage: where one is met it is read as the stage and written anew. */
  formerLabels?: Record<string, string>;
}

export const WHOLE_NAME = 'name';
export const LABELS = 'labels';
/** Parts of a name in the order in which they are spoken. */
export const NAME_FIELDS = ['prefix', 'givenName', 'additionalNames', 'familyName', 'suffix'] as const;

/** The stages of a line by every label that stands, or stood, for one of them, in lower case. */
export function stagesByLabel({ stageLabels = {}, formerLabels = {} }: SyncLine): Map<string, string> {
  return new Map(
    [
      ...Object.entries(formerLabels).filter(([, stage]) => stage in stageLabels),
      ...Object.entries(stageLabels).map(([stage, label]) => [label, stage] as const),
    ].map(([label, stage]) => [label.toLowerCase(), stage]),
  );
}

const RULE_WORDS: Record<WriteRule, string> = {
  replace: 'replaces',
  fill: 'fills blanks only',
  newest: 'newest wins',
  ask: 'asks when both changed',
};

/** What a line does, in words: "Phone: newest wins, both ways". */
export function sayLine(line: SyncLine, catalogue: Catalogue, capabilities: Capabilities | null): string {
  const there = capabilities?.fields.find((field) => field.key === line.outside)?.name ?? line.outside;
  if (line.fixed !== undefined) return `${there} over there is always "${line.fixed}"`;
  const here = line.field === WHOLE_NAME ? 'Name' : catalogue.nameOf(line.field);
  const name = line.stageLabels ? `${here} as a label` : here;
  if (line.direction === 'both') {
    const rule =
      line.rule === 'replace'
        ? `what is ${line.wins === 'here' ? 'here' : 'there'} replaces where both changed`
        : RULE_WORDS[line.rule];
    return `${name}: ${rule}, both ways`;
  }
  const way = line.direction === 'in' ? 'from there' : 'to there';
  return `${name}: ${RULE_WORDS[line.rule]}, ${way} only`;
}
