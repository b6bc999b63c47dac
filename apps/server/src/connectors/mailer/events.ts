import type { OutsideResult, OutsideStop } from '@gray-loom/core/syncing';
import { keyOf } from './entries';

/** What became of a mailing with somebody. */
export interface MailerEvent {
  id: number;
  mailing: number;
  address: string;
  event: 'sent' | 'opened' | 'clicked' | 'undeliverable' | 'off';
  link: string;
  at: string;
}

export interface Mailing {
  id: number;
  subject: string;
  list: number;
  sentAt: string;
}

/** @param there addresses that there are; whoever was renamed or removed since is known by the address alone */
export const resultOf = (
  { id, mailing, address, event, link, at }: MailerEvent,
  mailings: ReadonlyMap<number, Mailing>,
  there: ReadonlySet<string>,
): OutsideResult => ({
  id: String(id),
  kind: 'result',
  recordId: there.has(keyOf(address)) ? keyOf(address) : null,
  number: address,
  reached: '',
  incoming: false,
  at,
  outcome: event,
  minutes: null,
  by: '',
  of: { id: String(mailing), subject: mailings.get(mailing)?.subject ?? `Mailing ${mailing}` },
  ...(link ? { link } : {}),
});

/** Who wants no more, and whose mail came back: of the address, with the list and the mailing that it was said by. */
export const stopsOf = (
  events: readonly MailerEvent[],
  mailings: ReadonlyMap<number, Mailing>,
  lists: ReadonlyMap<number, string>,
): OutsideStop[] =>
  events.flatMap(({ mailing, address, event, at }): OutsideStop[] => {
    if (event !== 'off' && event !== 'undeliverable') return [];
    const sent = mailings.get(mailing);
    const list = lists.get(sent?.list ?? 0);
    const of = sent ? ` by the mailing "${sent.subject}"` : '';
    return [
      {
        channel: 'email',
        address,
        at,
        ...(list && event === 'off' ? { list } : {}),
        ...(event === 'undeliverable'
          ? { undeliverable: true, how: `mail came back${of}` }
          : { how: `taken off${of}` }),
      },
    ];
  });
