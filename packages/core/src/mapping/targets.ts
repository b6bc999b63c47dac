import { KIND } from '../model';
import { ACTIVITY_TARGETS } from './rows/activity-cells';
import { OPPORTUNITY_TARGETS } from './rows/opportunity-cells';
import { PERMISSION_TARGETS } from './rows/permission-cells';
import { STANDARD_FIELDS, type FieldDefinition, type FieldType } from '../fields';

/** Parts of an address that a column can stand for; they come together in one address per label. */
export const ADDRESS_PARTS = ['street', 'locality', 'region', 'postalCode', 'country'] as const;
export type AddressPart = (typeof ADDRESS_PARTS)[number];

export interface MappingTarget {
  key: string;
  name: string;
  type: FieldType;
  group: string;
  /** Whether a label (home, work, mobile, ...) says something here. */
  labelled: boolean;
}

/** Town and postal code in one cell, which is taken apart. */
export const TOWN_LINE = 'townLine';

export const PART_NAMES: Record<AddressPart, string> = {
  street: 'Street',
  locality: 'Town',
  region: 'Region',
  postalCode: 'Postal code',
  country: 'Country',
};

/** What no cell of a file can say. */
const UNMAPPABLE = new Set(['adr']);

function targetOf(field: FieldDefinition): MappingTarget {
  const name = field.key === 'fullName' ? 'Full name (split)' : field.name;
  return {
    key: field.key,
    name,
    type: field.type,
    group: field.group,
    labelled: ['email', 'tel', 'url'].includes(field.type) || field.key === 'otherDate',
  };
}

/** Everything a column can mean, in the order in which it is offered. */
export function mappingTargets(custom: readonly FieldDefinition[] = []): MappingTarget[] {
  const standard = STANDARD_FIELDS.filter((field) => !UNMAPPABLE.has(field.key)).map(targetOf);
  const parts = ADDRESS_PARTS.map((key): MappingTarget => ({
    key,
    name: PART_NAMES[key],
    type: 'text',
    group: 'place',
    labelled: true,
  }));
  parts.push({ key: TOWN_LINE, name: 'Town and code (split)', type: 'text', group: 'place', labelled: true });
  const at = standard.findIndex((target) => target.group === 'place');
  return [
    ...standard.slice(0, at),
    ...parts,
    ...standard.slice(at),
    ...OPPORTUNITY_TARGETS.map(([key, name, type]): MappingTarget => ({
      key,
      name,
      type,
      group: 'opportunity',
      labelled: false,
    })),
    ...ACTIVITY_TARGETS.map(([key, name, type]): MappingTarget => ({
      key,
      name,
      type,
      group: 'activity',
      labelled: false,
    })),
    ...PERMISSION_TARGETS.map(([key, name]): MappingTarget => ({
      key,
      name,
      type: 'text',
      group: 'permission',
      labelled: false,
    })),
    { key: KIND, name: 'Kind (organization)', type: 'text', group: 'other', labelled: false },
    ...custom.filter((field) => !field.retired).map(targetOf),
  ];
}

const PARTS: ReadonlySet<string> = new Set(ADDRESS_PARTS);

export function isAddressPart(key: string): key is AddressPart {
  return PARTS.has(key);
}

/** Whether a column says something of an address: a part of it, or several. */
export function isOfAddress(target: string): boolean {
  return isAddressPart(target) || target === TOWN_LINE;
}
