/** What an account may do at most; each role may what the ones before it may. */
export const ROLES = ['viewer', 'editor', 'administrator'] as const;
export type Role = (typeof ROLES)[number];

/** Owners, sources, tags and areas by name; a contact that has one of them is within the remit. */
export interface RemitParts {
  owners: string[];
  sources: string[];
  tags: string[];
  areas: string[];
}

/** Which contacts an actor may see and change: all, or a part of the book (db/statements/remit-views.ts). */
export type Remit = { kind: 'all' } | ({ kind: 'part' } & RemitParts);

/** Somebody who signed in. */
export interface Person {
  kind: 'person';
  accountId: number;
  name: string;
  role: Role;
  remit: Remit;
}

/** The server, a worker or a command acting of its own accord; may everything. */
export interface Program {
  kind: 'program';
  remit: { kind: 'all' };
}

/** Who reads and writes. Every handle to the database carries one, so that nothing is read or written by nobody. */
export type Actor = Person | Program;

export const PROGRAM: Program = { kind: 'program', remit: { kind: 'all' } };

/** The account behind an actor, which is what runs and rows keep; null for a program. */
export function accountIdOf(actor: Actor): number | null {
  return actor.kind === 'person' ? actor.accountId : null;
}

/** Whether an actor may do what a role may. */
export function hasRole(actor: Actor, role: Role): boolean {
  return actor.kind === 'program' || ROLES.indexOf(actor.role) >= ROLES.indexOf(role);
}

/** Whether an actor sees a part of the book only. */
export function seesPart(actor: Actor): actor is Person & { remit: { kind: 'part' } } {
  return actor.remit.kind === 'part';
}
