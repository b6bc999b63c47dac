import { asMerged, blockedBy, ERASED, erasedChanges, erasingOperations, namesEver } from '@gray-loom/core/erasing';
import { displayNameOf, foldWords } from '@gray-loom/core/fields';
import { factsOf, keyHash, phoneBlock, preparePerson, withoutNames } from '@gray-loom/core/matching';
import { kindOf, lifecycleOf, valuesOf, type ContactRecord } from '@gray-loom/core/model';
import type { Erasure } from '@gray-loom/wire';
import { hashOfForm, identifiedBy } from '../../book/blocked';
import { opportunityKey } from '../../book/contact-rows';
import { refuseContact } from '../../book/refusals';
import { applyChanges, lockContacts, type LoadedContact } from '../../book/write-contacts';
import { inTransaction, type Database, type Tx } from '../../db/connect';
import { tell } from '../../feed/events';
import { handThread, startRun } from '../../runs/runs';
import { refuseErasing } from './refusals';
import {
  changesOf,
  dropFiles,
  dropPictures,
  eraseActivities,
  eraseMatching,
  erasePermissions,
  eraseRows,
  eraseSyncs,
  eraseTraces,
  everyRecordOf,
  fileHashes,
  filesOf,
  heldBeside,
  insertBlocked,
  keysOfOthers,
  letFilesGo,
  modelsNaming,
  opportunitiesByKeys,
  othersAlike,
  readingRun,
  retitleRuns,
  runsAbout,
  writeErasedChanges,
  wordsOfNobody,
  writeModel,
  type Marks,
} from './statements/erasing';

/** What titles say in place of a name. */
const SOMEBODY = 'somebody erased';

/** Everything that is one contact: itself, who was merged into it, and opportunities about it. */
interface Whole {
  ids: number[];
  first: LoadedContact;
  records: LoadedContact[];
  history: Awaited<ReturnType<typeof changesOf>>['rows'];
  /** Mailboxes that are or were theirs, by which rows are known that nobody was found for. */
  marks: Marks;
}

const plain = (text: string) => text.replace(/[\\%_]/g, '\\$&').toLowerCase();
const mailboxKey = (text: string) => keyHash(`e:${preparePerson({ emails: [text] }).emails[0]?.key ?? text}`);

/** Mailboxes that were ever theirs and that nobody has who stays. Phones tell of no row: somebody else of the home may have them too. */
async function marksOf(tx: Tx, ids: readonly number[], records: readonly LoadedContact[], history: Whole['history']) {
  const values = [
    ...records.flatMap(({ record }) => valuesOf(record, 'email')),
    ...history.flatMap(({ changes }) =>
      (changes ?? []).flatMap(({ field, before, after }) => (field === 'email' ? [before, after] : [])),
    ),
  ];
  const texts = [...new Set(values.flatMap((value) => (typeof value?.v === 'string' ? [value.v] : [])))].filter(
    (text) => text.includes('@'),
  );
  const { rows } = await keysOfOthers(tx.client, texts.map(mailboxKey), ids);
  const others = new Set(rows.map(({ key }) => key));
  const words = texts.filter((text) => !others.has(mailboxKey(text)));
  return { words, patterns: words.map((text) => `%${plain(text)}%`) };
}

async function loadWhole(tx: Tx, contactId: number): Promise<Whole> {
  const { rows: one } = await everyRecordOf(tx.client, contactId);
  const people = one.map(({ id }) => id);
  const { rows: about } = await opportunitiesByKeys(
    tx.client,
    people.map((id) => keyHash(opportunityKey(id))),
  );
  const ids = [...new Set([...people, ...about.map(({ id }) => id)])];
  const loaded = await lockContacts(tx, ids);
  const first = loaded.get(people[0] ?? 0);
  if (!first || kindOf(first.record) === 'opportunity') throw refuseContact.noSuchContact();
  if (lifecycleOf(first.record)?.state === 'erased') throw refuseErasing.alreadyErased();
  const { rows: history } = await changesOf(tx.client, ids);
  const records = [...loaded.values()];
  return { ids, first, records, history, marks: await marksOf(tx, ids, records, history) };
}

/** What erasing a contact would take; nothing is changed. */
export async function lookAtErasure(database: Database, contactId: number): Promise<Erasure> {
  return inTransaction(database, async (tx) => {
    const { ids, first, records, history, marks } = await loadWhole(tx, contactId);
    const { rows: files } = await filesOf(tx.client, ids, marks);
    const { rows } = await heldBeside(tx.client, ids, marks.patterns);
    const { rows: alike } = await othersAlike(
      tx.client,
      records.flatMap((one) => personOf(one).emails.map(({ key }) => keyHash(`e:${key}`))),
      ids,
    );
    const [beside] = rows;
    const waits = files.find((file) => file.waits);
    return {
      name: displayNameOf(first.record),
      records: records.length - 1,
      values: records.flatMap(({ record }) => Object.values(record.f).flat()).length,
      changes: history.length,
      activities: beside?.activities ?? 0,
      files: beside?.files ?? 0,
      heldRows: beside?.rows ?? 0,
      permissions: beside?.permissions ?? 0,
      cameIn: files.filter((file) => !file.waits && file.is_kept).map(({ name }) => name),
      waits: waits ? { id: waits.id, name: waits.name } : null,
      connections: beside?.connections ?? [],
      alike,
    };
  });
}

/**
 * Erases a contact for good: every value of it, now and in its history, in rows, files, links and titles. What is left are the
 * changes without their content, and keyed hashes of what it would be told by, so that nothing brings it back.
 *
 * @param reason - how they asked for it, as somebody wrote it down
 */
export async function eraseContact(database: Database, contactId: number, reason: string): Promise<{ runId: number }> {
  return inTransaction(database, async (tx) => {
    const whole = await loadWhole(tx, contactId);
    const { ids, first, records, marks } = whole;
    const { rows: files } = await filesOf(tx.client, ids, marks);
    const { rows: reading } = await readingRun(tx.client);
    if (reading[0]) throw refuseErasing.underWay(reading[0]);
    const waiting = files.find(({ waits }) => waits);
    if (waiting) throw refuseErasing.fileWaits({ name: waiting.name, intakeId: waiting.id });
    const runId = await startRun(tx, {
      kind: 'erase',
      state: 'done',
      threadId: await handThread(tx),
      title: 'Erased somebody on request',
      contactId: first.id,
    });
    const left = await linesLeft(tx, whole);
    await insertBlocked(tx.client, runId, reason, formsOf(records, left).map(hashOfForm));
    const names = namesOf(whole);
    await eraseTitles(tx, whole, names);
    await eraseFromModels(tx, whole, names, left.lines);
    const { rows: kept } = await fileHashes(tx.client, ids);
    const pictures = picturesOf(whole);
    await applyChanges(
      tx,
      runId,
      records.map(({ id, record }) => ({ contactId: id, operations: erasingOperations(record, id, runId) })),
      { locked: new Map(records.map((one) => [one.id, one])), evenGone: true },
    );
    await eraseHistory(tx, ids);
    await eraseActivities(tx.client, ids);
    if (kept.length)
      await dropFiles(
        tx.client,
        kept.map(({ hash }) => hash),
      );
    if (pictures.length) await dropPictures(tx.client, pictures);
    await eraseRows(tx.client, ids, marks.patterns, runId);
    await letFilesGo(
      tx.client,
      files.map(({ id }) => id),
    );
    await eraseSyncs(tx.client, ids);
    await eraseMatching(tx.client, ids, left.lines);
    await erasePermissions(tx.client, ids, left.keys);
    await eraseTraces(tx.client, ids);
    for (const topic of ['groups', 'intakes', 'held', 'syncs'] as const) await tell(tx.client, { topic });
    return { runId };
  });
}

/** Lines of theirs that nobody has who stays. */
interface LinesLeft {
  isShared: (mailbox: string) => boolean;
  /** As they are compared, and numbers of their look-up keys. */
  lines: string[];
  keys: number[];
}

async function linesLeft(tx: Tx, { ids, records }: Whole): Promise<LinesLeft> {
  const people = records.filter(({ record }) => kindOf(record) !== 'opportunity').map(personOf);
  const lines = people.flatMap(({ emails, phones }) => [
    ...emails.map(({ key }) => ({ line: key, key: keyHash(`e:${key}`) })),
    ...phones.map((phone) => ({ line: phone, key: keyHash(`p:${phoneBlock(phone)}`) })),
  ]);
  const { rows } = await keysOfOthers(
    tx.client,
    lines.map(({ key }) => key),
    ids,
  );
  const others = new Set(rows.map(({ key }) => key));
  const own = lines.filter(({ key }) => !others.has(key));
  return {
    isShared: (mailbox) => others.has(keyHash(`e:${mailbox}`)),
    lines: own.map(({ line }) => line),
    keys: own.map(({ key }) => key),
  };
}

const personOf = ({ record }: Pick<LoadedContact, 'record'>) => preparePerson(factsOf(record));

function formsOf(records: readonly LoadedContact[], { isShared }: LinesLeft): string[] {
  const people = records.map(({ record }) => record).filter((record) => kindOf(record) === 'person');
  return blockedBy(
    people.flatMap(asMerged).map((record) => identifiedBy(personOf({ record }), record.f.externalId)),
    isShared,
  );
}

/** Every name that one of them was shown by, the longest first. */
function namesOf({ records, history }: Whole): string[] {
  const names = records.flatMap(({ id, record }) =>
    namesEver(
      record,
      history.filter((one) => one.contact_id === id).map(({ changes }) => changes),
    ),
  );
  return [...new Set(names)].sort((a, b) => b.length - a.length);
}

/** Titles of runs, and what is kept with them, hold names; those of activities what was written down. */
async function eraseTitles(tx: Tx, { ids }: Whole, names: readonly string[]): Promise<void> {
  const inTexts = names.map((name) => new RegExp(`(?<![\\p{L}\\d])${escaped(name)}(?![\\p{L}\\d])`, 'gu'));
  const inJson = names.map((name) => new RegExp(escaped(JSON.stringify(name).slice(1, -1)), 'gu'));
  const { rows } = await runsAbout(tx.client, ids);
  const without = (text: string, patterns: readonly RegExp[]) =>
    patterns.reduce((left, pattern) => left.replace(pattern, SOMEBODY), text);
  const renamed = rows.flatMap(({ id, kind, title, detail }) => {
    const [what = ''] = title.split(':');
    const one = {
      id,
      title: kind === 'activity' ? `${what}: ${ERASED}` : without(title, inTexts),
      detail: without(detail, inJson),
    };
    return one.title === title && one.detail === detail ? [] : [one];
  });
  if (renamed.length) await retitleRuns(tx.client, renamed);
}

/** Models know names by how many have them. */
async function eraseFromModels(
  tx: Tx,
  { ids }: Whole,
  names: readonly string[],
  lines: readonly string[],
): Promise<void> {
  const { rows: found } = await wordsOfNobody(tx.client, [...new Set(names.flatMap(foldWords))], ids);
  const words = new Set(found.map(({ word }) => word));
  if (!words.size && !lines.length) return;
  const { rows } = await modelsNaming(tx.client, [...words, ...lines]);
  for (const { version, model } of rows) {
    const left = withoutNames(model, words, new Set(lines));
    if (left) await writeModel(tx.client, version, left);
  }
}

const escaped = (text: string) => text.replace(/[.*+?^${}()|[\]\\]/g, '\\$&');

/** What is left of the history are fields and runs. */
async function eraseHistory(tx: Tx, ids: readonly number[]): Promise<void> {
  const { rows } = await changesOf(tx.client, ids);
  await writeErasedChanges(
    tx.client,
    rows.flatMap(({ contact_id: id, version, changes }) =>
      changes ? [{ id, version, changes: erasedChanges(changes) }] : [],
    ),
  );
}

/** Hashes of the pictures that they have or had. */
function picturesOf({ records, history }: Whole): string[] {
  const values = [
    ...records.flatMap(({ record }: { record: ContactRecord }) => valuesOf(record, 'photo')),
    ...history.flatMap(({ changes }) =>
      (changes ?? []).flatMap(({ field, before, after }) => (field === 'photo' ? [before, after] : [])),
    ),
  ];
  return [...new Set(values.flatMap((value) => (typeof value?.v === 'string' ? [value.v] : [])))];
}
