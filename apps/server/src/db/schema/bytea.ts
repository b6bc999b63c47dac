import { customType } from 'drizzle-orm/pg-core';

/** Bytes as they are. */
export const bytea = customType<{ data: Buffer }>({ dataType: () => 'bytea' });
