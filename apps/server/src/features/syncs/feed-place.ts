/** The name by which a connection reads the feed of changes. */
export const consumerOf = (connectionId: number) => `sync:${connectionId}`;
