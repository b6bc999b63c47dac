/** The code of an error, or of what caused it: SQLSTATE for what the database says, a name of the system for others. */
export function codeOf(error: unknown): string | undefined {
  for (let at = error; typeof at === 'object' && at !== null; at = (at as { cause?: unknown }).cause) {
    const { code } = at as { code?: unknown };
    if (typeof code === 'string') return code;
  }
  return undefined;
}
