/**
 * A table in which words from outside are looked up. It holds its own words and nothing else, whereas a plain object also
 * answers to what every object has: "constructor", "toString".
 *
 * @param words - what each word stands for
 * @returns the same words, without a prototype
 */
export function wordTable<T>(words: Readonly<Record<string, T>>): Readonly<Record<string, T>> {
  return Object.assign(Object.create(null) as Record<string, T>, words);
}
