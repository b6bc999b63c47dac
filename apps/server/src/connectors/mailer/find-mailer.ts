import { stepsOf, type TestedConnection } from '../connector';
import type { GuardedRequester } from '../guarded-request';
import { MailerTool } from './tool';

/** Tests a mailer at an address with a client, step by step; the last step is the one that failed, where one did. */
export function findMailer(
  requester: GuardedRequester,
  address: string,
  client: { id: string; secret: string },
): Promise<TestedConnection> {
  return stepsOf(async (step) => {
    const place = await step('The address may be asked', 'address', async () =>
      requester.check(address).href.replace(/\/+$/, ''),
    );
    const tool = new MailerTool(requester, place, client);
    const capabilities = await step('It gives a token, and takes it', 'secret', () => tool.capabilities());
    await step('It says who changed', 'address', () => tool.changes(null));
    return { place, capabilities };
  });
}
