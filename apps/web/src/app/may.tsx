import { QueryClientContext } from '@tanstack/react-query';
import { useContext, type ReactNode } from 'react';
import type { SessionInfo } from '@gray-loom/wire';
import { keys } from './keys';

export type Role = SessionInfo['role'];

/** Each may what the ones before it may; the server has the last word. */
const ROLES: readonly Role[] = ['viewer', 'editor', 'administrator'];

/** Whether whoever is signed in may what a role may. The session is known before anything else is on screen. */
export function useMay(role: Role = 'viewer'): boolean {
  const session = useContext(QueryClientContext)?.getQueryData<SessionInfo>(keys.session());
  return !session || ROLES.indexOf(session.role) >= ROLES.indexOf(role);
}

/** The account of whoever is signed in. */
export function useMe(): number | null {
  return useContext(QueryClientContext)?.getQueryData<SessionInfo>(keys.session())?.accountId ?? null;
}

/** Whether whoever is signed in sees everybody, and not only a part of the book. */
export function useSeesAll(): boolean {
  const session = useContext(QueryClientContext)?.getQueryData<SessionInfo>(keys.session());
  return !session?.remit;
}

/** Shows what is in it only to those who may do it, so that nobody sees a button that would be refused. */
export function May({ role, children }: { role: Role; children: ReactNode }) {
  return useMay(role) ? children : null;
}
