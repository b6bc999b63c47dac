import { kindOf, lifecycleOf, type ContactRecord } from '../model';
import type { Condition } from '../segments';
import type { WriteRule } from '../writing';
import { LABELS, type SyncLine } from './lines';
import type { OutsideRecord } from './outside';

/** Who takes part: everybody, those with a label over there, who meet a condition here, or who are sent by hand. */
export type ScopeWho =
  | { kind: 'everybody' }
  | { kind: 'labelThere'; label: string }
  | { kind: 'condition'; condition: Condition; words: string }
  | { kind: 'byHand' };

/** What somebody who comes in by a scope is given here. */
export interface ScopeTreatment {
  tags: string[];
  source: string;
  owner: string;
  stage: string;
}

export interface Scope {
  id: string;
  who: ScopeWho;
  /** Only those of them who were sent by hand as well, from here or from over there. */
  andSent?: boolean;
  give: ScopeTreatment;
  /** What happens to values that are there, for everybody who takes part by it; absent: what each line says. */
  rule?: WriteRule;
}

/** What a person said about one contact and one connection. */
export type SyncChoice = 'send' | 'never';

export interface Partaker {
  /** Null for somebody who is over there only. */
  record: ContactRecord | null;
  /** Null for somebody who is here only. */
  theirs: Pick<OutsideRecord, 'labels'> | null;
  choice: SyncChoice | null;
  /** Ids of the scopes whose condition the contact meets. */
  meets: ReadonlySet<string>;
}

export type WhyNot = 'never' | 'deleted' | 'organization' | 'noScope';

export type Verdict = { takesPart: true; scope: Scope | null } | { takesPart: false; why: WhyNot };

function fits({ id, who, andSent }: Scope, { theirs, meets, choice }: Partaker): boolean {
  if (andSent && choice !== 'send') return false;
  switch (who.kind) {
    case 'everybody':
      return true;
    case 'labelThere':
      return theirs?.labels.some((label) => label.toLowerCase() === who.label.toLowerCase()) ?? false;
    case 'condition':
      return meets.has(id);
    case 'byHand':
      return false;
  }
}

/** Whether somebody takes part, by the first scope that fits, and if not why. */
export function takesPart(scopes: readonly Scope[], partaker: Partaker): Verdict {
  const { record, choice } = partaker;
  if (choice === 'never') return { takesPart: false, why: 'never' };
  if (record && lifecycleOf(record)) return { takesPart: false, why: 'deleted' };
  if (record && kindOf(record) !== 'person') return { takesPart: false, why: 'organization' };
  const scope = scopes.find((one) => fits(one, partaker));
  if (scope) return { takesPart: true, scope };
  if (choice === 'send') return { takesPart: true, scope: scopes.find(({ who }) => who.kind === 'byHand') ?? null };
  return { takesPart: false, why: 'noScope' };
}

/** The lines as they hold for whoever takes part by a scope. */
export function linesFor(lines: readonly SyncLine[], scope: Scope | null): SyncLine[] {
  const rule = scope?.rule;
  const goesByRule = ({ fixed, stageLabels, outside }: SyncLine) =>
    fixed === undefined && !stageLabels && outside !== LABELS;
  return lines.map((line) => (rule && goesByRule(line) ? { ...line, rule } : line));
}

export function sayScope({ who, andSent }: Scope): string {
  const also = andSent && who.kind !== 'byHand' ? ' and is sent by hand' : '';
  switch (who.kind) {
    case 'everybody':
      return also ? 'whoever is sent by hand' : 'everybody';
    case 'labelThere':
      return `whoever has the label "${who.label}" over there${also}`;
    case 'condition':
      return `whoever meets "${who.words}" here${also}`;
    case 'byHand':
      return 'whoever is sent by hand';
  }
}

/** Why a record over there and a contact here are no longer kept in step. */
export type ApartReason =
  'goneThere' | 'goneHere' | 'left' | 'merged' | 'person' | 'refused' | 'unreadable' | 'erased' | 'shared';

const APART: Record<ApartReason, string> = {
  goneThere: 'deleted over there, stays here',
  goneHere: 'deleted here',
  left: 'does not take part any more',
  merged: 'second record of one contact',
  person: 'taken out by a person',
  refused: 'not taken by the other side',
  unreadable: 'cannot be read',
  erased: 'erased here on request',
  shared: 'somebody else has the record of their address',
};

/** Why a pair is no longer in step, in a few words. */
export const sayApart = (reason: ApartReason): string => APART[reason];
