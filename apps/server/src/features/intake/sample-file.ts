import { eq } from 'drizzle-orm';
import { writeDelimitedLine } from '@gray-loom/core/formats';
import { mappingTargets, NO_COLUMN, type ColumnMapping } from '@gray-loom/core/mapping';
import type { Catalogue, DateOrder } from '@gray-loom/core/fields';
import type { Database } from '../../db/connect';
import { savedMapping } from '../../db/schema';
import { refuse } from './refusals';
import { loadCatalogue, PickLists } from '../../book/picks';

const DATES: Record<DateOrder, [string, string]> = {
  iso: ['1971-07-14', '1988-03-02'],
  dayFirst: ['14/07/1971', '02/03/1988'],
  monthFirst: ['07/14/1971', '03/02/1988'],
  serial: ['26128', '32204'],
};

const TEXTS: Record<string, [string, string]> = {
  fullName: ['Ana Reis', 'Tom Okoro'],
  givenName: ['Ana', 'Tom'],
  familyName: ['Reis', 'Okoro'],
  additionalNames: ['Maria', ''],
  nickname: ['Annie', ''],
  prefix: ['Dr', 'Mr'],
  suffix: ['', 'Jr'],
  email: ['ana.reis@example.org', 'tom.okoro@example.org'],
  tel: ['01632 960301', '01632 960302'],
  url: ['https://tern-joinery.example', ''],
  organization: ['Tern Joinery', 'Kelpstone Rigging'],
  title: ['Skipper', 'Rigger'],
  street: ['14 Slip Lane', '3 Quay Street'],
  locality: ['Quillhaven', 'Falmouth'],
  region: ['Devon', 'Cornwall'],
  postalCode: ['EX4 4RN', 'TR11 3AB'],
  townLine: ['Quillhaven EX4 4RN', 'Falmouth TR11 3AB'],
  country: ['United Kingdom', 'United Kingdom'],
  externalId: ['A-1001', 'A-1002'],
  note: ['Prefers mornings', ''],
  owner: ['Morwenna', ''],
  source: ['Boat fair', 'Web form'],
  tz: ['Europe/London', ''],
  opportunityId: ['O-1', 'O-2'],
  opportunityName: ['Hull survey', 'Mast and spars'],
  opportunityCurrency: ['GBP', 'GBP'],
  opportunityOwner: ['Callum', ''],
  opportunityNote: ['', ''],
};

function sampleOf(column: ColumnMapping, catalogue: Catalogue, picks: PickLists): [string, string] {
  const { target, dateOrder, decimal, separator } = column;
  if (!target) return ['', ''];
  if (column.wholeAddress) return ['14 Slip Lane, Quillhaven EX4 4RN', '3 Quay Street, Falmouth TR11 3AB'];
  const known = TEXTS[target];
  if (known) return known;
  const comma = (text: string) => (decimal === ',' ? text.replace('.', ',') : text);
  if (target === 'tags') return [['regatta', 'bursary'].join(separator ?? ';'), 'alumni'];
  if (target === 'stage') return [picks.stages[0] ?? '', picks.stages[1] ?? picks.stages[0] ?? ''];
  const [pipeline] = picks.pipelines;
  if (target === 'opportunityPipeline') return [pipeline?.name ?? '', pipeline?.name ?? ''];
  if (target === 'opportunityStage') return [pipeline?.stages[0]?.label ?? '', pipeline?.stages[1]?.label ?? ''];
  const field = catalogue.find(target);
  switch (field?.type ?? mappingTargets([...catalogue.fields]).find(({ key }) => key === target)?.type) {
    case 'date':
    case 'partialDate':
      return DATES[dateOrder];
    case 'number':
      return [comma('12.5'), '7'];
    case 'money':
      return [comma('1450.50'), '320'];
    case 'range':
      return ['12 to 16', 'from 20'];
    case 'yesNo':
      return ['yes', 'no'];
    case 'choice':
    case 'choices':
      return [field?.choices?.[0] ?? '', field?.choices?.[1] ?? field?.choices?.[0] ?? ''];
    default:
      return ['text', ''];
  }
}

/** A file to start from: the headings of a saved mapping and two rows as it reads them. */
export async function sampleFile(database: Database, id: number): Promise<{ name: string; text: string }> {
  const [saved] = await database.db.select().from(savedMapping).where(eq(savedMapping.id, id));
  if (!saved) throw refuse.noSuchMapping();
  const [catalogue, picks] = await Promise.all([loadCatalogue(database.db), PickLists.load(database.db)]);
  const cells = saved.headers.map((_, at): [string, string] => {
    const column = saved.mapping.columns.find((one) => one.column === at && one.column !== NO_COLUMN && one.target);
    return column ? sampleOf(column, catalogue, picks) : ['', ''];
  });
  const lines = [saved.headers.map((header) => header ?? ''), cells.map(([one]) => one), cells.map(([, two]) => two)];
  return { name: saved.name.replace(/\.[^.]*$/, ''), text: lines.map((line) => writeDelimitedLine(line)).join('') };
}
