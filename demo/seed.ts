import type { Database } from '../apps/server/src/db/connect';
export async function seedDemo(_database: Database, _options: { withPeople: boolean; say: (text: string) => void }): Promise<void> {}
