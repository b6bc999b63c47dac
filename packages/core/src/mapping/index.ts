export { guessCards } from './guess-cards';
export { contactLikeness } from './contact-likeness';
export { guessColumns, type ColumnGuess } from './guess-columns';
export { mappingTargets, isAddressPart, ADDRESS_PARTS, TOWN_LINE, type MappingTarget } from './targets';
export { meantCells } from './meant-cells';
export { NO_COLUMN, RECOGNISERS, type ColumnMapping, type Mapping, type NewField, type Recogniser } from './mapping';
export { isTransform, TRANSFORM_KINDS, type Transform } from './transform';
export { fitMapping, layoutKey, layoutLikeness01, LIKE_FROM01, type LayoutFit } from './saved-mapping';
export { consentWords, type FileConsent } from './file-consent';
export { WarningCounter, wordWarning, type FileWarning } from './file-warnings';
export { isOpportunityTarget, OPPORTUNITY_TARGETS, type OpportunityContext } from './opportunity-cells';
export { learnedGuesses } from './learned-guesses';
export { tableOfOwnLines } from './own-lines';
export { rowsOfTwo } from './rows-of-two';
export { addressHeading, OWN_HEADINGS, ownHeading, ownLabelHeading, ownMapping, standsInColumns } from './own-table';
export { Repeats } from './repeats';
export { writeRuleOf } from './write-rules';
export { defaultMapping } from './default-mapping';
export { showReading } from './show-reading';
export { readCell, type CellReading, type ReadAs, type ReadingContext } from './read-cell';
export { encodingOfCards, FileReading, guessesOf, type FileRead } from './file-reading';
export { PlainReader, textJson } from './plain-row';
export { type PlainField, type PlainRow } from './plain-person';
export { readMoment, RowReader, type RowReading } from './read-row';
export {
  cardOf,
  clearlyDiffersFrom,
  COMMON_KEY,
  externalKey,
  identityKeys,
  foldedBy,
  recognisePerson,
  type Hit,
  type IdentityCard,
  type IdentityKey,
  type Recognition,
} from './recognise';
export { FoldIndex } from './fold-index';
export { BY_HAND, convertValue } from './convert-value';
