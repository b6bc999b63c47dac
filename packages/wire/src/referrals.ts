import type { InferType } from 'yup';
import type { MoneyValue } from '@gray-loom/core/model';
import { core, listOf, part, text, whole, yesNo } from './parts';

/** One of two between whom a referral is; `id` is null for somebody who is known by name only. */
const side = () => part({ id: whole().nullable(), name: text() });

/** Who referred whom, and what is owed for it. */
export const referralAnswer = part({
  referrer: side(),
  referred: side(),
  owed: core<MoneyValue>().nullable(),
  /** On what terms, in words. */
  fee: text(),
  /** When it was written down. */
  at: text().nullable(),
});
export type Referral = InferType<typeof referralAnswer>;

export const referralsAnswer = part({
  /** By the referrer's name, then the name of whoever was referred. */
  rows: listOf(referralAnswer),
  /** What is owed in all, one sum for each currency. */
  sums: listOf(core<MoneyValue>()),
  /** Whether there are more than are listed and summed. */
  more: yesNo(),
});
export type Referrals = InferType<typeof referralsAnswer>;
