import type { FieldDefinition, Pipeline } from '@gray-loom/core/fields';
import type { Lists, Owner } from '@gray-loom/wire';

/** What the cells of a column may say, where that is one of a few: of a choice, a stage, a pipeline, yes or no; and who can be an owner. */
export function answersOf(
  target: string | null,
  lists: Pick<Lists, 'fields' | 'stages'> | undefined,
  pipelines: readonly Pipeline[] | undefined,
  owners: readonly Owner[] = [],
): string[] {
  if (target === 'owner') return owners.map(({ name }) => name);
  if (target === 'stage') return (lists?.stages ?? []).map(({ label }) => label);
  if (target === 'opportunityPipeline') return (pipelines ?? []).map(({ name }) => name);
  if (target === 'opportunityStage')
    return [...new Set((pipelines ?? []).flatMap(({ stages }) => stages.map(({ label }) => label)))];
  const field: FieldDefinition | undefined = lists?.fields.find(({ key }) => key === target);
  if (field?.type === 'yesNo') return ['yes', 'no'];
  return field?.type === 'choice' || field?.type === 'choices' ? [...(field.choices ?? [])] : [];
}
