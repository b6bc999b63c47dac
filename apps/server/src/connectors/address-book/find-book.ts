import { ToolTrouble } from '@gray-loom/core/syncing';
import type { GuardedRequester } from '../guarded-request';
import { stepsOf, type TestedConnection } from '../connector';
import { hrefIn, isOfType } from './dav-answers';
import { AddressBookTool, type SignIn } from './tool';

/**
 * Finds the book by any address of its server (RFC 6764) and says which steps were taken; the last one is the one that
 * failed, where one did.
 */
export function findAddressBook(
  requester: GuardedRequester,
  address: string,
  credentials: SignIn,
): Promise<TestedConnection> {
  return stepsOf(async (step) => {
    const start = await step('The address may be asked', 'address', async () => requester.check(address).href);
    const probe = new AddressBookTool(requester, start, credentials);
    const look = (at: string, props: string, depth: string) => probe.look(at, props, depth);
    const first = await step('It answers, and takes the name and password', 'password', () =>
      look(start, '<d:resourcetype/><d:current-user-principal/>', '0').catch(async (error: unknown) => {
        if (!(error instanceof ToolTrouble) || (error.kind !== 'notFound' && error.kind !== 'protocol')) throw error;
        return look(new URL('/.well-known/carddav', start).href, '<d:resourcetype/><d:current-user-principal/>', '0');
      }),
    );
    const book = await step('There is an address book', 'address', async () => {
      const own = first[0]?.prop ?? {};
      if (isOfType(own, 'addressbook')) return start.endsWith('/') ? start : `${start}/`;
      const principal = hrefIn(own, 'current-user-principal');
      if (!principal) throw new ToolTrouble('notFound', 'The server does not say where the address books are.');
      const [who] = await look(new URL(principal, start).href, '<c:addressbook-home-set/>', '0');
      const home = hrefIn(who?.prop ?? {}, 'addressbook-home-set');
      if (!home) throw new ToolTrouble('notFound', 'The server has no address books for this name.');
      const all = await look(new URL(home, start).href, '<d:resourcetype/><d:displayname/>', '1');
      const found = all.find(({ prop }) => isOfType(prop, 'addressbook'));
      if (!found) throw new ToolTrouble('notFound', 'There is no address book for this name.');
      return new URL(found.href, start).href;
    });
    const tool = new AddressBookTool(requester, book, credentials);
    const capabilities = await step('It says what it holds', 'address', () => tool.capabilities());
    await step('It says what changed', 'address', () => tool.changes(null));
    return { place: book, capabilities };
  });
}
