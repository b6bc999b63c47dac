import { nicknamesOf } from '../../fields';
import { editDistance } from '../comparing/text-distance';

const DIMINUTIVE = /(?:ie|ey|y|i|ek|ka|ko|sia|shka|ito|ita|inho|inha|chen|le|s)$/;

/** Whether a name is made of another as short forms are: its end alone ("Tunde"), or its beginning with an ending of endearment ("Davy"). */
export function isShortForm(short: string, long: string): boolean {
  if (short.length >= 4 && long.length >= short.length + 2 && long.endsWith(short)) return true;
  const stem = short.replace(DIMINUTIVE, '');
  return stem !== short && stem.length >= 3 && long.startsWith(stem);
}

/** Whether one name is a slip of a short form of the other ("Anndy" for Andrew). */
export function isNicknameSlip(a: string, b: string): boolean {
  if (b.length < 3) return false;
  return nicknamesOf(a).some(
    (name) =>
      Math.abs(name.length - b.length) <= 1 && (name.length >= 4 || name[0] === b[0]) && editDistance(name, b, 1) <= 1,
  );
}
