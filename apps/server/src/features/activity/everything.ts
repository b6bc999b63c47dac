import { Zip, ZipDeflate, ZipPassThrough } from 'fflate';
import { typeInWords, type Activity } from '@gray-loom/core/activity';
import { showValue, type Catalogue } from '@gray-loom/core/fields';
import { valuesOf } from '@gray-loom/core/model';
import type { ActivityEntry, ContactDetail } from '@gray-loom/wire';
import { loadCatalogue } from '../../book/picks';
import type { Database } from '../../db/connect';
import { contactDetail, contactHistory, exportCard } from '../contacts';
import { activityPage } from './activities';
import { fileBytes } from './statements/files';

/** Entries that are read at once. */
const PAGE = 200;

async function allEntries(database: Database, id: number): Promise<ActivityEntry[]> {
  const entries: ActivityEntry[] = [];
  for (let skip = 0; ; skip += PAGE) {
    const page = await activityPage(database, id, { kinds: '', skip, limit: PAGE });
    entries.push(...page.entries.filter(({ contact }) => contact.id === id));
    if (page.entries.length < PAGE) return entries;
  }
}

const entryInWords = ({ activity, who }: ActivityEntry): string =>
  [
    `${activity.at ?? 'no day'}  ${activity.kind}`,
    [activity.what, activity.text].filter(Boolean).join(' – '),
    activity.amount ? showValue('opportunityValue', { v: activity.amount }) : '',
    activity.outcome,
    activity.file ? typeInWords(activity.file.mediaType) : '',
    who ? `(${who})` : '',
  ]
    .filter(Boolean)
    .join('  ');

/** What is held on a contact, for whoever it is to read. */
function inWords(contact: ContactDetail, catalogue: Catalogue, entries: readonly ActivityEntry[], day: string): string {
  const fields = catalogue.fields.flatMap((field) =>
    valuesOf(contact.record, field.key).map((value) => {
      const thread = contact.threads[value.run];
      const from = thread ? `   [${thread.name}, ${thread.at.slice(0, 10)}]` : '';
      return `${field.name}${value.label ? ` (${value.label})` : ''}: ${showValue(field.key, value)}${from}`;
    }),
  );
  return [
    `Everything held on ${contact.name}, ${day}`,
    '',
    ...fields,
    '',
    `Activity (${entries.length})`,
    ...entries.map(entryInWords),
    '',
    'Where the channels stand and why, and how each value came to be, stands in everything.json.',
    '',
  ].join('\n');
}

/** Names of the files within the folder, each once. */
function namesOf(files: readonly Activity[]): string[] {
  const used = new Map<string, number>();
  return files.map(({ what }) => {
    const times = (used.get(what) ?? 0) + 1;
    used.set(what, times);
    return times === 1 ? what : what.replace(/(\.[^.]*)?$/, ` (${times})$1`);
  });
}

/**
 * Everything held on a contact, to be handed over to whoever it is: one file for people to read, one for programs with every value, its
 * origin, its history and its activity, the card, and the files. A stream of a ZIP archive; one file is in memory at a time.
 */
export async function everythingHeld(
  database: Database,
  id: number,
): Promise<{ name: string; body: ReadableStream<Uint8Array> }> {
  const contact = await contactDetail(database, id);
  const [entries, history, card, catalogue] = await Promise.all([
    allEntries(database, contact.id),
    contactHistory(database, contact.id),
    exportCard(database, contact.id, '4.0'),
    loadCatalogue(database.db),
  ]);
  const day = new Date().toISOString().slice(0, 10);
  const files = entries.map(({ activity }) => activity).filter(({ file }) => file !== null);
  const names = namesOf(files);
  const texts: [name: string, content: string][] = [
    ['everything.txt', inWords(contact, catalogue, entries, day)],
    [
      'everything.json',
      JSON.stringify({ takenAt: new Date().toISOString(), contact, history, activity: entries }, null, 1),
    ],
    ['card.vcf', card],
  ];
  let next = 0;
  const zip = new Zip();
  const body = new ReadableStream<Uint8Array>({
    start(controller) {
      zip.ondata = (error, piece, isLast) => {
        if (error) return controller.error(error);
        if (piece.length) controller.enqueue(piece);
        if (isLast) controller.close();
      };
      for (const [name, content] of texts) {
        const entry = new ZipDeflate(name);
        zip.add(entry);
        entry.push(new TextEncoder().encode(content), true);
      }
    },
    async pull() {
      const file = files[next]?.file;
      if (!file) return zip.end();
      const { rows } = await fileBytes(database.pool, file.hash);
      const entry = new ZipPassThrough(`files/${names[next]}`);
      next++;
      zip.add(entry);
      entry.push(new Uint8Array(rows[0]?.bytes ?? []), true);
    },
  });
  return { name: `everything-${contact.id}-${day}.zip`, body };
}
