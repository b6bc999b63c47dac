import {
  getCountries,
  getCountryCallingCode,
  isSupportedCountry,
  Metadata,
  type CountryCode,
} from 'libphonenumber-js/min';

/** What of a country's numbering plan is needed to tell a plain number of it. */
interface Plan {
  code: string;
  /** Whether other countries have the code as well; the library says whose a number is, by more than is looked at here. */
  isShared: boolean;
  /** Digits of national numbers, which numbers of all countries with the code may have. */
  lengths: ReadonlySet<number>;
  /** A whole national number. */
  whole: RegExp;
  /** What is dialled before a national number, if anything. */
  prefix: RegExp | null;
  /** What is dialled before the code of another country. */
  abroad: RegExp | null;
  /** How its numbers are grouped when written with the code; null where countries that share the code do not agree. */
  groupings: readonly Grouping[] | null;
}

interface Grouping {
  /** Begins of the numbers it is for. */
  begins: RegExp | null;
  whole: RegExp;
  /** What takes the place of the number, as replace() takes it. */
  written: string;
}

/** As the library keeps plans; its declarations leave most of them out. */
interface KeptPlans {
  selectNumberingPlan(country: string): void;
  /** The largest country that has the code comes first. */
  getCountryCodesForCallingCode(code: string): string[];
  numberingPlan: {
    IDDPrefix(): string | undefined;
    nationalNumberPattern(): string;
    nationalPrefixForParsing(): string | undefined;
    possibleLengths(): number[] | undefined;
    formats(): { pattern(): string; leadingDigitsPatterns(): string[]; internationalFormat(): string }[];
  };
}

const codes = new Set<string>(getCountries().map((country) => getCountryCallingCode(country)));
const plans = new Map<string, Plan | null>();

/** The plan of a country (ISO 3166-1 alpha-2); null for one that is not known. */
function planOf(country: string): Plan | null {
  const known = plans.get(country);
  if (known !== undefined) return known;
  const plan = isSupportedCountry(country) ? readPlan(country) : null;
  plans.set(country, plan);
  return plan;
}

function readPlan(country: CountryCode): Plan {
  const kept = new Metadata() as unknown as KeptPlans;
  const code: string = getCountryCallingCode(country);
  const sharing = kept.getCountryCodesForCallingCode(code).map((one) => {
    kept.selectNumberingPlan(one);
    return { lengths: kept.numberingPlan.possibleLengths() ?? [], groupings: groupingsOf(kept.numberingPlan) };
  });
  kept.selectNumberingPlan(country);
  const { numberingPlan } = kept;
  const [prefix, abroad] = [numberingPlan.nationalPrefixForParsing(), numberingPlan.IDDPrefix()];
  return {
    code,
    isShared: sharing.length > 1,
    lengths: new Set(
      numberingPlan.possibleLengths()?.filter((length) => sharing.every(({ lengths }) => lengths.includes(length))),
    ),
    whole: new RegExp(`^(?:${numberingPlan.nationalNumberPattern()})$`),
    prefix: prefix ? new RegExp(`^(?:${prefix})`) : null,
    abroad: abroad ? new RegExp(`^(?:${abroad})`) : null,
    groupings:
      new Set(sharing.map(({ groupings }) => textOf(groupings))).size === 1 ? groupingsOf(numberingPlan) : null,
  };
}

function groupingsOf(plan: KeptPlans['numberingPlan']): Grouping[] {
  return plan.formats().map((format) => {
    const begins = format.leadingDigitsPatterns().at(-1);
    return {
      begins: begins ? new RegExp(`^(?:${begins})`) : null,
      whole: new RegExp(`^(?:${format.pattern()})$`),
      written: format.internationalFormat(),
    };
  });
}

const textOf = (groupings: readonly Grouping[]) =>
  groupings.map(({ begins, whole, written }) => `${begins?.source} ${whole.source} ${written}`).join('\n');

/** The plan by which numbers with a code are read: that of the largest country. */
function planOfCode(code: string): Plan | null {
  const [country = ''] = (new Metadata() as unknown as KeptPlans).getCountryCodesForCallingCode(code);
  return planOf(country);
}

const plansOfCodes = new Map<string, Plan | null>();

/** The plan of a number with its code, and where the national number begins; null where there is no such code. */
function planFor(international: string): { plan: Plan; at: number } | null {
  for (let at = 2; at <= 4; at++) {
    const code = international.slice(1, at);
    if (!codes.has(code)) continue;
    let plan = plansOfCodes.get(code);
    if (plan === undefined) plansOfCodes.set(code, (plan = planOfCode(code)));
    return plan && { plan, at };
  }
  return null;
}

/**
 * The E.164 form of a number that is written with a country's code, and with nothing that is dialled within the country only.
 * Null where it takes more than a look at the plan. Law: what it says, the library says.
 */
export function plainInternational(digits: string): string | null {
  const found = planFor(digits);
  if (!found) return null;
  const number = digits.slice(found.at);
  return found.plan.lengths.has(number.length) && !found.plan.prefix?.test(number) ? digits : null;
}

/** Such a number as it is written for reading ("+33 4 65 71 01 00"), with the same law. */
export function groupedInternational(e164: string): string | null {
  const found = plainInternational(e164) === null ? null : planFor(e164);
  if (!found?.plan.groupings) return null;
  const number = e164.slice(found.at);
  for (const { begins, whole, written } of found.plan.groupings)
    if ((!begins || begins.test(number)) && whole.test(number))
      return `+${found.plan.code} ${number.replace(whole, written).replace(/\D+/g, ' ').trim()}`;
  return `+${found.plan.code} ${number}`;
}

/** The same of the digits of a number as it is dialled within a country. */
export function plainNational(digits: string, country: string): string | null {
  const plan = planOf(country);
  if (!plan || plan.abroad?.test(digits) || (plan.isShared && !digits.startsWith('0'))) return null;
  const prefix = plan.prefix?.exec(digits);
  // What is more than a prefix is put together anew by the library.
  if (prefix && prefix.length > 1) return null;
  const number = digits.slice(prefix?.[0].length ?? 0);
  return plan.whole.test(number) && plan.lengths.has(number.length) ? `+${plan.code}${number}` : null;
}
