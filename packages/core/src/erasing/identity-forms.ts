import type { IdentityCard } from '../mapping';
import { lineOf, wholeNameKeys } from '../matching';

/** What somebody can be told by. */
export type Identified = Pick<IdentityCard, 'given' | 'familyText' | 'familyInferred' | 'bday' | 'phones' | 'ids'> & {
  /** Keys of mailboxes. */
  mailboxes: readonly string[];
};

/** One way in which somebody can be told, as a text that two records of one person have in common. */
export interface IdentityForm {
  text: string;
  /** Proves it alone, unless others have it too. The rest stands with a name. */
  mailbox: string | null;
}

const WHOLE_DAY = /^\d{4}-\d{2}-\d{2}$/;

/**
 * The ways in which somebody can be told again once nothing of them is kept but keyed hashes of these texts: a mailbox alone, and a
 * mailbox, phone, outside id or whole birthday together with the name, in whatever order its parts stand. A name by itself is nobody's.
 *
 * @returns each form once; none for somebody without a mailbox who has no whole name
 */
export function identityForms(one: Identified): IdentityForm[] {
  const [name] = wholeNameKeys(one);
  const beside = [
    ...one.mailboxes.map((key) => `e:${key}`),
    ...one.phones.map((phone) => `p:${lineOf(phone)}`),
    ...one.ids,
    ...(one.bday && WHOLE_DAY.test(one.bday) ? [`b:${one.bday}`] : []),
  ];
  const alone = one.mailboxes.map((key): IdentityForm => ({ text: `e:${key}`, mailbox: key }));
  const named = name ? beside.map((text): IdentityForm => ({ text: `${text}|${name}`, mailbox: null })) : [];
  return [...new Map([...alone, ...named].map((form) => [form.text, form])).values()];
}

/**
 * The forms by which an erased person is kept out: every name that one of their records has, with every line of all of them. A
 * mailbox that others here have as well proves nothing alone, or they could not come in any more.
 *
 * @param records - all that was one person, merged or not
 * @param isShared - whether somebody else who stays has a mailbox, by its key
 */
export function blockedBy(records: readonly Identified[], isShared: (mailbox: string) => boolean): string[] {
  const all = (marks: (one: Identified) => readonly string[]) => [...new Set(records.flatMap(marks))];
  const marks = {
    mailboxes: all(({ mailboxes }) => mailboxes),
    phones: all(({ phones }) => phones),
    ids: all(({ ids }) => ids),
  };
  const forms = records
    .flatMap((one) => identityForms({ ...one, ...marks }))
    .filter(({ mailbox }) => mailbox === null || !isShared(mailbox));
  return [...new Set(forms.map(({ text }) => text))];
}
