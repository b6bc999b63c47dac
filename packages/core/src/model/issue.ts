/** Where an issue was found. Rows count data records from 1, columns from 0. */
export interface IssuePath {
  row?: number;
  column?: number;
  /** What the column or field is called on screen. */
  name?: string;
}

type Facts =
  | { code: 'emptyFile' }
  | { code: 'notATable'; kind: string }
  | { code: 'fileTooLarge'; bytes: number; limitBytes: number }
  | { code: 'uploadCutOff'; receivedBytes: number; declaredBytes: number }
  | { code: 'noDataRows' }
  | { code: 'onlyOneColumn' }
  | { code: 'unclosedQuote'; line: number }
  | { code: 'undecodable'; encoding: string }
  | { code: 'repeatedHeading' }
  | { code: 'nulBytes' }
  | {
      code: 'invalidEmail';
      value: string;
      why: 'noAt' | 'noDomainEnding' | 'blankInside' | 'malformed';
      /** The address that the text most likely means; only ever offered. */
      meant?: string;
    }
  | { code: 'invalidPhone'; value: string }
  | { code: 'lossyPhone'; value: string }
  | { code: 'invalidDate'; value: string; why: 'noSuchDay' | 'notADate' | 'noSuchSerial' | 'notYet' }
  | { code: 'ambiguousDate'; value: string }
  | { code: 'invalidNumber'; value: string }
  | { code: 'invalidRange'; value: string }
  | { code: 'noPicture' }
  | { code: 'unreadableCard'; why: string; row: number; line?: number }
  | { code: 'dateWithoutYear'; value: string }
  | { code: 'invalidYesNo'; value: string }
  | { code: 'unclearPermission'; value: string }
  | { code: 'invalidUrl'; value: string }
  | { code: 'unknownChoice'; value: string; choices: string[] }
  /** An owner who is no account. */
  | { code: 'unknownOwner'; value: string }
  | { code: 'unknownStage'; value: string; stages: string[] }
  | { code: 'unknownCountry'; value: string }
  | { code: 'placeholderValue'; value: string }
  | { code: 'formulaLike'; value: string }
  | { code: 'valueTooLong'; length: number; limit: number }
  | { code: 'noIdentity' }
  | { code: 'notAPerson'; value: string }
  | { code: 'twoPeople'; value: string }
  | { code: 'uncertainName'; value: string }
  | { code: 'tooManyCells'; found: number; expected: number }
  | { code: 'tooFewCells'; found: number; expected: number }
  | { code: 'foldedInto'; row: number }
  | { code: 'repeatsHeldRow'; row: number }
  | { code: 'contactGone'; contactId: number }
  | { code: 'conflictingRepeat'; row: number; value: string; other: string }
  | { code: 'repeatSaysMore'; row: number; value: string }
  | { code: 'leftInFolding'; row: number; value: string }
  | { code: 'sharedIdentifier'; value: string; contactIds: number[] }
  | { code: 'severalMatches'; contactIds: number[] }
  | { code: 'likelyMatch'; contactIds: number[] }
  /** `on` is the day of the deletion, ISO 8601; `by` who did it, '' where that was no account. */
  | { code: 'wasDeleted'; contactId: number; by: string; on: string }
  | { code: 'wasErased'; on: string }
  | { code: 'uniqueClash'; value: string; contactIds: number[]; refused: boolean }
  | { code: 'wouldReplace'; value: string; before: string; contactId: number }
  /** `on` is the day of the stop, ISO 8601; `contactId` is null where only an earlier row of the file tells whom it is about. */
  | { code: 'wouldAllow'; channel: string; on: string; contactId: number | null }
  | { code: 'heldByHand' }
  | { code: 'settledBefore'; row: number }
  | { code: 'newNotAllowed' }
  | { code: 'outsideRemit' }
  | { code: 'newOutsideRemit' }
  | { code: 'changeNotAllowed'; contactId: number };

/** What stood in the way, as data. Sentences are made by wordIssue alone. */
export type Issue = Facts & { path: IssuePath };
export type IssueCode = Issue['code'];

const CELL_WARNINGS: ReadonlySet<IssueCode> = new Set([
  'invalidPhone',
  'invalidUrl',
  'noPicture',
  'unknownCountry',
  'placeholderValue',
  'formulaLike',
  'uncertainName',
  'tooFewCells',
  'foldedInto',
  'leftInFolding',
  'ambiguousDate',
  'unknownOwner',
]);

/** Whether an issue keeps its row out until a person decides; the others only say something about it. */
export function holdsRow(issue: Issue): boolean {
  if (issue.code === 'uniqueClash') return issue.refused;
  return !CELL_WARNINGS.has(issue.code);
}
