import type { OutsideList, OutsideLists } from '@gray-loom/core/syncing';

/** The lists of a tool as labels of its records: a label is the name of a list that somebody is in. */
export class ListLabels {
  private lists: OutsideList[] | null = null;

  constructor(private readonly tool: Pick<OutsideLists, 'all' | 'make'>) {}

  /** The lists there are; asked anew where one of these ids came meanwhile. */
  async known(ids: Iterable<string> = []): Promise<readonly OutsideList[]> {
    const all = new Set(this.lists?.map(({ id }) => id));
    if (!this.lists || [...ids].some((id) => !all.has(id))) this.lists = await this.tool.all();
    return this.lists;
  }

  /** Asks for the lists anew the next time. */
  forget(): void {
    this.lists = null;
  }

  /** What has to be done for somebody who is in these lists to be in those of these names; null leaves them. */
  async moves(now: readonly string[], labels: readonly string[] | null): Promise<{ in: string[]; out: string[] }> {
    if (!labels) return { in: [], out: [] };
    const wanted = new Set<string>();
    for (const name of labels) wanted.add(await this.named(name));
    return { in: [...wanted].filter((id) => !now.includes(id)), out: now.filter((id) => !wanted.has(id)) };
  }

  private async named(name: string): Promise<string> {
    const there = (await this.known()).find((list) => list.name === name) ?? (await this.tool.make(name));
    if (!this.lists?.some(({ id }) => id === there.id)) this.lists = [...(this.lists ?? []), there];
    return there.id;
  }
}
