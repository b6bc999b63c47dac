import { writeDelimitedLine } from '@gray-loom/core/formats';

const GIVEN =
  'Ana Tom Kari Sigrid Oskar Maja Femke Rowan Chinedu Priya Haruto Tunde Ellen Duarte Saoirse Ingrid Anselm Benedita Jonna Perry'.split(
    ' ',
  );
const FAMILY =
  'Reis Okoro Amundsen Arnesen Lindqvist Ferreira Achterberg Adair Abara Anand Aoki Ayodele Pike Moreau Ohare Sorli Quist Aguiar Albrecht Ashdown'.split(
    ' ',
  );
const TOWNS = 'Falmouth Truro Whitby Oban Maldon Bangor Dartmouth Kinsale Risor Camden'.split(' ');

const twoDigits = (n: number) => String(n).padStart(2, '0');
const fourDigits = (n: number) => String(n).padStart(4, '0');

/** Phone numbers that are kept for fiction, by country: how many there are, and the nth. A line is nobody's or a few people's, as in life. */
const FICTIONAL: readonly [count: number, phone: (n: number) => string][] = [
  [69_900, (n) => `+1 ${201 + (n % 699)}-555-01${twoDigits(Math.floor(n / 699))}`],
  [
    60_000,
    (n) => {
      const begins = ['1 99 00', '2 61 91', '3 53 01', '4 65 71', '5 36 49', '6 39 98'];
      return `+33 ${begins[Math.floor(n / 10_000)]} ${twoDigits(Math.floor(n / 100) % 100)} ${twoDigits(n % 100)}`;
    },
  ],
  [80_000, (n) => `+61 ${[2, 3, 7, 8][n % 4]} ${n % 8 < 4 ? '5550' : '7010'} ${fourDigits(Math.floor(n / 8))}`],
  [100_000, (n) => `+353 20 91${Math.floor(n / 10_000)} ${fourDigits(n % 10_000)}`],
];

const FICTIONAL_PHONES = FICTIONAL.reduce((sum, [count]) => sum + count, 0);

function fictionalPhone(nth: number): string {
  let n = nth % FICTIONAL_PHONES;
  for (const [count, phone] of FICTIONAL) {
    if (n < count) return phone(n);
    n -= count;
  }
  return '';
}

/** A list of `count` different people with twelve columns, the same at every run; `sparse` leaves what they do and what is said of them out. */
export function peopleFile(count: number, { sparse = false, from = 0 } = {}): Buffer {
  const pieces = [
    writeDelimitedLine([
      'First name',
      'Last name',
      'E-mail',
      'Mobile',
      'Street',
      'Town',
      'County',
      'Postcode',
      'Country',
      'Date of birth',
      'Company',
      'Tags',
    ]),
  ];
  let seed = 12345;
  const next = (below: number) => {
    seed = (Math.imul(seed, 1664525) + 1013904223) >>> 0;
    return Math.floor((seed / 4294967296) * below);
  };
  for (let i = 0; i < from + count; i++) {
    // Every third person has no phone; the others share one by two.
    const line = Math.floor(i / 3);
    const given = `${GIVEN[next(20)]}`;
    const family = `${FAMILY[next(20)]}${String.fromCharCode(97 + next(26))}${String.fromCharCode(97 + next(26))}${String.fromCharCode(97 + next(26))}`;
    const cells = [
      given,
      family,
      `${given}.${family}.${i}@example.org`.toLowerCase(),
      i % 3 === 2 ? '' : fictionalPhone(line),
      `${1 + next(200)} Slip Lane`,
      TOWNS[next(10)] ?? '',
      'Cornwall',
      `TR${1 + next(20)} ${next(10)}AB`,
      'United Kingdom',
      `${1940 + next(65)}-${String(1 + next(12)).padStart(2, '0')}-${String(1 + next(28)).padStart(2, '0')}`,
      next(3) === 0 ? `${FAMILY[next(20)]} Timber Ltd` : '',
      ['regatta', 'bursary', 'open yard', 'alumni'][next(4)] ?? '',
    ];
    if (i >= from) pieces.push(writeDelimitedLine(sparse ? [...cells.slice(0, 10), '', ''] : cells));
  }
  return Buffer.from(pieces.join(''));
}
