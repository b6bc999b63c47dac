import { countryName, type DateOrder, type FieldType, type NameOrder } from '@gray-loom/core/fields';
import type { ColumnMapping } from '@gray-loom/core/mapping';

const ORDERS: { value: DateOrder; text: string }[] = [
  { value: 'iso', text: 'year, month, day' },
  { value: 'dayFirst', text: 'day, month, year' },
  { value: 'monthFirst', text: 'month, day, year' },
  { value: 'serial', text: 'day numbers' },
];
const DATES: readonly (FieldType | undefined)[] = ['date', 'partialDate'];

/** What tags in one cell are parted by. */
const MARKS: readonly (readonly [mark: string, text: string])[] = [
  [';', 'semicolons'],
  [',', 'commas'],
  ['|', 'bars'],
  ['/', 'strokes'],
  ['\n', 'lines'],
];

const letters = (titles: string) => [...titles].map((letter) => `${letter.toUpperCase()}.`).join(', ');

interface HowItReadsProps {
  column: ColumnMapping;
  type: FieldType | undefined;
  /** Country (ISO 3166-1 alpha-2) that numbers without a code are of. */
  country: string;
  locked: boolean;
  onChange: (column: ColumnMapping) => void;
}

/** How the cells of a column are read where one text may mean several things: order of names and days, marks, country. */
export function HowItReads({ column, type, country, locked, onChange }: HowItReadsProps) {
  return (
    <>
      {column.target === 'fullName' ? (
        <select
          aria-label="Order of names"
          disabled={locked}
          className="max-w-44 bg-transparent"
          value={column.nameOrder ?? 'givenFirst'}
          onChange={(event) => onChange({ ...column, nameOrder: event.target.value as NameOrder })}
        >
          <option value="givenFirst">split: given name first</option>
          <option value="familyFirst">split: family name first</option>
          <option value="twoFamilies">split: two family names</option>
        </select>
      ) : null}
      {column.target === 'fullName' && column.letterTitles !== undefined ? (
        <select
          aria-label="What a letter before a name is"
          disabled={locked}
          className="max-w-44 bg-transparent"
          value={column.letterTitles}
          onChange={(event) => onChange({ ...column, letterTitles: event.target.value })}
        >
          <option value={column.letterTitles || 'mdg'}>
            {letters(column.letterTitles || 'mdg')} in front: a title
          </option>
          <option value="">a letter in front: an initial</option>
        </select>
      ) : null}
      {column.target === 'street' ? (
        <select
          aria-label="What stands in a cell of the address"
          disabled={locked}
          className="max-w-44 bg-transparent"
          value={column.wholeAddress ? 'whole' : 'street'}
          onChange={(event) => onChange({ ...column, wholeAddress: event.target.value === 'whole' })}
        >
          <option value="street">the street alone</option>
          <option value="whole">split: street, town, code</option>
        </select>
      ) : null}
      {type && DATES.includes(type) ? (
        <select
          aria-label="Order of day and month"
          disabled={locked}
          className="bg-transparent"
          value={column.dateOrder}
          onChange={(event) => onChange({ ...column, dateOrder: event.target.value as DateOrder })}
        >
          {ORDERS.map(({ value, text }) => (
            <option key={value} value={value}>
              {text}
            </option>
          ))}
        </select>
      ) : null}
      {column.target === 'tags' ? (
        <select
          aria-label="What tags are parted by"
          disabled={locked}
          className="bg-transparent"
          value={column.separator ?? ';'}
          onChange={(event) => onChange({ ...column, separator: event.target.value })}
        >
          {MARKS.map(([mark, text]) => (
            <option key={mark} value={mark}>
              split at {text}
            </option>
          ))}
        </select>
      ) : null}
      {column.target === 'tel' ? (
        <div
          className="whitespace-nowrap"
          title="Numbers that do not begin with the code of a country; set under Whole file"
        >
          without code: {countryName(country)}
        </div>
      ) : null}
    </>
  );
}
