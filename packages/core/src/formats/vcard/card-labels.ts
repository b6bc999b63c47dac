import { wordTable } from '../../model';
import { labelWord } from '../header-words';
import type { CardProperty } from './card-text';

/** Types that say what a line is for and are kept as labels; the rest ("pref", "internet", "voice") are none. */
const NO_LABEL = new Set('pref internet homepage voice x400 dom intl postal parcel text textphone msg uri'.split(' '));
/** Words of the standards, which take them in capitals and small letters alike. */
const STANDARD = new Set('home work cell mobile fax pager car isdn video bbs modem pcs office other main'.split(' '));
const LABEL_IN = wordTable({ cell: 'mobile', office: 'work' });
const LABEL_OUT = wordTable({ mobile: 'cell' });

export function listOf(value: string | string[] | undefined): string[] {
  return value === undefined ? [] : Array.isArray(value) ? value : value.split(',');
}

const typesOf = ({ params }: CardProperty): string[] =>
  listOf(params.type)
    .map((word) => word.trim())
    .filter(Boolean);

const isLabel = (word: string) => !NO_LABEL.has(word.toLowerCase());

function labelIn(word: string): string {
  const small = word.toLowerCase();
  return LABEL_IN[small] ?? (STANDARD.has(small) || /^[A-Z]+$/.test(word) ? small : word);
}

/** The label by TYPE parameters: "cell" is mobile; several are joined. Null where there is none. */
export function labelOf(property: CardProperty): string | null {
  const words = typesOf(property).filter(isLabel).map(labelIn);
  return words.length ? [...new Set(words)].join(' ').slice(0, 40) : null;
}

/** The types that a label is written as; those that `before` has and that are no labels stay. */
export function typesFor(label: string | null, before?: CardProperty): string[] {
  const kept = before ? typesOf(before).filter((word) => !isLabel(word)) : [];
  const words = (label ?? '')
    .split(' ')
    .map((word) => LABEL_OUT[word.toLowerCase()] ?? word.replace(/[,;:"]+/g, ''))
    .filter(Boolean);
  return [...kept, ...words];
}

/** Extensions by which programs name the other property of a group (RFC 6350, 3.3), and dates that have no property of their own. */
const GROUP_LABEL = /^x-.*label$/;
export const GROUP_DATE = /^x-.*date$/;

export const groupOf = ({ params }: CardProperty): string => String(params.group ?? '').toLowerCase();
/** Whether a property names the others of its group. */
export const isGroupLabel = (property: CardProperty): boolean =>
  GROUP_LABEL.test(property.name) && groupOf(property) !== '';

const textOf = ({ values: [value] }: CardProperty): string => (Array.isArray(value) ? value.join(', ') : (value ?? ''));

/** Properties with the label that another of their group gives them, and without those. */
export function withGroupLabels(properties: readonly CardProperty[]): CardProperty[] {
  const labels = new Map(
    properties
      .filter(isGroupLabel)
      .map((property) => [groupOf(property), textOf(property).replace(/^[^\p{L}\p{N}]+|[^\p{L}\p{N}]+$/gu, '')]),
  );
  return properties.flatMap((property) => {
    const label = labels.get(groupOf(property));
    if (!label) return [property];
    if (GROUP_LABEL.test(property.name)) return [];
    const isDate = GROUP_DATE.test(property.name);
    if (isDate && label.toLowerCase() === 'anniversary') return [{ ...property, name: 'anniversary' }];
    const type = [...listOf(property.params.type), labelWord(label) ?? label];
    return [{ ...property, params: { ...property.params, type } }];
  });
}

/** Order by preference: PREF from 1 to 100 (RFC 6350), TYPE=pref as 1 (RFC 2426), the others behind. */
function preferenceOf({ params }: CardProperty): number {
  const stated = Number(params.pref);
  if (stated >= 1 && stated <= 100) return stated;
  return listOf(params.type).some((word) => word.toLowerCase() === 'pref') ? 1 : 101;
}

/** Properties with the preferred ones first; others stay in the order of the card. */
export const byPreference = (properties: readonly CardProperty[]): CardProperty[] =>
  properties
    .map((property, place) => ({ property, place, preference: preferenceOf(property) }))
    .sort((a, b) => a.preference - b.preference || a.place - b.place)
    .map(({ property }) => property);
