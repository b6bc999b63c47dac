import type { FieldDefinition } from '@gray-loom/core/fields';
import type { DelimitedShape } from '@gray-loom/core/formats';
import {
  cardOf,
  FoldIndex,
  foldedBy,
  identityKeys,
  isNumbered,
  PlainReader,
  recognisePerson,
  Repeats,
  SaidOnce,
  RowReader,
  type Mapping,
  type Recogniser,
  type Recognition,
} from '@gray-loom/core/mapping';
import { contentKey as activityKey } from '@gray-loom/core/activity';
import { believedModel, candidateFacts, keyHash, preparePerson, type MatchModel } from '@gray-loom/core/matching';
import { holdsRow, KIND, type Issue } from '@gray-loom/core/model';
import { contentKey, type Candidate } from '@gray-loom/core/writing';
import type { Queryable, Tx } from '../../../db/connect';
import type { RowOutcome } from '../../../db/schema';
import { hitsOf, KnownContacts, organizationKey, type Found, type Sought } from './known-contacts';
import { currentModel } from '../../duplicates';
import { matchSettings } from '../../duplicates';
import { loadCatalogue, PickLists } from '../../../book/picks';
import type { DataRow } from '../files/read-file';
import {
  judgeOf,
  NO_WORDS,
  pendingOf,
  type Pending,
  type PlainPlan,
  type PlannerParts,
  type RowPlan,
  type RowWords,
  type UniqueValue,
} from './row-plan';
import { withoutOthers as withoutUnseen, type RowRemit } from './row-remit';
import { RowStops } from './row-stops';
import { hasValue, lookUpKey } from '../../../book/unique-values';

/**
 * Decides row by row who a row is for: the one code path of trial and commit (`planShort` is held to it by a law), so that
 * what the trial counts is what the commit does. Keeps the people of the file (not their rows) in memory, so that rows of one
 * person fold together. What the row's values then become is worked out by RowValues.
 */
export class ImportPlanner {
  private readonly stops: RowStops;
  private readonly reader: RowReader;
  /** Reads rows that leave nothing to decide; null where the file has none of them. */
  private readonly plainReader: PlainReader | null;
  private readonly folds = new FoldIndex();
  /** People of rows that cannot be read whole; whoever repeats one waits with it. */
  private readonly held = new FoldIndex();
  private readonly repeats: Repeats;
  private readonly said: SaidOnce;
  private readonly uniqueFields: readonly FieldDefinition[];
  /** Rows of this file that hold a unique value, by its key and content. */
  private readonly uniqueInFile = new Map<string, number>();
  /** Rows of this file that are organizations, by the key of their name. */
  private readonly organizationsInFile = new Map<number, number>();
  /** How often each content of an activity came for each contact, by the contact's first row. */
  private readonly told = new Map<string, number>();
  /** Rows of this file that name a contact by its number, by that contact. */
  private readonly numbersInFile = new Map<number, number>();
  private readonly book: KnownContacts;
  private readonly mapping: Mapping;
  readonly picks: PickLists;
  private readonly words: RowWords;
  private readonly foldedBy: Recogniser[];
  private readonly remit: RowRemit | null;
  /** The model that the matching as a whole goes by, where people are recognised by it. */
  private readonly model: MatchModel | null;

  /** A planner for a file, with what the database says of fields, pick-lists and matching now. */
  static async load(
    { db, pool }: Pick<Tx, 'db'> & { pool: Queryable },
    { mapping, shape }: { mapping: Mapping; shape: DelimitedShape },
    runId: number,
    words?: RowWords,
    { few = false, remit = null }: { few?: boolean; remit?: RowRemit | null } = {},
  ): Promise<ImportPlanner> {
    const settings = await matchSettings(db);
    return new ImportPlanner({
      pool,
      mapping,
      shape,
      runId,
      words,
      few,
      remit,
      catalogue: await loadCatalogue(db),
      picks: await PickLists.load(db),
      model: mapping.recognise.includes('engine')
        ? ((await currentModel(db))?.model ?? { ...believedModel(settings.thresholds), ignored: settings.ignored })
        : null,
    });
  }

  constructor(parts: PlannerParts) {
    const {
      pool,
      mapping,
      catalogue,
      picks,
      shape,
      runId,
      words = NO_WORDS,
      model = null,
      few = false,
      remit = null,
    } = parts;
    this.remit = remit;
    this.stops = new RowStops(pool);
    this.book = new KnownContacts(pool, runId, { isWhole: model !== null, few });
    this.mapping = mapping;
    this.picks = picks;
    this.words = words;
    this.model = model;
    this.foldedBy = foldedBy(mapping.recognise);
    this.uniqueFields = catalogue.uniqueFields;
    this.repeats = new Repeats(mapping);
    this.said = new SaidOnce(mapping, catalogue);
    this.reader = new RowReader(mapping, catalogue, picks.context(mapping.country), shape);
    const isShort = !remit && !words.choices.size && !words.settled && mapping.numberColumn === undefined;
    this.plainReader = !isShort ? null : PlainReader.of(mapping, catalogue, this.reader);
  }

  /** Plans a batch of rows. `known` tells the outcomes of rows that an interrupted run already settled. */
  async plan(rows: readonly DataRow[]): Promise<RowPlan[]> {
    const pending = rows.map((row) => this.read(row));
    const lookedUp = await this.book.lookUp(pending.filter(({ plan }) => plan.decision.kind !== 'held'));
    const seen = this.remit && (await this.remit.seen(this.namedBy(rows, lookedUp)));
    const found = await this.withStops(pending, rows, seen ? { ...lookedUp, seen } : lookedUp);
    return pending.map((one) => this.decide(one, found));
  }

  /** Everybody whom rows may be about. */
  private namedBy(rows: readonly DataRow[], { hits, holders, organizations, deleted, numbered }: Found): number[] {
    const chosen = rows.flatMap(({ row }) => {
      const choice = this.words.choices.get(row);
      return typeof choice === 'object' ? [choice.contactId] : [];
    });
    return [
      ...chosen,
      ...organizations.values(),
      ...[...numbered.values()].map(({ id }) => id),
      ...[...holders.values(), ...hits.values(), ...deleted.hits.values()].flat().map(({ id }) => id),
    ];
  }

  /** The same with the stops of those whom rows may be about, where a row lets somebody be written to or called. */
  private async withStops(pending: readonly Pending[], rows: readonly DataRow[], found: Found): Promise<Found> {
    const stops = await this.stops.among(
      pending.map(({ plan }) => plan.candidate),
      () => this.namedBy(rows, found),
    );
    return stops ? { ...found, stops } : found;
  }

  /** What stands against a decision, of somebody with a remit. */
  private outside(decision: RowPlan['decision'], candidate: Candidate, { seen }: Found): Issue | null {
    if (!this.remit || !seen) return null;
    if (decision.kind === 'known' && !seen.has(decision.contactId)) return { code: 'outsideRemit', path: {} };
    if (decision.kind === 'new' && !this.remit.holds(candidate)) return { code: 'newOutsideRemit', path: {} };
    return null;
  }

  /**
   * The same plans as `plan`, in which somebody new whose row leaves nothing to decide is read the short way: for writing,
   * which needs no more of them.
   */
  async planShort(rows: readonly DataRow[]): Promise<(RowPlan | PlainPlan)[]> {
    const { plainReader } = this;
    if (!plainReader) return this.plan(rows);
    const begun = rows.map((row): Pending | PlainPlan => {
      const plain = plainReader.read(row.cells);
      return plain ? { row: row.row, cells: row.cells, plain } : this.read(row);
    });
    const found = await this.book.lookUp(
      begun.flatMap((one): Sought[] => {
        if ('plain' in one) {
          const { keys, card, mailboxes } = one.plain;
          return [{ keys, card, mailboxes, unique: [], organization: null, row: one.row }];
        }
        return one.plan.decision.kind === 'held' ? [] : [one];
      }),
    );
    const read = begun.filter((one): one is Pending => !('plain' in one));
    const withStops = await this.withStops(read, rows, found);
    return begun.map((one) => {
      if (!('plain' in one)) return this.decide(one, withStops);
      const { keys, card } = one.plain;
      const wasHere = found.deleted.hits.size > 0 && keys.some(({ key }) => found.deleted.hits.has(key));
      const isHere = wasHere || (found.hits.size > 0 && keys.some(({ key }) => found.hits.has(key)));
      const isIn = (file: FoldIndex) =>
        file.knows(keys) && recognisePerson(card, file.find(keys, card), this.foldedBy).kind !== 'new';
      if (isHere || found.erased.has(one.row) || isIn(this.folds) || isIn(this.held)) {
        const plan = this.decide(pendingOf(one), found);
        return plan.decision.kind === 'new' ? one : plan;
      }
      this.folds.add(one.row, card, keys);
      this.said.first(one.row, one.cells);
      return one;
    });
  }

  /** Remembers the people of rows that were settled before an interruption, without deciding them anew. */
  remember(rows: readonly DataRow[], settled: ReadonlyMap<number, RowOutcome>): void {
    for (const row of rows) {
      const outcome = settled.get(row.row);
      if (outcome === undefined) continue;
      const pending = this.read(row);
      const { plan, card, foldKeys, unique, organization } = pending;
      if (outcome === 'fold') {
        this.countFolded(pending);
        continue;
      }
      if (outcome === 'held') {
        this.rememberHeld(pending);
        continue;
      }
      if (organization !== null) {
        this.organizationsInFile.set(organization, plan.row);
        continue;
      }
      this.folds.add(plan.row, card, foldKeys);
      this.repeats.first(plan.row, plan.cells);
      this.said.first(plan.row, plan.cells);
      this.opportunityOf(plan, plan.row);
      this.countActivities(plan, plan.row);
      for (const one of unique) this.uniqueInFile.set(`${one.hash}:${one.content}`, plan.row);
    }
  }

  /** Numbers each activity of a row among those of the same content that its contact has in the file. */
  private countActivities(plan: RowPlan, contactRow: number): void {
    for (const told of plan.activities) {
      const key = `${contactRow}\n${activityKey(told.activity)}`;
      told.nth = (this.told.get(key) ?? 0) + 1;
      this.told.set(key, told.nth);
    }
  }

  /** The same for a row that was folded into another before an interruption. */
  private countFolded({ plan, card, foldKeys, organization }: Pending): void {
    if (!plan.activities.length) return;
    const into =
      organization === null
        ? recognisePerson(card, this.folds.find(foldKeys, card), this.foldedBy)
        : { kind: 'known' as const, id: this.organizationsInFile.get(organization) ?? plan.row };
    if (into.kind === 'known') this.countActivities(plan, into.id);
  }

  /** Keeps who stands in a row that cannot be read whole, where its name is known. */
  private rememberHeld({ plan, card, foldKeys }: Pending): void {
    if (plan.decision.kind === 'held' && (card.givenText || card.familyText)) this.held.add(plan.row, card, foldKeys);
  }

  /** What is wrong with the opportunity of a row, if anything; one that only repeats an earlier row is left out. */
  private opportunityOf(plan: RowPlan, contactRow: number): Issue | null {
    const id = plan.opportunity?.externalId?.[0]?.v;
    if (id === undefined) return null;
    const found = this.repeats.ofOpportunity(String(id), plan.row, contactRow, plan.cells);
    if (found === 'again') plan.opportunity = null;
    return typeof found === 'object' ? found : null;
  }

  /** Look-up keys of everything that rows could be recognised by, or that could stand with others; for locking them. */
  keysOf(rows: readonly DataRow[]): number[] {
    return rows.flatMap((row) => {
      const { keys, unique, organization } = this.read(row);
      return [...keys, ...unique].map(({ hash }) => hash).concat(organization ?? []);
    });
  }

  private read({ row, cells }: DataRow): Pending {
    const { candidate, opportunity, activities, issues, held } = this.reader.read(cells, row);
    // Street and place names are not recognised by; leaving them out here halves the cost.
    const facts = candidateFacts(candidate);
    if (!this.model) facts.street = undefined;
    const person = preparePerson(facts);
    const organization = candidate[KIND] ? organizationKey(candidate) : null;
    const isPerson = organization === null;
    const unique = isPerson && !held && this.uniqueFields.length > 0 ? this.uniqueOf(candidate) : [];
    const keys = isPerson ? identityKeys(candidate, person, this.mapping.recognise) : [];
    return {
      organization,
      number: this.numberIn(cells),
      plan: {
        row,
        cells,
        candidate,
        opportunity,
        activities: activities.map((activity) => ({ activity, nth: 1 })),
        person,
        issues,
        decision: held ? { kind: 'held' } : { kind: 'new' },
        unique: unique.map(({ hash }) => hash),
      },
      card: cardOf(person, candidate.externalId),
      keys,
      foldKeys: isPerson && this.model ? identityKeys(candidate, person, this.foldedBy) : keys,
      unique,
      mailboxes: person.emails.map(({ key }) => key),
      row,
    };
  }

  private numberIn(cells: readonly string[]): number | null {
    const { numberColumn } = this.mapping;
    const number = numberColumn === undefined ? 0 : Number(cells[numberColumn]);
    return Number.isInteger(number) && number > 0 && number < 2 ** 31 ? number : null;
  }

  /** The contact here that a row names by its number, where it can be that one. */
  private numberedBy({ number, organization, card, keys }: Pending, found: Found): number | null {
    const here = number === null ? undefined : found.numbered.get(number);
    if (!here || here.isPerson !== (organization === null)) return null;
    if (organization !== null) return here.organization === organization ? here.id : null;
    const shares = keys.some(({ key }) => found.hits.get(key)?.some(({ id }) => id === here.id));
    return isNumbered(card, here.card, shares) ? here.id : null;
  }

  private uniqueOf(candidate: Candidate): UniqueValue[] {
    return this.uniqueFields.flatMap((field) =>
      (candidate[field.key] ?? []).flatMap((value) => {
        const key = lookUpKey(field, value);
        return key ? [{ field, value, content: contentKey(field.type, value), hash: keyHash(key) }] : [];
      }),
    );
  }

  /** What stands with others already, here or in an earlier row, beside the contact that the row is for. */
  private uniqueIssues({ plan, unique }: Pending, found: Found, contactId: number | null): Issue[] {
    return unique.flatMap(({ field, value, content, hash }): Issue[] => {
      const holders = (found.holders.get(hash) ?? []).filter(
        ({ id, record }) => id !== contactId && hasValue(record, field, value),
      );
      const earlier = this.uniqueInFile.get(`${hash}:${content}`);
      if (!holders.length && earlier === undefined) return [];
      return [
        {
          code: 'uniqueClash',
          value: String(value.v),
          contactIds: holders.map(({ id }) => id),
          refused: field.unique === 'refuse',
          path: { row: plan.row, name: field.name },
        },
      ];
    });
  }

  /** Organizations are told by their name alone. */
  private decideOrganization(pending: Pending, found: Found): RowPlan {
    const { plan, organization } = pending;
    const key = organization ?? 0;
    const hold = (issue: Issue): RowPlan => ({
      ...plan,
      issues: [...plan.issues, { ...withoutOthers(issue, found), path: { row: plan.row } }],
      decision: { kind: 'held' },
    });
    const named = this.numberedBy(pending, found);
    const earlier = named === null ? this.organizationsInFile.get(key) : undefined;
    if (earlier !== undefined) {
      this.countActivities(plan, earlier);
      return {
        ...plan,
        issues: [...plan.issues, { code: 'foldedInto', row: earlier, path: { row: plan.row } }],
        decision: { kind: 'fold', intoRow: earlier },
      };
    }
    const here = named ?? found.organizations.get(key);
    if (here !== undefined && !this.mapping.allowChange)
      return hold({ code: 'changeNotAllowed', contactId: here, path: {} });
    if (here === undefined && !this.mapping.allowNew) return hold({ code: 'newNotAllowed', path: {} });
    const decision: RowPlan['decision'] =
      here === undefined ? { kind: 'new' } : { kind: 'known', contactId: here, seen: found.versions.get(here) ?? null };
    const outside = this.outside(decision, plan.candidate, found);
    if (outside) return hold(outside);
    const loosens = here === undefined ? null : this.stops.against(plan.candidate, found.stops?.get(here));
    if (loosens && here !== undefined) return hold({ ...loosens, contactId: here });
    this.organizationsInFile.set(key, plan.row);
    this.countActivities(plan, plan.row);
    return { ...plan, decision };
  }

  private decide(pending: Pending, found: Found): RowPlan {
    const { plan, card, keys, foldKeys, unique } = pending;
    if (plan.decision.kind === 'held') {
      this.rememberHeld(pending);
      return plan;
    }
    if (this.words.settled?.has(Number(plan.cells[0])))
      return {
        ...plan,
        issues: [...plan.issues, { code: 'settledBefore', row: Number(plan.cells[0]), path: { row: plan.row } }],
        decision: { kind: 'held' },
      };
    if (pending.organization !== null) return this.decideOrganization(pending, found);
    const hold = (issue: Issue): RowPlan => ({
      ...plan,
      issues: [...plan.issues, { ...withoutOthers(issue, found), path: { ...issue.path, row: plan.row } }],
      decision: { kind: 'held' },
    });
    const choice = this.words.choices.get(plan.row);
    if (choice === 'hold') return hold({ code: 'heldByHand', path: {} });
    const named = choice ? null : this.numberedBy(pending, found);
    if (named !== null) {
      const earlier = this.numbersInFile.get(named);
      if (earlier !== undefined) {
        const issue: Issue = { code: 'foldedInto', row: earlier, path: { row: plan.row } };
        this.countActivities(plan, earlier);
        return { ...plan, issues: [...plan.issues, issue], decision: { kind: 'fold', intoRow: earlier } };
      }
    }
    const inFile: Recognition<number> =
      named === null ? recognisePerson(card, this.folds.find(foldKeys, card), this.foldedBy) : { kind: 'new' };
    if (inFile.kind === 'known' && !choice) {
      const wrong = this.repeats.ofPerson(inFile.id, plan.row, plan.cells) ?? this.opportunityOf(plan, inFile.id);
      if (wrong) return hold(wrong);
      const otherwise = this.said.further(inFile.id, plan.row, plan.cells);
      const [first] = otherwise;
      if (first && holdsRow(first)) return hold(first);
      const loosens = this.stops.further(inFile.id, plan.candidate);
      if (loosens) return hold({ ...loosens, contactId: null });
      this.countActivities(plan, inFile.id);
      const issue: Issue = { code: 'foldedInto', row: inFile.id, path: { row: plan.row } };
      return { ...plan, issues: [...plan.issues, issue, ...otherwise], decision: { kind: 'fold', intoRow: inFile.id } };
    }
    const hits = hitsOf(keys, found.hits);
    const take = (decision: RowPlan['decision'], contactId: number | null): RowPlan => {
      const erasedOn = decision.kind === 'new' ? found.erased.get(plan.row) : undefined;
      if (erasedOn !== undefined) return hold({ code: 'wasErased', on: erasedOn, path: {} });
      const outside = this.outside(decision, plan.candidate, found);
      if (outside) return hold(outside);
      const stops = decision.kind === 'known' ? found.stops?.get(decision.contactId) : undefined;
      const loosens = decision.kind === 'known' ? this.stops.against(plan.candidate, stops) : null;
      // Whoever chose the contact has looked at the row.
      if (loosens && !choice) return hold({ ...loosens, contactId });
      if (loosens) plan.candidate = RowStops.byPerson(plan.candidate);
      this.stops.first(plan.row, stops);
      const clashes = unique.length ? this.uniqueIssues(pending, found, contactId) : [];
      const refused = clashes.find((issue) => holdsRow(issue));
      if (refused) return hold(refused);
      const wrong = this.opportunityOf(plan, plan.row);
      if (wrong) return hold(wrong);
      this.repeats.first(plan.row, plan.cells);
      this.said.first(plan.row, plan.cells);
      this.folds.add(plan.row, card, foldKeys);
      this.countActivities(plan, plan.row);
      for (const one of unique) this.uniqueInFile.set(`${one.hash}:${one.content}`, plan.row);
      if (clashes.length) plan.issues.push(...clashes.map((issue) => withoutOthers(issue, found)));
      plan.decision = decision;
      return plan;
    };
    if (named !== null) {
      if (!this.mapping.allowChange) return hold({ code: 'changeNotAllowed', contactId: named, path: {} });
      this.numbersInFile.set(named, plan.row);
      return take({ kind: 'known', contactId: named, seen: found.versions.get(named) ?? null }, named);
    }
    if (choice === 'new') return take({ kind: 'new' }, null);
    if (choice) return take({ kind: 'known', contactId: choice.contactId, seen: null }, choice.contactId);
    const { model } = this;
    const here = recognisePerson(
      card,
      hits,
      this.mapping.recognise,
      model && plan.person ? judgeOf(model, plan.person) : undefined,
    );
    if (here.kind === 'known') {
      if (!this.mapping.allowChange) return hold({ code: 'changeNotAllowed', contactId: here.id, path: {} });
      return take({ kind: 'known', contactId: here.id, seen: found.versions.get(here.id) ?? null }, here.id);
    }
    if (here.kind === 'held') return hold(here.issue);
    if (inFile.kind === 'held')
      return hold(inFile.issue.code === 'sharedIdentifier' ? { ...inFile.issue, contactIds: [] } : { ...inFile.issue });
    if (!this.mapping.allowNew) return hold({ code: 'newNotAllowed', path: {} });
    const waiting = recognisePerson(card, this.held.find(foldKeys, card), this.foldedBy);
    if (waiting.kind === 'known') return hold({ code: 'repeatsHeldRow', row: waiting.id, path: {} });
    const { deleted } = found;
    const gone = recognisePerson(card, hitsOf(keys, deleted.hits), this.foldedBy);
    if (gone.kind === 'known')
      return hold({
        code: 'wasDeleted',
        contactId: gone.id,
        by: '',
        on: '',
        ...deleted.deletions.get(gone.id),
        path: {},
      });
    return take({ kind: 'new' }, null);
  }
}

const withoutOthers = (issue: Issue, { seen }: Found): Issue => (seen ? withoutUnseen(issue, seen) : issue);
