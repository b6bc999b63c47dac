export * from './access';
export * from './duplicates';
export * from './intake';
export * from './ledger';
export * from './people';
