import type { Issue } from './issue';

function quote(value: string): string {
  const flat = value.replace(/\s+/g, ' ').trim();
  return `'${flat.length > 60 ? `${flat.slice(0, 59)}…` : flat}'`;
}

function megabytes(bytes: number): string {
  return `${(bytes / 1_048_576).toFixed(bytes < 10_485_760 ? 1 : 0)} MB`;
}

const MEND = 'The row is held; mend it in Held rows.';
/** What somebody may be, by the channel. */
const REACHED: Readonly<Record<string, string>> = {
  email: 'e-mailed',
  text: 'sent texts',
  call: 'called',
  voicemail: 'left voicemail',
  post: 'sent letters',
};

const cells = (n: number) => (n === 1 ? 'one cell' : `${n.toLocaleString('en-GB')} cells`);

/** A day (ISO 8601) in words: "3 May 2026". */
function longDay(day: string): string {
  const [year, month, date] = day.split('-').map(Number);
  return new Date(Date.UTC(year ?? 0, (month ?? 1) - 1, date)).toLocaleDateString('en-GB', {
    dateStyle: 'long',
    timeZone: 'UTC',
  });
}

function body(issue: Issue): string {
  switch (issue.code) {
    case 'emptyFile':
      return 'The file is empty. Nothing was taken in; choose another file.';
    case 'notATable':
      return (
        `This is ${issue.kind}, not a table of contacts, whatever its name says. Nothing was taken ` +
        `in; save the list as delimited text (CSV) and choose that.`
      );
    case 'fileTooLarge':
      return (
        `The file has ${megabytes(issue.bytes)}; at most ${megabytes(issue.limitBytes)} can be read at ` +
        `once. Nothing was taken in; split it and bring in the parts.`
      );
    case 'uploadCutOff':
      return (
        `Only ${issue.receivedBytes.toLocaleString('en-GB')} of ${issue.declaredBytes.toLocaleString('en-GB')} ` +
        `bytes arrived. Nothing was taken in; choose the file again.`
      );
    case 'noDataRows':
      return 'There is a heading but no row below it. Nothing was taken in; check that the list was saved whole.';
    case 'onlyOneColumn':
      return 'No delimiter was found, so each line is one column. If the file has several, choose the delimiter.';
    case 'unclosedQuote':
      return (
        `A quotation mark in line ${issue.line.toLocaleString('en-GB')} of the file is opened and never closed. ` +
        'The line is read without it, and the lines below as they stand; look at its row.'
      );
    case 'undecodable':
      return `Some characters cannot be read as ${issue.encoding}. Choose another encoding.`;
    case 'repeatedHeading':
      return 'The row repeats the heading. The row is held; drop it in Held rows if it is no person.';
    case 'nulBytes':
      return 'The file holds zero bytes (NUL), which say nothing in a text; they were left out.';
    case 'invalidEmail': {
      const why = {
        noAt: 'has no @',
        noDomainEnding: 'has no domain ending such as .org',
        blankInside: 'has a blank inside',
        malformed: 'is not an e-mail address',
      }[issue.why];
      return `${quote(issue.value)} ${why}${issue.meant ? `; perhaps ${issue.meant} is meant` : ''}. ${MEND}`;
    }
    case 'invalidPhone':
      return `${quote(issue.value)} is not a number that can be dialled; it is kept as written and marked.`;
    case 'lossyPhone':
      return `${quote(issue.value)} has lost digits in a spreadsheet. ${MEND}`;
    case 'invalidDate': {
      const why = {
        noSuchDay: 'is a day that does not exist',
        notADate: 'is not a date',
        noSuchSerial: 'is not a day number of a spreadsheet',
        notYet: 'is a day that is still to come',
      }[issue.why];
      return `${quote(issue.value)} ${why}. ${MEND}`;
    }
    case 'ambiguousDate':
      return `${quote(issue.value)} can be read with the day or the month first; the column's order was used.`;
    case 'invalidNumber':
      return `${quote(issue.value)} is not a number. ${MEND}`;
    case 'noPicture':
      return 'This is no picture that was kept. Pictures come in with cards (vCard); the cell is left out.';
    case 'unreadableCard': {
      const where = issue.line ? `, which begins in line ${issue.line.toLocaleString('en-GB')},` : '';
      return `Card ${issue.row}${where} cannot be read: ${issue.why}. Its text is kept in its row, which is held.`;
    }
    case 'invalidRange':
      return `${quote(issue.value)} is not a range of numbers; write it as 12 to 16, from 12, or up to 16. ${MEND}`;
    case 'dateWithoutYear':
      return `${quote(issue.value)} has no year. ${MEND}`;
    case 'unclearPermission':
      return `${quote(issue.value)} does not say whether somebody may be contacted, and that is not guessed. ${MEND}`;
    case 'invalidYesNo':
      return `${quote(issue.value)} is neither yes nor no. ${MEND}`;
    case 'invalidUrl':
      return `${quote(issue.value)} is not a web address; it is kept as written.`;
    case 'unknownChoice':
      return `${quote(issue.value)} is not one of ${issue.choices.slice(0, 6).join(', ')}. ${MEND}`;
    case 'unknownOwner':
      return `${quote(issue.value)} is no account here. Say who that is; until then the owner stands as written.`;
    case 'unknownStage':
      return `There is no stage ${quote(issue.value)}; the stages are ${issue.stages.join(', ')}. ${MEND}`;
    case 'unknownCountry':
      return `${quote(issue.value)} is not a known country; it is kept as written.`;
    case 'placeholderValue':
      return `${quote(issue.value)} looks like a stand-in for "not known"; it is left out.`;
    case 'formulaLike':
      return `${quote(issue.value)} looks like a spreadsheet formula; it is kept as text and made harmless when it goes out.`;
    case 'valueTooLong':
      return `The cell has ${issue.length.toLocaleString('en-GB')} characters; at most ${issue.limit.toLocaleString('en-GB')} fit. ${MEND}`;
    case 'noIdentity':
      return `There is neither an e-mail, an outside id nor a whole name, so nobody could be told by it. ${MEND}`;
    case 'notAPerson':
      return `${quote(issue.value)} is no name of a person. ${MEND}`;
    case 'twoPeople':
      return `${quote(issue.value)} names more than one person. The row is held; say in Held rows who of them it is, or let both in.`;
    case 'uncertainName':
      return `${quote(issue.value)} can be split in more than one way; check it.`;
    case 'tooManyCells':
      return `The row has ${cells(issue.found)} for ${issue.expected} columns, so values may stand in the wrong place. ${MEND}`;
    case 'tooFewCells':
      return `The row has ${cells(issue.found)} of ${issue.expected}; the rest counts as empty.`;
    case 'foldedInto':
      return `The same person as row ${issue.row.toLocaleString('en-GB')}; the two rows became one contact.`;
    case 'repeatsHeldRow':
      return `The same person as row ${issue.row.toLocaleString('en-GB')}, which is held. Mend that one first, or let this one in by itself.`;
    case 'contactGone':
      return 'The contact that the row is for was deleted while the file came in. The row is held; let it in as somebody new, or drop it, in Held rows.';
    case 'repeatSaysMore':
      return (
        `The row is of the same person as row ${issue.row} and says ${quote(issue.value)}, where a contact has one value. It is held, so that ` +
        'nothing is dropped: let it in as a contact of its own, change the cell, or leave it here until there is a place for both.'
      );
    case 'leftInFolding':
      return `${quote(issue.value)} is left out: row ${issue.row} of the same person says something else, and a contact has one value.`;
    case 'conflictingRepeat':
      return `Row ${issue.row.toLocaleString('en-GB')} says ${quote(issue.other)} for the same person, this one ${quote(issue.value)}. ${MEND}`;
    case 'sharedIdentifier':
      return `${quote(issue.value)} belongs to somebody here with another name. The row is held; say in Held rows whether it is the same person.`;
    case 'severalMatches':
      return `The row fits ${issue.contactIds.length} contacts. It is held; choose one in Held rows.`;
    case 'likelyMatch':
      return (
        `${issue.contactIds.length === 1 ? 'Somebody here is' : `${issue.contactIds.length} people here are`} likely ` +
        `the same person, though not for certain. The row is held; say in Held rows who it is.`
      );
    case 'wasDeleted':
      return (
        `This person was here, and was deleted${issue.by ? ` by ${issue.by}` : ''} on ${longDay(issue.on)}. ` +
        `The row is held; bring them back, or let it in as somebody new.`
      );
    case 'wasErased':
      return (
        `This person was erased on request on ${longDay(issue.on)}, and is kept out until an administrator lifts that ` +
        `under Settings, Erased people. The row is held; drop it in Held rows.`
      );
    case 'uniqueClash': {
      const who =
        issue.contactIds.length === 1 ? 'another contact has' : `${issue.contactIds.length} other contacts have`;
      return issue.refused
        ? `${quote(issue.value)} may stand with one contact only, and ${who} it. The row is held; choose in Held rows who it is.`
        : `${quote(issue.value)} should stand with one contact only, and ${who} it.`;
    }
    case 'wouldReplace':
      return `${quote(issue.before)} stands there, the file says ${quote(issue.value)}, and you wanted to be asked. The row is held.`;
    case 'wouldAllow':
      return (
        `The row says that this person may be ${REACHED[issue.channel] ?? 'written to'}; they said stop on ${longDay(issue.on)}, and a file ` +
        `lifts no stop. The row is held; say in Held rows that it is them, and it counts as your word.`
      );
    case 'heldByHand':
      return 'You held this row at the trial.';
    case 'settledBefore':
      return `Row ${issue.row} of that import was let in, dropped or brought back before. This one is held, so that nobody comes in twice.`;
    case 'outsideRemit':
      return 'This row is about somebody outside your remit. The row is held for somebody who sees everybody.';
    case 'newOutsideRemit':
      return 'Whoever this row makes would be outside your remit. The row is held; give it an owner, source, tag or address within it.';
    case 'newNotAllowed':
      return 'Nobody here fits this row, and the import may not bring new people. The row is held.';
    case 'changeNotAllowed':
      return 'This person is here already, and the import may not touch people who are here. The row is held.';
    default: {
      const never: never = issue;
      throw new Error(`every issue code has its sentence: ${JSON.stringify(never)}`);
    }
  }
}

/** What a sentence says of what happens next: that the row is held, nothing (on the page of held rows), or that an entry was not kept. */
export type IssueNext = 'rowHeld' | 'unsaid' | 'nothingChanged';

const NEXT_WORDS: { readonly [N in Exclude<IssueNext, 'rowHeld'>]: string } = {
  unsaid: '',
  nothingChanged: ' Nothing was changed.',
};

/** The one place in which an issue becomes a sentence: where, what was found, what was expected, what happens next. */
export function wordIssue(issue: Issue, next: IssueNext = 'rowHeld'): string {
  const { row, name } = issue.path;
  const where = [row === undefined ? '' : `Row ${row.toLocaleString('en-GB')}`, name ?? ''].filter(Boolean).join(', ');
  const sentence = where ? `${where}: ${body(issue)}` : body(issue);
  return next === 'rowHeld' ? sentence : sentence.replace(/ (?:The row|It) is held.*$/, NEXT_WORDS[next]);
}
