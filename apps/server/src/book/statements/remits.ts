import type { RemitParts } from '../../db/actor';
import type { Queryable } from '../../db/connect';

export const accountsWhoseRemitNames = (client: Queryable, part: keyof RemitParts, label: string) =>
  client.query<{ name: string }>(
    `select a.name from account_remit m join account a on a.id = m.account_id
      where a.retired_at is null and $1 = any (m.${part}) order by a.name`,
    [label],
  );
