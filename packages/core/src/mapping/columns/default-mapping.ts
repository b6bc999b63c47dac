import type { FieldDefinition } from '../../fields';
import { opportunityHeading, readHeader } from '../../formats';
import { isActivityTarget } from '../rows/activity-cells';
import { activityKindOf } from './activity-columns';
import { isOpportunityTarget } from '../rows/opportunity-cells';
import { fileCountry } from './file-country';
import type { ColumnGuess } from './guess-columns';
import { putsZerosBack } from './lost-zeros';
import type { ColumnMapping, Mapping } from '../mapping';
import { mappingTargets } from '../targets';
import type { Transform } from '../rows/transform';

/** Guesses below this are shown but not taken. */
const TAKE_FROM01 = 0.5;

/** In a table with opportunities, currency and owner are theirs. */
function besideOpportunity({ field, header }: ColumnGuess): string | null {
  if (field !== null || !header) return null;
  const role = opportunityHeading(header)?.role;
  if (role === 'currency') return 'opportunityCurrency';
  return role === 'owner' || readHeader(header).target === 'owner' ? 'opportunityOwner' : null;
}

/** Meanings whose cells are words; of the others, broken letters are none. */
const NO_WORDS: ReadonlySet<string> = new Set(
  'email tel bday anniversary postalCode tz opportunityValue opportunityCloseDate opportunityCurrency activityAmount activityDate activityQuantity'.split(
    ' ',
  ),
);

/** What is done to the cells of a column before they are read. Where letters are broken in one column they may be in each. */
function stepsOf(guess: ColumnGuess, country: string, isBroken: boolean): Pick<ColumnMapping, 'transforms'> {
  const { field, brokenLetters } = guess;
  const mends = brokenLetters !== undefined || (isBroken && field !== null && !NO_WORDS.has(field));
  const steps: Transform[] = [...(mends ? [{ kind: 'letters' as const }] : []), ...ownSteps(guess, country)];
  return steps.length ? { transforms: steps } : {};
}

function ownSteps({ joined, yesNo, zeros }: ColumnGuess, country: string): Transform[] {
  if (zeros && putsZerosBack(zeros, country)) return [{ kind: 'zeros', places: zeros.places }];
  if (joined !== undefined) return [{ kind: 'join', column: joined, with: ' ' }];
  if (!yesNo) return [];
  const [yes, no] = yesNo;
  return [
    {
      kind: 'values',
      pairs: [
        [yes, 'yes'],
        [no, 'no'],
      ],
    },
  ];
}

/**
 * The mapping that a file starts with: every guess that is sure enough, the rest left out. `country` is where phones are from
 * unless they show another.
 */
export function defaultMapping(
  guesses: readonly ColumnGuess[],
  country: string,
  custom: readonly FieldDefinition[] = [],
): Mapping {
  const known = new Set(mappingTargets(custom).map((target) => target.key));
  const from = fileCountry(guesses, country);
  const isBroken = guesses.some(({ brokenLetters }) => brokenLetters !== undefined);
  const hasOpportunities = guesses.some(({ field }) => isOpportunityTarget(field));
  const hasActivities = guesses.some(({ field }) => isActivityTarget(field));
  return {
    columns: guesses.flatMap((guess): ColumnMapping[] => {
      const column: ColumnMapping = {
        column: guess.index,
        header: guess.header,
        target:
          guess.field && known.has(guess.field) && guess.certainty01 >= TAKE_FROM01
            ? guess.field
            : hasOpportunities
              ? besideOpportunity(guess)
              : null,
        label: guess.label,
        ...(guess.nth ? { nth: guess.nth } : {}),
        ...(guess.labelFrom === undefined ? {} : { labelFrom: guess.labelFrom }),
        ...stepsOf(guess, from, isBroken),
        ...(guess.wholeAddress ? { wholeAddress: true } : {}),
        dateOrder: guess.dateOrder,
        ...(guess.nameOrder ? { nameOrder: guess.nameOrder } : {}),
        ...(guess.letterTitles ? { letterTitles: guess.letterTitles } : {}),
        decimal: guess.decimal,
        separator: guess.separator,
        newField: null,
        onBad: 'hold',
      };
      const others = column.target === guess.field ? (guess.also ?? []) : [];
      return [column, ...others.map((target) => ({ ...column, target }))];
    }),
    wholeFile: { tags: [], source: null, stage: null, owner: null },
    ...(hasActivities ? { activityKind: activityKindOf(guesses.map(({ header }) => header)) } : {}),
    allowNew: true,
    allowChange: true,
    writeRule: 'fill',
    recognise: ['externalId', 'email', 'tel', 'name'],
    country: from,
  };
}
