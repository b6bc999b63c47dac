import { wordTable } from '@gray-loom/core/model';

/** Channels as they are named within a sentence, by their keys. */
export const CHANNEL_WORDS = wordTable({
  email: 'e-mail',
  text: 'texts',
  call: 'calls',
  voicemail: 'voicemail',
  post: 'post',
});
