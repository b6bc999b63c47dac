import { testsOf, type Test, type TestOp, type TestValue } from '@gray-loom/core/segments';
import type { Choice } from '../../ui/combobox';
import type { Known } from './names';

/** What a comparison is called in the list of them, as it reads behind the field. */
export const OP_WORDS: Record<TestOp, [is: string, not: string]> = {
  is: ['is', 'is not'],
  contains: ['contains', 'does not contain'],
  begins: ['begins with', 'does not begin with'],
  present: ['is there', ''],
  missing: ['is missing', ''],
  number: ['is between', 'is not between'],
  yes: ['is yes', 'is not yes'],
  no: ['is no', 'is not no'],
  holds: ['contains the number', 'does not contain the number'],
  overlaps: ['overlaps', 'does not overlap'],
  span: ['is on or between', 'is not on or between'],
  year: ['is in the year', 'is not in the year'],
  month: ['is in the month', 'is not in the month'],
  day: ['is on the day of', 'is not on the day of'],
  comes: ['comes within', 'does not come within'],
  did: ['has', 'does not have'],
};

/** What a comparison begins with. */
export function firstValue(op: TestOp, field: string): TestValue | undefined {
  switch (op) {
    case 'is':
      return field === '@permission' ? ['optedOut'] : field === '@duplicate' ? ['certain'] : [];
    case 'contains':
    case 'begins':
      return '';
    case 'number':
      return field === '@overdue' ? { from: 0 } : {};
    case 'overlaps':
      return {};
    case 'holds':
      return Number.NaN;
    case 'span':
      if (field === '@touch') return { to: { n: -6, unit: 'month' } };
      return field.startsWith('@') ? { from: { n: -30, unit: 'day' }, to: { n: 0, unit: 'day' } } : {};
    case 'year':
      return new Date().getFullYear();
    case 'month':
      return new Date().getMonth() + 1;
    case 'day':
      return 'today';
    case 'comes':
      return 30;
    case 'did':
      return { kinds: ['talk'], since: { n: -6, unit: 'month' }, until: { n: 0, unit: 'day' } };
    default:
      return undefined;
  }
}

/** A test of a field, as it is when it has just been chosen. */
export function newTest(field: string, { catalogue, choices }: Known): Test {
  const op = testsOf(field, catalogue)[0] ?? 'present';
  const value = firstValue(op, field);
  const label = field === '@permission' ? 'email' : field === '@sync' ? String(choices?.connections[0]?.id ?? '') : '';
  return { field, op, ...(label ? { label } : {}), ...(value === undefined ? {} : { value }) };
}

const PARTS: [key: string, name: string][] = [
  ['adr.locality', 'Town'],
  ['adr.street', 'Street'],
  ['adr.postalCode', 'Postal code'],
  ['adr.region', 'Region'],
  ['adr.country', 'Country'],
];
const SUBJECTS: [key: string, name: string][] = [
  ['@permission', 'Permission'],
  ['@segment', 'Segment'],
  ['@activity', 'Activity'],
  ['@touch', 'Last touch'],
  ['@touchBy', 'Last touch by'],
  ['@overdue', 'Days overdue to be in touch'],
  ['@created', 'Came in'],
  ['@changed', 'Last changed'],
  ['@area', 'Area'],
  ['@complete', 'Completeness, percent'],
  ['@duplicate', 'Likely duplicate'],
  ['@sync', 'Sync'],
  ['@run', 'Touched by an import'],
  ['@thread', 'Something came from'],
  ['@find', 'Anything they are found by'],
];
const USUAL = ['tags', 'stage', 'source', 'owner'];

/** Everything that can be asked for, the most usual first. */
export function fieldChoices({ catalogue, choices }: Known): Choice[] {
  const of = (key: string, text: string, group: string): Choice => ({ value: key, text, group });
  const usual = USUAL.map((key) => of(key, catalogue.nameOf(key), 'How they are sorted'));
  const custom = catalogue.fields.filter(({ group, retired }) => group === 'custom' && !retired);
  const standard = catalogue.fields.filter(
    ({ key, group }) => group !== 'custom' && !USUAL.includes(key) && testsOf(key, catalogue).length > 0,
  );
  return [
    ...usual,
    ...SUBJECTS.filter(([key]) => key !== '@sync' || choices?.connections.length).map(([key, name]) =>
      of(key, name, 'About the contact'),
    ),
    ...custom.map(({ key, name }) => of(key, name, 'Own fields')),
    ...standard.flatMap(({ key, name }) => [
      of(key, name, 'Fields'),
      ...(key === 'adr' ? PARTS.map(([part, text]) => of(part, text, 'Fields')) : []),
    ]),
  ];
}

/** The values that can be chosen for a field; null where they are typed. */
export function valueChoices(field: string, { lists, choices, catalogue }: Known): Choice[] | null {
  const labels = (list: readonly { label: string }[] | undefined) =>
    (list ?? []).map(({ label }) => ({ value: label, text: label }));
  const named = (list: readonly { id: number; name: string }[] | undefined) =>
    (list ?? []).map(({ id, name }) => ({ value: String(id), text: name }));
  const words = (...list: [value: string, text: string][]) => list.map(([value, text]) => ({ value, text }));
  switch (field) {
    case 'tags':
      return labels(lists?.tags);
    case 'stage':
      return labels(lists?.stages);
    case 'source':
      return labels(lists?.sources);
    case 'owner':
      return labels(lists?.owners);
    case '@area':
      return labels(lists?.areas);
    case '@segment':
      return named(choices?.segments);
    case '@thread':
      return (choices?.threads ?? []).map(({ id, name, kind }) => ({ value: String(id), text: name, hint: kind }));
    case '@run':
      return named(choices?.runs);
    case '@touchBy':
      return named(choices?.colleagues);
    case '@permission':
      return words(['optedOut', 'stopped'], ['allowed', 'allowed'], ['unknown', 'not known']);
    case '@duplicate':
      return words(['certain', 'certain'], ['likely', 'likely'], ['possible', 'possible']);
    case '@sync':
      return words(['linked', 'in step'], ['asking', 'asked about'], ['apart', 'apart']);
    default: {
      const list = catalogue.find(field)?.choices;
      return list?.length ? list.map((text) => ({ value: text, text })) : null;
    }
  }
}

/** The labels that a test can be narrowed by; null of a field whose values have none. */
export function labelChoices(field: string, { choices }: Known): Choice[] | null {
  const words = (...list: string[]) => list.map((text) => ({ value: text, text }));
  if (field === '@permission')
    return [
      { value: 'email', text: 'e-mail' },
      { value: 'text', text: 'texts' },
      { value: 'call', text: 'calls' },
      { value: 'voicemail', text: 'voicemail' },
      { value: 'post', text: 'post' },
    ];
  if (field === '@sync') return (choices?.connections ?? []).map(({ id, name }) => ({ value: String(id), text: name }));
  if (field === 'related')
    return words('partner', 'spouse', 'parent', 'child', 'sibling', 'colleague', 'assistant', 'referred by');
  if (field === 'email' || field === 'tel' || field.startsWith('adr')) return words('home', 'work', 'mobile', 'other');
  return null;
}
