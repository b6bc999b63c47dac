import { sql } from 'drizzle-orm';
import type { Database } from '../../../db/connect';
import { rowChoice } from '../../../db/schema';
import { tell } from '../../../feed/events';
import { refuseRow } from '../refusals';
import type { RowChoice, RowWords } from './row-plan';
import { settledRows } from './mended-file';
import { contactToChoose, intakeToChoose } from './statements/row-choices';

/** What people said of single rows of a file at its trial. */
export async function loadChoices({ db }: Database, intakeId: number): Promise<Map<number, RowChoice>> {
  const rows = await db
    .select({ row: rowChoice.row, choice: rowChoice.choice })
    .from(rowChoice)
    .where(sql`${rowChoice.intakeId} = ${intakeId}`);
  return new Map(rows.map(({ row, choice }) => [row, choice]));
}

/** All that was said of single rows: at the trial, and, of rows that came back mended, before they came. */
export async function loadWords(database: Database, file: { id: number; mends: number | null }): Promise<RowWords> {
  return {
    choices: await loadChoices(database, file.id),
    settled: file.mends === null ? null : await settledRows(database, file.mends),
  };
}

/** Notes a person's word on a row of a file that is not in yet; null takes it back. */
export async function chooseRow(
  database: Database,
  intakeId: number,
  row: number,
  choice: RowChoice | null,
): Promise<void> {
  const { rows } = await intakeToChoose(database.pool, intakeId);
  const [file] = rows;
  if (!file || row < 1 || row > file.row_count) throw refuseRow.noSuchRow();
  if (file.import_run !== null) throw refuseRow.tooLate();
  if (typeof choice === 'object' && choice !== null) {
    const contact = await contactToChoose(database.pool, choice.contactId, choice.back ?? false);
    if (!contact.rowCount) throw refuseRow.noSuchContact();
  }
  if (choice === null)
    await database.db.delete(rowChoice).where(sql`${rowChoice.intakeId} = ${intakeId} and ${rowChoice.row} = ${row}`);
  else
    await database.db
      .insert(rowChoice)
      .values({ intakeId, row, choice })
      .onConflictDoUpdate({ target: [rowChoice.intakeId, rowChoice.row], set: { choice, madeAt: sql`now()` } });
  await tell(database.pool, { topic: 'intakes', id: intakeId });
}
