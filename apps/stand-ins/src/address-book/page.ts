import { propertyOf, type Book, type Card } from './book';
import type { Faults } from '../faults';
import { escape, faultsForm, framed } from '../page-parts';

const plain = (text: string) => text.replace(/\\n/gi, '\n').replace(/\\([,;:\\])/g, '$1');

const frame = (body: string) => framed('office address book', 'an outside address book', body);

function each(text: string, name: string): string[] {
  const unfolded = text.replace(/\r?\n[ \t]/g, '');
  return [...unfolded.matchAll(new RegExp(`^(?:[\\w-]+\\.)?${name}(?:;[^:\\r\\n]*)?:(.*)$`, 'gim'))].map((found) =>
    plain(found[1]?.trim() ?? ''),
  );
}

/** The cards, a hundred at most, and what goes wrong on purpose. */
export function listPage(book: Book, faults: Faults, find: string): string {
  const wanted = find.toLowerCase();
  const cards = book.list().filter(({ text }) => !wanted || text.toLowerCase().includes(wanted));
  const rows = cards
    .slice(0, 100)
    .map(
      ({ name, text }) =>
        `<tr><td><a href="/card?name=${encodeURIComponent(name)}">${escape(plain(propertyOf(text, 'FN')) || '(no name)')}</a></td>` +
        `<td>${escape(each(text, 'EMAIL').join(', '))}</td><td>${escape(each(text, 'TEL').join(', '))}</td>` +
        `<td>${escape(plain(propertyOf(text, 'CATEGORIES')))}</td></tr>`,
    )
    .join('');
  return frame(`<h1>Office address book</h1><p>${book.size} cards. <a href="/card">New card</a></p>
<form><label>Find <input name="find" value="${escape(find)}"></label><button>Find</button></form>
<table><tr><th>Name</th><th>E-mail</th><th>Phone</th><th>Labels</th></tr>${rows}</table>
<p>${cards.length > 100 ? `${cards.length - 100} more; find them by a part of the card.` : ''}</p>
${faultsForm(faults)}`);
}

/** One card: the usual lines to type into, or the card itself as text. */
export function cardForm(card: Card | null): string {
  const text = card?.text ?? '';
  const box = (label: string, name: string, value: string) =>
    `<label>${label}<br><input name="${name}" size="34" value="${escape(value)}"></label>`;
  const parts = propertyOf(text, 'N')
    .split(/(?<!\\);/)
    .map(plain);
  return frame(`<h1>${card ? 'Card' : 'New card'}</h1><form method="post" action="/card"><input type="hidden" name="name" value="${escape(card?.name ?? '')}">
${box('Given name', 'given', parts[1] ?? '')}${box('Family name', 'family', parts[0] ?? '')}<br>
${box('E-mails, with commas between', 'email', each(text, 'EMAIL').join(', '))}${box('Phones, with commas between', 'tel', each(text, 'TEL').join(', '))}<br>
${box('Organization', 'org', plain(propertyOf(text, 'ORG')))}${box('Labels, with commas between', 'labels', plain(propertyOf(text, 'CATEGORIES')))}<br>
${box('Note', 'note', plain(propertyOf(text, 'NOTE')))}<br><button>Save card</button> <button name="remove" value="1">Remove card</button></form>
<h2>The card as it stands</h2><form method="post" action="/card"><input type="hidden" name="name"
   value="${escape(card?.name ?? '')}"><textarea name="raw">${escape(text)}</textarea><button>Save as it stands</button></form>`);
}

/** The card that a form makes; what it has no box for stays as it was. */
export function textOfForm(form: Record<string, string>, before: string | null): string {
  if (form.raw !== undefined) return form.raw.replace(/\r?\n/g, '\r\n');
  const quote = (text: string) =>
    text
      .replace(/\\/g, '\\\\')
      .replace(/([,;])/g, '\\$1')
      .replace(/\r?\n/g, '\\n');
  const unfolded = (before ?? '').replace(/\r?\n[ \t]/g, '').split(/\r?\n/);
  const labels = new Map(
    unfolded.flatMap((line) => {
      const found = /^(?:[\w-]+\.)?(EMAIL|TEL)((?:;[^:]*)?):(.*)$/i.exec(line);
      return found ? [[`${found[1]?.toUpperCase()}:${plain(found[3] ?? '')}`, found[2] ?? ''] as const] : [];
    }),
  );
  // The parameters of a line go with its place when its value was changed.
  const params = (name: string) =>
    unfolded.flatMap((line) =>
      new RegExp(`^(?:[\\w-]+\\.)?${name}[;:]`, 'i').test(line) ? [/^[^:;]+((?:;[^:]*)?):/.exec(line)?.[1] ?? ''] : [],
    );
  const several = (name: string, text: string) =>
    text
      .split(',')
      .map((one) => one.trim())
      .filter(Boolean)
      .map((one, i) => `${name}${labels.get(`${name}:${one}`) ?? params(name)[i] ?? ''}:${quote(one)}`);
  const kept = unfolded.filter(
    (line) => line && !/^(?:[\w-]+\.)?(?:BEGIN|END|VERSION|FN|N|EMAIL|TEL|ORG|CATEGORIES|NOTE|UID)[;:]/i.test(line),
  );
  const name = [form.given, form.family].filter(Boolean).join(' ') || form.org || 'No name';
  return [
    'BEGIN:VCARD',
    `VERSION:${propertyOf(before ?? '', 'VERSION') || '3.0'}`,
    `UID:${propertyOf(before ?? '', 'UID') || crypto.randomUUID()}`,
    `FN:${quote(name)}`,
    `N:${quote(form.family ?? '')};${quote(form.given ?? '')};;;`,
    ...several('EMAIL', form.email ?? ''),
    ...several('TEL', form.tel ?? ''),
    ...(form.org ? [`ORG:${quote(form.org)}`] : []),
    ...(form.labels
      ? [
          `CATEGORIES:${form.labels
            .split(',')
            .map((one) => quote(one.trim()))
            .join(',')}`,
        ]
      : []),
    ...(form.note ? [`NOTE:${quote(form.note)}`] : []),
    ...kept,
    'END:VCARD',
    '',
  ].join('\r\n');
}
