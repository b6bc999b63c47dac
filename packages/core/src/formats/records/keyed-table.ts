/** A record as headings with their texts, in the order in which they stand. A heading that stands twice is numbered. */
export type KeyedRecord = readonly (readonly [heading: string, text: string])[];

/** Records as a table: a column for every heading that occurs, in the order in which they first do. The first row is the heading. */
export function keyedTable(records: readonly KeyedRecord[]): string[][] {
  const columns = new Map<string, number>();
  const rows = records.map((record) => {
    const row: string[] = [];
    const used = new Set<string>();
    const times = new Map<string, number>();
    for (const [heading, text] of record) {
      let nth = (times.get(heading) ?? 0) + 1;
      let name = nth > 1 ? `${heading} ${nth}` : heading;
      // A heading may be called as the second of another is.
      while (used.has(name)) name = `${heading} ${++nth}`;
      times.set(heading, nth);
      used.add(name);
      const at = columns.get(name) ?? columns.size;
      columns.set(name, at);
      row[at] = text;
    }
    return row;
  });
  const headings = [...columns.keys()];
  return [headings, ...rows.map((row) => headings.map((_, i) => row[i] ?? ''))];
}
