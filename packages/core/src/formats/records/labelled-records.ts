import { wordTable } from '../../model';
import { keyedTable, type KeyedRecord } from './keyed-table';

/** A line "label: text", or "label:: text" where the text is base64 (RFC 2849). */
const LINE = /^(\p{L}[\p{L}\p{N} ._()/;-]{0,40}?)(::|:<|:)[ \t]*(.*)$/u;

/** Headings that the attributes of a directory have for people (RFC 4519, RFC 2798). */
const ATTRIBUTES = wordTable({
  cn: 'Full name',
  commonname: 'Full name',
  displayname: 'Display name',
  sn: 'Family name',
  surname: 'Family name',
  givenname: 'Given name',
  initials: 'Initials',
  mail: 'E-mail',
  telephonenumber: 'Phone (work)',
  homephone: 'Phone (home)',
  mobile: 'Phone (mobile)',
  pager: 'Pager',
  facsimiletelephonenumber: 'Fax',
  street: 'Street',
  streetaddress: 'Street',
  postaladdress: 'Postal address',
  l: 'Town',
  localityname: 'Town',
  st: 'Region',
  stateorprovincename: 'Region',
  postalcode: 'Postal code',
  c: 'Country',
  co: 'Country',
  countryname: 'Country',
  o: 'Organization',
  organizationname: 'Organization',
  ou: 'Department',
  title: 'Job title',
  description: 'Description',
  labeleduri: 'Web address',
  uid: 'uid',
  employeenumber: 'Employee number',
});
/** What an entry of a directory says about itself and not about the person. */
const OF_THE_ENTRY = new Set(['dn', 'objectclass', 'version', 'changetype', 'modifytimestamp', 'createtimestamp']);

/** Blocks of lines between blank ones; a line that begins with a blank goes on with the one above, and # is a remark. */
function blocksOf(text: string): string[][] {
  const unfolded = text.replace(/^\uFEFF/, '').replace(/\r?\n /g, '');
  return unfolded
    .split(/\n[ \t\r]*\n/)
    .map((block) => block.split(/\r?\n/).filter((line) => line.trim() !== '' && !line.startsWith('#')))
    .filter((block) => block.length > 0);
}

const isDirectory = (blocks: readonly string[][]) =>
  blocks.some((block) => block.some((line) => /^dn::? ?/i.test(line)));

/** Share of the lines that have to be labelled, and of the blocks that have to begin alike. */
const LABELLED01 = 0.9;
const ALIKE01 = 0.6;

/** Whether the beginning of a file is records of labelled lines, parted by blank ones: entries of a directory, or what a form wrote. */
export function looksLabelled(beginning: string): boolean {
  const blocks = blocksOf(beginning);
  // The last one may be cut off.
  const whole = blocks.length > 2 ? blocks.slice(0, -1) : blocks;
  const lines = whole.flat();
  if (lines.length < 2 || lines.filter((line) => LINE.test(line)).length < lines.length * LABELLED01) return false;
  if (isDirectory(whole)) return true;
  const first = LINE.exec(whole[0]?.[0] ?? '')?.[1];
  const alike = whole.filter((block) => LINE.exec(block[0] ?? '')?.[1] === first).length;
  const manyLines = whole.filter((block) => block.length > 1).length;
  return whole.length > 1 && alike >= whole.length * ALIKE01 && manyLines >= whole.length * ALIKE01;
}

/**
 * Records of labelled lines as a table, a row for each block. Attributes of a directory (LDIF, RFC 2849) get the headings
 * that people have for them. `decode` gives the text of base64. The first row is the heading.
 */
export function tableOfLabelled(text: string, decode: (base64: string) => string): string[][] {
  const blocks = blocksOf(text);
  const ofDirectory = isDirectory(blocks);
  const records = blocks.map((block): KeyedRecord =>
    block.flatMap((line): [string, string][] => {
      const [, label = '', mark, said = ''] = LINE.exec(line) ?? [];
      if (!label || mark === ':<') return [];
      const value = mark === '::' ? decode(said) : said.trim();
      if (!ofDirectory) return [[label.trim(), value]];
      const attribute = label.split(';')[0]?.toLowerCase() ?? '';
      if (OF_THE_ENTRY.has(attribute)) return [];
      // Lines of a postal address are parted by dollar signs (RFC 4517, 3.3.28).
      const shown = attribute === 'postaladdress' || attribute === 'street' ? value.replaceAll('$', '\n') : value;
      return [[ATTRIBUTES[attribute] ?? label, shown]];
    }),
  );
  return keyedTable(records.filter((record) => record.length > 0));
}
