import { createHash } from 'node:crypto';
import { existsSync, readFileSync, renameSync, writeFileSync } from 'node:fs';

export interface Card {
  name: string;
  text: string;
  etag: string;
  /** When it was last written, in ms since 1970 UTC by the clock of the stand-in. */
  changedAtMs: number;
}

/** How long changes may wait to be kept, in ms, and for each card: writing the whole book takes its time. */
const KEEP_MS = 2000;
const KEEP_MS_A_CARD = 1;

const labelsOf = (text: string): string[] =>
  propertyOf(text, 'CATEGORIES')
    .split(/(?<!\\),/)
    .map((label) => label.trim())
    .filter(Boolean);

/** What a card says of itself that the book has to know. */
export function propertyOf(text: string, name: string): string {
  const unfolded = text.replace(/\r?\n[ \t]/g, '');
  return new RegExp(`^(?:[\\w-]+\\.)?${name}(?:;[^:\\r\\n]*)?:(.*)$`, 'im').exec(unfolded)?.[1]?.trim() ?? '';
}

/** The store of the stand-in: cards by name, numbered changes, kept in one file where there is one. */
export class Book {
  private readonly cards = new Map<string, Card>();
  /** Names in the order of their last change; a sync token is a number of this list. */
  private log: string[] = [];
  private readonly byUids = new Map<string, string>();
  private readonly labelCounts = new Map<string, number>();
  private timer: NodeJS.Timeout | null = null;

  constructor(private readonly file: string | null) {
    if (!file || !existsSync(file)) return;
    const kept = JSON.parse(readFileSync(file, 'utf8')) as { cards: Card[]; log: string[] };
    for (const card of kept.cards) {
      this.cards.set(card.name, card);
      this.byUids.set(propertyOf(card.text, 'UID'), card.name);
      this.countLabels(card.text, 1);
    }
    this.log = kept.log;
  }

  get isEmpty(): boolean {
    return this.log.length === 0;
  }

  get size(): number {
    return this.cards.size;
  }

  get token(): number {
    return this.log.length;
  }

  find(name: string): Card | undefined {
    return this.cards.get(name);
  }

  list(): Card[] {
    return [...this.cards.values()];
  }

  labels(): string[] {
    return [...this.labelCounts].flatMap(([label, n]) => (n > 0 ? [label] : [])).sort();
  }

  private countLabels(text: string | undefined, by: 1 | -1): void {
    for (const label of labelsOf(text ?? '')) this.labelCounts.set(label, (this.labelCounts.get(label) ?? 0) + by);
  }

  byUid(uid: string): Card | undefined {
    const card = this.cards.get(this.byUids.get(uid) ?? '');
    return card && propertyOf(card.text, 'UID') === uid ? card : undefined;
  }

  put(name: string, text: string, nowMs: number): Card {
    this.log.push(name);
    const etag = `"${this.log.length}-${createHash('sha1').update(text).digest('hex').slice(0, 12)}"`;
    const card = { name, text, etag, changedAtMs: nowMs };
    this.countLabels(this.cards.get(name)?.text, -1);
    this.countLabels(text, 1);
    this.cards.set(name, card);
    this.byUids.set(propertyOf(text, 'UID'), name);
    this.keep();
    return card;
  }

  remove(name: string): boolean {
    this.countLabels(this.cards.get(name)?.text, -1);
    if (!this.cards.delete(name)) return false;
    this.log.push(name);
    this.keep();
    return true;
  }

  /** Names that changed since a token, each once; null where the token is not of this book. */
  since(token: number): { changed: Card[]; gone: string[] } | null {
    if (!Number.isInteger(token) || token < 0 || token > this.log.length) return null;
    const names = [...new Set(this.log.slice(token))];
    return {
      changed: names.flatMap((name) => this.cards.get(name) ?? []),
      gone: names.filter((name) => !this.cards.has(name)),
    };
  }

  private keep(): void {
    if (!this.file || this.timer) return;
    this.timer = setTimeout(() => this.keepNow(), KEEP_MS + this.cards.size * KEEP_MS_A_CARD);
    this.timer.unref();
  }

  keepNow(): void {
    if (!this.file) return;
    this.timer = null;
    // In one move, so that a stand-in that is killed finds a whole file again.
    writeFileSync(`${this.file}.new`, JSON.stringify({ cards: this.list(), log: this.log }));
    renameSync(`${this.file}.new`, this.file);
  }
}
