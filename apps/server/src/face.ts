/** What commands, demo data and benches use of the server; there is no other way into it. */
export { addActivities, type NewActivity } from './book/activities';
export { PickLists, loadCatalogue } from './book/picks';
export { type NewContact } from './book/render-contacts';
export { applyChanges, insertContacts } from './book/write-contacts';
export { readConfig } from './config';
export { connectorsFor } from './connectors';
export { AddressBookTool } from './connectors/address-book/tool';
export { GuardedRequester } from './connectors/guarded-request';
export { type Database, type Tx, actingAs, connect, inTransaction } from './db/connect';
export { migrateDatabase } from './db/migrate';
export { selectRecords } from './db/record-codec';
export {
  type ThreadKind,
  connection,
  intake,
  permissionEvidence,
  pick,
  run,
  savedMapping,
  syncLink,
} from './db/schema';
export { contactDetail } from './features/contacts/contact-detail';
export { contactConditions, countConditions } from './features/contacts/contact-filter';
export { BY_FAMILY } from './features/contacts/contact-order';
export { likelyTexts } from './features/contacts/statements/contact-list';
export { saveTouchSettings } from './features/activity';
export { reviewSegments } from './features/segments/review-segments';
export { readyFilter } from './features/contacts/ready-filter';
export { ensurePosition } from './feed/positions';
export { findSegment, makeSegment } from './features/segments/segments';
export { editContact } from './features/contacts/edit-contact';
export { type CardVersion, exportCards } from './features/contacts/export-cards';
export { exportActivities } from './features/activity/export-activities';
export { exportLines, exportTable } from './features/contacts/export-contacts';
export { listGroups, matchBoard } from './features/duplicates/match-board';
export { keepGroupApart, mergeGroup } from './features/duplicates/merge-group';
export { openArchive, openEntry } from './features/intake/files/archive';
export { messagesAsTable, splitMessages } from './features/intake/files/read-messages';
export { readSheets } from './features/intake/files/sheet-thread';
export { takeFile } from './features/intake/files/take-file';
export { textAsFile, textKindOf } from './features/intake/files/text-table';
export { takePackedFile } from './features/intake/files/unpack-file';
export { dropIntake, saveMapping, startImport, startTrial, trialRows } from './features/intake/intakes';
export { makeOpportunity } from './features/opportunities/opportunities';
export { listPipelines, savePipelines } from './features/opportunities/pipelines';
export { ensureAdministrator, firstAdministrator, isNew } from './features/people/sign-in';
export { saveAreas } from './features/setup/areas';
export { createField } from './features/setup/field-setup';
export { changeConnection, makeConnection, requireConnection, settingsOf } from './features/syncs/connections';
export { changeResults } from './features/syncs/results/look-at-results';
export { noResults, resultsContext, writeResults } from './features/syncs/results/take-results';
export { itemCodec } from './features/syncs/item-codec';
export { takeResultsNow } from './features/syncs/results/start-results';
export { runConnection } from './features/syncs/start-sync';
export { syncChanges, valueText } from './features/syncs/sync-report';
export { DatabaseSyncStore } from './features/syncs/sync-store';
export { Refusal } from './http/refusal';
export { createLogger } from './log';
export { failRun, handThread, startRun, threadFor } from './runs/runs';
export { workRun } from './work-run';
export { recountRemits } from './book/statements/remits';
