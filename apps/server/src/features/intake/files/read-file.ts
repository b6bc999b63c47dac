import { TableReader, type DelimitedShape } from '@gray-loom/core/formats';
import type { Database } from '../../../db/connect';
import { pieceOfFile } from './statements/file-pieces';

export interface DataRow {
  /** Counts data records from 1. */
  row: number;
  cells: string[];
}

const SLICE_BYTES = 1 << 15;

/**
 * Streams the data rows of a file that came in, in batches. Memory is bounded by one piece of the file (1 MB) and one
 * batch. Titles and heading are passed over.
 */
export async function* readRows(
  { pool }: Database,
  intakeId: number,
  shape: DelimitedShape,
  batch: number,
): AsyncGenerator<DataRow[]> {
  const reader = new TableReader(shape);
  const skip = shape.headerRow ?? 0;
  let rows: DataRow[] = [];
  for (let seq = 0; ; seq++) {
    const piece = await pieceOfFile(pool, intakeId, seq);
    const bytes = piece.rows[0]?.bytes;
    // Little at a time: what is in work while the collector comes by is what it has to carry.
    for (let from = 0; from < (bytes?.length ?? 1); from += SLICE_BYTES) {
      for (const record of reader.push(bytes?.subarray(from, from + SLICE_BYTES))) {
        if (record.number <= skip) continue;
        rows.push({ row: record.number - skip, cells: record.cells });
        if (rows.length >= batch) {
          yield rows;
          rows = [];
        }
      }
    }
    if (!bytes) break;
  }
  if (rows.length) yield rows;
}
