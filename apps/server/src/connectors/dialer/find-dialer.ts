import { stepsOf, type TestedConnection } from '../connector';
import type { GuardedRequester } from '../guarded-request';
import { DialerTool } from './tool';

/** Tests a dialer at an address with a key, step by step; the last step is the one that failed, where one did. */
export function findDialer(requester: GuardedRequester, address: string, key: string): Promise<TestedConnection> {
  return stepsOf(async (step) => {
    const place = await step('The address may be asked', 'address', async () =>
      requester.check(address).href.replace(/\/+$/, ''),
    );
    const tool = new DialerTool(requester, place, key);
    const capabilities = await step('It answers, and takes the key', 'key', () => tool.capabilities());
    await step('It says who changed', 'address', () => tool.changes(null));
    return { place, capabilities };
  });
}
