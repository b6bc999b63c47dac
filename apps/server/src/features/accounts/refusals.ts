import { conflict, declareRefusals, forbidden, invalid, missing, tooOften } from '../../http/refusal';

export const refuse = declareRefusals({
  noSuchAccount: missing('There is no such account.'),
  noSuchInvitation: missing('There is no such invitation any more.'),
  emailTaken: conflict(
    ({ email }: { field: 'email'; email: string }) => `There is an account with the address ${email}.`,
  ),
  nameTaken: conflict(
    ({ name }: { field: 'name'; name: string }) =>
      `There is an account called ${name}. Owners are told by their names; add something that tells the two apart.`,
  ),
  retired: conflict(({ name }: { name: string }) => `${name} is retired. Bring the account back first.`),
  lastAdministrator: conflict(
    'This is the last administrator. Make somebody else one first, or nobody could manage the workspace.',
  ),
  self: conflict('This is your own account. Somebody else who is an administrator can do that.'),
  linkUsed: conflict('This link was used already. Sign in, or ask an administrator for another one.'),
  linkLate: conflict('This link has expired. Ask an administrator for another one.'),
  noSuchLink: missing(
    'There is no such link. Look whether all of it was copied, or ask an administrator for another one.',
  ),
  notNew: conflict('There is an account here already. Sign in.'),
  wrongPassword: invalid<{ field: 'current' | 'password' }>('This is not the password that you have now.'),
  wrongCode: invalid<{ field: 'code' }>(
    'This code does not fit. Look whether the clock of the telephone is right, then type the next one.',
  ),
  noFactor: conflict('This account has no second factor.'),
  handToSelf: invalid<{ field: 'handTo' }>('Choose somebody else.'),
  noPicture: invalid<{ field: 'picture' }>('The picture is not here. Choose it again.'),
  administratorSeesAll: invalid<{ field: 'remit' }>(
    'An administrator manages the workspace and sees everybody. Choose another role first.',
  ),
  noSuchPart: invalid(
    ({ kind, name }: { field: 'remit'; kind: string; name: string }) =>
      `There is no ${kind} '${name}' any more. Take it out, or choose another one.`,
  ),
  noSuchOwner: missing(({ name }: { name: string }) => `Nobody is owned by '${name}' any more, or that is an account.`),
  tooManyHanded: conflict(
    ({ most }: { most: number }) =>
      `At most ${most.toLocaleString('en')} contacts are handed over at once. Narrow the list, and hand over the rest after it.`,
  ),
  nothingToHand: conflict('All of them are owned so already. Nothing was changed.'),
  nothingHanded: missing('There is no such handing over any more.'),
  noSuchSession: missing('This session has ended already.'),
  noLongerAdministrator: forbidden(
    'You are no administrator any more: somebody changed that meanwhile. Nothing was changed.',
  ),
  notYours: forbidden('Only an administrator may see the sessions of others.'),
  tooMany: tooOften('Too many links that do not fit were tried. Wait five minutes.'),
});
