import type { RemitBefore } from '../../book/renamed-remits';
import type { FieldType } from '@gray-loom/core/fields';
import type { NamedBefore } from '../../book/renamed-picks';
import type { PickKind } from '../../db/schema';

export interface KeptPick {
  kind: PickKind;
  label: string;
  foldKey: string;
  ordinal: number;
  meaning: string;
  colour: number;
  formerly: string[];
}

/** What a run does to many contacts; kept in the run, so that it can go on after an interruption and be taken back. */
export type ManyChange =
  | {
      kind: 'pick';
      field: string;
      from: string;
      into: string;
      dropped: KeptPick | null;
      /** What named the value before, of a merge of two; a rename is taken back by another one. */
      before?: NamedBefore;
      /** What accounts with a remit saw by the value before. */
      remits?: RemitBefore[];
    }
  | { kind: 'convert'; field: string; type: FieldType; choices: string[]; currency: string | null; before: FieldShape }
  | { kind: 'derive' }
  | GiveChange;

/** Contacts without an owner get one: in turn, or by the area they live in. */
export interface GiveChange {
  kind: 'give';
  by: 'inTurn' | 'byArea';
  /** Those that this import brought; else these. */
  ofRun: number | null;
  ids: number[];
}

export interface FieldShape {
  type: FieldType;
  choices: string[];
  currency: string | null;
}
