import { object } from 'yup';
import {
  acceptSchema,
  accountChangeSchema,
  confirmFactorSchema,
  firstAccountSchema,
  handedAnswer,
  handedOverAnswer,
  handOverSchema,
  id,
  idSchema,
  inviteLinkAnswer,
  inviteSchema,
  listOf,
  matchOwnerSchema,
  openInvitationAnswer,
  ownerAnswer,
  ownAccountSchema,
  ownSessionAnswer,
  passwordAloneSchema,
  passwordSchema,
  peopleAnswer,
  recoveryCodesAnswer,
  remitTrialAnswer,
  remitTrialSchema,
  resetSchema,
  retireSchema,
  secondFactorAnswer,
  sessionInfoAnswer,
  tokenSchema,
} from '@gray-loom/wire';
import type { Actor } from '../../db/actor';
import type { Database } from '../../db/connect';
import { json, nothing, route, type Asked, type Route } from '../../http/declare';
import type { Surroundings } from '../../http/services';
import { countTry, forgetTry, fromOf, giveCookie, openSession, sessionIn } from '../people';
import {
  bringAccountBack,
  changeAccount,
  endSession,
  listPeople,
  matchOwner,
  listSessions,
  resetAccount,
  retireAccount,
} from './accounts';
import { handOver, listOwners, noteHandedOver } from './hand-over';
import { acceptInvitation, invite, makeFirst, openInvitation, takeBackInvitation } from './invitations';
import { beginFactor, changeOwn, changePassword, confirmFactor, dropFactor, renewCodes } from './own-account';
import { refuse } from './refusals';
import { tryRemit } from './remits';

const SMALL = 8 * 1024;
const sessionSchema = object({ id: id(), sessionId: id() });

/** Counts a try to use what only its owner knows; it is forgotten where it fits. */
async function guarded<T>(database: Database, what: string, address: string, work: () => Promise<T>): Promise<T> {
  await countTry(database, what, address);
  const done = await work();
  await forgetTry(database, what, address);
  return done;
}

/** Whoever asks, who has to be somebody who signed in. */
function ownId(actor: Actor): number {
  if (actor.kind !== 'person') throw refuse.noSuchAccount();
  return actor.accountId;
}

type Inquiry = Pick<Asked<never, never, never, never>, 'database' | 'context'>;
const thisSession = async ({ database, context }: Inquiry): Promise<number> =>
  (await sessionIn(database, context))?.sessionId ?? 0;

/** Who may sign in, and what each does with their own account. */
export function accountRoutes(surroundings: Surroundings): Route[] {
  return [...comingRoutes(surroundings), ...peopleRoutes(), ...owningRoutes(), ...ownRoutes(surroundings)];
}

/** How somebody becomes an account. */
function comingRoutes({ config }: Surroundings): Route[] {
  const days = config.sessionDays;
  return [
    route({
      method: 'post',
      path: '/first-account',
      summary: 'Makes the first administrator of a workspace that has no account, and signs in.',
      may: 'anyone',
      limitBytes: SMALL,
      body: firstAccountSchema,
      answer: json(sessionInfoAnswer, 201),
      example: { body: { name: 'Ines Carvalho', email: 'ines@quillhaven.example', password: 'a good password' } },
      handle: async ({ body, database, context }) => {
        const made = await makeFirst(database, body);
        const { token, info } = await openSession(database, made, days, fromOf(context, config));
        giveCookie(context, config, token);
        return info;
      },
    }),
    route({
      method: 'get',
      path: '/invitations/:token',
      summary: 'What a link of an invitation is for.',
      may: 'anyone',
      params: tokenSchema,
      answer: json(openInvitationAnswer),
      example: { params: { token: 'unknown' } },
      handle: ({ params: { token }, database, context }) =>
        guarded(database, `link ${token}`, fromOf(context, config).address, () => openInvitation(database, token)),
    }),
    route({
      method: 'post',
      path: '/invitations/:token',
      summary: 'Uses a link: makes the account or sets its password, and signs in.',
      may: 'anyone',
      limitBytes: SMALL,
      params: tokenSchema,
      body: acceptSchema,
      answer: json(sessionInfoAnswer, 201),
      example: { params: { token: 'unknown' }, body: { password: 'a good password' } },
      handle: async ({ params, body, database, context }) => {
        const from = fromOf(context, config);
        const made = await guarded(database, `link ${params.token}`, from.address, () =>
          acceptInvitation(database, params.token, body),
        );
        const { token, info } = await openSession(database, made, days, from);
        giveCookie(context, config, token);
        return info;
      },
    }),
  ];
}

/** What an administrator does with accounts. */
function peopleRoutes(): Route[] {
  return [
    route({
      method: 'get',
      path: '/people',
      summary: 'Accounts and open invitations.',
      may: 'administrator',
      answer: json(peopleAnswer),
      example: {},
      handle: ({ database }) => listPeople(database),
    }),
    route({
      method: 'post',
      path: '/people/remit-trial',
      summary: 'How many people an account with a remit would see.',
      may: 'administrator',
      body: remitTrialSchema,
      answer: json(remitTrialAnswer),
      example: { body: { remit: { owners: ['Tom Okoro'], sources: [], tags: [], areas: [] } } },
      handle: ({ body, database }) => tryRemit(database, body.remit ?? null),
    }),
    route({
      method: 'post',
      path: '/people/invitations',
      summary: 'Invites somebody; the link is told once.',
      may: 'administrator',
      body: inviteSchema,
      answer: json(inviteLinkAnswer, 201),
      example: { body: { name: 'Tom Okoro', email: 'tom@quillhaven.example', role: 'editor' } },
      handle: ({ body, database }) => invite(database, body),
    }),
    route({
      method: 'delete',
      path: '/people/invitations/:id',
      summary: 'Takes an invitation back.',
      may: 'administrator',
      params: idSchema,
      answer: nothing,
      example: { params: { id: 999 } },
      handle: ({ params, database }) => takeBackInvitation(database, params.id),
    }),
    route({
      method: 'patch',
      path: '/people/:id',
      summary: 'Gives an account another name or role.',
      may: 'administrator',
      params: idSchema,
      body: accountChangeSchema,
      answer: json(handedAnswer),
      example: { params: { id: 999 }, body: { role: 'viewer' } },
      handle: ({ params, body, database }) => changeAccount(database, params.id, body),
    }),
    route({
      method: 'post',
      path: '/people/:id/reset',
      summary: 'Makes a link by which an account gets a new password.',
      may: 'administrator',
      params: idSchema,
      body: resetSchema,
      answer: json(inviteLinkAnswer, 201),
      example: { params: { id: 999 }, body: {} },
      handle: ({ params, body, database }) => resetAccount(database, params.id, body.secondFactor),
    }),
    route({
      method: 'post',
      path: '/people/:id/retire',
      summary: 'Retires an account and hands what it owns to somebody else.',
      may: 'administrator',
      params: idSchema,
      body: retireSchema,
      answer: json(handedAnswer),
      example: { params: { id: 999 }, body: {} },
      handle: ({ params, body, database }) => retireAccount(database, params.id, body.handTo),
    }),
    route({
      method: 'post',
      path: '/people/:id/bring-back',
      summary: 'Lets a retired account sign in again.',
      may: 'administrator',
      params: idSchema,
      answer: nothing,
      example: { params: { id: 999 } },
      handle: ({ params, database }) => bringAccountBack(database, params.id),
    }),
    route({
      method: 'get',
      path: '/people/:id/sessions',
      summary: 'Where an account is signed in.',
      may: 'administrator',
      params: idSchema,
      answer: json(listOf(ownSessionAnswer)),
      example: { params: { id: 1 } },
      handle: async ({ params, database, context }) =>
        listSessions(database, params.id, await thisSession({ database, context })),
    }),
    route({
      method: 'delete',
      path: '/people/:id/sessions/:sessionId',
      summary: 'Signs an account out of one browser.',
      may: 'administrator',
      params: sessionSchema,
      answer: nothing,
      example: { params: { id: 1, sessionId: 999 } },
      handle: ({ params, database }) => endSession(database, params.id, params.sessionId),
    }),
  ];
}

/** Who owns what. */
function owningRoutes(): Route[] {
  return [
    route({
      method: 'get',
      path: '/owners',
      summary: 'Accounts that contacts can be handed to.',
      may: 'viewer',
      answer: json(listOf(ownerAnswer)),
      example: {},
      handle: ({ database }) => listOwners(database),
    }),
    route({
      method: 'post',
      path: '/people/owners',
      summary: 'Says which account an owner is that files or tools wrote.',
      may: 'administrator',
      body: matchOwnerSchema,
      answer: json(handedAnswer),
      example: { body: { name: 'Nobody so called', to: 1 } },
      handle: ({ body, database }) => matchOwner(database, body.name, body.to),
    }),
    route({
      method: 'post',
      path: '/hand-over',
      summary: 'Hands contacts over to an account, or to nobody.',
      may: 'editor',
      body: handOverSchema,
      answer: json(handedOverAnswer),
      example: { body: { to: 1, ids: [999] } },
      handle: ({ body, database }) => handOver(database, body),
    }),
    route({
      method: 'post',
      path: '/handed/:id/seen',
      summary: 'Notes that one has seen what was handed over.',
      may: 'viewer',
      params: idSchema,
      answer: nothing,
      example: { params: { id: 999 } },
      handle: ({ params, database }) => noteHandedOver(database, params.id),
    }),
  ];
}

/** What everybody does with their own account. */
function ownRoutes({ config }: Surroundings): Route[] {
  return [
    route({
      method: 'patch',
      path: '/me',
      summary: 'Changes name or picture of one\u2019s own account.',
      may: 'viewer',
      body: ownAccountSchema,
      answer: json(handedAnswer),
      example: { body: {} },
      handle: ({ body, database, actor }) => changeOwn(database, ownId(actor), body),
    }),
    route({
      method: 'post',
      path: '/me/password',
      summary: 'Changes one\u2019s own password; other sessions end.',
      may: 'viewer',
      limitBytes: SMALL,
      body: passwordSchema,
      answer: nothing,
      example: { body: { current: 'not this one', next: 'another good password' } },
      handle: async ({ body, database, actor, context }) => {
        const sessionId = await thisSession({ database, context });
        const own = { id: ownId(actor), sessionId };
        await guarded(database, `own ${own.id}`, fromOf(context, config).address, () =>
          changePassword(database, own, body),
        );
      },
    }),
    route({
      method: 'post',
      path: '/me/second-factor',
      summary: 'Begins a second factor; nothing is kept yet.',
      may: 'viewer',
      answer: json(secondFactorAnswer),
      example: {},
      handle: ({ database, actor }) => beginFactor(database, ownId(actor)),
    }),
    route({
      method: 'post',
      path: '/me/second-factor/confirm',
      summary: 'Keeps a second factor by its first code, and tells the recovery codes once.',
      may: 'viewer',
      body: confirmFactorSchema,
      answer: json(recoveryCodesAnswer),
      example: { body: { secret: 'JBSWY3DPEHPK3PXP', code: '000000' } },
      handle: ({ body, database, actor }) => confirmFactor(database, ownId(actor), body, config.secretKey),
    }),
    route({
      method: 'post',
      path: '/me/second-factor/codes',
      summary: 'Makes new recovery codes.',
      may: 'viewer',
      body: passwordAloneSchema,
      answer: json(recoveryCodesAnswer),
      example: { body: { password: 'not this one' } },
      handle: ({ body, database, actor }) => renewCodes(database, ownId(actor), body.password),
    }),
    route({
      method: 'post',
      path: '/me/second-factor/drop',
      summary: 'Takes the second factor off.',
      may: 'viewer',
      body: passwordAloneSchema,
      answer: nothing,
      example: { body: { password: 'not this one' } },
      handle: ({ body, database, actor }) => dropFactor(database, ownId(actor), body.password),
    }),
    route({
      method: 'get',
      path: '/me/sessions',
      summary: 'Where one is signed in.',
      may: 'viewer',
      answer: json(listOf(ownSessionAnswer)),
      example: {},
      handle: async ({ database, actor, context }) =>
        listSessions(database, ownId(actor), await thisSession({ database, context })),
    }),
    route({
      method: 'delete',
      path: '/me/sessions/:id',
      summary: 'Ends one of one\u2019s own sessions.',
      may: 'viewer',
      params: idSchema,
      answer: nothing,
      example: { params: { id: 999 } },
      handle: ({ params, database, actor }) => endSession(database, ownId(actor), params.id),
    }),
  ];
}
