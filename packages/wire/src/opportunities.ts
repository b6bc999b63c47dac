import { anyId, id } from './ids';
import { part, whole, text, oneOf, core, listOf, yesNo, trimmed } from './parts';
import { array, mixed, number, object, string, type InferType } from 'yup';
import type { MoneyValue } from '@gray-loom/core/model';
import type { Pipeline, StageOutcome } from '@gray-loom/core/fields';
import type { ThreadKind } from './threads';

export const opportunityAnswer = part({
  id: whole(),
  version: whole(),
  name: text(),
  /** The contact it belongs to; after a merge the one that took that contact in. */
  contact: part({
    id: whole(),
    name: text(),
  }).nullable(),
  pipeline: text(),
  stage: text(),
  outcome: oneOf<StageOutcome>('open', 'won', 'lost'),
  value: core<MoneyValue>().nullable(),
  closeDate: text().nullable(),
  owner: text(),
  note: text(),
  outsideId: text(),
  lastThread: oneOf<ThreadKind>('file', 'hand', 'addressBook', 'dialer', 'mailer', 'form', 'inbox', 'rule'),
  touchedAt: text(),
});
export type Opportunity = InferType<typeof opportunityAnswer>;

export const stageTotalAnswer = part({
  pipeline: text(),
  stage: text(),
  count: whole(),
  sums: listOf(core<MoneyValue>()),
});
export type StageTotal = InferType<typeof stageTotalAnswer>;

export const opportunityPageAnswer = part({
  pipelines: listOf(core<Pipeline>()),
  totals: listOf(stageTotalAnswer),
  rows: listOf(opportunityAnswer),
  /** Whether there are more than are shown. */
  more: yesNo(),
});
export type OpportunityPage = InferType<typeof opportunityPageAnswer>;

export const opportunityQuerySchema = object({
  pipeline: string().max(80).default(''),
  stage: string().max(80).default(''),
  owner: string().max(80).default(''),
  find: string().max(200).default(''),
});
export type OpportunityQuery = InferType<typeof opportunityQuerySchema>;

export const opportunitySchema = object({
  contactId: id('Say whose opportunity it is.'),
  name: trimmed().required('Give the opportunity a name.').max(200),
  pipeline: string().required('Choose a pipeline.').max(80),
  stage: string().required('Choose a stage.').max(80),
  amount: number()
    .nullable()
    .default(null)
    .min(-1e12, 'That is no amount that could be meant.')
    .max(1e12, 'That is no amount that could be meant.'),
  currency: string()
    .default('EUR')
    .matches(/^[A-Z]{3}$/, 'A currency has three letters, such as GBP.'),
  closeDate: string()
    .nullable()
    .default(null)
    .matches(/^\d{4}-\d{2}-\d{2}$/, 'Give the day as a full date.'),
  owner: trimmed().default('').max(80),
  note: trimmed().default('').max(20_000),
  /** The version that was seen, where one is changed. */
  version: anyId(),
});
export type OpportunityRequest = InferType<typeof opportunitySchema>;

export const stageMoveSchema = object({
  stage: string().required().max(80),
  version: id(),
});

export const pipelinesSchema = object({
  pipelines: array(
    object({
      name: trimmed().required('Give every pipeline a name.').max(80),
      /** Its name until now, where it had one. */
      was: string().max(80),
      stages: array(
        object({
          label: trimmed().required('Give every stage a name.').max(80),
          was: string().max(80),
          outcome: mixed<StageOutcome>().oneOf(['open', 'won', 'lost']).required(),
          meaning: trimmed().default('').max(300),
        }).required(),
      )
        .required()
        .min(1, 'A pipeline has at least one stage.')
        .max(40),
    }).required(),
  )
    .required()
    .min(1, 'There is always one pipeline.')
    .max(30),
});
export type PipelinesRequest = InferType<typeof pipelinesSchema>;

export const pipelineAnswer = core<Pipeline>();
/** How many opportunities moved with a change of pipelines, and the run that moved them. */
export const movedAnswer = part({ runId: whole().nullable(), moved: whole() });
export const opportunityMadeAnswer = part({ id: whole(), runId: whole() });
/** The run of a change; null where nothing changed. */
export const opportunityRunAnswer = part({ runId: whole().nullable() });
