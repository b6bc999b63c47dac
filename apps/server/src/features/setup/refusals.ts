import { conflict, declareRefusals, invalid, missing } from '../../http/refusal';

export const refuse = declareRefusals({
  weights: invalid(({ fault }: { field: 'weights'; fault: string }) => fault),
  noSuchReader: missing('Nobody of this name reads the feed of changes.'),
  noSuchField: missing('There is no such field.'),
});

export const refuseField = declareRefusals({
  nameTaken: conflict(
    ({ name, retired }: { field: 'name'; name: string; retired?: boolean | undefined }) =>
      `There is a field '${name}' already${retired ? ' (retired; bring it back instead)' : ''}. Choose another name.`,
  ),
  nearMiss: conflict(
    ({ name, like }: { field: 'name'; name: string; like: string }) =>
      `There is a field '${like}'. Use that one, or make '${name}' beside it.`,
  ),
  nearChoice: conflict(
    ({ name, like }: { field: 'choices'; name: string; like: string }) =>
      `There is a choice '${like}'. Use that one, or add '${name}' beside it.`,
  ),
  choiceInUse: conflict(
    ({ name, count }: { field: 'choices'; name: string; count: number }) =>
      `${count} ${count === 1 ? 'contact has' : 'contacts have'} '${name}'. Merge it into another choice instead.`,
  ),
  noChoices: invalid<{ field: 'choices' }>('Name at least one choice.'),
  standardField: conflict(
    ({ name }: { name: string }) => `${name} is a standard field; its name and type stay as they are.`,
  ),
  standardType: conflict('The type of a standard field stays as it is.'),
  notUnique: invalid(({ type }: { type: string }) => `A field of type ${type} cannot be asked to be unique.`),
  noSuchType: invalid('A field cannot be of that type.'),
  importRunning: conflict(
    ({ title }: { title: string }) =>
      `"${title}" is running and reads values of this field. Wait until it is done, or stop it; nothing was changed.`,
  ),
});

export const refuseGiving = declareRefusals({
  noSuchAccount: conflict(
    ({ name }: { name: string }) =>
      `${name || 'An account of the list'} cannot be given contacts any more. Take it out.`,
  ),
  nobodyInTurn: conflict(
    'Nobody is there to give contacts to. Say who takes turns, or who has which area, under Settings, People.',
  ),
});

interface Pick {
  kind: string;
  label: string;
}

export const refusePick = declareRefusals({
  nameTaken: conflict(({ kind, label }: Pick & { field: 'label' }) => `There is a ${kind} '${label}' already.`),
  nearMiss: conflict(
    ({ kind, label, like }: Pick & { field: 'label'; like: string }) =>
      `There is a ${kind} '${like}'. Use that one, or make '${label}' beside it.`,
  ),
  intoTaken: conflict(
    ({ kind, label }: Pick & { field: 'into' }) => `There is a ${kind} '${label}'; merge into that one.`,
  ),
  noSuchPick: missing(({ kind, label }: Pick) => `There is no ${kind} '${label}' any more.`),
  inUse: conflict(
    ({ kind, label, count }: Pick & { count: number }) =>
      `${count} ${count === 1 ? 'contact has' : 'contacts have'} the ${kind} '${label}'. Merge it into another one instead.`,
  ),
  inRemit: conflict(
    ({ label, into, account }: { label: string; into: string; account: string }) =>
      `What ${account} sees goes by '${label}'. Once it is '${into}', ${account} also sees everybody else with '${into}'. ` +
      `Change that under Settings, People first, or merge all the same.`,
  ),
  sameValue: invalid('Choose two different values.'),
  noSuchList: missing('There is no such list.'),
});

export const refuseArea = declareRefusals({
  nameTaken: invalid(({ name }: { name: string }) => `Two areas are called '${name}'.`),
  emptyRule: invalid(
    ({ name }: { name: string }) =>
      `A line of '${name}' says neither country, region nor postal code; it would fit nobody.`,
  ),
});
