import { conflict, declareRefusals, invalid, missing, tooLarge } from '../../http/refusal';

/** What stands against a file in Intake: its mapping, its trial, bringing it in. */
export const refuse = declareRefusals({
  noSuchFile: missing('There is no such file in Intake. It may have been dropped.'),
  letGo: conflict(
    ({ on }: { on: string }) =>
      `The content of this file was let go on ${on}, since somebody who came in by it was erased. What became of its rows is kept.`,
  ),
  noFileOfRun: missing('This run brought no file in.'),
  tooLate: conflict('This file was brought in already, so it stays as it was. Undo the import to do it differently.'),
  readingTooLate: conflict('This file is on its way in already; it cannot be read differently now.'),
  alreadyIn: conflict('This file was brought in already. Undo that import first, then bring the file in again.'),
  isOrigin: conflict('This file was brought in, so it is kept as the origin of its values.'),
  unknownStage: invalid(
    ({ stage, stages }: { stage: string; stages: string[] }) =>
      `There is no stage '${stage}'; the stages are ${stages.join(', ')}. Choose one of them.`,
  ),
  unknownMeaning: invalid(
    ({ header, target }: { column: number; header: string; target: string }) =>
      `'${header}' has the meaning '${target}', which there is not, or not any more. Give the column another one, or leave it out.`,
  ),
  noIdentityColumn: invalid(
    'No column tells who a row is about. Give one column the meaning name, e-mail, organization or outside id.',
  ),
  nearMiss: conflict(
    ({ name, like }: { column: number; name: string; like: string; target: string }) =>
      `There is a field '${like}'. Use that one, or make '${name}' beside it.`,
  ),
  noSuchMapping: missing('There is no such saved mapping any more.'),
});

/** What stands against rows, one by one. */
export const refuseRow = declareRefusals({
  noSuchRow: missing('There is no such row in this file.'),
  noSuchHeldRow: missing('There is no such held row.'),
  tooLate: conflict('This file was brought in already. Rows that were held wait under Held rows.'),
  noSuchContact: invalid('There is no such contact any more. Choose another one; nothing was written.'),
  settled: conflict(({ how }: { how: 'letIn' | 'dropped' | 'broughtBack' }) => {
    const words = {
      letIn: 'This row was let in meanwhile.',
      dropped: 'This row was dropped meanwhile.',
      broughtBack: 'This row came back in a mended file meanwhile.',
    };
    return words[how];
  }),
  held: invalid<{ column: number | null }>('The row cannot be let in.'),
  samePerson: invalid<{ person: number }>('Both would be the same person. Name them differently.'),
  sameContact: invalid<{ person: number }>(
    'Both would be the same contact, who is here already. Let the row in as one.',
  ),
});

/** What stands against reading a file. What is wrong with its text is an issue of the core. */
export const refuseFile = declareRefusals({
  emptyArchive: invalid('There is no file in this archive. Nothing was taken in.'),
  severalFiles: invalid(
    ({ count, first }: { count: number; first: string[] }) =>
      `There are ${count} files in this archive, among them ${first.join(', ')}. Send them one by one.`,
  ),
  locked: invalid('The file in this archive is locked by a password. Send it unlocked.'),
  sheetTooLarge: tooLarge(
    ({ unfoldsMb, limitMb }: { unfoldsMb: number; limitMb: number }) =>
      `This spreadsheet unfolds to ${unfoldsMb} MB; at most ${limitMb} MB are read. Save the sheet as CSV and send that.`,
  ),
  unfoldsTooFar: tooLarge(
    ({ times, limit }: { times: number; limit: number }) =>
      `This package unfolds to ${times.toLocaleString('en')} times its size; at most ${limit} times are read. Nothing was taken in; send the file in it alone.`,
  ),
  cards: conflict('This file holds cards; encoding, delimiter and heading are not to be chosen.'),
  noSuchRow: invalid(({ row }: { row: number }) => `The file has no row ${row} that could be the heading.`),
  unknownEncoding: invalid(({ name }: { name: string }) => `'${name}' is not an encoding that can be read.`),
  brokenFile: invalid(
    ({ what, why }: { what: string; why: string }) =>
      `The ${what} cannot be opened: ${why}. Make it anew, or send the file in it alone.`,
  ),
});

/** Refuses what needs the content of a file that was let go. */
export function requireContent({ letGoAt }: { letGoAt: Date | null }): void {
  if (letGoAt) throw refuse.letGo({ on: letGoAt.toISOString().slice(0, 10) });
}
