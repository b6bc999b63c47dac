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
    // Numbers kept for fiction are few, so every third person has none.
    const k = Math.floor((i * 2) / 3);
    const given = `${GIVEN[next(20)]}`;
    const family = `${FAMILY[next(20)]}${String.fromCharCode(97 + next(26))}${String.fromCharCode(97 + next(26))}${String.fromCharCode(97 + next(26))}`;
    const cells = [
      given,
      family,
      `${given}.${family}.${i}@example.org`.toLowerCase(),
      i % 3 === 2 ? '' : `+1 ${201 + (k % 699)}-555-01${String(Math.floor(k / 699) % 100).padStart(2, '0')}`,
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
