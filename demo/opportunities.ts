import { inTransaction, type Database, listPipelines, savePipelines, makeOpportunity } from '@gray-loom/server';
import { Dice } from './people';

const WORK = [
  'Restoring the lugger Gannet',
  'Two dinghies for the sailing club',
  'Hull survey',
  'Mast and spars',
  'New deck for the ketch',
  'Oars for the gig crew',
  'Engine bed, oak',
  'Tiller and rudder',
  'Rot in the stem',
  'Standing rigging',
];
const PLACES = [
  'Clinker course, one place',
  'Clinker course, two places',
  'Sailmaking, autumn',
  'Oar making weekend',
  'Rigging course',
];
const OWNERS = ['Morwenna', 'Callum', 'Ines Carvalho'];

/** Work for the yard and places on courses, at all stages, with people who are here. */
export async function seedOpportunities(database: Database): Promise<void> {
  const [given] = await listPipelines(database);
  await savePipelines(database, {
    pipelines: [
      { name: 'Yard work', was: given?.name, stages: given?.stages ?? [] },
      {
        name: 'Courses',
        stages: [
          { label: 'Interested', outcome: 'open', meaning: 'Asked about a course; no place is kept.' },
          { label: 'Place kept', outcome: 'open', meaning: 'A place is kept until the deposit is due.' },
          { label: 'Booked', outcome: 'won', meaning: 'The deposit is paid.' },
          { label: 'Dropped', outcome: 'lost', meaning: 'They gave the place back.' },
        ],
      },
    ],
  });
  const pipelines = await listPipelines(database);
  const people = await inTransaction(database, async (tx) => {
    const { rows } = await tx.client.query<{ id: number }>(
      `select id from contact where state = 'live' and kind = 'person' and completeness >= 60 order by id limit 40`,
    );
    return rows.map(({ id }) => id);
  });
  const dice = new Dice(71);
  for (const [i, contactId] of people.slice(0, 26).entries()) {
    const pipeline = pipelines[i % 3 ? 0 : 1] ?? pipelines[0];
    const stage = pipeline?.stages[Math.min(pipeline.stages.length - 1, dice.below(4))];
    if (!pipeline || !stage) return;
    const yard = i % 3 !== 0;
    const month = 1 + dice.below(9);
    await makeOpportunity(database, {
      contactId,
      name: (yard ? WORK[i % WORK.length] : PLACES[i % PLACES.length]) ?? 'Work',
      pipeline: pipeline.name,
      stage: stage.label,
      amount: yard ? 250 + 50 * dice.below(370) : 320 + 10 * dice.below(60),
      currency: dice.below(6) ? 'GBP' : 'EUR',
      closeDate: dice.below(4) ? `2027-0${month}-${10 + dice.below(18)}` : null,
      owner: OWNERS[dice.below(3)] ?? '',
      note: '',
      version: undefined,
    });
  }
}
