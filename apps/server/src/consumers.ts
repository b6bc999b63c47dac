import { searchTexts } from './book/place-texts';
import { duplicateChecks } from './features/duplicates/due-checks';
import { segmentMembers } from './features/segments/member-changes';
import type { Consumer } from './feed/consumer';

/** Everybody who reads the feed of changes. A connection reads it with each of its runs, and keeps its place beside these. */
export const consumers: readonly Consumer[] = [searchTexts, duplicateChecks, segmentMembers];
