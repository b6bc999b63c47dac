export { guessCards } from './columns/guess-cards';
export { contactLikeness } from './columns/contact-likeness';
export { guessColumns, type ColumnGuess } from './columns/guess-columns';
export { mappingTargets, isAddressPart, ADDRESS_PARTS, TOWN_LINE, type MappingTarget } from './targets';
export { meantCells } from './rows/meant-cells';
export {
  NO_COLUMN,
  RECOGNISERS,
  WHOLE_FILE,
  wholeFileSettings,
  withoutSetting,
  type ColumnMapping,
  type Mapping,
  type NewField,
  type Recogniser,
  type WholeFileSetting,
} from './mapping';
export { isTransform, TRANSFORM_KINDS, type Transform } from './rows/transform';
export { fitMapping, layoutKey, layoutLikeness01, LIKE_FROM01, type LayoutFit } from './files/saved-mapping';
export { consentWords, type FileConsent } from './files/file-consent';
export { WarningCounter, wordWarning, type FileWarning } from './files/file-warnings';
export { activityKindOf } from './columns/activity-columns';
export { mappingOfEntries } from './columns/entries-of-held';
export { ACTIVITY_TARGETS, isActivityTarget } from './rows/activity-cells';
export { isOpportunityTarget, OPPORTUNITY_TARGETS, type OpportunityContext } from './rows/opportunity-cells';
export { learnedGuesses } from './columns/learned-guesses';
export { tableOfOwnLines } from './files/own-lines';
export { rowsOfTwo } from './rows/rows-of-two';
export {
  addressHeading,
  isOwnTable,
  OWN_HEADINGS,
  ownHeading,
  ownLabelHeading,
  ownMapping,
  standsInColumns,
} from './files/own-table';
export { Repeats } from './rows/repeats';
export { SaidOnce } from './rows/said-once';
export { writeRuleOf } from './write-rules';
export { defaultMapping } from './columns/default-mapping';
export { showReading } from './rows/show-reading';
export { readCell, type CellReading, type ReadAs, type ReadingContext } from './rows/read-cell';
export { encodingOfCards, FileReading, guessesOf, type FileRead } from './files/file-reading';
export { PlainReader, textJson } from './rows/plain-row';
export { type PlainField, type PlainRow } from './rows/plain-person';
export { readMoment, RowReader, type RowReading } from './rows/read-row';
export {
  cardOf,
  clearlyDiffersFrom,
  COMMON_KEY,
  externalKey,
  identityKeys,
  isNumbered,
  foldedBy,
  recognisePerson,
  type Hit,
  type IdentityCard,
  type IdentityKey,
  type Recognition,
} from './rows/recognise';
export { FoldIndex } from './rows/fold-index';
export { BY_HAND, convertValue } from './rows/convert-value';
export { renamedMapping, renamedPlaces, type PlaceMove } from './renamed-mapping';
export { isPermissionTarget, PERMISSIONS, PERMISSION_TARGETS } from './rows/permission-cells';
