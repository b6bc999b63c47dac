import { array, boolean, mixed, number, object, string, type InferType } from 'yup';
import { contactFilterSchema } from './contacts';
import { anyId, id } from './ids';
import { listOf, oneOf, part, text, trimmed, whole, yesNo } from './parts';

export type AccountRole = 'administrator' | 'editor' | 'viewer';
export const ACCOUNT_ROLES: readonly AccountRole[] = ['administrator', 'editor', 'viewer'];

const role = () => mixed<AccountRole>().oneOf(ACCOUNT_ROLES);
const email = () =>
  trimmed().lowercase().email('This is not an e-mail address.').required('Enter an e-mail address.').max(254);
const personName = () => trimmed().required('Enter a name.').max(80, 'A name has at most 80 characters.');
export const LEAST_PASSWORD = 10;
const newPassword = () =>
  string()
    .required('Choose a password.')
    .min(LEAST_PASSWORD, `A password has at least ${LEAST_PASSWORD} characters.`)
    .max(200, 'A password has at most 200 characters.');

/** Owners, sources, tags and areas by name: a contact that has one of them is within the remit. */
export const remitAnswer = part({
  owners: listOf(text()),
  sources: listOf(text()),
  tags: listOf(text()),
  areas: listOf(text()),
});
export type Remit = InferType<typeof remitAnswer>;
export const REMIT_PARTS = ['owners', 'sources', 'tags', 'areas'] as const satisfies readonly (keyof Remit)[];

const MOST_NAMED = 200;
const named = () => array(string().required().max(200)).max(MOST_NAMED).default([]);
/** Null is the whole book. */
const remit = () =>
  object({ owners: named(), sources: named(), tags: named(), areas: named() })
    .nullable()
    .test(
      'named',
      'Name an owner, source, tag or area, or let the account see everybody.',
      (value) => !value || REMIT_PARTS.some((kind) => value[kind].length > 0),
    );

export const accountAnswer = part({
  id: whole(),
  name: text(),
  email: text(),
  role: oneOf<AccountRole>('administrator', 'editor', 'viewer'),
  /** The part of the book that it sees; null is everybody. */
  remit: remitAnswer.nullable(),
  /** How many people are in it; null where that is everybody. */
  within: whole().nullable(),
  picture: text().nullable(),
  secondFactor: yesNo(),
  /** When it was last here; null where it never was. */
  seenAt: text().nullable(),
  retiredAt: text().nullable(),
  /** How many contacts it owns. */
  owns: whole(),
});
export type Account = InferType<typeof accountAnswer>;

export const invitationAnswer = part({
  id: whole(),
  name: text(),
  email: text(),
  role: oneOf<AccountRole>('administrator', 'editor', 'viewer'),
  remit: remitAnswer.nullable(),
  /** For an account that is here already: it sets its password anew. */
  isReset: yesNo(),
  madeBy: text(),
  expiresAt: text(),
});
export type Invitation = InferType<typeof invitationAnswer>;

/** An owner of contacts that is no account, as files and tools wrote it. */
export const strangerAnswer = part({
  name: text(),
  owns: whole(),
  /** The account it most likely is; null where none is like it. */
  likely: whole().nullable(),
});
export type Stranger = InferType<typeof strangerAnswer>;

export const peopleAnswer = part({
  accounts: listOf(accountAnswer),
  invitations: listOf(invitationAnswer),
  strangers: listOf(strangerAnswer),
});
export type People = InferType<typeof peopleAnswer>;

export const inviteSchema = object({
  name: personName(),
  email: email(),
  role: role().required('Choose a role.'),
  remit: remit().default(null),
});
export type Invite = InferType<typeof inviteSchema>;

/** The end of the link: it goes behind the address of the workspace. It is told once, and kept by nobody. */
export const inviteLinkAnswer = part({ path: text(), expiresAt: text() });
export type InviteLink = InferType<typeof inviteLinkAnswer>;

export const tokenSchema = object({ token: string().required().max(100) });

/** What whoever opens a link gets to see before it is used. */
export const openInvitationAnswer = part({ name: text(), email: text(), isReset: yesNo(), invitedBy: text() });
export type OpenInvitation = InferType<typeof openInvitationAnswer>;

export const acceptSchema = object({ name: trimmed().max(80).default(''), password: newPassword() });
export type Accept = InferType<typeof acceptSchema>;

/** The first administrator of a new workspace. */
export const firstAccountSchema = object({ name: personName(), email: email(), password: newPassword() });
export type FirstAccount = InferType<typeof firstAccountSchema>;

export const remitTrialSchema = object({ remit: remit() });
/** How many people are in a remit, of how many. */
export const remitTrialAnswer = part({ within: whole(), of: whole() });
export type RemitTrial = InferType<typeof remitTrialAnswer>;

export const accountChangeSchema = object({
  name: trimmed().min(1, 'Enter a name.').max(80),
  role: role(),
  /** Absent, it stays as it is. */
  remit: remit().default(undefined),
});
export type AccountChange = InferType<typeof accountChangeSchema>;

export const resetSchema = object({
  /** Also takes the second factor off, for whoever has lost it. */
  secondFactor: boolean().default(false),
});

export const retireSchema = object({
  /** Who gets the contacts it owns; null leaves them with nobody. */
  handTo: number().integer().min(1).nullable().default(null),
});
/** The run that handed contacts over; null where there were none. */
export const handedAnswer = part({ runId: whole().nullable(), finished: yesNo() });
export type Handed = InferType<typeof handedAnswer>;

export const ownAccountSchema = object({
  name: trimmed().min(1, 'Enter a name.').max(80),
  picture: string().max(100).nullable(),
});
export type OwnAccountChange = InferType<typeof ownAccountSchema>;

export const passwordSchema = object({
  current: string().required('Enter the password you have now.'),
  next: newPassword(),
});
export type PasswordChange = InferType<typeof passwordSchema>;

export const passwordAloneSchema = object({ password: string().required('Enter your password.') });

/** A second factor that is begun: what an authenticator takes (otpauth address), until its first code confirms it. */
export const secondFactorAnswer = part({ address: text(), secret: text() });
export type SecondFactor = InferType<typeof secondFactorAnswer>;

export const confirmFactorSchema = object({
  secret: string().required().max(100),
  code: trimmed().required('Enter the code that the authenticator shows.').max(20),
});
export const recoveryCodesAnswer = part({ codes: listOf(text()) });

export const ownSessionAnswer = part({
  id: whole(),
  openedAt: text(),
  seenAt: text(),
  address: text(),
  browser: text(),
  /** Whether it is the one that asks. */
  isThis: yesNo(),
});
export type OwnSession = InferType<typeof ownSessionAnswer>;

/** Somebody to whom contacts can be handed. */
export const ownerAnswer = part({ id: whole(), name: text(), picture: text().nullable() });
export type Owner = InferType<typeof ownerAnswer>;

/** An owner that is no account is this account from now on. */
export const matchOwnerSchema = object({
  name: string().required().max(200),
  to: id('Choose an account.'),
});

/** The most that is handed over at once. */
export const MOST_HANDED = 20_000;

/** Among whom people are given out. */
export const givingSchema = object({
  /** Accounts that take turns. */
  inTurn: array(id()).max(200).default([]),
  byArea: array(object({ area: string().required().max(80), accountId: id() }))
    .max(200)
    .default([]),
});
export const givingAnswer = part({
  inTurn: listOf(whole()),
  byArea: listOf(part({ area: text(), accountId: whole() })),
});
export type Giving = InferType<typeof givingAnswer>;
export const GIVE_BY = ['inTurn', 'byArea'] as const;
export type GiveBy = (typeof GIVE_BY)[number];

export const handOverSchema = object({
  /** Those of them whom nobody owns are given out, in turn or by area; whoever is named in `to` is then nobody. */
  give: mixed<GiveBy>().oneOf([...GIVE_BY]),
  /** Who gets them; null for nobody. */
  to: anyId().nullable().default(null),
  /** These, or all that a filter finds. */
  ids: array(id()).max(1000).default([]),
  filter: contactFilterSchema.default(undefined).optional(),
});
export type HandOver = InferType<typeof handOverSchema>;

/** The run that handed contacts over, and how many. */
export const handedOverAnswer = part({ runId: whole(), count: whole() });
export type HandedOver = InferType<typeof handedOverAnswer>;
