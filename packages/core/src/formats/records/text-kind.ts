import { looksLikeBlocks } from './address-blocks';
import { looksAligned, looksRuled } from './aligned-rows';
import { looksLikeMailboxes } from './mailbox-list';
import { looksLabelled } from './labelled-records';

/** What a text is that is no delimited table, and of which a table can be made. */
export type TextKind = 'json' | 'page' | 'labelled' | 'ruled' | 'aligned' | 'mailboxes' | 'blocks';

/** What else than delimited text a table can be made of. */
export type MadeOf = 'message' | 'spreadsheet' | TextKind;

/** Each kind as people call it. */
export const TEXT_KIND_NAMES: Record<TextKind, string> = {
  json: 'Records (JSON)',
  page: 'A table of a web page',
  labelled: 'Records of labelled lines',
  ruled: 'A table with bars',
  aligned: 'A table with aligned columns',
  mailboxes: 'A list of mailboxes',
  blocks: 'Addresses as on labels',
};

const PAGE = /^(?:<!doctype html|<html|<table|<head|<body|<div|<meta|<style|<thead|<tr)\b/i;

/** Tells by the beginning of a text which of these it is; null where it is to be read as a delimited table. */
export function textKind(beginning: string): TextKind | null {
  const text = beginning.replace(/^\uFEFF/, '').trimStart();
  if (/^(?:\[\s*(?:\{|\[\s*"|"vcard")|\{\s*")/.test(text)) return 'json';
  if (PAGE.test(text.replace(/^(?:<\?xml[^>]*>|<!--[\s\S]*?-->)\s*/i, ''))) return 'page';
  if (looksLikeMailboxes(text)) return 'mailboxes';
  if (looksLabelled(text)) return 'labelled';
  if (looksRuled(text)) return 'ruled';
  if (looksAligned(text)) return 'aligned';
  return looksLikeBlocks(text) ? 'blocks' : null;
}

/** Whether a text is XML of a kind that no table is made of. */
export function isOtherXml(beginning: string): boolean {
  return /^\s*<\?xml/i.test(beginning.replace(/^\uFEFF/, '')) && textKind(beginning) !== 'page';
}
