import { meantEmail } from '../../fields';
import type { Issue } from '../../model';

/**
 * The cells of a row as they are most likely meant, where what is wrong with them tells that; null where it tells nothing.
 * Only ever offered: who looks at it decides.
 */
export function meantCells(cells: readonly string[], issues: readonly Issue[]): string[] | null {
  let mended: string[] | null = null;
  for (const issue of issues) {
    const { column } = issue.path;
    if (issue.code !== 'invalidEmail' || column === undefined) continue;
    // Rows that were held by an earlier version say less of what is wrong.
    const meant = issue.meant ?? meantEmail(issue.value)?.norm;
    if (meant === undefined) continue;
    const cell: string = (mended ?? cells)[column] ?? '';
    // A cell that was changed before it was read does not hold what was read.
    if (!cell.includes(issue.value)) continue;
    mended ??= [...cells];
    mended[column] = cell.replace(issue.value, () => meant);
  }
  return mended;
}
