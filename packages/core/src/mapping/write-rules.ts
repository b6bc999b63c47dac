import type { WriteRule } from '../writing';
import type { Mapping } from './mapping';
import { isOfAddress } from './targets';

/** Fields that a whole name is split into. */
export const NAME_PARTS = ['prefix', 'givenName', 'additionalNames', 'familyName', 'suffix', 'nickname'] as const;

function fieldsOf(target: string): readonly string[] {
  if (target === 'fullName') return [...NAME_PARTS, 'fullName'];
  return isOfAddress(target) ? ['adr'] : [target];
}

/** What a mapping does to a value that is there, field by field: as its column says, else as the file does. */
export function writeRuleOf(mapping: Mapping): (field: string) => WriteRule {
  const rules = new Map<string, WriteRule>();
  for (const { target, rule } of mapping.columns)
    if (target && rule) for (const field of fieldsOf(target)) rules.set(field, rule);
  return (field) => rules.get(field) ?? mapping.writeRule;
}
