import { wordTable } from '../../model';
import { countryName, showValue } from '../../fields';
import type { CandidateValue } from '../../writing';
import type { CellReading } from './read-cell';

const PART_WORDS = wordTable({
  prefix: 'title',
  givenName: 'given',
  additionalNames: 'more',
  familyName: 'family',
  suffix: 'suffix',
  nickname: 'called',
});

/** How a cell will look once it is in; the preview's words for what was read. */
export function showReading(target: string | null, { values }: CellReading): string {
  const text = ([field, { v, norm }]: [string, CandidateValue]): string => {
    if (field === 'country') return countryName(String(v));
    return showValue(field, norm === undefined ? { v } : { v, norm });
  };
  if (target === 'fullName') {
    return values
      .filter(([field]) => field !== 'fullName')
      .map((value) => `${PART_WORDS[value[0]] ?? value[0]} ${text(value)}`)
      .join(' · ');
  }
  return values.map(text).join('; ');
}
