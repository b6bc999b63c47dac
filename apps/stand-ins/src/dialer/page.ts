import type { Faults } from '../faults';
import { columnForm, escape, faultsForm, framed } from '../page-parts';
import { MOST_PHONES, OUTCOMES, type Call, type DialerStore, type PersonParts } from './store';

const SHOWN = 100;
const frame = (body: string) => framed('phone bank', 'a dialer', body);
const options = (values: readonly string[], chosen = '') =>
  values.map((one) => `<option${one === chosen ? ' selected' : ''}>${escape(one)}</option>`).join('');

/** The people, a hundred at most, who is called next, the last calls, and what goes wrong on purpose. */
export function listPage(store: DialerStore, faults: Faults, find: string): string {
  const wanted = find.toLowerCase();
  const people = store
    .list()
    .filter(
      ({ name, phones }) =>
        !wanted || `${name} ${phones.map(({ number }) => number).join(' ')}`.toLowerCase().includes(wanted),
    );
  const rows = people
    .slice(0, SHOWN)
    .map(
      ({ id, name, phones, doNotCall, lists }) =>
        `<tr><td><a href="/person?id=${id}">${escape(name)}</a>${doNotCall ? ' <b>do not call</b>' : ''}</td>` +
        `<td>${phones.map(({ number, doNotCall: stop }) => `${escape(number)}${stop ? ' (stop)' : ''}`).join(', ')}</td>` +
        `<td>${lists.map((list) => escape(store.lists.find((one) => one.id === list)?.name ?? '')).join(', ')}</td></tr>`,
    )
    .join('');
  const nameOf = (id: number | null) => escape(id === null ? 'nobody known' : (store.find(id)?.name ?? `person ${id}`));
  const calls = store.calls
    .slice(-20)
    .reverse()
    .map(
      ({ at, direction, personId, number, outcome, minutes, caller }) =>
        `<tr><td>${escape(at)}</td><td>${direction}</td><td>${nameOf(personId)}</td><td>${escape(number)}</td>` +
        `<td>${outcome}</td><td>${minutes}</td><td>${escape(caller)}</td></tr>`,
    )
    .join('');
  return frame(`<h1>Phone bank</h1><p>${store.list().length} people, ${store.calls.length} calls. <a href="/person">New person</a></p>
<form><label>Find <input name="find" value="${escape(find)}"></label><button>Find</button></form>
<p>Called next: ${store.next.map(({ id }) => nameOf(id)).join(', ') || 'nobody'}</p>
<table><tr><th>Name</th><th>Phones</th><th>Lists</th></tr>${rows}</table>
<p>${people.length > SHOWN ? `${people.length - SHOWN} more; find them by name or number.` : ''}</p>
<h2>A call</h2><form method="post" action="/call">
<label>Direction <select name="direction">${options(['out', 'in'])}</select></label><label>Number <input name="number"></label>
<label>Published number that was dialled <input name="dialled"></label><label>Outcome <select name="outcome">${options(OUTCOMES)}</select></label>
<label>Minutes <input name="minutes" size="4" value="3"></label><label>Caller <input name="caller"></label><button>Log the call</button></form>
<table><tr><th>When</th><th></th><th>Who</th><th>Number</th><th>Outcome</th><th>Minutes</th><th>Caller</th></tr>${calls}</table>
<h2>Fields</h2>${store.fields.map(({ key, label }) => columnForm('/field', key, label)).join('')}
${faultsForm(faults)}`);
}

/** One person: the boxes there are, and a button that pushes them over in the middle of a call. */
export function personPage(store: DialerStore, id: number): string {
  const person = store.find(id);
  const box = (label: string, name: string, value: string) =>
    `<label>${escape(label)}<br><input name="${name}" size="34" value="${escape(value)}"></label>`;
  const phones = Array.from({ length: MOST_PHONES }, (_, i) => {
    const phone = person?.phones[i];
    const stop = `<input type="checkbox" name="stop${i}"${phone?.doNotCall ? ' checked' : ''}>`;
    return `${box(`Phone ${i + 1}`, `phone${i}`, phone?.number ?? '')}<label>${stop} stop</label><br>`;
  }).join('');
  const fields = store.fields.map(({ key, label }) => box(label, `field.${key}`, person?.fields[key] ?? '')).join('');
  const lists = store.lists
    .map(
      ({ id: list, name }) =>
        `<label><input type="checkbox" name="list.${list}"${person?.lists.includes(list) ? ' checked' : ''}> ${escape(name)}</label>`,
    )
    .join('');
  return frame(`<h1>${person ? escape(person.name) : 'New person'}</h1><form method="post" action="/person">
<input type="hidden" name="id" value="${person ? person.id : ''}">
${box('Name, kept in capitals', 'name', person?.name ?? '')}${box('E-mail', 'email', person?.email ?? '')}<br>
${phones}<label><input type="checkbox" name="doNotCall"${person?.doNotCall ? ' checked' : ''}> do not call</label><br>${fields}<br>${lists}<br>
<button>Save</button> <button name="push" value="1">Push over now</button> <button name="remove" value="1">Remove</button></form>`);
}

/** What the form of a person says. */
export function partsOfForm(form: Record<string, string>, store: DialerStore): PersonParts {
  return {
    name: form.name ?? '',
    email: form.email ?? '',
    doNotCall: form.doNotCall === 'on',
    phones: Array.from({ length: MOST_PHONES }, (_, i) => ({
      number: (form[`phone${i}`] ?? '').trim(),
      doNotCall: form[`stop${i}`] === 'on',
    })).filter(({ number }) => number),
    fields: Object.fromEntries(store.fields.map(({ key }) => [key, form[`field.${key}`] ?? ''])),
    lists: store.lists.flatMap(({ id }) => (form[`list.${id}`] === 'on' ? [id] : [])),
  };
}

/** A call as its form says it. */
export function callFrom(form: Record<string, string>, nowIso: string): Omit<Call, 'id' | 'personId'> {
  const outcome = OUTCOMES.find((one) => one === form.outcome) ?? 'reached';
  return {
    direction: form.direction === 'in' ? 'in' : 'out',
    number: (form.number ?? '').trim(),
    dialled: (form.dialled ?? '').trim(),
    outcome,
    minutes: Math.max(0, Number(form.minutes) || 0),
    at: nowIso,
    caller: (form.caller ?? '').trim(),
  };
}
