export * from './access';
export * from './catalogue';
export * from './duplicates';
export * from './intake';
export * from './ledger';
export * from './opportunities';
export * from './people';
export * from './syncs';
