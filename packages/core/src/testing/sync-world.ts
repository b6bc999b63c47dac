import fc from 'fast-check';
import { Catalogue } from '../fields';
import { lifecycleOf, valuesOf, type Operation, type Value } from '../model';
import {
  BY_HAND,
  findFights,
  itemsOf,
  outsideField,
  LISTS,
  project,
  settleLine,
  settleList,
  SyncPass,
  ToolTrouble,
  type ByHand,
  type Link,
  type ListLine,
  type OurPerson,
  type OutsideRecord,
  type SyncContext,
  type SyncLine,
  type SyncSetup,
} from '../syncing';
import { SimulatedBook, SimulatedStore } from './sync-book';
import { Died, SimulatedTool, TOOL_KINDS, type Fault } from './sync-tool';

export type Step =
  | { kind: 'editHere'; who: number; field: string; text: number; remove: boolean }
  | { kind: 'editThere'; tool: number; who: number; field: string; text: number; remove: boolean }
  | { kind: 'newHere' }
  | { kind: 'sharesHere'; who: number }
  | { kind: 'newThere'; tool: number }
  | { kind: 'deleteHere'; who: number }
  | { kind: 'restoreHere'; who: number }
  | { kind: 'deleteThere'; tool: number; who: number }
  | { kind: 'moveThere'; tool: number; who: number }
  | { kind: 'putBackThere'; tool: number }
  | { kind: 'merge'; a: number; b: number }
  | { kind: 'unmerge' }
  | { kind: 'label'; tool: number; who: number; stage: number }
  | { kind: 'stage'; who: number; stage: number }
  | { kind: 'listThere'; who: number; list: number }
  | { kind: 'stopHere'; who: number }
  | { kind: 'stopThere'; tool: number; who: number }
  | { kind: 'pass'; tool: number; faults: Fault[] };

const nat = fc.nat({ max: 30 });
const tool = fc.nat({ max: 2 });
const FIELDS = ['givenName', 'familyName', 'email', 'tel', 'note', 'organization'];
const STAGES = ['Enquiry', 'Student', 'Alumni'];
const anyFault = fc.constantFrom<Fault>(
  'lostAnswer',
  'notWritten',
  'repeated',
  'busy',
  'failing',
  'credentials',
  'cursorLost',
  'disorder',
  'dies',
);
const edit = { who: nat, field: fc.constantFrom(...FIELDS), text: fc.nat({ max: 9 }), remove: fc.boolean() };

const anyStep: fc.Arbitrary<Step> = fc.oneof(
  { weight: 6, arbitrary: fc.record({ kind: fc.constant('editHere' as const), ...edit }) },
  { weight: 6, arbitrary: fc.record({ kind: fc.constant('editThere' as const), tool, ...edit }) },
  { weight: 2, arbitrary: fc.constant({ kind: 'newHere' as const }) },
  { weight: 2, arbitrary: fc.record({ kind: fc.constant('sharesHere' as const), who: nat }) },
  { weight: 2, arbitrary: fc.record({ kind: fc.constant('newThere' as const), tool }) },
  { weight: 1, arbitrary: fc.record({ kind: fc.constant('deleteHere' as const), who: nat }) },
  { weight: 1, arbitrary: fc.record({ kind: fc.constant('restoreHere' as const), who: nat }) },
  { weight: 1, arbitrary: fc.record({ kind: fc.constant('deleteThere' as const), tool, who: nat }) },
  { weight: 1, arbitrary: fc.record({ kind: fc.constant('moveThere' as const), tool, who: nat }) },
  { weight: 1, arbitrary: fc.record({ kind: fc.constant('putBackThere' as const), tool }) },
  { weight: 1, arbitrary: fc.record({ kind: fc.constant('merge' as const), a: nat, b: nat }) },
  { weight: 1, arbitrary: fc.constant({ kind: 'unmerge' as const }) },
  {
    weight: 2,
    arbitrary: fc.record({ kind: fc.constant('label' as const), tool, who: nat, stage: fc.nat({ max: 2 }) }),
  },
  { weight: 2, arbitrary: fc.record({ kind: fc.constant('stage' as const), who: nat, stage: fc.nat({ max: 2 }) }) },
  {
    weight: 2,
    arbitrary: fc.record({ kind: fc.constant('listThere' as const), who: nat, list: fc.nat({ max: 2 }) }),
  },
  { weight: 1, arbitrary: fc.record({ kind: fc.constant('stopHere' as const), who: nat }) },
  { weight: 1, arbitrary: fc.record({ kind: fc.constant('stopThere' as const), tool, who: nat }) },
  {
    weight: 8,
    arbitrary: fc.record({
      kind: fc.constant('pass' as const),
      tool,
      faults: fc.oneof(
        { weight: 2, arbitrary: fc.constant<Fault[]>([]) },
        { weight: 3, arbitrary: fc.array(anyFault, { maxLength: 4 }) },
      ),
    }),
  },
);

const anyRule = fc.constantFrom('replace', 'newest', 'ask', 'fill') as fc.Arbitrary<SyncLine['rule']>;
const anyDirection = fc.constantFrom('both', 'both', 'both', 'in', 'out') as fc.Arbitrary<SyncLine['direction']>;

/** Edits and passes only, with lines that ask: then nothing may be lost at all. */
export const anyEdits: fc.Arbitrary<History> = fc.record({
  rules: fc.constant([{ rule: 'ask' as const, direction: 'both' as const }]),
  makeAgain: fc.constant(false),
  removeThere: fc.constant(false),
  steps: fc.array(
    anyStep.filter(
      (step) =>
        /^(?:edit|new|pass)/.test(step.kind) &&
        !('field' in step && 'tool' in step && step.tool === 1 && /Name$|organization/.test(step.field)),
    ),
    { minLength: 10, maxLength: 40, size: 'max' },
  ),
});

/** Only one side is edited, whatever goes wrong on the way. */
export const anyOwnEdits: fc.Arbitrary<History> = anyEdits.map((history) => ({
  ...history,
  steps: history.steps.filter(({ kind }) => kind === 'editHere' || kind === 'newHere' || kind === 'pass'),
}));

/** A history: how the connections are set up, and what happens. */
export interface History {
  rules: { rule: SyncLine['rule']; direction: SyncLine['direction'] }[];
  makeAgain: boolean;
  removeThere: boolean;
  /** What becomes of the second list where it is changed by hand. */
  byHand?: ByHand;
  /** Whether several people may have one address, and whose its record is then. */
  shares?: 'first' | 'ask' | undefined;
  steps: Step[];
}

export const anyHistory: fc.Arbitrary<History> = fc.record({
  rules: fc.array(fc.record({ rule: anyRule, direction: anyDirection }), { minLength: 16, maxLength: 16 }),
  makeAgain: fc.boolean(),
  removeThere: fc.boolean(),
  byHand: fc.constantFrom(...BY_HAND),
  shares: fc.constantFrom(undefined, undefined, 'first' as const, 'ask' as const),
  steps: fc.array(anyStep, { minLength: 10, maxLength: 40, size: 'max' }),
});

const LINES: Record<string, [field: string, outside: string][]> = {
  'address book': [
    ['givenName', 'given'],
    ['familyName', 'family'],
    ['email', 'email'],
    ['tel', 'tel'],
    ['note', 'note'],
    ['organization', 'org'],
  ],
  dialer: [
    ['name', 'name'],
    ['tel', 'tel'],
    ['email', 'email'],
    ['note', 'note'],
  ],
  mailer: [
    ['givenName', 'given'],
    ['familyName', 'family'],
    ['email', 'email'],
    ['organization', 'org'],
  ],
};

/** Lists of the mailer: two kept by segments, one a part of a list, and one that is a tag here. */
const listLines = (byHand: ByHand): ListLine[] => [
  { id: 'l1', direction: 'out', segment: 1, tag: '', label: 'Spring / Students', byHand: 'putRight' },
  { id: 'l2', direction: 'out', segment: 2, tag: '', label: 'Old boats', byHand },
  { id: 'l3', direction: 'in', segment: 0, tag: 'crew', label: 'Crew', byHand: 'putRight' },
];

/** Us and three outside tools, one of them lossy. */
export class SyncWorld {
  nowMs = 1_700_000_000_000;
  readonly catalogue = new Catalogue();
  readonly book = new SimulatedBook(this.catalogue, () => this.nowMs);
  readonly tools = TOOL_KINDS.map((kind) => new SimulatedTool(kind, () => this.nowMs));
  readonly stores = this.tools.map((_, n) => new SimulatedStore(this.book, () => this.setups[n]?.scopes ?? []));
  readonly setups: SyncSetup[];
  readonly context: SyncContext = { catalogue: this.catalogue, country: 'GB' };
  private readonly unmerges: Operation[][] = [];
  private unmerged = false;
  private made = 0;
  private passes = 0;
  /** Every text that an edit wrote and no later edit took away. */
  readonly standing = new Set<string>();

  constructor(private readonly history: History) {
    let at = 0;
    this.setups = this.tools.map(({ kind }): SyncSetup => {
      const lines = (LINES[kind.name] ?? []).map(([field, outside], i): SyncLine => {
        const chosen = history.rules[at++ % history.rules.length] ?? {
          rule: 'ask' as const,
          direction: 'both' as const,
        };
        return { id: `${i}`, field, outside, ...chosen, wins: 'there' };
      });
      lines.push({
        id: 'stage',
        field: 'stage',
        outside: 'labels',
        direction: 'both',
        rule: 'replace',
        wins: 'there',
        stageLabels: Object.fromEntries(STAGES.map((stage) => [stage, `at ${stage}`])),
      });
      return {
        lines,
        ...(kind.byAddress ? { lists: listLines(history.byHand ?? 'putRight') } : {}),
        scopes: [{ id: 'all', who: { kind: 'everybody' }, give: { tags: [], source: '', owner: '', stage: '' } }],
        newHere: true,
        newThere: true,
        whenGoneThere: history.makeAgain ? 'makeAgain' : 'keep',
        whenGoneHere: history.removeThere ? 'remove' : 'keep',
        whenLeaving: 'keep',
        whenMergedHere: 'ask',
        ...(history.shares ? { whoShares: history.shares } : {}),
        limits: { removals: 1000, overwrites: 1000 },
      };
    });
    // Connections that would fight over a field are refused at set-up; here the later one asks instead.
    for (const { field, connections } of findFights(this.setups.map(({ lines }, id) => ({ id, lines }))))
      for (const id of connections.slice(1))
        for (const line of this.setups[id]?.lines ?? [])
          if (line.field === field || (line.field === 'name' && field.endsWith('Name'))) line.rule = 'ask';
  }

  /** Some people here, some over there, some on both sides, before anything happens. */
  async begin(): Promise<void> {
    for (let i = 0; i < 3; i++) await this.step({ kind: 'newHere' });
    for (let tool = 0; tool < 3; tool++) await this.step({ kind: 'newThere', tool });
    for (const [id, { record }] of [...this.book.contacts].slice(0, 2)) {
      const tool = this.tools[id % 3] as SimulatedTool;
      const [given, family] = ['givenName', 'familyName'].map((field) => String(record.f[field]?.[0]?.v));
      tool.put(
        `both-${id}`,
        {
          given: [{ v: given ?? '' }],
          family: [{ v: 'Trelawny' }],
          name: [{ v: `${given} ${family}` }],
          email: [{ v: String(record.f.email?.[0]?.v) }],
          tel: [{ v: '+44 1632 960999' }],
        },
        ['at Student'],
        [],
      );
    }
  }

  private pickContact(who: number): number | null {
    const live = [...this.book.contacts].filter(([, { record }]) => !lifecycleOf(record)).map(([id]) => id);
    return live[who % Math.max(1, live.length)] ?? null;
  }

  private pickOutside(tool: SimulatedTool, who: number): string | null {
    const ids = [...tool.records.keys()].sort();
    return ids[who % Math.max(1, ids.length)] ?? null;
  }

  private textFor(field: string, n: number): string {
    this.made++;
    if (field === 'email') return `p${this.made}.${n}@example.org`;
    if (field === 'tel') return `+44 1632 ${String(960_000 + (this.made % 1000)).padStart(6, '0')}`;
    if (field === 'note') return `Says ${n}: asked about the steaming of planks and frames, ${this.made}`;
    return (
      ['Ana', 'Tom', 'Ines', 'Jory', 'Piran', 'Wenna', 'Kerra', 'Loveday', 'Merryn', 'Tamsin'][n] + letters(this.made)
    );
  }

  async step(step: Step): Promise<void> {
    this.nowMs += 1000;
    switch (step.kind) {
      case 'editHere': {
        const id = this.pickContact(step.who);
        if (id !== null) this.editHere(id, step.field, step.text, step.remove);
        return;
      }
      case 'editThere':
        return this.editThere(step);
      case 'newHere': {
        const run = this.book.startRun();
        const value = (slot: number, v: string): Value => ({ slot, v, run });
        this.book.insert({
          n: 3,
          f: {
            givenName: [value(0, this.textFor('givenName', 1))],
            familyName: [value(0, this.textFor('familyName', 2))],
            email: [value(1, this.textFor('email', 0))],
          },
        });
        return;
      }
      case 'sharesHere': {
        const id = this.pickContact(step.who);
        const address =
          id === null ? undefined : valuesOf(this.book.contacts.get(id)?.record ?? { n: 0, f: {} }, 'email')[0];
        if (!this.history.shares || !address) return;
        const run = this.book.startRun();
        const givenName = [{ slot: 0, v: this.textFor('givenName', 5), run }];
        this.book.insert({ n: 2, f: { givenName, email: [{ slot: 1, v: address.v, run }] } });
        return;
      }
      case 'newThere': {
        const tool = this.tools[step.tool] as SimulatedTool;
        const [given, family] = [this.textFor('givenName', 3), this.textFor('familyName', 4)];
        tool.put(
          `there-${this.made}`,
          {
            given: [{ v: given }],
            family: [{ v: family }],
            name: [{ v: `${given} ${family}` }],
            email: [{ v: this.textFor('email', 1) }],
          },
          [],
          [],
        );
        return;
      }
      case 'deleteHere': {
        const id = this.pickContact(step.who);
        if (id === null) return;
        const after: Value = { slot: 0, v: { state: 'deleted' }, run: this.book.startRun() };
        this.book.write(id, [{ target: id, field: 'lifecycle', slot: 0, before: null, after }]);
        return;
      }
      case 'restoreHere': {
        const gone = [...this.book.contacts].filter(([, { record }]) => lifecycleOf(record)?.state === 'deleted');
        const found = gone[step.who % Math.max(1, gone.length)];
        if (!found) return;
        const [id, { record }] = found;
        this.book.write(id, [
          { target: id, field: 'lifecycle', slot: 0, before: record.f.lifecycle?.[0] ?? null, after: null },
        ]);
        return;
      }
      case 'deleteThere': {
        const tool = this.tools[step.tool] as SimulatedTool;
        const id = this.pickOutside(tool, step.who);
        if (id !== null) tool.remove(id);
        return;
      }
      case 'moveThere': {
        const tool = this.tools[step.tool] as SimulatedTool;
        const id = this.pickOutside(tool, step.who);
        // Only where a record has a name of its own can anybody tell that it is the same one.
        if (id !== null && tool.kind.keepsUid && !tool.kind.byAddress) tool.move(id, `moved-${++this.made}`);
        return;
      }
      case 'putBackThere':
        return (this.tools[step.tool] as SimulatedTool).putBack();
      case 'merge': {
        const [a, b] = [this.pickContact(step.a), this.pickContact(step.b)];
        if (a === null || b === null || a === b) return;
        const back = this.book.merge(a, b);
        if (back) this.unmerges.push(back);
        return;
      }
      case 'unmerge': {
        const back = this.unmerges.pop();
        if (!back) return;
        this.unmerged = true;
        const targets = new Set(back.map(({ target }) => target));
        // A stop that was said while they were one was said for both.
        const stopped = [...targets].flatMap((id) => this.book.contacts.get(id)?.stopped ?? []);
        for (const id of targets) {
          const kept = this.book.contacts.get(id);
          if (!kept) continue;
          for (const operation of back.filter(({ target }) => target === id)) this.book.write(id, [operation]);
          this.book.stop(id, stopped);
        }
        return;
      }
      case 'label': {
        const tool = this.tools[step.tool] as SimulatedTool;
        const id = this.pickOutside(tool, step.who);
        const record = id === null ? undefined : tool.records.get(id);
        if (record)
          tool.put(record.id, record.fields, [...record.labels, `at ${STAGES[step.stage]}`], record.stopped ?? []);
        return;
      }
      case 'stage': {
        const id = this.pickContact(step.who);
        if (id === null) return;
        const before = this.book.contacts.get(id)?.record.f.stage?.[0] ?? null;
        const after: Value = { slot: 0, v: STAGES[step.stage] ?? '', run: this.book.startRun() };
        this.book.write(id, [{ target: id, field: 'stage', slot: 0, before, after }]);
        return;
      }
      case 'listThere': {
        const tool = this.tools[2] as SimulatedTool;
        const id = this.pickOutside(tool, step.who);
        const record = id === null ? undefined : tool.records.get(id);
        const label = listLines('putRight')[step.list]?.label ?? '';
        if (!record) return;
        const others = record.labels.filter((one) => one !== label);
        const isIn = others.length < record.labels.length;
        tool.put(record.id, record.fields, isIn ? others : [...others, label], record.stopped ?? []);
        return;
      }
      case 'stopHere': {
        const id = this.pickContact(step.who);
        if (id !== null) this.book.stop(id, ['call']);
        return;
      }
      case 'stopThere': {
        const tool = this.tools[step.tool] as SimulatedTool;
        const id = this.pickOutside(tool, step.who);
        const record = id === null ? undefined : tool.records.get(id);
        if (record) tool.put(record.id, record.fields, record.labels, [...tool.kind.keepsStops]);
        return;
      }
      case 'pass':
        await this.pass(step.tool, step.faults);
    }
  }

  private editHere(id: number, field: string, n: number, remove: boolean): void {
    const record = this.book.contacts.get(id)?.record;
    if (!record) return;
    const run = this.book.startRun();
    const values = valuesOf(record, field);
    const several = this.catalogue.find(field)?.several;
    const before = values[n % Math.max(1, values.length)] ?? null;
    if (remove && !before) return;
    // Nobody is left without a name or an e-mail, as the sheet sees to.
    if (remove && (!several || values.length < 2) && field !== 'note' && field !== 'tel') return;
    const isNew = several && (n % 3 === 0 || !before);
    const slot = isNew ? record.n : (before?.slot ?? 0);
    const text = this.textFor(field, n);
    const after: Value | null = remove
      ? null
      : {
          slot,
          v: text,
          run,
          ...(field === 'tel' ? { norm: text.replace(/ /g, '') } : {}),
          ...(isNew ? { rank: values.length } : before?.rank ? { rank: before.rank } : {}),
        };
    if (this.book.write(id, [{ target: id, field, slot, before: isNew ? null : before, after }]))
      this.moved(field, isNew ? undefined : before?.v, remove ? undefined : text);
  }

  /** A text took the place of another; a note is cut off over there, so it is not followed. */
  private moved(field: string, before: unknown, after: string | undefined): void {
    if (field === 'note') return;
    if (before !== undefined) this.standing.delete(String(before));
    if (after !== undefined) this.standing.add(after);
  }

  /** What of one list is not as its rule has it. */
  private listFaults(list: ListLine, person: OurPerson, theirs: OutsideRecord, link: Link, where: string): string[] {
    const stands = theirs.labels.includes(list.label);
    const wants =
      list.direction === 'out'
        ? person.segments?.has(list.segment) === true
        : valuesOf(person.record, 'tags').some(({ v }) => v === list.tag);
    if (wants === stands) return [];
    const base = link.base?.[LISTS];
    const isKnown =
      (base?.o ?? []).some(({ v }) => v === list.id) !== (base?.t ?? base?.o ?? []).some(({ v }) => v === list.id);
    // Left as somebody over there had it, which is known; of one that is asked about the question is open.
    if (list.byHand === 'leave' && isKnown) return [];
    const isAsked =
      list.byHand === 'ask' &&
      [...this.stores].some(({ conflicts }) =>
        (conflicts.get(link.outsideId) ?? []).some(({ line }) => line === list.id),
      );
    if (isAsked || (list.byHand === 'ask' && isKnown)) return [];
    // A tag that was merged in, or brought back, is changed here: it is no word of the list.
    if (list.direction === 'in' && isKnown) return [];
    return [`${where}: list ${list.label} is ${String(stands)} there and ${String(wants)} here (${list.byHand})`];
  }

  /** Decides every open question about a value in one way; gives how many there were. */
  async settleAll(take: 'ours' | 'theirs' | 'both'): Promise<number> {
    let settled = 0;
    for (const [n, store] of this.stores.entries())
      for (const [outsideId, open] of [...store.conflicts])
        for (const { line: id } of open) {
          const line = this.setups[n]?.lines.find((one) => one.id === id);
          const list = this.setups[n]?.lists?.find((one) => one.id === id);
          const link = store.byId.get(outsideId);
          const person = link && this.book.person(link.contactId);
          if (!(line ?? list) || !link?.seen || !person) continue;
          const others = (store.conflicts.get(outsideId) ?? []).filter((other) => other.line !== id);
          if (list) {
            const pair = { link, theirs: link.seen, version: person.version, others };
            await store.save([settleList(list, take === 'theirs' ? 'theirs' : 'ours', pair)]);
            settled++;
          }
          if (!line) continue;
          const several = this.catalogue.find(line.field)?.several;
          const single = take === 'both' ? 'ours' : take;
          const settledPair = settleLine(
            line,
            { take: several ? take : single },
            {
              contactId: person.id,
              version: person.version,
              record: person.record,
              link,
              theirs: link.seen,
              capabilities: await (this.tools[n] as SimulatedTool).capabilities(),
              context: this.context,
              run: this.book.startRun(),
              others,
            },
          );
          if (!settledPair.ok) continue;
          await store.save([settledPair.value]);
          settled++;
        }
    return settled;
  }

  /** Values of which a person is asked. */
  asked(): string[] {
    return this.stores.flatMap((store) =>
      [...store.conflicts.values()].flatMap((list) => list.map(({ line, why }) => `${line}: ${why}`)),
    );
  }

  /** Texts of edits that are neither here nor asked about. */
  lost(): string[] {
    const known = new Set<string>();
    const digits = (text: string) => (/^\+?[\d ]+$/.test(text) ? text.replace(/\D/g, '') : text);
    for (const { record } of this.book.contacts.values())
      for (const values of Object.values(record.f)) for (const { v } of values) known.add(digits(String(v)));
    for (const store of this.stores)
      for (const conflicts of store.conflicts.values())
        for (const { ours, theirs } of conflicts)
          for (const { v } of [...ours, ...theirs]) known.add(digits(String(v)));
    return [...this.standing].filter((text) => !known.has(digits(text)));
  }

  /** Nobody waits for a place that is free, but for those of whom a person has to name one. */
  private placeFaults(store: SimulatedStore): string[] {
    const links = [...store.byId.values()];
    return links.flatMap(({ waitsFor, contactId, apart }) => {
      if (waitsFor === null) return [];
      if (apart !== 'shared') return [`${contactId} waits for ${waitsFor} and is ${String(apart)}`];
      const holder = store.byId.get(waitsFor);
      const isHeld = holder !== undefined && ['linked', 'making', 'asking'].includes(holder.state);
      const rivals = links.filter((other) => other.waitsFor === waitsFor).length;
      return isHeld || (this.history.shares === 'ask' && rivals > 1)
        ? []
        : [`${contactId} waits for ${waitsFor}, which is free`];
    });
  }

  private editThere(step: Extract<Step, { kind: 'editThere' }>): void {
    const tool = this.tools[step.tool] as SimulatedTool;
    const id = this.pickOutside(tool, step.who);
    const record = id === null ? undefined : tool.records.get(id);
    if (!record) return;
    const line = (LINES[tool.kind.name] ?? []).find(([field]) => field === step.field) ?? ['name', 'name'];
    const field = tool.kind.fields.find(({ key }) => key === line[1]);
    if (!field) return;
    const values = [...(record.fields[field.key] ?? [])];
    const at = step.text % Math.max(1, values.length);
    if (step.remove) {
      if (values.length < 2 && field.key !== 'note' && field.key !== 'tel') return;
      const [gone] = values.splice(at, 1);
      this.moved(step.field, gone?.v, undefined);
    } else {
      const v = this.textFor(step.field, step.text);
      const isNew = values.length < field.most && step.text % 3 === 0;
      // Whatever is written into the one box for a name is a whole name.
      if (field.key !== 'name') this.moved(step.field, isNew ? undefined : values[at]?.v, v);
      if (isNew) values.push({ v });
      else values[at] = { ...values[at], v: field.key === 'name' ? `${v} Penrose` : v };
    }
    tool.put(record.id, { ...record.fields, [field.key]: values }, record.labels, record.stopped ?? []);
  }

  /** One pass; gives false where it broke off. */
  async pass(n: number, faults: Fault[] = [], pushed?: ReadonlySet<string>): Promise<boolean> {
    const tool = this.tools[n] as SimulatedTool;
    tool.faults = [...faults];
    const pass = new SyncPass(this.stores[n] as SimulatedStore, tool, this.setups[n] as SyncSetup, {
      run: this.book.startRun(),
      context: this.context,
      nonce: `n${++this.passes}`,
      pause: () => Promise.resolve(),
      pushed,
    });
    try {
      await pass.apply(await pass.plan());
      return true;
    } catch (error) {
      if (error instanceof ToolTrouble || error instanceof Died) return false;
      throw error;
    } finally {
      tool.faults = [];
    }
  }

  /** Passes until a whole round does nothing; gives how many rounds that took, or null where it does not come to rest. */
  async rest(most: number): Promise<number | null> {
    for (let round = 1; round <= most; round++) {
      this.nowMs += 1000;
      const before = `${this.writes()} ${this.ties()}`;
      for (let n = 0; n < this.tools.length; n++) await this.pass(n);
      if (`${this.writes()} ${this.ties()}` === before) return round;
    }
    return null;
  }

  /** Who is tied to what, and who waits for what. */
  private ties(): string {
    return JSON.stringify(
      this.stores.map(({ byId }) =>
        [...byId.values()].map((link) => [link.outsideId, link.state, link.apart, link.waitsFor]),
      ),
    );
  }

  writes(): number {
    return [...this.tools, ...this.stores].reduce((sum, { writes }) => sum + writes, 0);
  }

  /** What of the laws does not hold, in words; nothing when all do. */
  broken(): string[] {
    const faults: string[] = [];
    this.tools.forEach((tool, n) => {
      const store = this.stores[n] as SimulatedStore;
      const setup = this.setups[n] as SyncSetup;
      const perContact = new Map<number, string[]>();
      for (const link of store.byId.values()) {
        if (link.state !== 'linked') continue;
        const person = this.book.person(link.contactId);
        const theirs = tool.records.get(link.outsideId);
        if (!person) continue;
        if (!theirs) {
          faults.push(`${tool.kind.name}: ${link.outsideId} is linked and gone`);
          continue;
        }
        const open = store.conflicts.get(link.outsideId) ?? [];
        if (open.some(({ why }) => why === 'twoThere' || why === 'removal')) continue;
        perContact.set(person.id, [...(perContact.get(person.id) ?? []), link.outsideId]);
        // What is not taken over there is said, and waits for what stands in its way.
        if (link.notTaken !== null) continue;
        const where = `${tool.kind.name} ${link.outsideId} ~ ${person.id}`;
        for (const line of setup.lines) {
          if (open.some((conflict) => conflict.line === line.id)) continue;
          if (line.stageLabels) {
            const stage = String(valuesOf(person.record, 'stage')[0]?.v ?? '');
            const labels = theirs.labels.filter((label) => label.startsWith('at '));
            const wanted = stage ? [`at ${stage}`] : [];
            if (JSON.stringify(labels) !== JSON.stringify(wanted))
              faults.push(`${where}: stage ${stage}, labels ${labels.join()}`);
            continue;
          }
          const field = outsideField(line, tool.kind.fields);
          const ours = project(person.record, line, field, this.context).map(({ key }) => key);
          const there = itemsOf(theirs.fields[line.outside] ?? [], line, field, this.context).map(({ key }) => key);
          const same = ours.length === there.length && ours.every((key) => there.includes(key));
          if (line.direction === 'both' && line.rule !== 'fill' && !same)
            faults.push(`${where}: ${line.field} (${line.rule}) is ${ours.join()} here and ${there.join()} there`);
          if (line.direction === 'out' && line.rule === 'replace' && ours.length && !same)
            faults.push(`${where}: ${line.field} goes out, is ${ours.join()} here and ${there.join()} there`);
          if (line.direction === 'in' && line.rule === 'replace' && there.length) {
            const all = new Set(
              project(person.record, line, { ...field, most: Infinity }, this.context).map(({ key }) => key),
            );
            if (line.field !== 'name' && there.some((key) => !all.has(key)))
              faults.push(`${where}: ${line.field} comes in, is ${[...all].join()} here and ${there.join()} there`);
          }
          if (
            line.rule === 'fill' &&
            line.direction === 'both' &&
            (ours.length === 0) !== (there.length === 0) &&
            !link.base?.[line.id]
          )
            faults.push(`${where}: ${line.field} fills blanks, and one is blank`);
        }
        for (const list of setup.lists ?? []) faults.push(...this.listFaults(list, person, theirs, link, where));
        const kept = tool.kind.keepsStops;
        if (kept.length) {
          const [a, b] = [
            person.stopped.filter((one) => kept.includes(one)).sort(),
            [...(theirs.stopped ?? [])].sort(),
          ];
          if (JSON.stringify(a) !== JSON.stringify(b))
            faults.push(`${where}: stopped ${a.join()} here, ${b.join()} there`);
        }
      }
      if (tool.kind.byAddress) faults.push(...this.placeFaults(store));
      for (const [contact, ids] of perContact)
        if (ids.length > 1) faults.push(`${tool.kind.name}: contact ${contact} is there twice: ${ids.join()}`);
      for (const id of tool.records.keys())
        if (!store.byId.has(id)) faults.push(`${tool.kind.name}: ${id} was never looked at`);
    });
    const byEmail = new Map<string, number>();
    for (const [id, { record }] of this.book.contacts) {
      // What was linked while two were one may rightly be with either of them afterwards.
      if (lifecycleOf(record) || this.unmerged || this.history.shares) continue;
      for (const { v } of valuesOf(record, 'email')) {
        const other = byEmail.get(String(v));
        if (other !== undefined) faults.push(`${String(v)} is with ${other} and with ${id}`);
        byEmail.set(String(v), id);
      }
    }
    return faults;
  }
}

/** A number in letters, so that a name holds no digits. */
function letters(n: number): string {
  return n === 0 ? '' : letters(Math.floor(n / 26)) + String.fromCharCode(97 + (n % 26));
}
