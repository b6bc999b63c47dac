import { Hono } from 'hono';
import { array } from 'yup';
import {
  contactFilterSchema,
  contactPageSchema,
  editSchema,
  newContactSchema,
  newFieldSchema,
  placeSchema,
  type Lists,
} from '@gray-loom/wire';
import { contactPage } from '../db/queries/contact-list';
import { PlaceMarks } from '../db/queries/place-marks';
import { inTransaction } from '../db/connect';
import { pick } from '../db/schema';
import { contactDetail, contactHistory } from '../use-cases/contact-detail';
import { createContact, editContact, likelyMatches, setDeleted } from '../use-cases/edit-contact';
import { exportContacts } from '../use-cases/export-contacts';
import { loadCatalogue, makeField } from '../use-cases/picks';
import { body, idOf, query, type AppEnv, type Services } from './context';

export function contactRoutes({ config, database, events }: Services): Hono<AppEnv> {
  const routes = new Hono<AppEnv>();

  const marks = new PlaceMarks();
  events.subscribe((event) => {
    if (event.topic === 'contacts') marks.changed();
  });

  routes.get('/contacts', async (c) =>
    c.json(await contactPage(database.pool, marks, await query(c, contactPageSchema))),
  );
  routes.get('/contacts/place', async (c) => {
    const { letter, ...filter } = await query(c, placeSchema);
    return c.json({ at: await marks.placeOf(database.pool, filter, letter.toLowerCase()) });
  });

  routes.get('/contacts.csv', async (c) => {
    const filter = await query(c, contactFilterSchema);
    const day = new Date().toISOString().slice(0, 10);
    c.header('Content-Type', 'text/csv; charset=utf-8');
    c.header('Content-Disposition', `attachment; filename="contacts-${day}.csv"`);
    return c.body(await exportContacts(database, filter));
  });

  routes.post('/contacts', async (c) =>
    c.json(
      await createContact(database, await body(c, newContactSchema), c.get('actor').accountId, config.country),
      201,
    ),
  );
  routes.post('/contacts/check', async (c) =>
    c.json(await likelyMatches(database, await body(c, newContactSchema), config.country)),
  );
  routes.get('/contacts/:id', async (c) => c.json(await contactDetail(database, idOf(c, 'id'))));
  routes.get('/contacts/:id/history', async (c) => c.json(await contactHistory(database, idOf(c, 'id'))));
  routes.patch('/contacts/:id', async (c) => {
    const edits = await body(c, array(editSchema.required()).required().min(1).max(40));
    return c.json(await editContact(database, idOf(c, 'id'), edits, c.get('actor').accountId, config.country));
  });
  routes.delete('/contacts/:id', async (c) =>
    c.json(await setDeleted(database, idOf(c, 'id'), true, c.get('actor').accountId)),
  );
  routes.post('/contacts/:id/restore', async (c) =>
    c.json(await setDeleted(database, idOf(c, 'id'), false, c.get('actor').accountId)),
  );

  routes.get('/lists', async (c) => {
    const [catalogue, picks, tags, sources] = await Promise.all([
      loadCatalogue(database.db),
      database.db.select().from(pick).orderBy(pick.ordinal, pick.label),
      database.pool.query<{ label: string; n: number }>(
        `select tag as label, count(*)::int as n from contact, unnest(tags) tag where state = 'live' group by 1`,
      ),
      database.pool.query<{ label: string; n: number }>(
        `select source as label, count(*)::int as n from contact where state = 'live' and source <> '' group by 1`,
      ),
    ]);
    const counted = (kind: 'tag' | 'source', counts: { label: string; n: number }[]) =>
      picks
        .filter((one) => one.kind === kind)
        .map((one) => ({ label: one.label, count: counts.find((count) => count.label === one.label)?.n ?? 0 }));
    return c.json<Lists>({
      fields: [...catalogue.fields],
      tags: counted('tag', tags.rows),
      sources: counted('source', sources.rows),
      stages: picks.filter((one) => one.kind === 'stage').map((one) => ({ label: one.label, meaning: one.meaning })),
      country: config.country,
    });
  });

  routes.post('/fields', async (c) => {
    const { name, type, choices } = await body(c, newFieldSchema);
    const key = await inTransaction(database, (tx) => makeField(tx, name, type, choices));
    return c.json({ key }, 201);
  });
  return routes;
}
