import { SimulatedTool, type ToolKind } from './sync-tool';
import {
  NEW_FIELD_TYPES,
  ToolTrouble,
  type Capabilities,
  type NewOutsideField,
  type OutsideField,
  type OutsideForms,
  type OutsideLists,
  type OutsidePage,
  type OutsideResult,
  type OutsideStop,
  type OutsideSubmission,
  type Tool,
} from '../syncing';

/** Entries of a page; few, so that there are pages. */
const PAGE = 2;

const pageOf = <T>(all: readonly T[], cursor: string | null): OutsidePage<T> => {
  const from = Number(cursor ?? 0);
  const entries = all.slice(from, from + PAGE);
  return { entries, cursor: String(from + entries.length), more: from + entries.length < all.length };
};

const FORM = {
  id: 'crew',
  name: 'Join the crew',
  questions: [
    { key: 'boat', text: 'Which boat?', options: ['gig', 'skiff'] },
    { key: 'why', text: 'Why?' },
  ],
};

/** A simulated tool that talks to people: what happens with them, who stops, forms, lists, fields that are made, whom it calls next. */
export class SimulatedService extends SimulatedTool {
  private readonly happened: OutsideResult[] = [];
  private readonly said: OutsideStop[] = [];
  private readonly answered: OutsideSubmission[] = [];
  private readonly queue: string[] = [];

  constructor(kind: ToolKind, now: () => number) {
    super({ ...kind, fields: [...kind.fields] }, now);
  }

  override async capabilities(): Promise<Capabilities> {
    return { ...(await super.capabilities()), newFieldTypes: NEW_FIELD_TYPES, results: ['call'], canCallNext: true };
  }

  happens(recordId: string | null): void {
    this.happened.push({
      id: String(this.happened.length + 1),
      kind: 'call',
      recordId,
      number: '+44 7700 900456',
      reached: '',
      incoming: false,
      at: new Date(this.now()).toISOString(),
      outcome: 'reached',
      minutes: 3,
      by: '',
    });
  }

  says(address: string): void {
    const [channel] = this.kind.keepsStops;
    if (channel) this.said.push({ channel, address, at: new Date(this.now()).toISOString() });
  }

  answers(): void {
    const id = String(this.answered.length + 1);
    this.answered.push({ id, at: new Date(this.now()).toISOString(), answers: { boat: 'gig', why: 'For the oars' } });
  }

  results(cursor: string | null): Promise<OutsidePage<OutsideResult>> {
    return Promise.resolve(pageOf(this.happened, cursor));
  }

  get stops(): Tool['stops'] {
    return this.kind.keepsStops.length ? (cursor) => Promise.resolve(pageOf(this.said, cursor)) : undefined;
  }

  readonly forms: OutsideForms = {
    all: () => Promise.resolve([FORM]),
    submissions: (_, cursor) => Promise.resolve(pageOf(this.answered, cursor)),
  };

  /** A list is a label that is kept though nobody has it. */
  private readonly names = new Set<string>();

  readonly lists: OutsideLists = {
    all: () => Promise.resolve([...this.names].map((name) => ({ id: name, name }))),
    make: (name) => {
      this.names.add(name);
      return Promise.resolve({ id: name, name });
    },
    members: async (list, cursor) => {
      if (!this.names.has(list)) throw new ToolTrouble('notFound', 'There is no such list.');
      const all = [...this.records.values()].filter(({ labels }) => labels.includes(list));
      return Promise.resolve(
        pageOf(
          all.map(({ id }) => id),
          cursor,
        ),
      );
    },
    move: (list, moves) => {
      for (const id of [...moves.in, ...moves.out]) {
        const record = this.records.get(id);
        if (!record) continue;
        const others = record.labels.filter((label) => label !== list);
        this.put(id, record.fields, moves.in.includes(id) ? [...others, list] : others, record.stopped ?? []);
      }
      return Promise.resolve([]);
    },
  };

  makeField({ name, options }: NewOutsideField): Promise<OutsideField> {
    if (this.kind.fields.some((field) => field.name === name))
      return Promise.reject(new ToolTrouble('refusedThere', 'There is a field of this name.'));
    const field: OutsideField = { key: `own ${name}`, name, type: 'text', most: 1, options };
    this.kind.fields.push(field);
    return Promise.resolve(field);
  }

  callNext(id: string): Promise<void> {
    if (!this.records.has(id)) return Promise.reject(new ToolTrouble('refusedThere', 'Nobody is there by this id.'));
    this.queue.unshift(id);
    return Promise.resolve();
  }
}
