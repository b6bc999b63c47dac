import { array, mixed, object, string, type InferType } from 'yup';
import type { Channel } from '@gray-loom/core/writing';
import { place } from './ids';
import { listOf, oneOf, part, text, trimmed, whole, yesNo } from './parts';

const CHANNEL_NAMES: readonly Channel[] = ['email', 'text', 'call', 'voicemail', 'post'];
/** Addresses that can be entered at a time. */
export const MOST_ADDRESSES = 1000;

/** Addresses and numbers whose owners want no more, whoever they are. */
export const stopsSchema = object({
  addresses: array(trimmed().min(1).max(300).required())
    .required()
    .min(1, 'Give at least one address or number.')
    .max(MOST_ADDRESSES, `At most ${MOST_ADDRESSES} at a time.`),
  channels: array(
    mixed<Channel>()
      .oneOf([...CHANNEL_NAMES])
      .required(),
  )
    .required()
    .min(1, 'Say for which channels.'),
  /** `allowed` lifts stops, of one address, on the word of whoever has it. */
  state: mixed<'allowed' | 'optedOut'>().oneOf(['allowed', 'optedOut']).default('optedOut'),
  how: trimmed().required('Say how it was said, such as "by letter".').max(300),
  statedAt: string().nullable().default(null),
});
export type StopsRequest = InferType<typeof stopsSchema>;

export const askStopsSchema = object({
  find: trimmed().max(300).default(''),
  after: place().default(0),
});
export type StopsAsked = InferType<typeof askStopsSchema>;

const evidenceAnswer = part({
  id: whole(),
  channel: oneOf<Channel>(...CHANNEL_NAMES),
  state: oneOf('allowed', 'optedOut'),
  how: text(),
  /** The address that it was said of; null where it was said of the person. */
  address: text().nullable(),
  statedAt: text(),
  runId: whole(),
  /** Who wrote it down, or the tool that brought it. */
  by: text(),
});
export type StopEvidence = InferType<typeof evidenceAnswer>;

/** What a tool holds of somebody whom it may not write to or call. */
const toolKnowsAnswer = part({
  connectionId: whole(),
  connection: text(),
  channels: listOf(oneOf<Channel>(...CHANNEL_NAMES)),
  /** When it was last seen to hold it. */
  seenAt: text(),
});

export const stopAnswerAnswer = part({
  /** Whether what was asked for is an address or number. */
  isAddress: yesNo(),
  evidence: listOf(evidenceAnswer),
  /** Addresses among those asked for from which the last mail came back. */
  returned: listOf(part({ address: text(), how: text(), at: text(), runId: whole() })),
  people: listOf(
    part({
      id: whole(),
      name: text(),
      closed: listOf(oneOf<Channel>(...CHANNEL_NAMES)),
      evidence: listOf(evidenceAnswer),
      tools: listOf(toolKnowsAnswer),
    }),
  ),
  /** Where to go on from; null where this is all. */
  next: whole().nullable(),
});
export type StopAnswer = InferType<typeof stopAnswerAnswer>;
