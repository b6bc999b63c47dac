export * from './contacts';
export * from './duplicates';
export * from './intakes';
export * from './problem';
export * from './runs';
export * from './session';
export * from './threads';
export * from './worklist';
