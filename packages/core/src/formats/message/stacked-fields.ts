import { parseEmail } from '../../fields';
import { readHeader } from '../header-words';
import type { Enquiry } from './enquiry-fields';

const LONGEST_LABEL = 80;
/** Certainty of a wording from which on a line alone is a label. */
const KNOWN01 = 0.8;
const SIGNATURE = /^-- ?$/;

/** What a line asks for, where it is a label by its words. */
const askedBy = (line: string): string | null => {
  const { target, certainty01 } = line.length <= LONGEST_LABEL ? readHeader(line) : { target: null, certainty01: 0 };
  return certainty01 >= KNOWN01 ? target : null;
};

/** Whether what stands below a label is what it asks for; only of a mailbox or a phone that can be said. */
function fits(target: string | null, said: string): boolean {
  if (target === 'email') return parseEmail(said).ok;
  return target === 'tel' && /^[+(\d][\d\s()+./-]{5,}$/.test(said);
}

/**
 * Reads a message in which each label stands on a line of its own with its text below, and a blank line behind ("Your e-mail",
 * below it the address). Null where no mailbox or phone stands below such a label, or fewer than two are known.
 */
export function readStacked(text: string): Enquiry | null {
  const lines = text.replace(/\r\n?/g, '\n').split('\n');
  const signature = lines.findIndex((line) => SIGNATURE.test(line));
  const body = (signature < 0 ? lines : lines.slice(0, signature)).join('\n');
  const blocks = body
    .split(/\n[ \t]*\n/)
    .map((block) => block.split('\n').map((line) => line.trim()))
    .map((block) => block.filter(Boolean))
    .filter((block) => block.length > 0);
  const asked = blocks.map(([label = '', ...said]) => (said.length ? askedBy(label) : null));
  const known = asked.filter((target) => target !== null);
  const first = asked.findIndex((target) => target !== null);
  if (known.length < 2 || !blocks.some(([, ...said], i) => fits(asked[i] ?? null, said.join(' ')))) return null;
  const fields: Enquiry['fields'] = [];
  for (const [i, [label = '', ...said]] of blocks.slice(first).entries()) {
    const isLabel =
      asked[first + i] !== null || (said.length > 0 && label.length <= LONGEST_LABEL && /[?:]$/.test(label));
    const last = fields[fields.length - 1];
    if (isLabel) fields.push({ label: label.replace(/\s*[:：]$/u, ''), text: said.join('\n') });
    else if (last) last.text += `\n\n${[label, ...said].join('\n')}`;
  }
  return { fields, rest: blocks.slice(0, first).flat().join('\n') };
}
