import type { Faults } from '../faults';
import { columnForm, escape, faultsForm, framed } from '../page-parts';
import { EVENTS, STATES, type Entry, type MailerStore } from './store';

const SHOWN = 100;
const frame = (body: string) => framed('mail room', 'a mailer', body);
const options = (values: readonly (readonly [value: string, text: string])[], chosen = '') =>
  values
    .map(
      ([value, text]) =>
        `<option value="${escape(value)}"${value === chosen ? ' selected' : ''}>${escape(text)}</option>`,
    )
    .join('');
const same = (values: readonly string[]) => values.map((one) => [one, one] as const);

/** The entries, a hundred at most, lists with their strands, mailings, and what goes wrong on purpose. */
export function mailPage(store: MailerStore, faults: Faults, find: string): string {
  const wanted = find.toLowerCase();
  const entries = store
    .list()
    .filter(({ address, given, family }) => !wanted || `${address} ${given} ${family}`.toLowerCase().includes(wanted));
  const listName = (id: number) => store.lists.find((list) => list.id === id)?.name ?? `list ${id}`;
  const placesOf = ({ lists }: Entry) =>
    lists
      .map(({ list, strands, state }) => {
        const named = strands.map(
          (id) => store.lists.flatMap((one) => one.strands).find((one) => one.id === id)?.name ?? '',
        );
        return `${listName(list)}${named.length ? ` (${named.join(', ')})` : ''}${state === 'reachable' ? '' : `: ${state}`}`;
      })
      .join('; ');
  const rows = entries
    .slice(0, SHOWN)
    .map(
      (entry) =>
        `<tr><td><a href="/entry?address=${encodeURIComponent(entry.address)}">${escape(entry.address)}</a></td>` +
        `<td>${escape(`${entry.given} ${entry.family}`)}</td><td>${escape(placesOf(entry))}</td></tr>`,
    )
    .join('');
  const lists = store.lists
    .map(
      ({ id, name, strands }) =>
        `<tr><td>${escape(name)}</td><td>${strands.map((strand) => escape(strand.name)).join(', ')}</td>` +
        `<td><form method="post" action="/list"><input type="hidden" name="id" value="${id}"><input name="strand" placeholder="new strand">` +
        `<button>Add</button> <button name="remove" value="1">Remove the list</button></form></td></tr>`,
    )
    .join('');
  const mailings = store.mailings
    .slice(-10)
    .reverse()
    .map(({ id, subject, list, sentAt }) => {
      const of = store.events.filter(({ mailing }) => mailing === id);
      const n = EVENTS.map((event) => `${event} ${of.filter((one) => one.event === event).length}`).join(', ');
      return `<tr><td>${escape(subject)}</td><td>${escape(listName(list))}</td><td>${escape(sentAt)}</td><td>${n}</td></tr>`;
    })
    .join('');
  const listOptions = options(store.lists.map(({ id, name }) => [String(id), name] as const));
  const mailOptions = options(store.mailings.map(({ id, subject }) => [String(id), subject] as const));
  return frame(`<h1>Mail room</h1><p>${store.list().length} entries. <a href="/entry">New entry</a></p>
<form><label>Find <input name="find" value="${escape(find)}"></label><button>Find</button></form>
<table><tr><th>Address</th><th>Name</th><th>Lists</th></tr>${rows}</table>
<p>${entries.length > SHOWN ? `${entries.length - SHOWN} more; find them by name or address.` : ''}</p>
<h2>Lists</h2><table><tr><th>Name</th><th>Strands</th><th></th></tr>${lists}</table>
<form method="post" action="/list"><label>New list <input name="name"></label><button>Make</button></form>
<h2>Mailings</h2><form method="post" action="/mailing"><label>Subject <input name="subject"></label>
<label>To <select name="list">${listOptions}</select></label><button>Send</button></form>
<table><tr><th>Subject</th><th>To</th><th>When</th><th></th></tr>${mailings}</table>
<form method="post" action="/event"><label>Mailing <select name="mailing">${mailOptions}</select></label><label>Address <input name="address"></label>
<label>What <select name="event">${options(same(EVENTS), 'opened')}</select></label><label>Link <input name="link"></label><button>Log it</button></form>
<h2>Columns</h2>${store.columns.map(({ key, name }) => columnForm('/column', key, name)).join('')}
${faultsForm(faults)}`);
}

/** One entry: its address and name, its columns, and where it is. */
export function entryPage(store: MailerStore, address: string): string {
  const entry = store.find(address);
  const box = (label: string, name: string, value: string) =>
    `<label>${escape(label)}<br><input name="${name}" size="34" value="${escape(value)}"></label>`;
  const columns = store.columns.map(({ key, name }) => box(name, `column.${key}`, entry?.columns[key] ?? '')).join('');
  const lists = store.lists
    .map(({ id, name, strands }) => {
      const place = entry?.lists.find(({ list }) => list === id);
      const check = (key: string, label: string, isOn: boolean) =>
        `<label><input type="checkbox" name="${key}"${isOn ? ' checked' : ''}> ${escape(label)}</label>`;
      return (
        `<p>${check(`list.${id}`, name, place !== undefined)}` +
        strands
          .map((strand) => check(`strand.${id}.${strand.id}`, strand.name, place?.strands.includes(strand.id) ?? false))
          .join('') +
        `<select name="state.${id}">${options(same(STATES), place?.state)}</select></p>`
      );
    })
    .join('');
  return frame(`<h1>${entry ? escape(entry.address) : 'New entry'}</h1><form method="post" action="/entry">
<input type="hidden" name="was" value="${escape(entry?.address ?? '')}">
${box('Address', 'address', entry?.address ?? '')}${box('Given name', 'given', entry?.given ?? '')}${box('Family name', 'family', entry?.family ?? '')}<br>
${columns}${lists}<button>Save</button> <button name="remove" value="1">Remove</button></form>`);
}

/** Does what the form of an entry says; gives why not, or null. */
export function saveEntry(form: Record<string, string>, store: MailerStore, nowIso: string): string | null {
  const was = form.was ?? '';
  const address = (form.address ?? '').trim();
  if (form.remove) {
    store.remove(was, nowIso);
    return null;
  }
  if (!/^[^\s@]+@[^\s@]+$/.test(address)) return 'This is no address.';
  if (was && was !== address && !store.rename(was, address, nowIso)) return `${address} is another entry already.`;
  if (!was && store.find(address)) return `${address} is an entry already.`;
  const columns = Object.fromEntries(store.columns.map(({ key }) => [key, form[`column.${key}`] ?? '']));
  store.put(address, { given: form.given ?? '', family: form.family ?? '', columns }, nowIso);
  for (const { id, strands } of store.lists) {
    const chosen = strands.filter((strand) => form[`strand.${id}.${strand.id}`] === 'on').map((strand) => strand.id);
    const isIn = form[`list.${id}`] === 'on' || chosen.length > 0;
    store.place(address, id, isIn ? chosen : null, nowIso);
    const state = STATES.find((one) => one === form[`state.${id}`]) ?? 'reachable';
    if (isIn && store.find(address)?.lists.find(({ list }) => list === id)?.state !== state)
      store.say(address, id, state, nowIso);
  }
  return null;
}
