import { conflict, declareRefusals, forbidden, invalid, missing } from '../../http/refusal';
import { sayConditionFault, type ConditionFault } from '@gray-loom/core/segments';

interface Named {
  name: string;
}

/** What stands against a connection, or against running it. */
export const refuse = declareRefusals({
  noSuchConnection: missing('There is no such connection. It may have been removed.'),
  noSuchHook: missing('There is nothing at this address.'),
  /** The steps of a test are worded where the other side answered. */
  connectionFails: invalid(
    ({ text }: { text: string | null; step?: string; field?: string }) => text ?? 'The connection does not work.',
  ),
  settingMissing: invalid(
    ({ label }: { label: string; field: string }) => `Give the ${label.charAt(0).toLowerCase()}${label.slice(1)}.`,
  ),
  toolTrouble: conflict(({ text }: { kind: string; text: string }) => text),
  nameTaken: conflict(
    ({ name }: Named & { field: 'name' }) =>
      `There is a connection called "${name}" already. Say in the name what differs.`,
  ),
  sameBook: conflict(
    ({ name, isStopped }: Named & { connectionId: number; isStopped: boolean }) =>
      `"${name}" is connected to this very book already${isStopped ? ', and was stopped' : ''}. Two connections to one book answer for the same records twice.`,
  ),
  needsTrial: conflict('Try it first: its set-up was never tried, or was changed since its last trial.'),
  runs: conflict(({ name, waits }: Named & { runId: number; waits: boolean }) =>
    waits
      ? `A run of ${name} waits for your decision. Let it go on, or end it first.`
      : `${name} runs already. Wait until it is done, or stop it.`,
  ),
  falseCall: forbidden(({ text }: { text: string }) => `The call is not believed. ${text}`),
  noResults: conflict(({ name }: Named) => `Nothing comes back from ${name}: it keeps people only.`),
  noCallNext: conflict(({ name }: Named) => `${name} keeps no list of who is called next.`),
  noSignedCalls: conflict(({ name }: Named) => `${name} cannot be told to call; give it the address by hand.`),
  noNewFields: conflict(
    ({ name }: Named) => `${name} lets no fields be made from here. Make it there, then fetch its fields again.`,
  ),
  noOptions: invalid<{ field: 'options' }>('A choice has options. Say which, parted by semicolons.'),
  notThere: conflict(({ name }: Named) => `This contact has no record in ${name} yet. Send it there first.`),
  noSuchContact: missing('There is no such contact, or it is deleted.'),
  noSuchList: missing('There is no such list in the table of this connection any more.'),
  notCalled: conflict(({ name }: Named) => `${name} does not put this person on its list.`),
  wantsNoCalls: conflict('This person wants no calls. Nobody was put on the list.'),
  noSuchResult: missing('This is settled already, or was never here.'),
  stopped: conflict(({ name }: Named) => `${name} was stopped. Take it up again first.`),
});

interface Line {
  line: string;
}

/** What stands against a set-up. */
export const refuseSetup = declareRefusals({
  noSuchOutsideField: invalid(
    ({ outside }: Line & { outside: string }) =>
      `The other side has no field "${outside}". Fetch its fields again, or take the line out.`,
  ),
  fixedLabels: invalid<Line>('A fixed value goes into a field, not into labels.'),
  noSuchField: invalid(
    ({ field }: Line & { field: string }) => `There is no field "${field}" here any more. Take the line out.`,
  ),
  notSynced: invalid(
    ({ name, type }: Line & Named & { type: string }) =>
      `${name} is a ${type} and cannot be kept in step with a text over there.`,
  ),
  twoIntoOne: invalid(({ name, where }: Line & Named & { where: 'here' | 'there' }) =>
    where === 'there'
      ? `${name} over there is written by two lines. Let one of them come in only, or take it out.`
      : `${name} here is written by two lines. Let one of them go out only, or take it out.`,
  ),
  noLabel: invalid<{ scope: string }>('Say which label.'),
  noSuchSegment: invalid<{ list: string }>(
    'There is no such segment any more, or it asks for a value. Choose another one, or take the list out.',
  ),
  noTag: invalid<{ list: string }>('Say which tag the list gives.'),
  listTwice: invalid(
    ({ label }: { list: string; label: string }) => `"${label}" stands in the table twice. One list has one line.`,
  ),
  listIsStage: invalid(
    ({ label }: { list: string; label: string }) => `"${label}" stands for a stage already. Choose another list.`,
  ),
  noLists: invalid<{ list: string }>('This tool keeps no lists.'),
  badCondition: invalid((fault: ConditionFault) => `Who takes part: ${sayConditionFault(fault)}`),
});

/** What stands against settling a question. */
export const refuseSettling = declareRefusals({
  settled: conflict('This is settled already, by somebody else or since both sides agree now.'),
  noLine: conflict('The line of the mapping is gone, so there is nothing to settle.'),
  noLink: conflict('The two are no longer in step, so there is nothing to settle.'),
  waitsNoMore: conflict('This contact does not wait for that address any more. Look at the list again.'),
  whoFirst: conflict('Somebody over there has that address and is asked about. Say who that is first.'),
  moved: conflict('One of the two values was changed since you saw it, so nothing was settled. Look at both again.'),
  unreadable: invalid(
    ({ name }: Named) => `What stands there cannot be read as ${name}. Type the right value instead.`,
  ),
  unreadableText: invalid(
    ({ text, name }: Named & { text: string; field: 'text' }) => `"${text}" is no ${name.toLowerCase()}.`,
  ),
  nothingTyped: invalid<{ field: 'text' }>('Type the value that is right.'),
  noWay: invalid(({ question }: { question: 'value' | 'who' | 'second' | 'removal' | 'list' }) => {
    const words = {
      value: 'Take one of the values, both, or type one.',
      who: 'Say who it is, that it is somebody new, or leave it out.',
      second: 'Remove the second record over there, or leave it there.',
      removal: 'Remove the record over there, leave it there, or bring the contact back.',
      list: 'Put the list right, or leave it as it is over there.',
    };
    return words[question];
  }),
  oneValue: invalid(({ name }: Named) => `${name} has one value. Take one of the two, or type one.`),
  otherCount: conflict(
    ({ count }: { count: number }) => `There are ${count} of them by now, so nothing was settled. Look at them again.`,
  ),
  notDeleted: conflict('The contact is not deleted here, so there is nothing to bring back. Run the sync.'),
  noContact: invalid('Choose who it is.'),
  linkedAlready: conflict(
    'This contact is in step with another record over there. Remove one of the two over there, or leave this one out.',
  ),
  notRemoved: conflict(
    ({ text }: { text: string | null }) =>
      `It was not removed over there: ${text ?? 'no answer'} Run the sync, then decide again.`,
  ),
});
