import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { foldText } from '../values/fold';
import { isGivenName } from './given-names';
import { electOrder, isInitial, nameVotes, repairCase, writtenFamilyFirst } from './name-order';
import { joinName, splitName } from './person-name';

const inParts = ({ name }: ReturnType<typeof writtenFamilyFirst>) =>
  [name.givenName, name.additionalNames, name.familyName].join('|');

describe('the order in which a list writes names', () => {
  const elected = (...names: string[]) => electOrder(nameVotes(names));
  test.each<[string[], ReturnType<typeof electOrder>]>([
    [['Nagy Éva', 'Kovács János', 'Tóth István Gábor', 'Szabó Anna'], 'familyFirst'],
    [['Иванов Пётр', 'Смирнова Анна', 'Петренко Ольга'], 'familyFirst'],
    [['Пётр Иванов', 'Анна Смирнова', 'Ольга Петренко'], 'givenFirst'],
    [['Сидоров Иван Петрович', 'Орлова Анна Сергеевна', 'Белый Пётр Ильич'], 'familyFirst'],
    [['Tanaka Taro', 'Sato Yuki', 'Suzuki Hanako'], 'familyFirst'],
    [['Taro Tanaka', 'Yuki Sato', 'Hanako Suzuki'], 'givenFirst'],
    [['Wang Xiaoming', 'Li Na', 'Zhang Wei'], 'familyFirst'],
    [['Rossi Mario', 'Bianchi Giulia', 'Esposito Francesca', 'Romano Chiara'], 'familyFirst'],
    [['Smith John', 'Jones Mary Ann', 'Brown David J', 'Clark Emily'], 'familyFirst'],
    [['Ana Reis', 'Tom Okoro', 'Ines Lund'], 'givenFirst'],
  ])('%j begin as %s', (names, order) => expect(elected(...names)).toBe(order));

  test('given names that are family names as well decide nothing', () =>
    expect(elected('Kerra James', 'Wenna Thomas', 'Tegen Martin', 'Lowen Paul')).toBeNull());
  test('a comma, a number, a mailbox and a name alone decide nothing', () =>
    expect(elected('Reis, Ana', 'Anna 3', 'mary@example.org', 'Mary', 'Smith John')).toBeNull());
  test('few that tell do not decide for many that do not', () => {
    const unknown = Array.from({ length: 60 }, (_, i) => `Zeld${'abcdefgh'[i % 8]}k Quorr`);
    expect(elected(...unknown, 'Smith John', 'Jones Mary', 'Brown Anna')).toBeNull();
  });
  test('names of both orders decide nothing', () =>
    expect(elected('Smith John', 'Jones Mary', 'Brown Anna', 'Ana Reis', 'Tom Okoro')).toBeNull());
});

describe('a name written family name first', () => {
  test.each([
    ['Nagy Éva', 'Éva||Nagy'],
    ['Tóth István Gábor', 'István|Gábor|Tóth'],
    ['García Márquez Gabriel', 'Gabriel||García Márquez'],
    ['von der Heide Karl', 'Karl||von der Heide'],
    ['O Hara Tom', 'Tom||O Hara'],
    ['Сидоров Иван Петрович', 'Иван|Петрович|Сидоров'],
    ['Nguyễn Thị Mai', 'Mai|Thị|Nguyễn'],
    ['Wang Xiao Ming', 'Xiao Ming||Wang'],
    ['REIS Ana', 'Ana||Reis'],
    ['DE LA TOUR Jean-Pierre', 'Jean-Pierre||De La Tour'],
    ['Quorr Zeldak', 'Zeldak||Quorr'],
    ['Quorr', '||Quorr'],
  ])('%s is %s', (text, expected) => expect(inParts(writtenFamilyFirst(text.split(' ')))).toBe(expected));

  test('a comma stands above what the list does', () =>
    expect(splitName('Reis, Ana', 'familyFirst').name).toMatchObject({ givenName: 'Ana', familyName: 'Reis' }));
  test('titles, degrees and nicknames are told apart all the same', () =>
    expect(splitName('Dr. Nagy Éva "Vica" PhD', 'familyFirst').name).toEqual({
      prefix: 'Dr.',
      givenName: 'Éva',
      additionalNames: '',
      familyName: 'Nagy',
      suffix: 'PhD',
      nickname: 'Vica',
    }));
});

describe('two family names', () => {
  const split = (text: string) => {
    const { givenName, familyName } = splitName(text, 'twoFamilies').name;
    return `${givenName} | ${familyName}`;
  };
  test.each([
    ['María Rodríguez Vega', 'María | Rodríguez Vega'],
    ['José María García', 'José María | García'],
    ['JOSÉ NÚÑEZ MAS', 'José | Núñez Mas'],
    ['Nuria de la Peña Ruiz', 'Nuria | de la Peña Ruiz'],
    ['Ana María García López', 'Ana María | García López'],
    ['Ana Reis', 'Ana | Reis'],
    ['García López, Ana', 'Ana | García López'],
  ])('%s is %s', (text, parts) => expect(split(text)).toBe(parts));
});

describe('words of a name', () => {
  test.each([
    ['J', true],
    ['J.', true],
    ['J.R.R.', true],
    ['JRR', true],
    ['J-P', true],
    ['Jo', false],
    ['ANA', false],
    ['Ng', false],
  ])('%s is an initial: %s', (token, initial) => expect(isInitial(token)).toBe(initial));

  test.each([
    ['MCDONALD', 'McDonald'],
    ['McDONALD', 'McDonald'],
    ['O’NEAL', 'O’Neal'],
    ['josé maría', 'José María'],
    ['LeBron', 'LeBron'],
    ['ŁUKASZ', 'Łukasz'],
    ['佐藤', '佐藤'],
    ['J', 'J'],
  ])('%s is written %s', (text, mended) => expect(repairCase(text)).toBe(mended));
  test('what is shouted is mended, what is written small stays where that is asked', () => {
    expect(repairCase('DE LA TOUR', { shouted: true })).toBe('De La Tour');
    expect(repairCase('de la tour', { shouted: true })).toBe('de la tour');
  });

  const word = fc.constantFrom(
    ...'Ana Tom REIS van der de y da Éva Wang Ng J. Petrovich McDONALD Prinz von O’Hara Иван Сидоров Al-Fayed'.split(
      ' ',
    ),
  );
  test('no word of a name is lost, in any order, and none is in two parts', () =>
    fc.assert(
      fc.property(
        fc.array(word, { minLength: 1, maxLength: 5 }),
        fc.constantFrom('givenFirst' as const, 'familyFirst' as const, 'twoFamilies' as const),
        (words, order) => {
          const folded = (text: string) => text.toLowerCase().split(' ').sort();
          const { name, fault } = splitName(words.join(' '), order);
          fc.pre(fault === null);
          const back = [joinName(name), name.nickname].filter(Boolean).join(' ');
          expect(folded(back)).toEqual(folded(words.join(' ')));
        },
      ),
      { numRuns: 1000 },
    ));
});

test('names of many peoples are known, and a family name that is a given name elsewhere stays one', () => {
  const given = ['Maya', 'Ngozi', 'Haruto', 'Zsófia', 'Aarav', 'Thorbjørn', 'Ximena', 'Wangari', 'Gulnara'];
  expect(given.filter((name) => !isGivenName(foldText(name)))).toEqual([]);
  expect(splitName('José Santos Ríos', 'twoFamilies').name).toMatchObject({
    givenName: 'José',
    familyName: 'Santos Ríos',
  });
  expect(splitName('Őri Győző', 'familyFirst').name).toMatchObject({ familyName: 'Őri', givenName: 'Győző' });
  expect(nameVotes(['M. Luc Roy', 'M. Maya Okafor']).familyFirst).toBe(0);
});
