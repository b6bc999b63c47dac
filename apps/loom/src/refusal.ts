/** An expected failure: one line on stderr, exit code 1. */
export class Refusal extends Error {}

/** Wrong usage: exit code 2. */
export class WrongUsage extends Error {}
