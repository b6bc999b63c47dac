import { sameContent } from '../model';
import type { SyncSetup } from './pass-item';
import type { ScopeWho } from './scope';
import type { SyncLine } from './lines';
import { renamedCondition } from '../segments';

/** A value of a pick-list that got another name, or was merged into another one. */
export interface PickRename {
  /** Key of the field: stage, tags, source, owner. */
  field: string;
  from: string;
  into: string;
}

/**
 * The labels of a line after a rename here. A label that was the name of the stage is renamed with it, so the one that
 * stood before is kept as a former one. The old name stays as a key until nobody has it any more (`withoutStage`).
 */
function renamedLabels(line: SyncLine, { from, into }: PickRename): SyncLine {
  const { [from]: label, ...others } = line.stageLabels ?? {};
  if (label === undefined) return line;
  const isName = label.toLowerCase() === from.toLowerCase();
  const taken = others[into];
  const now = taken ?? (isName ? into : label);
  const former = { ...line.formerLabels };
  for (const [old, stage] of Object.entries(former)) if (stage === from) former[old] = into;
  if (now.toLowerCase() !== label.toLowerCase()) former[label] = into;
  for (const old of Object.keys(former)) if (old.toLowerCase() === now.toLowerCase()) delete former[old];
  const { [into]: _gone, ...rest } = others;
  return {
    ...line,
    stageLabels: { [from]: now, ...rest, [into]: now },
    ...(Object.keys(former).length ? { formerLabels: former } : {}),
  };
}

function renamedScope(who: Extract<ScopeWho, { kind: 'condition' }>, rename: PickRename): ScopeWho {
  const condition = renamedCondition(who.condition, rename);
  if (sameContent(condition, who.condition)) return who;
  return { ...who, condition, words: who.words.replaceAll(rename.from, rename.into) };
}

/** A set-up after a value of a pick-list was renamed here: everything that named it names it as it is called now. */
export function renamedSetup(setup: SyncSetup, rename: PickRename): SyncSetup {
  const { field, from, into } = rename;
  return {
    ...setup,
    lines: setup.lines.map((line) => (line.field === field && line.stageLabels ? renamedLabels(line, rename) : line)),
    scopes: setup.scopes.map(({ who, give, ...scope }) => ({
      ...scope,
      who: who.kind === 'condition' ? renamedScope(who, rename) : who,
      give: {
        ...give,
        tags: field === 'tags' ? [...new Set(give.tags.map((tag) => (tag === from ? into : tag)))] : give.tags,
        ...(field === 'stage' && give.stage === from ? { stage: into } : {}),
        ...(field === 'source' && give.source === from ? { source: into } : {}),
        ...(field === 'owner' && give.owner === from ? { owner: into } : {}),
      },
    })),
  };
}

/** A set-up without a stage that nobody has any more. */
export function withoutStage(setup: SyncSetup, stage: string): SyncSetup {
  return {
    ...setup,
    lines: setup.lines.map((line) => {
      if (!line.stageLabels || !Object.hasOwn(line.stageLabels, stage)) return line;
      const { [stage]: _gone, ...stageLabels } = line.stageLabels;
      return { ...line, stageLabels };
    }),
  };
}

/** A set-up as a person changed it: labels that stood for a stage before are read as that stage until they are met no more. */
export function withFormerLabels(before: SyncSetup, after: SyncSetup): SyncSetup {
  return {
    ...after,
    lines: after.lines.map((line) => {
      const was = before.lines.find(({ id }) => id === line.id);
      if (!line.stageLabels || !was?.stageLabels) return line;
      const former = { ...line.formerLabels };
      for (const [stage, label] of Object.entries(was.stageLabels))
        if (line.stageLabels[stage] && line.stageLabels[stage] !== label) former[label] = stage;
      const current = new Set(Object.values(line.stageLabels).map((label) => label.toLowerCase()));
      for (const [label, stage] of Object.entries(former))
        if (current.has(label.toLowerCase()) || !Object.hasOwn(line.stageLabels, stage)) delete former[label];
      const { formerLabels: _old, ...rest } = line;
      return { ...rest, ...(Object.keys(former).length ? { formerLabels: former } : {}) };
    }),
  };
}
