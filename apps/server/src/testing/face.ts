/** What tests and benches of other workspaces use to try the server. */
export { KILLED_ROWS, killedImport } from './killed-import';
export { KilledSync, type OtherTool } from './killed-sync';
export { RealApp } from './real-app';
export { KEY, type SyncedApp, cardOf, startSyncedApp } from './run-sync';
export { type TestApp, startTestApp } from './start-test-app';
