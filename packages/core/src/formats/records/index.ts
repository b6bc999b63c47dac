export { readJsonObjects, tableOfObjects, type JsonObject } from './json-records';
export { tableOfLabelled } from './labelled-records';
export { tableOfBlocks } from './address-blocks';
export { tableOfMailboxes } from './mailbox-list';
export { rowsOfAligned, rowsOfRuled } from './aligned-rows';
export { isOtherXml, TEXT_KIND_NAMES, textKind, type MadeOf, type TextKind } from './text-kind';
