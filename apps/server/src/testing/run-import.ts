import type { Mapping } from '@gray-loom/core/mapping';
import type { IntakeDetail, OutcomeCounts, RunSummary } from '@gray-loom/wire';
import type { TestApp } from './start-test-app';

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
  await app.work(runId);
  return (await app.json<IntakeDetail>(`/intakes/${intakeId}`)).trialCounts as OutcomeCounts;
}

/** Runs the import of a file here and now, as the worker would. */
export async function runImport(app: TestApp, intakeId: number): Promise<RunSummary> {
  const { runId } = await app.json<{ runId: number }>(`/intakes/${intakeId}/import`, 'POST');
  return carryOn(app, runId);
}

/** Works on an import that was started, as the worker would, until it ends or rests. */
export function carryOn(app: TestApp, runId: number): Promise<RunSummary> {
  return app.work(runId);
}
