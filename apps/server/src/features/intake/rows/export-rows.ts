import { eq } from 'drizzle-orm';
import { writeRawLine } from '@gray-loom/core/formats';
import { wordIssue } from '@gray-loom/core/model';
import type { Database } from '../../../db/connect';
import { intake } from '../../../db/schema';
import { refuse, requireContent } from '../refusals';
import { ROW_HEADINGS } from './mended-file';
import { readRows } from '../files/read-file';
import { rowsWithOutcome } from './statements/export-rows';

/** The rows of an import as CSV with outcome and reasons: all, or only those held. Streamed along the file. */
export async function exportRows(
  database: Database,
  runId: number,
  heldOnly: boolean,
): Promise<{ name: string; body: ReadableStream<Uint8Array> }> {
  const [file] = await database.db.select().from(intake).where(eq(intake.importRun, runId));
  if (!file) throw refuse.noFileOfRun();
  requireContent(file);
  const encoder = new TextEncoder();
  const batches = readRows(database, file.id, file.shape, 1000);
  let started = false;
  const body = new ReadableStream<Uint8Array>({
    async pull(controller) {
      let text = '';
      if (!started) {
        text += writeRawLine([
          ...ROW_HEADINGS(runId),
          ...file.shape.headers.map((header, i) => header || `Column ${i + 1}`),
        ]);
        started = true;
      }
      while (text === '' || text.length < 1000) {
        const next = await batches.next();
        if (next.done) {
          if (text) controller.enqueue(encoder.encode(text));
          controller.close();
          return;
        }
        text += await linesOf(database, runId, next.value, heldOnly);
      }
      controller.enqueue(encoder.encode(text));
    },
  });
  return { name: file.name.replace(/\.[^.]*$/, ''), body };
}

async function linesOf(
  { pool }: Database,
  runId: number,
  rows: { row: number; cells: string[] }[],
  heldOnly: boolean,
): Promise<string> {
  const found = await rowsWithOutcome(pool, runId, rows[0]?.row ?? 0, rows[rows.length - 1]?.row ?? 0);
  const byRow = new Map(found.rows.map((one) => [one.row, one]));
  let text = '';
  for (const { row, cells } of rows) {
    const one = byRow.get(row);
    if (heldOnly && (one?.outcome !== 'held' || one.settled)) continue;
    const reasons = (one?.issues ?? [])
      .map((issue) => wordIssue({ ...issue, path: { name: issue.path.name } }))
      .join(' ');
    text += writeRawLine([String(row), one?.outcome ?? 'not read', reasons, ...cells]);
  }
  return text;
}
