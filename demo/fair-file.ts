import { writeDelimitedLine } from '@gray-loom/core/formats';
import { Dice, makePerson, Phones, type DemoPerson } from './people';

/** A sign-in sheet as people hand it in: one name box, a semicolon file, some cells nobody can read. */
export function fairFile(known: readonly DemoPerson[], seed: number, rows: number): Buffer {
  const dice = new Dice(seed);
  const phones = new Phones();
  const lines = [writeDelimitedLine(['Name', 'E-mail adr.', 'Mob', 'Born', 'News?', 'Interests', 'Stand'], ';')];
  for (let i = 0; i < rows; i++) {
    const p = dice.chance(0.3) && known.length ? dice.pick(known) : makePerson(dice, phones, 5000 + seed + i);
    const [y = '', m = '', d = ''] = p.bday.split('-');
    let name = dice.chance(0.2) ? `${p.family}, ${p.given}` : `${p.given} ${p.family}`;
    let email = p.email;
    let mobile = dice.chance(0.8) ? p.mobile : '';
    let born = dice.chance(0.6) ? `${d}/${m}/${y}` : '';
    const trouble = dice.below(40);
    if (trouble === 0) name = `Mr & Mrs ${p.family}`;
    if (trouble === 1) email = email.replace('@', '(at)');
    if (trouble === 2) email = email.replace(/\.\w+$/, '');
    if (trouble === 3) mobile = '4.47701E+11';
    if (trouble === 4) born = `31/04/${y}`;
    lines.push(
      writeDelimitedLine(
        [
          name,
          email,
          mobile,
          born,
          dice.pick(['Y', 'no', 'yes', 'n', 'TRUE', '']),
          p.tags.join(', ') || dice.pick(['dinghy', 'rowing', 'sails', '']),
          dice.chance(0.3) ? 'x' : '',
        ],
        ';',
      ),
    );
  }
  return Buffer.from(lines.join(''), 'latin1');
}
