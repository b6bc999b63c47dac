import { object, type InferType } from 'yup';
import { listOf, part, text, trimmed, whole, yesNo } from './parts';

export const eraseSchema = object({
  /** How they asked for it, and when. */
  reason: trimmed().required('Say how they asked for it, and when.').max(500),
});

/** What erasing a contact would take, and what stays. */
export const erasureAnswer = part({
  name: text(),
  /** Records that were merged into it, and opportunities about it. */
  records: whole(),
  values: whole(),
  /** Changes in its history whose content goes. */
  changes: whole(),
  activities: whole(),
  files: whole(),
  heldRows: whole(),
  permissions: whole(),
  /** Files they came in by; their content is let go. */
  cameIn: listOf(text()),
  /** A file that holds them and is not in yet: it stands against erasing. */
  waits: part({ id: whole(), name: text() }).nullable(),
  /** Connections that hold a record of theirs, which stays over there. */
  connections: listOf(text()),
  /** Others with the same mailbox, who stay. */
  alike: listOf(part({ id: whole(), name: text(), deleted: yesNo() })),
});
export type Erasure = InferType<typeof erasureAnswer>;

/** People who were erased and are kept out. */
export const erasedAnswer = listOf(
  part({
    id: whole(),
    /** The number the contact had. */
    contactId: whole().nullable(),
    reason: text(),
    by: text().nullable(),
    at: text(),
    /** In how many ways they would be told. */
    forms: whole(),
  }),
);
export type ErasedPeople = InferType<typeof erasedAnswer>;
