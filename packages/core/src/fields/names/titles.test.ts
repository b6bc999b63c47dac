import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { letterTitlesIn } from './letter-titles';
import { electOrder, nameVotes } from './name-order';
import { joinName, splitName } from './person-name';

const parts = (text: string, letters?: string) => {
  const { name } = splitName(text, undefined, letters);
  return [name.prefix, name.givenName, name.additionalNames, name.familyName, name.suffix].join('|');
};

describe('titles before a name, wherever it is from', () => {
  test.each([
    ['Bay Ömer Yıldız', 'Bay|Ömer||Yıldız|'],
    ['Bay Yıldız', '|Bay||Yıldız|'],
    ['Fröken Karin Ek', 'Fröken|Karin||Ek|'],
    ['Rouva Aino Virtanen', 'Rouva|Aino||Virtanen|'],
    ['Dra. Ana Reis', 'Dra.|Ana||Reis|'],
    ['D.ª Ana Ruiz', 'D.ª|Ana||Ruiz|'],
    ['Exmo. Sr. João Reis', 'Exmo. Sr.|João||Reis|'],
    ['Eng. João Reis', 'Eng.|João||Reis|'],
    ['Eng Wei Ming', '|Eng|Wei|Ming|'],
    ['Sig.ra Anna Galli', 'Sig.ra|Anna||Galli|'],
    ['Doamna Ana Popa', 'Doamna|Ana||Popa|'],
    ['Gđa Ana Horvat', 'Gđa|Ana||Horvat|'],
    ['г-н Иван Петров', 'г-н|Иван||Петров|'],
    ['κ. Νίκος Παπάς', 'κ.|Νίκος||Παπάς|'],
    ["גב' רות כהן", "גב'|רות||כהן|"],
    ['السيدة ليلى علي', 'السيدة|ليلى||علي|'],
    ['श्रीमती सीता शर्मा', 'श्रीमती|सीता||शर्मा|'],
    ['นางสาวสมหญิง ใจดี', 'นางสาว|สมหญิง||ใจดี|'],
    ['Ibu Siti Rahayu', 'Ibu|Siti||Rahayu|'],
    ['De heer Jan Smit', 'De heer|Jan||Smit|'],
    ['Prof. dr hab. Jan Kowalski', 'Prof. dr hab.|Jan||Kowalski|'],
    ['p. Jan Novák', 'p.|Jan||Novák|'],
    ['p. novák', '|p.||novák|'],
    ['p. Jones', '|p.||Jones|'],
    ['P. Jan Novák', '|P.|Jan|Novák|'],
  ])('%s', (text, expected) => expect(parts(text)).toBe(expected));
});

describe('what is said behind a name of East Asia', () => {
  test.each([
    ['田中太郎様', '|太郎||田中|様'],
    ['田中 太郎 様', '|太郎||田中|様'],
    ['田中さん', '|||田中|さん'],
    ['王伟先生', '|伟||王|先生'],
    ['王女士', '|||王|女士'],
    ['김민수님', '|민수||김|님'],
    ['김민수 씨', '|민수||김|씨'],
    ['김씨', '|||김|씨'],
    // A name that ends in the sign itself.
    ['김하님', '|하님||김|'],
  ])('%s', (text, expected) => expect(parts(text)).toBe(expected));
});

describe('letters that are titles in one list and initials in another', () => {
  test.each([
    ['M. beside Mme', ['M. Jean Dupont', 'Mme Anne Roy'], 'm'],
    ['M without a point', ['M Jean Dupont', 'Mlle Anne Roy'], 'm'],
    ['D. beside Dª', ['D. José Ruiz', 'Dª Ana Ruiz'], 'd'],
    ['D. beside Dña.', ['D. José Ruiz', 'Dña. Ana Ruiz'], 'd'],
    ['men alone', ['M. Jean Roy', 'M. Luc Roy', 'M. Guy Roy', 'M. Paul Roy', 'Ana Reis'], 'm'],
    ['G. beside Ga.', ['G. Ivan Horvat', 'Ga. Ana Horvat'], 'g'],
    ['initials', ['M. Jane Smith', 'J. Anne Roy', 'D. Tom Wray', 'K. Ann Lee'], ''],
    ['few of one', ['M. Jane Smith', 'M. Ann Lee', 'Ana Reis'], ''],
    ['a letter and a family name', ['M. Smith', 'Mme Roy'], ''],
    ['none', [], ''],
  ])('%s', (_name, names, expected) => expect(letterTitlesIn(names)).toBe(expected));

  test('are taken from the front only where the list has them', () => {
    expect(parts('M. Jean Dupont', 'm')).toBe('M.|Jean||Dupont|');
    expect(parts('DUPONT Jean', 'm')).toBe('|Jean||Dupont|');
    expect(parts('Sr. D. José Ruiz', 'd')).toBe('Sr. D.|José||Ruiz|');
    expect(parts('Dupont, M. Jean', 'm')).toBe('M.|Jean||Dupont|');
    expect(parts('M. Jean Dupont')).toBe('|M. Jean||Dupont|');
    expect(parts('M. Jean Dupont', 'd')).toBe('|M. Jean||Dupont|');
  });
});

test('no word of a name is lost, whatever titles stand around it', () => {
  const word = fc.constantFrom(
    ...'Bay Fru Dra. D. D.ª M. г-н κ. Ana José Reis Νίκος Иван de van Ruiz Jr. p. heer'.split(' '),
  );
  fc.assert(
    fc.property(
      fc.array(word, { minLength: 1, maxLength: 6 }),
      fc.constantFrom('', 'm', 'd', 'mdg'),
      (all, letters) => {
        const { name, fault } = splitName(all.join(' '), undefined, letters);
        if (fault) return;
        const sorted = (text: string) =>
          text
            .toLowerCase()
            .split(/[\s,]+/)
            .filter(Boolean)
            .sort();
        expect(sorted(joinName(name))).toEqual(sorted(all.join(' ')));
      },
    ),
    { numRuns: 2000 },
  );
});

test('titles say nothing about the order in which a list writes names', () => {
  const votes = nameVotes([
    'Frau Heike Löwe',
    'Dr. Bärbel Weiß',
    'Herr Dr. Wolfgang Brandt',
    'M. Luc Roy',
    'Sören Hansen',
  ]);
  expect(votes.familyFirst).toBe(0);
  expect(electOrder(votes)).toBe('givenFirst');
});
