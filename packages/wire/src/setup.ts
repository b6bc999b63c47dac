import { part, recordOf, whole, listOf, text, yesNo, core, trimmed } from './parts';
import { array, boolean, mixed, number, object, string, type InferType } from 'yup';
import {
  CUSTOM_TYPES,
  type AreaRule,
  type FieldDefinition,
  type FieldType,
  type UniqueRule,
} from '@gray-loom/core/fields';

const fieldType = () =>
  mixed<FieldType>()
    .oneOf([...CUSTOM_TYPES])
    .required('Choose a type.');
const choiceList = () => array(trimmed().required().max(80, 'A choice has at most 80 characters.')).max(200);
const currencyCode = () => string().matches(/^[A-Z]{3}$/, 'A currency is written with three capitals, such as EUR.');

export const newFieldSchema = object({
  name: trimmed().required('Give the field a name.').max(60, 'A field name has at most 60 characters.'),
  type: fieldType(),
  choices: choiceList().default([]),
  heading: trimmed().max(60).default(''),
  currency: currencyCode().nullable().default(null),
  /** Made although something of nearly the same name is here. */
  despite: boolean().default(false),
});
export type NewFieldRequest = InferType<typeof newFieldSchema>;

export const fieldChangeSchema = object({
  name: trimmed().min(1, 'Give the field a name.').max(60, 'A field name has at most 60 characters.'),
  heading: trimmed().max(60),
  ordinal: number().integer().min(0).max(1000),
  retired: boolean(),
  choices: choiceList(),
  /** Choices that are added although something of nearly the same name is there. */
  despite: boolean(),
  currency: currencyCode(),
  required: boolean(),
  unique: mixed<UniqueRule>().oneOf(['no', 'warn', 'refuse']),
});
export type FieldChange = InferType<typeof fieldChangeSchema>;

/** A choice of a field, with how many contacts have it. */
export const countedChoiceAnswer = part({
  label: text(),
  count: whole(),
  /** Whether it is one of the list; others stand with contacts from before. */
  listed: yesNo(),
});
export type CountedChoice = InferType<typeof countedChoiceAnswer>;

export const conversionSchema = object({
  type: fieldType(),
  choices: choiceList().default([]),
  currency: currencyCode().nullable().default(null),
});

export const conversionTrialAnswer = part({
  values: whole(),
  converts: whole(),
  fails: whole(),
  examples: listOf(
    part({
      contactId: whole(),
      name: text(),
      before: text(),
      after: text().nullable(),
    }),
  ),
  failing: listOf(
    part({
      contactId: whole(),
      name: text(),
      before: text(),
      after: text().nullable(),
    }),
  ),
});
export type ConversionTrial = InferType<typeof conversionTrialAnswer>;

export const fieldClashesAnswer = part({
  groups: listOf(
    part({
      value: text(),
      contacts: listOf(
        part({
          id: whole(),
          name: text(),
        }),
      ),
    }),
  ),
  more: yesNo(),
});
export type FieldClashes = InferType<typeof fieldClashesAnswer>;

export type PickKind = 'source' | 'tag' | 'stage';
export const pickKind = () => mixed<PickKind>().oneOf(['source', 'tag', 'stage']).required();
/** Colours of the palette for tags; 0 is none. */
export const TAG_COLOURS = 10;

export const newPickSchema = object({
  kind: pickKind(),
  label: trimmed().required('Give it a name.').max(80, 'A name has at most 80 characters.'),
  meaning: trimmed().max(300).default(''),
  colour: number().integer().min(0).max(TAG_COLOURS).default(0),
  /** Made although something of nearly the same name is here. */
  despite: boolean().default(false),
});
export type NewPickRequest = InferType<typeof newPickSchema>;

export const pickChangeSchema = object({
  meaning: trimmed().max(300),
  colour: number().integer().min(0).max(TAG_COLOURS),
});
export type PickChange = InferType<typeof pickChangeSchema>;

export const pickOrderSchema = object({ labels: array(string().required().max(80)).required().max(500) });

export const pickMergeSchema = object({
  /** source, tag, stage, or the key of a field with choices. */
  list: string().required().max(60),
  from: string().required().max(80),
  into: trimmed().required('Say what it becomes.').max(80, 'A name has at most 80 characters.'),
  /** Also where somebody then sees more people than before. */
  despite: boolean().default(false),
});
export type PickMerge = InferType<typeof pickMergeSchema>;

const areaRule = object({
  country: string()
    .matches(/^[A-Z]{2}$/)
    .nullable()
    .default(null),
  region: trimmed().max(80).nullable().default(null),
  postalPrefix: trimmed().max(12).nullable().default(null),
});
export const areasSchema = object({
  areas: array(
    object({
      name: trimmed().required('Give the area a name.').max(60),
      rules: array(areaRule.required()).required().min(1, 'Say where the area lies.').max(200),
    }).required(),
  )
    .required()
    .max(200),
});
export interface AreaDefinition {
  name: string;
  rules: AreaRule[];
}

export const addressCompletionSchema = object({
  postalCode: string().max(20).default(''),
  locality: string().max(60).default(''),
  country: string().max(2).default(''),
});

export const addressCompletionAnswer = part({
  locality: text(),
  region: text(),
  postalCode: text(),
  country: text(),
});
export type AddressCompletion = InferType<typeof addressCompletionAnswer>;

/** A value of a pick-list with how many contacts have it. */
/** How many live contacts have a label. */
export const labelCountAnswer = part({
  label: text(),
  people: whole(),
  organizations: whole(),
});
export type LabelCount = InferType<typeof labelCountAnswer>;

export const countedPickAnswer = labelCountAnswer.shape({
  meaning: text(),
  colour: whole(),
});
export type CountedPick = InferType<typeof countedPickAnswer>;

export const listsAnswer = part({
  fields: listOf(core<FieldDefinition>()),
  tags: listOf(countedPickAnswer),
  sources: listOf(countedPickAnswer),
  stages: listOf(countedPickAnswer),
  owners: listOf(labelCountAnswer),
  areas: listOf(labelCountAnswer),
  people: whole(),
  organizations: whole(),
  opportunities: whole(),
  country: text(),
});
export type Lists = InferType<typeof listsAnswer>;

export const areaDefinitionAnswer = part({ name: text(), rules: listOf(core<AreaRule>()) });
export const fieldMadeAnswer = part({ key: text() });
/** A change to many contacts; finished at once where there are few. */
export const manyChangeAnswer = part({ runId: whole(), finished: yesNo() });

/** Somebody who is told of changes, and how far. */
export const feedReaderAnswer = part({
  name: text(),
  sentence: text(),
  /** Writes that it has still to read. */
  behind: whole(),
  error: text().nullable(),
  failingSince: text().nullable(),
  nextTryAt: text().nullable(),
});
export type FeedReader = InferType<typeof feedReaderAnswer>;

/** What each field adds to completeness, by its key: 0 (nothing) to 9. */
export const weightsSchema = object({
  weights: mixed<Record<string, number>>(
    (value): value is Record<string, number> =>
      typeof value === 'object' &&
      value !== null &&
      !Array.isArray(value) &&
      Object.keys(value).length <= 1000 &&
      Object.values(value).every((one) => typeof one === 'number'),
  ).required('Say what each field weighs.'),
});
export type WeightsRequest = InferType<typeof weightsSchema>;
/** How complete live people are: on average, and how many in each fifth. */
const completenessPart = part({ mean: whole(), bands: listOf(whole()) });
export const weightsAnswer = part({ weights: recordOf(whole()), now: completenessPart });
export type WeightsInForce = InferType<typeof weightsAnswer>;
export const weightsTrialAnswer = completenessPart;
export type WeightsTrial = InferType<typeof weightsTrialAnswer>;
