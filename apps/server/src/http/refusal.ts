import { wordIssue, type Issue, type IssueNext } from '@gray-loom/core/model';

export type RefusalStatus = 400 | 401 | 403 | 404 | 409 | 413 | 415 | 422 | 429 | 503 | 507;

type NoFacts = Record<never, never>;

interface Declared<F> {
  status: RefusalStatus;
  words(facts: F): string;
}

/**
 * An expected refusal as data: a code and its facts. Use cases throw it, so that their transaction ends; the HTTP status
 * and the sentence come from its declaration and are made where it is answered.
 */
export class Refusal extends Error {
  constructor(
    readonly code: string,
    readonly facts: Readonly<Record<string, unknown>>,
    private readonly declared: { status: RefusalStatus; words(): string },
  ) {
    super(code);
    this.name = 'Refusal';
  }

  get status(): RefusalStatus {
    return this.declared.status;
  }

  get words(): string {
    return this.declared.words();
  }

  /** The same refusal with more facts, such as which of several people it is about. */
  with(facts: Readonly<Record<string, unknown>>): Refusal {
    return new Refusal(this.code, { ...this.facts, ...facts }, this.declared);
  }
}

/** Declares one refusal: its sentence, or what makes one of its facts. */
interface Declare {
  (words: string): Declared<NoFacts>;
  <F extends object>(words: string | ((facts: F) => string)): Declared<F>;
}

function refusalOf(status: RefusalStatus): Declare {
  return <F extends object>(words: string | ((facts: F) => string)): Declared<F> => ({
    status,
    words: typeof words === 'string' ? () => words : words,
  });
}

export const malformed = refusalOf(400);
export const unknownPerson = refusalOf(401);
export const forbidden = refusalOf(403);
export const missing = refusalOf(404);
export const conflict = refusalOf(409);
export const tooLarge = refusalOf(413);
export const otherMediaType = refusalOf(415);
export const invalid = refusalOf(422);
export const tooOften = refusalOf(429);
export const unavailable = refusalOf(503);
export const outOfStorage = refusalOf(507);

type Makers<T> = {
  [C in keyof T]: T[C] extends Declared<infer F>
    ? keyof F extends never
      ? () => Refusal
      : (facts: F) => Refusal
    : never;
};

/** Declares what a room refuses, by code. `throw refuse.inUse({ count: 3 })` is then checked by type. */
export function declareRefusals<T extends Record<string, Declared<never>>>(table: T): Makers<T> {
  const makers = Object.entries(table).map(([code, declared]) => [
    code,
    (facts: Record<string, unknown> = {}) =>
      new Refusal(code, facts, { status: declared.status, words: () => declared.words(facts as never) }),
  ]);
  return Object.fromEntries(makers) as Makers<T>;
}

const STATUS_OF_ISSUE: { readonly [C in Issue['code']]?: RefusalStatus } = { fileTooLarge: 413, uploadCutOff: 400 };

/** An issue of the core as a refusal. `next` is what happens next where it was found: a row of a file is held, an entry is not kept. */
export function refuseIssue(issue: Issue, next: IssueNext = 'rowHeld', facts: Record<string, unknown> = {}): Refusal {
  return new Refusal(
    issue.code,
    { issue, ...facts },
    { status: STATUS_OF_ISSUE[issue.code] ?? 422, words: () => wordIssue(issue, next) },
  );
}
