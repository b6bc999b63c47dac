import { array, mixed, number, object, string, type InferType } from 'yup';
import type { MoneyValue } from '@gray-loom/core/model';
import type { Pipeline, StageOutcome } from '@gray-loom/core/fields';
import type { ThreadKind } from './threads';

export interface Opportunity {
  id: number;
  version: number;
  name: string;
  /** The contact it belongs to; after a merge the one that took that contact in. */
  contact: { id: number; name: string } | null;
  pipeline: string;
  stage: string;
  outcome: StageOutcome;
  value: MoneyValue | null;
  closeDate: string | null;
  owner: string;
  note: string;
  outsideId: string;
  lastThread: ThreadKind;
  touchedAt: string;
}

export interface StageTotal {
  pipeline: string;
  stage: string;
  count: number;
  sums: MoneyValue[];
}

export interface OpportunityPage {
  pipelines: Pipeline[];
  totals: StageTotal[];
  rows: Opportunity[];
  /** Whether there are more than are shown. */
  more: boolean;
}

export const opportunityQuerySchema = object({
  pipeline: string().max(80).default(''),
  stage: string().max(80).default(''),
  owner: string().max(80).default(''),
  find: string().max(200).default(''),
});
export type OpportunityQuery = InferType<typeof opportunityQuerySchema>;

export const opportunitySchema = object({
  contactId: number().integer().positive().required('Say whose opportunity it is.'),
  name: string().trim().required('Give the opportunity a name.').max(200),
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
  owner: string().trim().default('').max(80),
  note: string().trim().default('').max(20_000),
  /** The version that was seen, where one is changed. */
  version: number().integer().positive(),
});
export type OpportunityRequest = InferType<typeof opportunitySchema>;

export const stageMoveSchema = object({
  stage: string().required().max(80),
  version: number().integer().positive().required(),
});

export const pipelinesSchema = object({
  pipelines: array(
    object({
      name: string().trim().required('Give every pipeline a name.').max(80),
      /** Its name until now, where it had one. */
      was: string().max(80),
      stages: array(
        object({
          label: string().trim().required('Give every stage a name.').max(80),
          was: string().max(80),
          outcome: mixed<StageOutcome>().oneOf(['open', 'won', 'lost']).required(),
          meaning: string().trim().default('').max(300),
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
