import { inThread } from '../../runs/threads';
import writeSpreadsheet from 'write-excel-file/node';

export interface WriteSheetTask {
  rows: string[][];
  path: string;
}

/** Writes a table as a spreadsheet (.xlsx). Every cell is text, so that leading zeros and long numbers stay as they are. */
async function writeSheet({ rows, path }: WriteSheetTask): Promise<void> {
  const [headings = [], ...rest] = rows;
  await writeSpreadsheet(
    [
      headings.map((value) => ({ value, type: String, fontWeight: 'bold' as const })),
      ...rest.map((cells) => cells.map((value) => (value === '' ? null : { value, type: String }))),
    ],
    { stickyRowsCount: 1 },
  ).toFile(path);
}

export default inThread(writeSheet);
