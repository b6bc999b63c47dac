import { Piscina } from 'piscina';
import type { Mapping } from '@gray-loom/core/mapping';
import type { IntakeDetail, OutcomeCounts, RunSummary } from '@gray-loom/wire';
import { importFile } from '../features/intake/import-file';
import { takeLease } from '../runs/lease';
import { tryImport } from '../features/intake/try-import';
import { built, type TestApp } from './start-test-app';

const LEASE_MS = 60_000;

/** Puts a file into Intake and returns its id; `change` alters the mapping that was guessed. */
export async function bringFile(
  app: TestApp,
  name: string,
  content: string,
  change?: (mapping: Mapping) => Mapping,
): Promise<number> {
  const answer = await app.upload(name, content);
  if (answer.status !== 201) throw new Error(await answer.text());
  const { id } = (await answer.json()) as { id: number };
  if (change) {
    const { mapping } = await app.json<IntakeDetail>(`/intakes/${id}`);
    await app.json(`/intakes/${id}/mapping`, 'PUT', change(mapping));
  }
  return id;
}

/** Runs the trial of a file here and now, as the worker would. */
export async function runTrial(app: TestApp, intakeId: number): Promise<OutcomeCounts> {
  const { runId } = await app.json<{ runId: number }>(`/intakes/${intakeId}/trial`, 'POST');
  const lease = await takeLease(app.database, runId, 'test', LEASE_MS);
  if (!lease) throw new Error('the trial was taken by somebody else');
  await tryImport(app.database, lease, LEASE_MS);
  return (await app.json<IntakeDetail>(`/intakes/${intakeId}`)).trialCounts as OutcomeCounts;
}

/** Runs the import of a file here and now, as the worker would. */
export async function runImport(app: TestApp, intakeId: number): Promise<RunSummary> {
  const { runId } = await app.json<{ runId: number }>(`/intakes/${intakeId}/import`, 'POST');
  return carryOn(app, runId);
}

/** Works on an import that was started, as the worker would, until it ends or rests. */
export async function carryOn(app: TestApp, runId: number): Promise<RunSummary> {
  const lease = await takeLease(app.database, runId, 'test', LEASE_MS);
  if (!lease) throw new Error('the import was taken by somebody else');
  const threads = new Piscina({ filename: built('import-thread'), maxThreads: 1 });
  try {
    await importFile(app.database, threads, app.url, lease, LEASE_MS);
  } finally {
    await threads.destroy();
  }
  return app.json<RunSummary>(`/runs/${runId}`);
}
