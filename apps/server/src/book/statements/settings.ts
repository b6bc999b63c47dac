import type { Queryable } from '../../db/connect';

/** A setting of the workspace; null where nobody set it. */
export async function settingOf<T>(client: Queryable, key: string): Promise<T | null> {
  const { rows } = await client.query<{ value: T }>('select value from public.setting where key = $1', [key]);
  return rows[0]?.value ?? null;
}

export const setSetting = (client: Queryable, key: string, value: unknown) =>
  client.query(
    'insert into public.setting (key, value) values ($1, $2::jsonb) on conflict (key) do update set value = excluded.value',
    [key, JSON.stringify(value)],
  );
